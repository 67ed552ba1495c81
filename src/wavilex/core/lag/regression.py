"""The same condition over months and firmware versions: has it changed?"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise

from wavilex.core.lag.difference import EQUIVALENCE_US, Equivalence, equivalence
from wavilex.core.lag.summary import median


@dataclass(frozen=True, slots=True)
class Epoch:
    """Readings of one condition taken under one firmware on one day. day: ISO date."""

    day: str
    firmware: str
    values: tuple[int, ...]

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
        result = equivalence(before.values, after.values, bound_us)
        if result is not None:
            out.append(Change(before, after, result))
    return out


def medians(epochs: Sequence[Epoch]) -> list[tuple[str, Fraction, int]]:
    """Name, median in µs and count of each epoch."""
    return [(e.name, median(e.values), len(e.values)) for e in epochs]
