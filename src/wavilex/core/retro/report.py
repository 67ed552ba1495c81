"""What an old machine's run looks like: scan rates, rate change, shape stage by stage, multiples, order, notice."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

from wavilex.core.chain.carry import RunResult
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.rig import TRIED_FACT, Device
from wavilex.core.gear.analogue import Conversion, ShownAs
from wavilex.core.lag.signals import timing_of
from wavilex.core.modes.run_refresh import window_of
from wavilex.core.retro.multiply import multiple, taken_by
from wavilex.core.retro.path import GOOD, WORDS, meetings, output_mode
from wavilex.core.retro.scan import NAMES, AnalogueVideo, rate_change
from wavilex.core.retro.shape import Stage, trace, truest, whole_scale
from wavilex.core.video.codes import parse_mode
from wavilex.core.video.signal import mode_name

_BROAD_DOTS = (720, 1440)  # rasters whose dots are not square: 720 × 480 is meant as 4:3 (CTA-861)
_FRAME = Fraction(4, 3)  # what a television's frame was made for
# best first (common practice): RGB and component alike, then S-video, then composite
_QUALITY = ("vga", "scart", "component", "s_video", "composite")
_CLEANEST = ("vga", "scart", "component")
_PLUGS = {
    "vga": "VGA",
    "scart": "RGB by SCART",
    "component": "component",
    "s_video": "S-video",
    "composite": "composite",
}


def retro_data(layer: Layer, result: RunResult) -> dict[str, Any] | None:
    """Everything about the run's analogue part and its picture's shape; None where it has neither."""
    if not result.path:
        return None
    met = meetings(layer, result.path)
    source = layer.rig.devices[result.run.source]
    stages, intended, keys = _stages(layer, result, met[0].signal if met else None)
    if not met and source.profile.draws is None:
        return None
    signal = met[0].signal if met else None
    return {
        "run": result.run.uid, "signal": _signal(signal),
        "links": [
            {
                "where": layer.rig.socket_name(m.hop.inp), "treats": m.treats or "unknown",
                "good": m.treats in GOOD, "words": WORDS.get(m.treats or "", "whether it takes this is not known"),
            }
            for m in met
        ],
        "quality": _quality(layer, result, source), "rate": _rate(layer, result, signal),
        "shape": _shape(layer, stages, intended, keys), "multiples": _multiples(layer, result, signal),
        "scale": _scale(layer, result, signal), "notice": _notice(layer, result, signal),
        "order": [layer.rig.devices[h.inp.device].label for h in reversed(result.path)] + [source.label],
        "cautions": _cautions(source),
    }  # fmt: skip


def _signal(signal: AnalogueVideo | None) -> dict[str, Any] | None:
    if signal is None:
        return None
    aspect = signal.pixel_aspect
    return {
        "name": signal.name, "system": NAMES[signal.system], "line_khz": round(float(signal.line_hz) / 1000, 3),
        "vertical_hz": round(float(signal.vertical_hz), 3), "lines": float(signal.lines),
        "dot_clock_mhz": round(float(signal.dot_clock_hz) / 1e6, 4), "dots": float(signal.dots),
        "active": f"{signal.active[0]}×{signal.active[1]}", "interlaced": signal.interlaced,
        "pixel_aspect": f"{aspect.numerator}:{aspect.denominator}" if aspect is not None else None,
    }  # fmt: skip


def _quality(layer: Layer, result: RunResult, source: Device) -> str:
    """What limits the picture's cleanness, and a better way out of the source."""
    plugs = []
    for hop in result.path:
        port = layer.rig.devices[hop.out.device].profile.port(hop.out.port)
        if port is not None and port.kind == "analogue":
            plugs.append(port.plug)
    if not plugs:
        return ""
    worst = max(plugs, key=_QUALITY.index)
    if worst in _CLEANEST:
        return f"{_PLUGS[worst]} all the way: as clean as it comes"
    own = {p.plug for p in source.profile.outputs() if p.kind == "analogue"}
    better = [p for p in _QUALITY if p in own and _QUALITY.index(p) < _QUALITY.index(worst)]
    text = f"{_PLUGS[worst]} limits how clean it is"
    return f"{text}; {source.label} also sends {_PLUGS[better[0]]}, which is better" if better else text


def _converting(layer: Layer, result: RunResult) -> tuple[Device, Conversion] | None:
    for hop in result.path:
        device = layer.rig.devices[hop.inp.device]
        if device.profile.converts is not None:
            return device, device.profile.converts
    return None


def _rate(layer: Layer, result: RunResult, signal: AnalogueVideo | None) -> dict[str, Any] | None:
    """Is the machine's own rate kept, or turned into another."""
    found = _converting(layer, result)
    if signal is None or found is None:
        return None
    device, c = found
    mode = output_mode(layer, device)
    if c.rate == "kept" or mode is None:
        return {
            "kept": True, "from_hz": round(float(signal.vertical_hz), 3), "to_hz": round(float(signal.vertical_hz), 3),
            "per_minute": 0.0, "words": f"{device.label} keeps the machine’s {float(signal.vertical_hz):.2f} Hz",
        }  # fmt: skip
    to = timing_of(mode)
    to_hz = to.refresh if to is not None else Fraction(parse_mode(mode)[2])
    change = rate_change(signal.vertical_hz, to_hz, window_of(layer, result))
    return {
        "kept": False, "from_hz": round(float(change.from_hz), 3), "to_hz": round(float(change.to_hz), 3),
        "per_minute": round(float(change.per_minute), 2),
        "words": f"{device.label} turns {float(change.from_hz):.2f} Hz into {float(change.to_hz):.2f}: {change.words}",
    }  # fmt: skip


def _stages(
    layer: Layer, result: RunResult, signal: AnalogueVideo | None
) -> tuple[list[Stage], Fraction, list[tuple[str, str]]]:
    """The stages that lay the picture into another frame, as set; the shape meant; each stage's box and setting."""
    rig = layer.rig
    source = rig.devices[result.run.source]
    intended = signal.shape if signal is not None else _FRAME
    out: list[Stage] = []
    keys: list[tuple[str, str]] = []
    if source.profile.draws is not None:
        mode = result.asked.timing.mode if result.asked else result.run.want.mode
        draws = source.profile.draws
        out.append(_stage(layer, source, draws.fit, draws.fits, mode))
        keys.append((source.uid, draws.fit or ""))
    for hop in result.path[:-1]:
        device = rig.devices[hop.inp.device]
        c = device.profile.converts
        sent = output_mode(layer, device)
        if c is not None and sent is not None:
            out.append(_stage(layer, device, c.fit, c.fits or {"": "fill"}, sent))
            keys.append((device.uid, c.fit or ""))
    screen = rig.devices[result.run.sink]
    out.append(_glass(layer, screen))
    keys.append((screen.uid, (screen.profile.shown_as.fit if screen.profile.shown_as else None) or ""))
    return out, intended, keys


def _stage(layer: Layer, device: Device, fit: str | None, fits: dict[str, Any], mode: str) -> Stage:
    width, height, _ = parse_mode(mode)
    chosen = _chosen(layer, device, fit, fits)
    shape = _FRAME if width in _BROAD_DOTS else Fraction(width, height)
    return Stage(f"{device.label}, {mode_name(mode)}", shape, tuple(fits.items()), chosen, (width, height))


def _glass(layer: Layer, device: Device) -> Stage:
    shown = device.profile.shown_as or ShownAs()
    across, down = (int(n) for n in shown.glass.split(":"))
    fits = dict(shown.fits) or {"": "fill"}
    return Stage(device.label, Fraction(across, down), tuple(fits.items()), _chosen(layer, device, shown.fit, fits))


def _chosen(layer: Layer, device: Device, fit: str | None, fits: dict[str, Any]) -> str:
    setting = device.profile.setting(fit) if fit else None
    value = layer.rig.setting_value(layer.name, device.uid, "", setting) if setting else None
    return value if value is not None and value in fits else str(next(iter(fits)))


def _shape(layer: Layer, stages: list[Stage], intended: Fraction, keys: list[tuple[str, str]]) -> dict[str, Any]:
    """The test circle after every stage, the final error, and the options that would make it true."""
    shown = trace(intended, _FRAME, stages)
    best = truest(intended, _FRAME, stages)
    final = float(shown[-1].error_percent(intended))
    return {
        "intended": round(float(intended), 4), "error_percent": round(final, 1),
        "words": _shape_words(final),
        "stages": [
            {
                "stage": s.stage, "option": _option(layer, stages[n], s.option), "fit": s.fit,
                "frame": round(float(s.frame), 4), "picture": round(float(s.picture), 4),
                "width": round(float(s.width), 4), "height": round(float(s.height), 4),
                "error_percent": round(float(s.error_percent(intended)), 1),
            }
            for n, s in enumerate(shown)
        ],
        "best": [
            f"{stages[n].name}: {_option(layer, stages[n], o)}" for n, o in enumerate(best.options)
            if o != stages[n].chosen
        ] if best else [],
        "best_error_percent": round(float(best.error_percent), 1) if best else None,
        "ops": [
            {"op": "set_setting", "device": keys[n][0], "scope": "", "key": keys[n][1], "value": o}
            for n, o in enumerate(best.options) if o != stages[n].chosen and keys[n][1]
        ] if best else [],
    }  # fmt: skip


def _shape_words(error: float) -> str:
    if abs(error) < 1:
        return "true shape"
    return f"{abs(error):.1f} % too {'wide' if error > 0 else 'narrow'}".replace(".0 %", " %")


def _option(layer: Layer, stage: Stage, option: str) -> str:
    fit = dict(stage.options)[option]
    words = {"fill": "fills the frame", "keep": "keeps its shape", "window": "4:3 with borders"}
    return words[fit]


def _multiples(layer: Layer, result: RunResult, signal: AnalogueVideo | None) -> list[dict[str, Any]]:
    """Every multiple and sampling the run's multiplier offers, against its screen."""
    found = _converting(layer, result)
    if signal is None or found is None or not found[1].multiples:
        return []
    inp = result.path[-1].inp
    state = layer.state(inp)
    out = []
    for times in found[1].multiples:
        for sampling in found[1].sampling or ("whole_line",):
            m = multiple(signal, times, sampling)
            fact = layer.rig.facts.get((inp.device, tried_path(inp.port, times, sampling)))
            a = taken_by(m, state, fact.value if fact else None)
            out.append({
                "times": times, "sampling": sampling, "active": f"{m.active[0]}×{m.active[1]}",
                "line_khz": round(float(m.line_hz) / 1000, 3), "lines": float(m.lines),
                "vertical_hz": round(float(m.vertical_hz), 3),
                "pixel_clock_mhz": round(float(m.pixel_clock_hz) / 1e6, 3),
                "nearest": m.nearest.code, "nearest_name": mode_name(m.nearest.mode),
                "off_percent": round(float(m.off_percent), 2), "answer": a.answer, "why": a.why, "tried": a.tried,
                "fact": {"device": inp.device, "path": tried_path(inp.port, times, sampling)},
            })  # fmt: skip
    return out


def tried_path(port: str, times: int, sampling: str) -> str:
    """Where it is kept whether a multiple was tried at an input."""
    return f"{TRIED_FACT}.{port}.{times}x_{sampling}"


def _scale(layer: Layer, result: RunResult, signal: AnalogueVideo | None) -> str:
    panel = layer.rig.devices[result.run.sink].profile.panel
    if signal is None or panel is None:
        return ""
    return whole_scale(signal.active[1], parse_mode(f"{panel}@60")[1]).words


def _notice(layer: Layer, result: RunResult, signal: AnalogueVideo | None) -> str:
    """What a converter should write on the picture when it works."""
    found = _converting(layer, result)
    if signal is None or found is None or not found[1].notice:
        return ""
    device, c = found
    mode = output_mode(layer, device)
    output = mode_name(mode) if mode else "its multiple"
    return c.notice.replace("{system}", NAMES[signal.system]).replace("{output}", output)


def _cautions(source: Device) -> list[str]:
    """Level, sync and supply of the source's plug. Common practice."""
    out = []
    scans = [s for p in source.profile.outputs() for s in p.sends]
    if any(s.level == "ttl" for s in scans):
        out.append("its sync is at TTL level: it needs a circuit that brings it to 75 ohm, never plug it straight in")
    if "old_supply" in source.profile.cautions:
        out.append("check supply voltage, polarity and region before the first switch-on")
        out.append("power off before an analogue plug goes in or out")
    return out
