"""The same condition over months and firmware versions: has it changed?"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise

from wavilex.core.lag.difference import EQUIVALENCE_US, Equivalence, equivalence
from wavilex.core.lag.readings import Readings
from wavilex.core.lag.summary import summarise


@dataclass(frozen=True, slots=True)
class Epoch:
    """Readings of one condition taken under one firmware on one day. day: ISO date; step_us: as of `Readings`."""

    day: str
    firmware: str
    values: tuple[int, ...]
    step_us: Fraction | None = None

    @property
    def readings(self) -> Readings:
        return Readings(self.values, self.step_us)

    @property
    def name(self) -> str:
        return f"{self.day}{f', firmware {self.firmware}' if self.firmware else ''}"


@dataclass(frozen=True, slots=True)
class Change:
    """One epoch against the one before that had enough readings."""

    before: Epoch
    after: Epoch
    result: Equivalence

    @property
    def alert(self) -> bool:
        return self.result.decision == "changed"


def changes(epochs: Sequence[Epoch], bound_us: int = EQUIVALENCE_US) -> list[Change]:
    """Every epoch against the one before it, in time order."""
    out = []
    for before, after in pairwise(epochs):
        result = equivalence(before.readings, after.readings, bound_us)
        if result is not None:
            out.append(Change(before, after, result))
    return out


def lags(epochs: Sequence[Epoch]) -> list[tuple[str, Fraction, int]]:
    """Name, lag in µs (the median, of counted readings the mean) and count of each epoch."""
    told = ((e, summarise(e.readings)) for e in epochs)
    return [(e.name, s.lag_us, s.n) for e, s in told if s is not None]
