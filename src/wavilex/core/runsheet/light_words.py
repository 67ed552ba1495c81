"""What the run sheet says of light in a cell: a value by its readings, clicks on pages, or what to measure."""

from __future__ import annotations

from collections.abc import Sequence

from wavilex.core.chain.paths import Layer
from wavilex.core.gear.cells import Spot
from wavilex.core.light.aim import aimed
from wavilex.core.light.counting import clicks_data, pages_of
from wavilex.core.light.readings import Cell, scope_at
from wavilex.core.light.room import target


def white_words(layer: Layer, uid: str, spot: Spot) -> str:
    """Standard range: what white should be in the evening, and what gives it, as far as it was measured."""
    device = layer.rig.devices[uid]
    aim = aimed(layer.rig, Cell(uid, scope_at(device, spot)), "night")
    asked = target(layer.rig, device, "night")
    wish = (
        f"White at {asked.low} to {asked.high} cd/m², aim {asked.aim}{' (the room is a guess)' if asked.guess else ''}"
    )
    return f"{wish}: {aim.said}" if aim is not None and aim.value is not None else f"{wish}: measure it on Light"


def hdr_words(layer: Layer, uid: str, spot: Spot, runs: Sequence[str]) -> str:
    """HDR: clicks on each page of each source that meets the cell; "" where none of their pages count."""
    cell, parts = Cell(uid, scope_at(layer.rig.devices[uid], spot)), []
    for source in dict.fromkeys(layer.rig.runs[r].source for r in runs):
        box = layer.rig.devices[source]
        pages = [clicks_data(layer.rig, box, page, cell) for page in pages_of(layer.rig, box)]
        if pages:
            parts.append(f"{box.label}: " + "; ".join(f"{p['label']} {_short(p['low'], p['high'])}" for p in pages))
    return ". ".join(parts)


def _short(low: int | None, high: int | None) -> str:
    if low is None:
        return "not measured yet"
    return f"{low} clicks" if low == high else f"{low} to {high} clicks"
