"""The readings of one cell by one way of measuring, and the names of cells that stand beside each other."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property

from wavilex.core.lag.plan import Cell
from wavilex.core.lag.readings import Readings, Way
from wavilex.core.lag.regression import Epoch
from wavilex.core.lag.scanout import frame_of
from wavilex.core.video.named import shown


@dataclass(frozen=True)
class Group:
    """The readings of one cell by one method that count, in µs; guesses apart. epochs: the same by day and firmware.

    way: how they were taken; off_us: how far all of them may be off together (`Readings`).
    """

    cell: Cell
    values: tuple[int, ...] = ()
    guesses: tuple[int, ...] = ()
    methods: tuple[str, ...] = ()
    epochs: tuple[Epoch, ...] = ()
    way: Way | None = None
    off_us: int = 0

    @cached_property
    def readings(self) -> Readings:
        return Readings(self.values, self.way.step_us if self.way else None, self.off_us, frame_of(self.cell.signal))

    @property
    def by(self) -> str:
        """How they were taken: `camera frames, 240 a second`."""
        return self.way.words if self.way else ""


def ms(us: Fraction | float) -> float:
    """µs as ms, to a µs."""
    return round(float(us) / 1000, 3)


def ms_if_known(us: Fraction | float | None) -> float | None:
    """The same; None where it is not known."""
    return None if us is None else ms(us)


def names(groups: Sequence[Group]) -> dict[str, Group]:
    """Groups by name: the screen mode, and of input, signal and position what differs between them; how they were taken
    where one cell was measured in more ways, which are never mixed.
    """
    ways = Counter(g.cell for g in groups if g.values)
    differing = [w for w in ("input", "signal", "position") if len({getattr(g.cell, w) for g in groups}) > 1]
    out: dict[str, Group] = {}
    for g in groups:
        told = {w: getattr(g.cell, w) if w in differing else "" for w in ("input", "signal", "position")}
        by = g.by if ways[g.cell] > 1 else ""
        words = (g.cell.condition, told["input"], shown(told["signal"]), told["position"], by)
        out[", ".join(w for w in words if w)] = g
    return out
