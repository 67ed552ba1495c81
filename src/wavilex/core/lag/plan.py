"""A plan of a lag session: which cells to measure, how many readings each, in which order.

A cell is a screen mode, a signal, an input, a place on the glass. Random order keeps drift out of the comparison;
grouping spares re-syncs: then signals stay together and only their order is random.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import pairwise, product
from typing import Literal, TypeVar

from wavilex.core.lag.shapes import Position

T = TypeVar("T")

MOST_CELLS = 60
_SECONDS_A_READING, _SECONDS_A_CELL, _SECONDS_A_RESYNC = 1, 15, 20


@dataclass(frozen=True, slots=True, order=True)
class Cell:
    """What readings are of. Empty: as it is, not said."""

    signal: str = ""
    input: str = ""
    condition: str = ""
    position: Position = ""

    @property
    def name(self) -> str:
        return ", ".join(w for w in (self.condition, self.input, self.signal, self.position) if w)


def cells(
    conditions: Sequence[str], signals: Sequence[str] = ("",), inputs: Sequence[str] = ("",),
    positions: Sequence[Position] = ("",),
) -> list[Cell]:  # fmt: skip
    """Every combination, in the order given."""
    places: Sequence[Position] = positions or ("",)
    return [Cell(s, i, c, p) for s, i, c, p in product(signals or ("",), inputs or ("",), conditions, places)]


def ordered(
    wanted: Sequence[Cell], order: Literal["grouped", "random"], shuffle: Callable[[list[int]], None]
) -> list[Cell]:
    """The cells in the order to measure them. shuffle: puts a list of numbers in random order, in place."""
    if order == "random":
        return _shuffled(list(wanted), shuffle)
    groups: dict[tuple[str, str], list[Cell]] = {}
    for cell in wanted:
        groups.setdefault((cell.signal, cell.input), []).append(cell)
    keys = _shuffled(list(groups), shuffle)
    return [cell for key in keys for cell in _shuffled(groups[key], shuffle)]


def _shuffled(items: list[T], shuffle: Callable[[list[int]], None]) -> list[T]:
    places = list(range(len(items)))
    shuffle(places)
    return [items[n] for n in places]


def resyncs(order: Sequence[Cell]) -> int:
    """How often the signal or the input changes along the way."""
    return sum((a.signal, a.input) != (b.signal, b.input) for a, b in pairwise(order))


def seconds(order: Sequence[Cell], count: int) -> int:
    """About how long the plan takes, in s."""
    return len(order) * (_SECONDS_A_CELL + count * _SECONDS_A_READING) + resyncs(order) * _SECONDS_A_RESYNC
