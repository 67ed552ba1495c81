"""Draws by seed: the same everywhere and for ever, so that a case can be told by its seed alone.

The core takes no randomness from outside; these follow from their seed by SHA-256, counted up.
"""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from typing import TypeVar

T = TypeVar("T")


class Draw:
    """Numbers that follow from a seed."""

    def __init__(self, seed: str) -> None:
        self._seed, self._count = seed, 0

    def fraction(self) -> float:
        """From 0 up to, not including, 1."""
        text = f"{self._seed}\x1f{self._count}".encode()
        self._count += 1
        return int.from_bytes(hashlib.sha256(text).digest()[:8], "big") / 2**64

    def below(self, count: int) -> int:
        """A whole number from 0 to count - 1. Raises ValueError where there is none."""
        if count < 1:
            raise ValueError("nothing to draw from")
        return min(count - 1, int(self.fraction() * count))

    def chance(self, share: float) -> bool:
        return self.fraction() < share

    def choice(self, among: Sequence[T]) -> T:
        return among[self.below(len(among))]

    def weighted(self, among: Sequence[T], weights: Sequence[float]) -> T:
        """One of them, as likely as its weight."""
        left = self.fraction() * sum(weights)
        for item, weight in zip(among, weights, strict=True):
            left -= weight
            if left < 0:
                return item
        return among[-1]

    def shuffled(self, among: Sequence[T]) -> list[T]:
        """All of them in another order."""
        left, found = list(among), []
        while left:
            found.append(left.pop(self.below(len(left))))
        return found

    def sample(self, among: Sequence[T], count: int) -> list[T]:
        return self.shuffled(among)[:count]
