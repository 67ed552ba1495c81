"""Choices of the house style: a question whose schools set a run's boxes differently."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

from wavilex.core.advise.lag_cost import added_lag, added_ms
from wavilex.core.advise.situation import HDR, STANDARD, answers_of, boxes_of, schools_of, where_of
from wavilex.core.advise.solve import keeps_percent, places
from wavilex.core.advise.together import solve_run
from wavilex.core.advise.wishes import wishes_of
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.gear.cells import read_scope
from wavilex.core.gear.quirks import Dims
from wavilex.core.gear.stand import stand
from wavilex.core.modes.choice import Choice, Way
from wavilex.core.modes.recommend import playing_of
from wavilex.core.modes.run_refresh import fixed_hz, window_of
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Title
from wavilex.core.rig.ops import to_set
from wavilex.core.rig.style import QUESTIONS

# what a value of an effect gives, and what it takes; common practice
_GIVES: Mapping[tuple[str, str], tuple[str, str]] = {
    ("variable_refresh", "on"): ("even at every render rate of its window", ""),
    ("variable_refresh", "off"): ("", "judder wherever frames do not divide the refresh"),
    ("black_frames", "on"): ("moving edges stay clear", "it flickers"),
    ("interpolation", "on"): ("slow pans move smoothly", "ghosts at edges, one to two frames of lag"),
    ("input_speed", "fast"): ("the least lag", ""),
    ("processing", "auto"): ("less noise from weak sources", "any enhancement may add lag: measure"),
    ("processing", "low"): ("smoother gradation", "any enhancement may add lag: measure"),
    ("processing", "off"): ("nothing between source and glass", "noise and steps of weak sources show"),
    ("sharpening", "off"): ("edges as the title draws them", ""),
    ("tone_mapping", "source"): ("highlights as calibrated at the source", "as dim as the title means it"),
    ("tone_mapping", "screen"): ("brighter in daylight", "not as meant; mapped twice if the source maps too"),
    ("tone_mapping", "off"): ("highlights as calibrated", "clipped where the title goes beyond the screen"),
    ("warmth", "warm"): ("nearest D65", "looks yellow to eyes used to blue"),
    ("warmth", "neutral"): ("blends with daylight", "bluer than D65"),
    ("warmth", "cool"): ("looks bright", "far from D65"),
    ("colour", "vivid"): ("strong colours", "not as meant"),
    ("dimming", "high"): ("deepest black beside light", "haloes"),
    ("dimming", "off"): ("no haloes", "grey black"),
    ("shadow_lift", "high"): ("enemies in the dark are seen", "black turns grey"),
    ("hdr", "off"): ("cleaner black and even brightness", "no highlights beyond standard range"),
    ("hdr", "on"): ("highlights beyond standard range", ""),
    ("hdr", "auto"): ("highlights beyond standard range", ""),
    ("device_control", "on"): ("boxes wake and switch together", "inputs may switch unasked"),
    ("device_control", "off"): ("nothing switches unasked", "a bar may fall asleep"),
}

_Value = tuple[str, str, str, str]  # device, scope, setting, value


@dataclass(frozen=True, slots=True)
class _Side:
    """What a school sets; the lag that adds, the share of its light the picture keeps in percent, whether any setting
    darkens there, and whether every switch of variable refresh is on.
    """

    school: str
    values: tuple[_Value, ...]
    lag_ms: float
    keeps: float
    dims: bool


def of_question(layer: Layer, result: RunResult, key: str) -> Choice | None:
    """A question whose schools set this run's boxes differently, for the first title where they do."""
    titles: list[Title | None] = [None, *layer.rig.titles.values()]
    for title in titles:
        ways = _ways_of(layer, result, key, title)
        if len(ways) > 1:
            name = QUESTIONS[key].name + (f", {title.name}" if title else "")
            answer = answers_of(layer, result.run, title)[key]
            return Choice(key, name, key, "schools differ, and the boxes act on it", answer.level, tuple(ways))
    return None


def _ways_of(layer: Layer, result: RunResult, key: str, title: Title | None) -> list[Way]:
    schools = schools_of(layer, result.run, title)
    kind = HDR if result.run.want.hdr != "off" else STANDARD
    sides = [_side(layer, result, {**schools, key: s}, s, title, kind) for s in QUESTIONS[key].schools]
    distinct: dict[tuple[_Value, ...], list[_Side]] = {}
    for side in sides:
        distinct.setdefault(side.values, []).append(side)
    if len(distinct) < 2:
        return []
    shared = set.intersection(*(set(values) for values in distinct))
    ways = []
    for values, same in distinct.items():
        own = [v for v in values if v not in shared]
        gains, losses, words = _words(layer, own)
        if same[0].keeps < 100:
            losses.append(f"darker: {same[0].keeps:.0f} % of its light is left")
        followed = [s.school for s in same]
        label = ", ".join(words) or QUESTIONS[key].schools[followed[0]]
        ops = tuple(to_set(v[:3], v[3]) for v in (*own, *_opening(layer, result, own, shared)))
        picked = schools[key] in followed
        school = schools[key] if picked else followed[0]
        figures = _figures(layer, result, same[0], where_of(layer, result, title, kind).peak_cd_m2)
        if figures["refresh"].startswith("fixed"):  # a switch alone makes no window: another box has none
            gains = [g for g in gains if g != _GIVES["variable_refresh", "on"][0]]
        ways.append(Way(label, school, tuple(gains), tuple(losses), figures, ops, picked))
    return ways


def _opening(layer: Layer, result: RunResult, own: Sequence[_Value], shared: Collection[_Value]) -> list[_Value]:
    """What all ways have in common but is not set yet, where without it a box would not do what this way sets."""
    out: list[_Value] = []
    for box in boxes_of(layer, result):
        mine = {(read_scope(s).input, k): v for d, s, k, v in own if d == box.device.uid}
        standing = stand(box.device.profile, box.with_set(mine), box.around)
        if any(standing[p].value != v or standing[p].inert for p, v in mine.items()):
            own_box = (x for x in sorted(shared) if x[0] == box.device.uid)
            out += [x for x in own_box if box.now.get((read_scope(x[1]).input, x[2])) != x[3]]
    return out


def _side(
    layer: Layer, result: RunResult, schools: Mapping[str, str], school: str, title: Title | None, kind: str
) -> _Side:
    best = playing_of(layer, result, title)
    playing = best.playing if best else None
    wishes = wishes_of(where_of(layer, result, title, kind, playing), schools)
    values: list[_Value] = []
    lag, keeps, dims = 0.0, 100.0, False
    for solved in solve_run(layer, result, wishes, kind, playing):
        box, solution = solved.box, solved.solution
        profile = box.device.profile
        for place, _setting in places(profile, box.scope):
            if place in solution.chosen:
                values.append((*box.key(place), solution.value(place)))
        lag += added_ms(added_lag(layer.rig, box.device, box.scope, solution.standing, box.around))
        keeps *= keeps_percent(profile, box.scope, solution.standing, box.around) / 100
        dims = dims or any(isinstance(q, Dims) for q in profile.quirks)
    return _Side(school, tuple(values), lag, keeps, dims)


def _figures(layer: Layer, result: RunResult, side: _Side, peak: int | None) -> dict[str, str]:
    """What a side comes to, the run judged with its values set. peak: the screen's, in cd/m²; None: not known."""
    after = Layer(apply(layer.rig, [to_set(v[:3], v[3], layer.name) for v in side.values])[0], layer.name, layer.states)
    then = run_result(after, result.run)
    window = window_of(after, then)
    figures = {
        "lag": f"+{side.lag_ms:.1f} ms" if side.lag_ms else "nothing added",
        "refresh": f"{window[0]} to {window[1]} Hz" if window else f"fixed {fixed_hz(then)} Hz",
    }
    if side.dims:
        figures["light"] = f"{peak * side.keeps / 100:.0f} cd/m²" if peak else f"{side.keeps:.0f} %"
    hdr = {value for device, _, key, value in side.values if _effect(layer, device, key) == "hdr"}
    if hdr and peak:
        figures["HDR white"] = "standard range" if "off" in hdr else f"{peak} cd/m² at most"
    return figures


def _effect(layer: Layer, device: str, key: str) -> str:
    setting = layer.rig.devices[device].profile.setting(key)
    return setting.effect or "" if setting else ""


def _words(layer: Layer, own: Sequence[_Value]) -> tuple[list[str], list[str], list[str]]:
    gains, losses, words = [], [], []
    for device, _, key, value in own:
        setting = layer.rig.devices[device].profile.setting(key)
        assert setting is not None
        gain, loss = _GIVES.get((setting.effect or "", value), ("", ""))
        gains += [gain] if gain and gain not in gains else []
        losses += [loss] if loss and loss not in losses else []
        words.append(f"{setting.label} {setting.option_label(value)}")
    return gains, losses, words
