"""What a choice for one run does beside it: to other runs and their wishes, and to titles of another school."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from wavilex.core.advise.effects import Standing, effects
from wavilex.core.advise.lag_cost import added_lag, added_ms
from wavilex.core.advise.settings_plan import proposals
from wavilex.core.advise.situation import STANDARD, answers_of, boxes_of, schools_of, where_of
from wavilex.core.advise.solve import keeps_percent, places
from wavilex.core.advise.together import solve_run
from wavilex.core.advise.wishes import wishes_of
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.gear.stand import stand
from wavilex.core.modes.recommend import playing_of
from wavilex.core.modes.shapes import ElsewhereOut
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Title
from wavilex.core.rig.ops import Change, place_of

_Places = Mapping[tuple[str, str, str], str]  # device, scope, setting: the value
_Cost = tuple[float, float]  # lag that settings add, in ms; the share of its light the picture keeps, in percent


def elsewhere(
    before: Standing, result: RunResult, ops: Sequence[Change], question: str, school: str
) -> list[ElsewhereOut]:
    """All that changes do beside the run they are for: verdicts, signals and sound of others, what it costs them in lag
    and light, what they would have otherwise; and titles of the run itself that keep to another school.
    """
    layer = before.layer
    after = Standing(Layer(apply(layer.rig, list(ops))[0], layer.name, layer.states))
    set_to = {p: op["value"] or "" for op in ops if op["op"] == "set_setting" for p in (place_of(op),) if p}
    out: list[ElsewhereOut] = [
        {"words": e.words, "worse": e.worse} for e in effects(before, after, ops, but_for=result.run.uid)
    ]
    for run in layer.rig.runs.values():
        if run.uid != result.run.uid:
            out += _other_run(before, after, run.uid, set_to)
    size = _size(_cost(layer, result), _cost(after.layer, after.result(result.run.uid)))
    for title in layer.rig.titles.values():
        out += _title(layer, result, title, set_to, question, school, size)
    return out


def _other_run(before: Standing, after: Standing, uid: str, set_to: _Places) -> Iterator[ElsewhereOut]:
    """What another run pays in lag and light, and which of its settings it would rather keep."""
    layer, label = before.layer, before.layer.rig.runs[uid].label
    first, then = _cost(layer, before.result(uid)), _cost(after.layer, after.result(uid))
    size, kept = _size(first, then), []
    for key, by_kind in proposals(layer, before.result(uid)).items():
        asked = by_kind[STANDARD]
        setting = layer.rig.devices[key[0]].profile.setting(key[2])
        now = layer.rig.setting_value(layer.name, key[0], key[1], setting) if setting else None
        if setting is not None and key in set_to and now == asked.value != set_to[key]:
            kept.append((f"{setting.label} at {setting.option_label(asked.value)}", asked.why))
    if kept:
        it = "it" if len(kept) == 1 else "them"
        yield {"words": f"{label} has {_listed(kept)} now, and would keep {it}: {_why(kept, size)}", "worse": True}
    elif size:
        yield {"words": f"{label}: {size}", "worse": then[0] > first[0] or then[1] < first[1]}


def _title(
    layer: Layer, result: RunResult, title: Title, set_to: _Places, question: str, school: str, size: str
) -> Iterator[ElsewhereOut]:
    """What a title would have otherwise though the choice is followed, and what the choice costs it."""
    answer = answers_of(layer, result.run, title).get(question)
    schools = schools_of(layer, result.run, title)
    if answer is not None and answer.level != "title":
        schools = {**schools, question: school}
    best = playing_of(layer, result, title)
    playing = best.playing if best else None
    solved = solve_run(
        layer, result, wishes_of(where_of(layer, result, title, STANDARD, playing), schools), STANDARD, playing
    )
    would = []
    for x in solved:
        for place, setting in places(x.box.device.profile, x.box.scope):
            key = x.box.key(place)
            if place not in x.solution.chosen or key not in set_to:
                continue
            value, wish = x.solution.value(place), x.wish(place, setting)
            if value != set_to[key] and wish.worth.get(value, 0) > wish.worth.get(set_to[key], 0):
                would.append((f"{setting.label} at {setting.option_label(value)}", wish.why))
    if would:
        yield {"words": f"{title.name} would have {_listed(would)}: {_why(would, size)}", "worse": False}


def _listed(found: Sequence[tuple[str, str]]) -> str:
    """Settings with their values, as a list in words."""
    *most, last = (words for words, _ in found)
    return f"{', '.join(most)} and {last}" if most else last


def _why(found: Sequence[tuple[str, str]], size: str) -> str:
    """Why, of the first; and what it costs."""
    return f"{found[0][1]} ({size})" if size else found[0][1]


def _cost(layer: Layer, result: RunResult) -> _Cost:
    """What the settings of a run's boxes cost it as they stand."""
    lag, keeps = 0.0, 100.0
    for box in boxes_of(layer, result):
        standing = stand(box.device.profile, box.chosen, box.around)
        lag += added_ms(added_lag(layer.rig, box.device, box.scope, standing, box.around))
        keeps *= keeps_percent(box.device.profile, box.scope, standing, box.around) / 100
    return lag, keeps


def _size(first: _Cost, then: _Cost) -> str:
    """The difference in words; "" where there is none."""
    lag, light = then[0] - first[0], then[1] - first[1]
    words = [f"{abs(lag):.1f} ms {'more' if lag > 0 else 'less'} lag"] if round(lag, 1) else []
    words += [f"{then[1]:.0f} % of its light instead of {first[1]:.0f} %"] if round(light) else []
    return ", ".join(words)
