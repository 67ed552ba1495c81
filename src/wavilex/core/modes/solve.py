"""The values of a screen's settings that serve a title's wishes best: solved, with what excludes what.

Exact: every combination that could still win is looked at; a bound leaves out the rest.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from wavilex.core.chain.carry import RunResult
from wavilex.core.chain.paths import Layer, facts_of_want
from wavilex.core.chain.rig import Device, Title
from wavilex.core.gear.conditions import Surroundings, holds
from wavilex.core.gear.profile import Profile, Setting
from wavilex.core.gear.quirks import AddsLag
from wavilex.core.gear.stand import Place, Standing, stand, value_at
from wavilex.core.gear.words import standing_data
from wavilex.core.modes.wishes import STYLES, Wish, wishes_of

_NEAR = 1  # points for leaving a setting as it is, so that nothing is changed for nothing


@dataclass(frozen=True, slots=True)
class Solution:
    """chosen: a value for every setting a wish speaks of; standing: what then really holds; score: points."""

    chosen: Mapping[Place, str]
    standing: Mapping[Place, Standing]
    score: int


def solve(
    profile: Profile, scope: str, wishes: Sequence[Wish], now: Mapping[Place, str | None], around: Surroundings
) -> Solution:
    """The best values at one input. now: every setting as it is; those no wish speaks of stay so."""
    by_effect = {w.effect: w for w in wishes}
    open_: list[tuple[Place, Setting, Wish]] = []
    for s in profile.settings:
        if s.effect in by_effect and (not s.ports or scope in s.ports):
            open_.append(((scope if s.ports else "", s.id), s, by_effect[s.effect]))
    moved = {q.setting for q in profile.setting_quirks}  # the device may make another value of what was chosen
    best: Solution | None = None
    rest = [sum(w.most + _NEAR for _, _, w in open_[n:]) for n in range(len(open_) + 1)]

    def search(n: int, chosen: dict[Place, str], promise: int) -> None:
        nonlocal best
        if best is not None and promise + rest[n] <= best.score:
            return
        if n == len(open_):
            found = _judge(profile, scope, open_, {**now, **chosen}, now, around)
            if best is None or found.score > best.score:
                best = found
            return
        place, setting, wish = open_[n]
        for option in sorted(setting.options, key=lambda o: -wish.worth.get(o.id, 0)):
            most = wish.most if setting.id in moved else wish.worth.get(option.id, 0)
            search(n + 1, {**chosen, place: option.id}, promise + most + _NEAR)

    search(0, {}, 0)
    assert best is not None
    return best


def _judge(
    profile: Profile, scope: str, open_: Sequence[tuple[Place, Setting, Wish]], values: Mapping[Place, str | None],
    now: Mapping[Place, str | None], around: Surroundings,
) -> Solution:  # fmt: skip
    standing = stand(profile, lambda s, k: values.get((s, k)), around)
    score = 0
    chosen: dict[Place, str] = {}
    for place, _, wish in open_:
        really = standing[place]
        chosen[place] = values[place] or ""
        if really.value is not None and really.inert is None:
            score += wish.worth.get(really.value, 0)
        score += _NEAR * (values[place] == now.get(place))
    return Solution(chosen, standing, score)


def added_lag_ms(profile: Profile, scope: str, standing: Mapping[Place, Standing], around: Surroundings) -> float:
    """Lag that the chosen values add, by the profile's lag quirks, in ms."""
    values = value_at(profile, standing, scope)
    return sum(
        q.adds_ms for q in profile.quirks
        if isinstance(q, AddsLag) and (q.when is None or holds(q.when, values, around, scope) is True)
    )  # fmt: skip


def title_plans(layer: Layer, result: RunResult, style: str = "balanced") -> dict[str, Any] | None:
    """For every title the values of the screen's settings on a run, side by side; None without a path or effects."""
    if not result.path:
        return None
    rig, inp = layer.rig, result.path[-1].inp
    device = rig.devices[inp.device]
    if not any(s.effect for s in device.profile.settings):
        return None
    titles: list[Title | None] = list(rig.titles.values()) or [None]
    around = replace(layer.around(device, facts_of_want(result.run.want)), shown_input=inp.port)
    now = {
        (scope, s.id): rig.setting_value(layer.name, device.uid, scope, s)
        for s in device.profile.settings for scope in (s.ports or ("",))
    }  # fmt: skip
    columns = []
    for title in titles:
        wishes = wishes_of(title, style)
        solution = solve(device.profile, inp.port, wishes, now, around)
        columns.append(_column(device, inp.port, title, wishes, solution, around))
    places = [(p, s) for p, s in _places(device.profile, inp.port) if s.effect]
    return {
        "device": device.uid, "label": device.label, "input": inp.port, "style": style,
        "styles": [{"id": k, "name": v} for k, v in STYLES.items()],
        "titles": columns,
        "rows": [_row(layer, device, place, setting, columns) for place, setting in places],
    }  # fmt: skip


def _places(profile: Profile, scope: str) -> list[tuple[Place, Setting]]:
    return [((scope if s.ports else "", s.id), s) for s in profile.settings if not s.ports or scope in s.ports]


def _column(
    device: Device, scope: str, title: Title | None, wishes: Sequence[Wish], solution: Solution, around: Surroundings
) -> dict[str, Any]:
    by_effect = {w.effect: w for w in wishes}
    cells, missed = {}, []
    for place, setting in _places(device.profile, scope):
        wish = by_effect.get(setting.effect or "")
        if wish is None or place not in solution.chosen:
            continue
        now = solution.standing[place]
        value = now.value or solution.chosen[place]
        why = wish.why
        given_up = _given_up(device.profile, place, setting, wish, value, solution, around)
        if given_up:
            why = f"given up: {given_up}"
            missed.append(f"{setting.label}: {given_up}.")
        cells[setting.id] = {"option": value, "label": setting.option_label(value), "why": why}
        if not given_up and wish.worth.get(value, 0) < wish.most and now.barred:
            best = max(wish.worth, key=lambda v: wish.worth[v])
            barred = [b["because"] for b in standing_data(device.profile, now)["barred"] if b["option"] == best]
            if barred:
                missed.append(f"{setting.label} not {setting.option_label(best)}: {'. Also: '.join(barred)}.")
    ops = [
        {"op": "set_setting", "device": device.uid, "scope": s, "key": k, "value": v}
        for (s, k), v in ((p, cells[p[1]]["option"]) for p in solution.chosen if p[1] in cells)
    ]
    return {
        "title": title.name if title else "any title", "competitive": bool(title and title.competitive),
        "cells": cells, "missed": missed, "ops": ops,
        "adds_ms": added_lag_ms(device.profile, scope, solution.standing, around),
    }  # fmt: skip


def _given_up(
    profile: Profile, place: Place, setting: Setting, wish: Wish, value: str, solution: Solution, around: Surroundings
) -> str:
    """What having this wish would have taken from another setting; "" where it is met, or cannot be had at all."""
    best = max(wish.worth, key=lambda v: wish.worth[v])
    if wish.worth.get(value, 0) == wish.most or best not in [o.id for o in setting.options]:
        return ""
    values = {**{p: s.value for p, s in solution.standing.items()}, place: best}
    with_it = stand(profile, lambda s, k: values.get((s, k)), around)
    if with_it[place].value != best:
        return ""
    for other, now in with_it.items():
        was = solution.standing[other].value
        quirk = now.greyed or now.forced or next((q for o, q in now.barred if o == was), None)
        if other != place and now.value != was and quirk is not None:
            label = next(s.label for s in profile.settings if s.id == other[1])
            return f"{label} counts more here, and {quirk.because}"
    return ""


def _row(
    layer: Layer, device: Device, place: Place, setting: Setting, columns: Sequence[Mapping[str, Any]]
) -> dict[str, Any]:
    value = layer.rig.setting_value(layer.name, device.uid, place[0], setting)
    found = layer.rig.setting_value("found", device.uid, place[0], setting)
    picked = [c["cells"].get(setting.id) for c in columns]
    return {
        "key": setting.id, "label": setting.label, "where": setting.where,
        "found": setting.option_label(found) if found else "not seen",
        "plan": setting.option_label(value) if value else "not known",
        "cells": picked,
        "flips": len({c["option"] for c in picked if c}) > 1,
    }  # fmt: skip
