"""Readings as they are kept, gathered by what they are of and how they were taken."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

from wavilex.core.lag.groups import Group
from wavilex.core.lag.plan import Cell
from wavilex.core.lag.readings import Way, off_of, way_of
from wavilex.core.lag.regression import Epoch
from wavilex.core.lag.shapes import Position
from wavilex.core.rig.jobfile import LagRow


class Kept(NamedTuple):
    """One reading that counts. day: ISO 8601."""

    condition: str
    signal: str
    input: str
    position: Position
    method: str
    lag_us: int
    uncertainty_us: int | None
    step_ns: int | None
    day: str
    firmware: str


def gathered(conditions: Sequence[str], rows: Iterable[Kept]) -> list[Group]:
    """Readings by cell and way: conditions in their order, each cell as it first came. A guess stands with the first
    way its cell was measured.
    """
    cells: dict[Cell, dict[Way | None, _Held]] = {}
    for condition in conditions:
        cells[Cell(condition=condition)] = {}
    for r in rows:
        ways = cells.setdefault(Cell(r.signal, r.input, r.condition, r.position), {})
        if r.method == "guess":
            ways.setdefault(None, _Held()).guesses.append(r.lag_us)
            continue
        way = way_of(r.method, r.step_ns, r.uncertainty_us)
        held = ways.setdefault(way, _Held())
        held.values.append(r.lag_us)
        held.off_us = max(held.off_us, off_of(way.step_us, r.uncertainty_us))
        held.epochs.setdefault((r.day, r.firmware), []).append(r.lag_us)
    plain = {c.condition for c in cells if c != Cell(condition=c.condition)}
    return [g for cell, ways in cells.items() for g in _groups(cell, ways) if g.values or g.guesses
            or cell.condition not in plain]  # fmt: skip


def of_file(row: LagRow) -> list[Group]:
    """A session's readings as a job file holds them."""
    return gathered(row.conditions, (
        Kept(r.condition, r.signal, r.input, r.position, r.method, r.lag_us, r.uncertainty_us, r.step_ns,
             r.taken_at[:10], r.firmware)
        for r in row.readings if not r.discard
    ))  # fmt: skip


@dataclass(slots=True)
class _Held:
    """What is gathered of one cell in one way."""

    values: list[int] = field(default_factory=list)
    guesses: list[int] = field(default_factory=list)
    epochs: dict[tuple[str, str], list[int]] = field(default_factory=dict)
    off_us: int = 0


def _groups(cell: Cell, ways: dict[Way | None, _Held]) -> list[Group]:
    """One group for each way; the guesses with the first."""
    guesses = ways.pop(None, _Held()).guesses
    if not ways:
        return [Group(cell, guesses=tuple(guesses))]
    out = []
    for way, held in ways.items():
        assert way is not None
        days = sorted(held.epochs.items())
        epochs = tuple(Epoch(day, firmware, tuple(v), way.step_us) for (day, firmware), v in days)
        out.append(Group(cell, tuple(held.values), tuple(guesses), (way.method,), epochs, way, held.off_us))
        guesses = []
    return out
