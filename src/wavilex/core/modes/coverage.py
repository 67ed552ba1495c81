"""Coverage: how each cell of a screen stands (open, set, checked, stale), who shares one, what copying does."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from itertools import pairwise

from wavilex.core.advise.situation import schools_of
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import proof_key
from wavilex.core.modes.cells import Cell, cells, stored_by
from wavilex.core.modes.copying import copying
from wavilex.core.modes.shapes import CellState, CoverageOut
from wavilex.core.rig.model import Run
from wavilex.core.rig.style import QUESTIONS
from wavilex.core.ticks import DONE


def coverage_data(layer: Layer, last: Mapping[str, str]) -> list[CoverageOut]:
    """Every screen that stores things apart: its cells in order, how each stands, who shares one, what copying does.

    last: the latest state of every step, by key. A cell is `set` when visited, `checked` when its runs were proved
    since, `stale` when its socket was visited for other boxes or another way, else `open`.
    """
    out: list[CoverageOut] = []
    for device in layer.rig.devices.values():
        own = cells(layer, device.uid) if device.profile.role == "screen" else []
        if not own:
            continue
        dimensions, now = stored_by(device), {c.key for c in own}
        out.append({
            "device": device.uid, "label": device.label, "dimensions": list(dimensions),
            "cells": [
                {
                    "key": c.key, "at": [c.value(d) for d in dimensions], "state": _state(layer, c, last, now),
                    "runs": [layer.rig.runs[r].label for r in c.runs],
                }
                for c in own
            ],
            "switches": sum(a.value("mode") != b.value("mode") for a, b in pairwise(own)),
            "shared": _shared(layer, own), "copying": copying(layer, device, own, dimensions),
        })  # fmt: skip
    return out


def _state(layer: Layer, cell: Cell, last: Mapping[str, str], now: Collection[str]) -> CellState:
    if last.get(cell.key) == DONE:
        proofs = [proof_key(run_result(layer, layer.rig.runs[r])) for r in cell.runs]
        return "checked" if all(last.get(k) == DONE for k in proofs) else "set"
    gone = (k for k, state in last.items() if state == DONE and k not in now)
    return "stale" if any(k.startswith(cell.stem) for k in gone) else "open"


def _shared(layer: Layer, own: Sequence[Cell]) -> list[str]:
    """Runs that meet the very same stored values, by whichever box brings them together, and where they disagree."""
    out = []
    for c in own:
        if len(c.runs) < 2:
            continue
        runs = [layer.rig.runs[r] for r in c.runs]
        names = " and ".join(r.label for r in runs)
        where = ", ".join(v for _, v in c.at)
        out.append(f"{names} share one set of settings ({where}): what suits one is set for all.{_apart(layer, runs)}")
    return out


def _apart(layer: Layer, runs: Sequence[Run]) -> str:
    """On what runs that share settings disagree."""
    asks = {
        "game mode": {r.label: r.want.low_lag for r in runs}, "variable refresh": {r.label: r.want.vrr for r in runs},
        "HDR": {r.label: r.want.hdr != "off" for r in runs},
    }  # fmt: skip
    words = []
    for what, by in asks.items():
        if len(set(by.values())) > 1:
            words.append(f"{what} is for {', '.join(n for n, v in by.items() if v)} only")
    schools = {r.label: schools_of(layer, r) for r in runs}
    for key, question in QUESTIONS.items():
        if len({s[key] for s in schools.values()}) > 1:
            words.append(f"{question.name.lower()} differs by house style")
    return f" Conflict: {'; '.join(words)}." if words else ""
