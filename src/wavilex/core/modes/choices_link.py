"""Choices a link sets: options of a setting on the way each of which wins something (rate, detail, HDR, refresh)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from wavilex.core.advise.fixes import find_fixes
from wavilex.core.advise.situation import answers_of, schools_of
from wavilex.core.advise.table import nearest_of
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.notes import sent_signal
from wavilex.core.chain.paths import Layer, facts_of_want
from wavilex.core.chain.results import RunResult
from wavilex.core.modes.choice import Choice, Way
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Run
from wavilex.core.rig.ops import Change, HdrWish, place_of, to_set
from wavilex.core.video.mode import Mode

Key = tuple[str, str, str]  # device, scope, setting
_BUDGET = 60


@dataclass(frozen=True)
class _Outcome:
    """What a run gets with one option: rate, dots on the glass, kind of HDR, variable refresh. More is better."""

    option: str
    hz: int
    dots: int
    hdr: int
    vrr: bool
    mode: Mode
    ops: tuple[Change, ...]

    def over(self, other: _Outcome) -> bool:
        pairs = [(self.hz, other.hz), (self.dots, other.dots), (self.hdr, other.hdr), (self.vrr, other.vrr)]
        return all(a >= b for a, b in pairs) and any(a > b for a, b in pairs)


_HDR_RANKS: tuple[HdrWish, ...] = ("off", "static", "dynamic")
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
            scope = layer.scope(device, setting, station.socket.port, facts_of_want(result.run.want))
            choice = _of_setting(layer, result, (device.uid, scope, name))
            if choice is not None and all(c.title != choice.title for c in found):
                found.append(choice)
    return found


def _of_setting(layer: Layer, result: RunResult, key: Key) -> Choice | None:
    device = layer.rig.devices[key[0]]
    setting = device.profile.setting(key[2])
    assert setting is not None
    school = schools_of(layer, result.run)["rate_or_detail"]
    found = [o for option in setting.options for o in _outcomes(layer, result, key, option.id)]
    kept = [x for x in found if not any(y.over(x) for y in found)]
    distinct = {(x.hz, x.dots, x.hdr, x.vrr): x for x in reversed(kept)}
    if len({x.option for x in distinct.values()}) < 2:
        return None
    options = sorted(distinct.values(), key=lambda x: -x.hz)
    best = max(options, key=lambda x: _ranked(x, school))
    ways = []
    for x in options:
        others = [y for y in options if y is not x]
        label = setting.option_label(x.option)
        if sum(y.option == x.option for y in options) > 1:
            label += f" at {x.mode.name}"
        stands = "rate" if x.hz == options[0].hz else "detail"
        ways.append(
            Way(label, stands, tuple(_better(x, others)), tuple(_worse(x, others)), _figures(x), x.ops, x is best)
        )
    level = answers_of(layer, result.run)["rate_or_detail"].level
    because = "no option gives all that is wanted"
    return Choice(
        "-".join(key), f"{device.place(key[1])}: {setting.label}", "rate_or_detail", because, level, tuple(ways)
    )


def _ranked(x: _Outcome, school: str) -> tuple[int, ...]:
    return (x.hz, x.dots, x.hdr, x.vrr) if school == "rate" else (x.dots, x.hdr, x.hz, x.vrr)


def _outcomes(layer: Layer, result: RunResult, key: Key, option: str) -> list[_Outcome]:
    """What the run can show with an option: its best for rate and for detail, with what else must be set for it."""
    op = to_set(key, option, layer.name)
    rig = apply(layer.rig, [op])[0]
    view = Layer(rig, layer.name, layer.states)
    run = rig.runs[result.run.uid]
    with_option = run_result(view, run)
    sent = sent_signal(with_option)
    signals = [b.signal for b in nearest_of(view, with_option) if b is not None] + ([sent] if sent else [])
    out = []
    for mode in dict.fromkeys(s.timing.mode for s in signals):
        hdr = _hdr_of(with_option)
        vrr = run.want.vrr and all(s.state.vrr not in (False, None) for s in with_option.stations)
        want = replace(run.want, mode=mode, hdr=_HDR_RANKS[hdr], vrr=vrr)
        more = _needed(view, replace(run, want=want), key)
        if more is not None:
            out.append(
                _Outcome(option, mode.hz, _on_glass(view, run, mode.width * mode.height), hdr, vrr, mode, (op, *more))
            )
    return out


def _needed(view: Layer, run: Run, key: Key) -> tuple[Change, ...] | None:
    """Settings beside the option itself that a lesser want needs; None where settings do not give it."""
    rig = replace(view.rig, runs={**view.rig.runs, run.uid: run})
    if run_result(Layer(rig, view.name, view.states), run).good:
        return ()
    fixes = find_fixes(rig, run, view.name, states=view.states, kinds=("setting",), budget=_BUDGET, max_moves=2)
    for way in fixes.ways:
        ops = tuple(way.ops)
        if all(place_of(op) != key for op in ops):
            return ops
    return None


def _hdr_of(result: RunResult) -> int:
    """The best kind of HDR all boxes share, not beyond what is wanted, by rank."""
    kinds = [set(s.state.hdr) for s in result.stations if s.state.hdr is not None]
    shared = set.intersection(*kinds) if kinds else set()
    most = "dynamic" if "dynamic" in shared else "static" if "static" in shared else "off"
    return min(_HDR_RANKS.index(most), _HDR_RANKS.index(result.run.want.hdr))


def _on_glass(view: Layer, run: Run, dots: int) -> int:
    """Dots that really show: a panel with fewer scales down."""
    panel = view.rig.devices[run.sink].profile.panel_size
    return dots if panel is None else min(dots, panel[0] * panel[1])


def _figures(x: _Outcome) -> dict[str, str]:
    out = {"signal": x.mode.name, "frame": f"{1000 / x.hz:.1f} ms", "HDR": _HDR_NAMES[x.hdr]}
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
