"""HDR of a screen's runs told: who maps tones, end to end; the source's pages that count; what HDR costs when weak."""

from __future__ import annotations

from collections.abc import Iterator

from wavilex.core.advise.situation import schools_of
from wavilex.core.chain.paths import Layer
from wavilex.core.gear.cells import REST, Spot
from wavilex.core.light.aim import hdr_peak
from wavilex.core.light.care import self_lit
from wavilex.core.light.codes import code_of
from wavilex.core.light.counting import clicks_data, known_light, pages_of, source_peak
from wavilex.core.light.mapping import CONTENT, SHOWN, WAYS, Chain, Way, beside, curve, gains
from wavilex.core.light.readings import Cell, light_cd_m2, patches, scope_at
from wavilex.core.light.shapes import ContentPoint, HdrRunOut, HdrWayOut
from wavilex.core.light.transfer import pq_signal
from wavilex.core.light.weak import costs, is_weak
from wavilex.core.modes.cells import spots
from wavilex.core.rig.model import Device, Rig, Run

_OF_SETTING: dict[str, Way] = {"source": "source", "screen": "screen_dynamic", "off": "off"}
_SCHOOL: dict[Way, str] = {"source": "source", "screen_static": "", "screen_dynamic": "screen", "off": "off"}


def hdr_runs(layer: Layer, screen: str) -> list[HdrRunOut]:
    """Every run of a screen that wants HDR."""
    met = [(spot, run) for spot, run in spots(layer, screen) if spot.range not in ("", REST)]
    return [_run(layer, layer.rig.runs[run], spot) for spot, run in met]


def _run(layer: Layer, run: Run, spot: Spot) -> HdrRunOut:
    rig, device, source = layer.rig, layer.rig.devices[run.sink], layer.rig.devices[run.source]
    cell = Cell(run.sink, scope_at(device, spot))
    peak, measured = hdr_peak(rig, run.sink, spot.input)
    own = known_light(rig, cell, "peak")
    top = own.light if own else float(peak) if peak else None
    way, set_to, as_now = way_now(layer, device, spot)
    pages = [clicks_data(rig, source, p, cell) for p in pages_of(rig, source)]
    counted = source_peak(rig, source, cell)
    chain = Chain(way, top, counted) if top else None
    white = next((light_cd_m2(n) for n in patches(rig, _standard(device, spot)) if n.value), None)
    profile = device.profile
    weak = is_weak(peak, profile.panel_bits, profile.zones, self_lit=self_lit(device))
    schools = schools_of(layer, run)
    return {
        "run": run.uid, "label": run.label, "source": source.label, "peak": peak, "peak_measured": measured,
        "full": _light(rig, cell, "full"), "black": _light(rig, cell, "black"), "content": round(CONTENT),
        "source_peak": counted, "lights": list(SHOWN),
        "ways": list(_ways(chain, schools["tone_mapping"], as_now)) if chain else [],
        "line": [_point(*p) for p in curve(chain)] if chain else [],
        "warning": _warning(chain, source, set_to),
        "order": _order(device, source, set_to), "pages": pages, "weak": weak,
        "costs": [
            {"what": c.what, "hdr": c.hdr, "sdr": c.sdr, "worse": {True: "yes", False: "no", None: ""}[c.worse]}
            for c in costs(peak, white, profile.panel_bits, profile.zones, self_lit=self_lit(device))
        ] if weak else [], "school": "off" if weak and schools["weak_hdr"] == "off" else "on",
    }  # fmt: skip


def _point(content: float, sent: float, shown: float) -> ContentPoint:
    signal = pq_signal(content)
    return {
        "content": content, "percent": 100 * signal, "code": code_of(signal, 10, "limited"), "sent": sent,
        "shown": shown,
    }  # fmt: skip


def _standard(device: Device, spot: Spot) -> Cell:
    """The same cell in standard range, to hold HDR against."""
    return Cell(device.uid, scope_at(device, Spot(spot.input, spot.resolution, spot.rate, REST, spot.mode)))


def _light(rig: Rig, cell: Cell, sets: str) -> float | None:
    found = known_light(rig, cell, sets)
    return found.light if found else None


def way_now(layer: Layer, device: Device, spot: Spot) -> tuple[Way, str, str]:
    """How the screen maps tones here, its setting in words, and what kind of knowledge that is."""
    setting = next((s for s in device.profile.settings if s.effect == "tone_mapping"), None)
    if setting is None:
        return "screen_static", "its profile knows no setting for it", "taken for now: nobody knows"
    scope = spot.kept(setting.dimensions)
    kept = layer.rig.settings.get((device.uid, scope, setting.id))
    value = layer.rig.setting_value(layer.name, device.uid, scope, setting) or setting.default
    if kept is not None and (kept.plan or kept.found):
        known = "as planned" if kept.plan else "as found"
    else:
        known = "as it leaves the factory"
    return _OF_SETTING[value], f"{setting.label}: {setting.option_label(value)}, {known}", known


def _ways(now: Chain, school: str, as_now: str) -> Iterator[HdrWayOut]:
    """Each way as it should be: the source calibrated where it leads, left alone where the screen maps."""
    chains = [Chain(w, now.screen_peak, now.screen_peak if w == "source" else None) for w in WAYS]
    for c, shown in zip(chains, beside(chains), strict=True):
        good, bad = gains(c)
        yield {
            "way": c.way, "name": WAYS[c.way], "school": "house style" if _SCHOOL[c.way] == school else "",
            "now": as_now if c.way == now.way else "", "double": c.way == now.way and now.double, "shown": shown,
            "gains": good, "loses": bad,
        }  # fmt: skip


def _warning(chain: Chain | None, source: Device, set_to: str) -> str:
    if chain is None or not chain.double:
        return ""
    assert chain.source_peak is not None
    return (
        f"Mapped twice: {source.label} was calibrated to {chain.source_peak:.0f} cd/m², and the screen maps again "
        f"({set_to}): 1000 cd/m² of the title shows at {chain.shown(1000):.0f}. Let one of them do it."
    )


def _order(device: Device, source: Device, set_to: str) -> list[str]:
    """Common practice: the pages are counted only once the screen is as it will be used."""
    preset = device.profile.preset
    first = f"{device.label} in its HDR game preset" + (f" ({preset.label})" if preset else "")
    return [
        first, f"tone mapping chosen ({set_to})", f"then the pages of {source.label}, black last",
        "a change of the first two makes the counts stale",
    ]  # fmt: skip
