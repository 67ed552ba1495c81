"""Where two wishes exclude each other on a run: what each school gains and loses, and which one is followed.

Two sources of choices: a question of the house style whose schools set the run's boxes differently, and a setting
whose options carry signals none of which is best in everything (rate, detail, HDR, variable refresh).
"""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence

from wavilex.core.advise.effects import Standing
from wavilex.core.advise.situation import HDR, STANDARD, answers_of, boxes_of, schools_of, where_of
from wavilex.core.advise.solve import added_lag_ms, keeps_percent, places
from wavilex.core.advise.together import solve_run
from wavilex.core.advise.wishes import wishes_of
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.gear.quirks import Dims
from wavilex.core.gear.stand import stand
from wavilex.core.modes.choice import Choice, Way
from wavilex.core.modes.choices_link import of_options
from wavilex.core.modes.elsewhere import elsewhere
from wavilex.core.modes.recommend import playing_of
from wavilex.core.modes.run_refresh import window_of
from wavilex.core.modes.shapes import ExclusionOut
from wavilex.core.rig.model import Title
from wavilex.core.rig.ops import to_set
from wavilex.core.rig.style import QUESTIONS

# what a value of an effect gives, and what it takes; common practice
_GIVES: Mapping[tuple[str, str], tuple[str, str]] = {
    ("variable_refresh", "on"): ("even at every render rate of its window", ""),
    ("variable_refresh", "off"): ("", "judder wherever frames do not divide the refresh"),
    ("black_frames", "on"): ("moving edges stay clear", "it flickers"),
    ("interpolation", "on"): ("30 fps pans move smoothly", "ghosts at edges, one to two frames of lag"),
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


def choices(layer: Layer, result: RunResult) -> list[Choice]:
    """Every choice of a run, those of the link first."""
    if not result.path:
        return []
    found = of_options(layer, result)
    for key in QUESTIONS:
        choice = None if key == "rate_or_detail" else _of_question(layer, result, key)
        if choice is not None:
            found.append(choice)
    return found


def _of_question(layer: Layer, result: RunResult, key: str) -> Choice | None:
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
    solved = {s: _values(layer, result, {**schools, key: s}, title, kind) for s in QUESTIONS[key].schools}
    distinct: dict[tuple[_Value, ...], list[str]] = {}
    for school, (values, _) in solved.items():
        distinct.setdefault(values, []).append(school)
    if len(distinct) < 2:
        return []
    shared = set.intersection(*(set(values) for values in distinct))
    ways = []
    for values, same in distinct.items():
        own = [v for v in values if v not in shared]
        figures = solved[same[0]][1]
        gains, losses, words = _words(layer, own)
        if "light" in figures and figures["light"][1]:
            losses.append(figures["light"][1])
        label = ", ".join(words) or QUESTIONS[key].schools[same[0]]
        ops = tuple(to_set((d, s, k), v) for d, s, k, v in (*own, *_opening(layer, result, own, shared)))
        shown = {name: figure for name, (figure, _) in figures.items()}
        school = schools[key] if schools[key] in same else same[0]
        ways.append(Way(label, school, tuple(gains), tuple(losses), shown, ops, schools[key] in same))
    return ways


def _opening(layer: Layer, result: RunResult, own: Sequence[_Value], shared: Collection[_Value]) -> list[_Value]:
    """What all ways have in common but is not set yet, where without it a box would not do what this way sets."""
    out: list[_Value] = []
    for box in boxes_of(layer, result):
        mine = {(s, k): v for d, s, k, v in own if d == box.device.uid}
        standing = stand(box.device.profile, box.with_set(mine), box.around)
        if any(standing[p].value != v or standing[p].inert for p, v in mine.items()):
            out += [x for x in sorted(shared) if x[0] == box.device.uid and box.now.get(x[1:3]) != x[3]]
    return out


def _values(
    layer: Layer, result: RunResult, schools: Mapping[str, str], title: Title | None, kind: str
) -> tuple[tuple[_Value, ...], dict[str, tuple[str, str]]]:
    """The values a set of schools gives (device, scope, setting, value), and their figures with what they lose."""
    best = playing_of(layer, result, title)
    playing = best.playing if best else None
    wishes = wishes_of(where_of(layer, result, title, kind, playing), schools)
    values, lag, keeps, dims = [], 0.0, 100.0, False
    vrr = True
    for solved in solve_run(layer, result, wishes, kind, playing):
        box, solution = solved.box, solved.solution
        profile = box.device.profile
        values += [
            (box.device.uid, *p, solution.value(p)) for p, _ in places(profile, box.scope) if p in solution.chosen
        ]
        lag += added_lag_ms(profile, box.scope, solution.standing, box.around)
        keeps *= keeps_percent(profile, box.scope, solution.standing, box.around) / 100
        dims = dims or any(isinstance(q, Dims) for q in profile.quirks)
        vrr = vrr and all(
            solution.value(p) == "on"
            for p, s in places(profile, box.scope)
            if s.effect == "variable_refresh" and p in solution.chosen
        )
    hdr = {value for *at, value in values if _effect(layer, at[0], at[2]) == "hdr"}
    peak = where_of(layer, result, title, kind).peak_cd_m2
    figures = {"lag": (f"+{lag:.1f} ms" if lag else "nothing added", "")}
    window = window_of(layer, result) if vrr else None
    hz = result.run.want.mode.hz
    figures["refresh"] = (f"{window[0]} to {window[1]} Hz" if window else f"fixed {hz} Hz", "")
    if dims:
        lost = f"darker: {keeps:.0f} % of its light is left" if keeps < 100 else ""
        figures["light"] = (f"{peak * keeps / 100:.0f} cd/m²" if peak else f"{keeps:.0f} %", lost)
    if hdr and peak:
        figures["HDR white"] = ("standard range" if "off" in hdr else f"{peak} cd/m² at most", "")
    return tuple(values), figures


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


def choices_data(layer: Layer, result: RunResult) -> list[ExclusionOut]:
    """The choices of a run as plain data, each way with what it does to every other run before it is planned."""
    before = Standing(layer)
    return [
        {
            "id": c.id, "title": c.title, "question": c.question, "because": c.because, "level": c.level,
            "figures": list(dict.fromkeys(name for w in c.ways for name in w.figures)),
            "ways": [
                {"label": w.label, "school": w.school, "gains": list(w.gains), "losses": list(w.losses),
                 "figures": dict(w.figures), "ops": list(w.ops), "picked": w.picked,
                 "elsewhere": elsewhere(before, result, w.ops, c.question, w.school)} for w in c.ways
            ],
            "weighty": c.weighty,
        } for c in choices(layer, result)
    ]  # fmt: skip
