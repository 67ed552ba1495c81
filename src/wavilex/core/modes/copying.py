"""What a menu's copy to every input reaches, what it misses, what it would overwrite although it differs on purpose.

Common practice: such a copy takes the picture of the range and mode now shown; it leaves out what belongs to the
socket and what only experts see, and may fail without a word.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from itertools import product

from wavilex.core.chain.paths import Layer
from wavilex.core.modes.cells import Cell
from wavilex.core.modes.shapes import CopyOut
from wavilex.core.rig.model import Device


def copying(layer: Layer, device: Device, own: Sequence[Cell], dimensions: Sequence[str]) -> CopyOut:
    """From the first cell in order: sentences by `reaches`, `misses`, `overwrites`, and a word of caution."""
    if "input" not in dimensions or not own:
        return {"start": "", "reaches": [], "misses": _misses(device), "overwrites": [],
                "note": "Picture settings are the same on every input."}  # fmt: skip
    first = own[0]
    others = [c for c in own if c.value("input") != first.value("input")]
    alike = [c for c in others if _same(c, first, ("range", "mode", "resolution", "rate"))]
    rest = [c for c in own if c is not first and c not in alike]
    return {
        "start": _words(first),
        "reaches": [_words(c) for c in alike],
        "misses": [*(f"{_words(c)}: another range or mode" for c in rest), *_misses(device)],
        "overwrites": _overwrites(layer, device, first, others),
        "note": "It may fail without a word: look at each input afterwards.",
    }


def _same(a: Cell, b: Cell, dimensions: Sequence[str]) -> bool:
    return all(a.value(d) == b.value(d) for d in dimensions)


def _words(cell: Cell) -> str:
    return ", ".join(v for _, v in cell.at)


def _misses(device: Device) -> list[str]:
    """Settings such a copy leaves out: those of the socket, and those that are one unit's own."""
    socket = [s.label for s in device.profile.settings if s.ports and not s.in_cells]
    experts = [s.label for s in device.profile.settings if s.copies == "unit"]
    out = [f"{', '.join(socket)}: kept by the socket"] if socket else []
    return out + ([f"{', '.join(experts)}: experts’ pages are left out"] if experts else [])


def _overwrites(layer: Layer, device: Device, first: Cell, others: Sequence[Cell]) -> list[str]:
    """What other inputs have otherwise on purpose: planned or found otherwise, played otherwise."""
    out = []
    for c in others:
        if first.value("mode") and c.value("mode") != first.value("mode"):
            runs = ", ".join(layer.rig.runs[r].label for r in c.runs)
            out.append(f"{c.value('input')}: {c.value('mode')} for {runs}, not {first.value('mode')}")
    ports: Mapping[str, str] = {p.label: p.id for p in device.profile.inputs()}
    here = ports.get(first.value("input"), "")
    own = [s for s in device.profile.settings if s.ports and not s.in_cells and s.effect and here in s.ports]
    for setting, label in product(own, dict.fromkeys(c.value("input") for c in others)):
        there = ports.get(label, "")
        if there not in setting.ports:
            continue
        mine, theirs = (layer.value(device, setting, at) for at in (here, there))
        if mine and theirs and mine != theirs:
            said = setting.option_label
            out.append(f"{label}: {setting.label} {said(theirs)}, not {said(mine)}")
    return list(dict.fromkeys([*out, *_cells_over(layer, device, first, others)]))


def _cells_over(layer: Layer, device: Device, first: Cell, others: Sequence[Cell]) -> Iterator[str]:
    """Values that stand otherwise, by plan or as found, in another input's cell, alike in what it is kept by."""
    kept = layer.rig.settings
    for c in others:
        for setting in device.profile.settings:
            if not setting.in_cells or "input" not in setting.dimensions or setting.copies == "unit":
                continue
            if not _same(c, first, [d for d in ("range", "mode") if d in setting.dimensions]):
                continue
            here, there = (kept.get((device.uid, at.spot.kept(setting.dimensions), setting.id)) for at in (first, c))
            mine, theirs = ((v.plan or v.found) if v is not None else None for v in (here, there))
            if mine and theirs and mine != theirs:
                said = setting.option_label
                place = _words(c) if "mode" in setting.dimensions else c.value("input")
                yield f"{place}: {setting.label} {said(theirs)}, not {said(mine)}"
