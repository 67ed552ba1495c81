"""For every title the settings of a run's screen and source, side by side, and the mode to play it in."""

from __future__ import annotations

from collections.abc import Sequence

from wavilex.core.advise.lag_cost import Added, added_lag, added_ms, told_costs
from wavilex.core.advise.situation import HDR, STANDARD, Box, SignalKind, answers_of, boxes_of, kinds_of, wished
from wavilex.core.advise.solve import barred_words, keeps_percent, places
from wavilex.core.advise.together import solve_run
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.gear.setting import Setting
from wavilex.core.modes.recommend import as_set, playing_of, recommend_data
from wavilex.core.modes.shapes import AddedLag, TitleCell, TitleColumn, TitlePlansOut, TitleRow
from wavilex.core.rig.model import Title
from wavilex.core.rig.ops import Change, to_set


def title_plans(layer: Layer, result: RunResult) -> TitlePlansOut | None:
    """Values by title, with what each title goes without; None without a path."""
    if not result.path:
        return None
    titles: list[Title | None] = list(layer.rig.titles.values()) or [None]
    columns = [_column(layer, result, title) for title in titles]
    boxes = boxes_of(layer, result)
    rows = [
        _row(layer, box, place, setting, columns)
        for box in boxes for place, setting in places(box.device.profile, box.scope)
    ]  # fmt: skip
    return {
        "device": result.run.sink, "label": layer.rig.devices[result.run.sink].label,
        "titles": columns, "rows": [r for r in rows if any(r["cells"])],
    }  # fmt: skip


def signal_of(layer: Layer, result: RunResult, title: Title | None) -> SignalKind:
    """The kind of signal a title is shown in: HDR where it renders it (or nobody knows) and the run has it."""
    return HDR if HDR in kinds_of(layer, result) and (title is None or title.hdr is not False) else STANDARD


def _column(layer: Layer, result: RunResult, title: Title | None) -> TitleColumn:
    kind = signal_of(layer, result, title)
    best = playing_of(layer, result, title)
    playing = best.playing if best else None
    wishes = wished(layer, result, title, kind, playing)
    cells: dict[str, TitleCell] = {}
    missed: list[str] = []
    ops: list[Change] = []
    added: tuple[Added, ...] = ()
    keeps = 100.0
    for solved in solve_run(layer, result, wishes, kind, playing):
        box, solution = solved.box, solved.solution
        profile = box.device.profile
        for place, setting in places(profile, box.scope):
            if place not in solution.chosen:
                continue
            wish, value = solved.wish(place, setting), solution.value(place)
            why, taken = wish.why, solved.given_up(place, setting, wish)
            barred = "" if taken else barred_words(profile, place, setting, wish, solution, box.around)
            if taken:
                why = f"given up: {taken}"
            elif barred:
                why = barred
            missed += [f"{setting.label}: {taken}."] if taken else [f"{setting.label} {barred}."] if barred else []
            cells[f"{box.device.uid}/{setting.id}"] = {
                "option": value, "label": setting.option_label(value), "why": why,
            }  # fmt: skip
            ops.append(to_set(box.key(place), value))
        added += added_lag(layer.rig, box.device, box.scope, solution.standing, box.around)
        keeps *= keeps_percent(profile, box.scope, solution.standing, box.around) / 100
    adds_ms = added_ms(added)
    return {
        "title": title.name if title else "any title", "competitive": bool(title and title.competitive),
        "uid": title.uid if title else "", "signal": kind, "cells": cells, "missed": missed, "ops": ops,
        "adds_ms": adds_ms, "added": [added_data(a) for a in added], "keeps_percent": round(keeps),
        "mode": recommend_data(layer, result, title, as_set(layer, result, best, ops) if best else None, adds_ms),
        "style": [
            {"question": key, "school": a.school, "level": a.level}
            for key, a in answers_of(layer, result.run, title).items()
        ],
    }  # fmt: skip


def added_data(a: Added) -> AddedLag:
    """As plain data."""
    return {"ms": round(float(a.ms), 3), "words": a.words, "why": a.why, "measured": a.measured}


def _row(layer: Layer, box: Box, place: tuple[str, str], setting: Setting, columns: Sequence[TitleColumn]) -> TitleRow:
    value, found = (layer.rig.setting_value(name, *box.key(place)[:2], setting) for name in (layer.name, "found"))
    picked = [c["cells"].get(f"{box.device.uid}/{setting.id}") for c in columns]
    return {
        "key": setting.id, "device": box.device.label, "label": setting.label, "where": setting.where,
        "found": setting.option_label(found) if found else "not seen",
        "plan": setting.option_label(value) if value else "not known",
        "cells": picked,
        "costs": [
            {"words": c.words, "why": c.why, "stale": c.stale}
            for c in told_costs(layer.rig, box.device, box.around.firmware).get(setting.id, [])
        ],
        "flips": len({c["option"] for c in picked if c}) > 1,
    }  # fmt: skip
