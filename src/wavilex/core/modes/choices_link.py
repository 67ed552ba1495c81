"""Choices a link sets: options of a setting on the way each of which wins something (rate, detail, HDR, refresh)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from wavilex.core.chain.carry import RunResult, run_result
from wavilex.core.chain.changes import apply
from wavilex.core.chain.notes import sent_signal
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.table import nearest_of
from wavilex.core.modes.choice import Choice, Way
from wavilex.core.modes.situation import answers_of, schools_of
from wavilex.core.video.codes import parse_mode
from wavilex.core.video.signal import mode_name


@dataclass(frozen=True)
class _Outcome:
    """What a run gets with one option: rate, dots on the glass, kind of HDR, variable refresh. More is better."""

    hz: int
    dots: int
    hdr: int
    vrr: bool
    mode: str

    def over(self, other: _Outcome) -> bool:
        pairs = [(self.hz, other.hz), (self.dots, other.dots), (self.hdr, other.hdr), (self.vrr, other.vrr)]
        return all(a >= b for a, b in pairs) and any(a > b for a, b in pairs)


_HDR_RANKS = ("off", "static", "dynamic")
_HDR_NAMES = ("none", "static metadata", "dynamic metadata")


def of_options(layer: Layer, result: RunResult) -> list[Choice]:
    """Settings on the way whose options each win something: for instance a dynamic HDR format against 4K120."""
    if result.good:
        return []
    found: list[Choice] = []
    for station in result.stations:
        device = layer.rig.devices[station.socket.device]
        deciding = {
            name
            for q in device.profile.limits
            if q.when is not None and (not q.ports or station.socket.port in q.ports)
            for name in q.when.settings()
        }
        for name in sorted(deciding):
            setting = device.profile.setting(name)
            if setting is None or (setting.ports and station.socket.port not in setting.ports):
                continue
            scope = station.socket.port if setting.ports else ""
            choice = _of_setting(layer, result, (device.uid, scope, name))
            if choice is not None and all(c.title != choice.title for c in found):
                found.append(choice)
    return found


def _of_setting(layer: Layer, result: RunResult, key: tuple[str, str, str]) -> Choice | None:
    device = layer.rig.devices[key[0]]
    setting = device.profile.setting(key[2])
    assert setting is not None
    school = schools_of(layer, result.run)["rate_or_detail"]
    outcomes: dict[str, _Outcome] = {}
    for option in setting.options:
        op = {"op": "set_setting", "layer": layer.name, "device": key[0], "scope": key[1], "key": key[2],
              "value": option.id}  # fmt: skip
        rig = apply(layer.rig, [op])[0]
        view = Layer(rig, layer.name, layer.states)
        outcome = _outcome(view, run_result(view, rig.runs[result.run.uid]), school)
        if outcome is not None:
            outcomes[option.id] = outcome
    kept = [o for o, x in outcomes.items() if not any(y.over(x) for y in outcomes.values())]
    distinct = {replace(outcomes[o], mode=""): o for o in reversed(kept)}
    if len(distinct) < 2:
        return None
    options = sorted(distinct.values(), key=lambda o: -outcomes[o].hz)
    best = max(options, key=lambda o: _ranked(outcomes[o], school))
    port = device.profile.port(key[1]) if key[1] else None
    place = f"{device.label}, {port.label}" if port else device.label
    ways = []
    for way in options:
        x, others = outcomes[way], [outcomes[o] for o in options if o != way]
        op = {"op": "set_setting", "device": key[0], "scope": key[1], "key": key[2], "value": way}
        ways.append(Way(
            setting.option_label(way), "rate" if x.hz == max(o.hz for o in outcomes.values()) else "detail",
            tuple(_better(x, others)), tuple(_worse(x, others)), _figures(x), (op,), way == best,
        ))  # fmt: skip
    level = answers_of(layer, result.run)["rate_or_detail"].level
    because = "no option gives all that is wanted"
    return Choice(f"{key[0]}-{key[1]}-{key[2]}", f"{place}: {setting.label}", "rate_or_detail", because, level,
                  tuple(ways))  # fmt: skip


def _ranked(x: _Outcome, school: str) -> tuple[int, ...]:
    return (x.hz, x.dots, x.hdr, x.vrr) if school == "rate" else (x.dots, x.hdr, x.hz, x.vrr)


def _outcome(view: Layer, result: RunResult, school: str) -> _Outcome | None:
    """What the run really shows: what the source chooses, else the best that fits, by rate or by detail."""
    rate, detail = nearest_of(view, result)
    best = rate if school == "rate" else detail
    sent = sent_signal(result) or (best.signal if best else None)
    if sent is None:
        return None
    panel = view.rig.devices[result.run.sink].profile.panel
    dots = sent.timing.h_active * sent.timing.v_active
    if panel:
        width, height, _ = parse_mode(f"{panel}@60")
        dots = min(dots, width * height)
    kinds = [set(s.state.hdr) for s in result.stations if s.state.hdr is not None]
    shared = set.intersection(*kinds) if kinds else set()
    most = "dynamic" if "dynamic" in shared else "static" if "static" in shared else "off"
    hdr = min(_HDR_RANKS.index(most), _HDR_RANKS.index(result.run.want.hdr))
    vrr = result.run.want.vrr and all(s.state.vrr not in (False, None) for s in result.stations)
    return _Outcome(sent.timing.nominal_hz, dots, hdr, vrr, sent.timing.mode)


def _figures(x: _Outcome) -> dict[str, str]:
    out = {"signal": mode_name(x.mode), "frame": f"{1000 / x.hz:.1f} ms", "HDR": _HDR_NAMES[x.hdr]}
    return {**out, "refresh": "variable" if x.vrr else f"fixed {x.hz} Hz"}


def _better(x: _Outcome, others: Sequence[_Outcome]) -> list[str]:
    out = []
    slowest = min(o.hz for o in others)
    if x.hz > slowest:
        out.append(f"{x.hz} Hz instead of {slowest}: a frame every {1000 / x.hz:.1f} ms, not {1000 / slowest:.1f}")
    if any(x.dots > o.dots for o in others):
        out.append("more detail on the glass")
    least = min(o.hdr for o in others)
    if x.hdr > least:
        out.append(
            f"HDR with {_HDR_NAMES[x.hdr]}" if least == 0 else f"{_HDR_NAMES[x.hdr]} instead of {_HDR_NAMES[least]}"
        )
    if x.vrr and not all(o.vrr for o in others):
        out.append("variable refresh")
    return out


def _worse(x: _Outcome, others: Sequence[_Outcome]) -> list[str]:
    out = []
    fastest = max(o.hz for o in others)
    if x.hz < fastest:
        out.append(f"{fastest} Hz")
    if any(x.dots < o.dots for o in others):
        out.append("detail")
    most = max(o.hdr for o in others)
    if x.hdr < most:
        out.append("HDR" if x.hdr == 0 else _HDR_NAMES[most])
    if not x.vrr and any(o.vrr for o in others):
        out.append("variable refresh")
    return out
