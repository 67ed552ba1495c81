"""Two screens in one film: by how much the second answers after the first, whatever it was that started them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from wavilex.core.film.trace import Turn

MOST_NS = 250_000_000  # two answers further apart are of two flashes: own figure
FEWEST = 6


@dataclass(frozen=True, slots=True)
class Apart:
    """The second after the first, in ns: the median of `events`, with its interval at 95 % (None: too few). grain_ns:
    of the camera, to each side. alone: answers of either that the other has none to.
    """

    events: int
    ns: float
    low_ns: float | None
    high_ns: float | None
    grain_ns: float
    alone: int


def median_span(values: Sequence[float]) -> tuple[float, float] | None:
    """The 95 % interval of a median by order statistics (textbook result); None below six values."""
    from scipy.stats import binom  # takes a second to load

    n = len(values)
    rank = int(binom.ppf(0.025, n, 0.5)) if n >= FEWEST else 0
    if rank < 1:
        return None
    ordered = sorted(values)
    return ordered[rank - 1], ordered[n - rank]


def apart(first: Sequence[Turn], second: Sequence[Turn], slow_ns: float, frame_ns: float) -> Apart | None:
    """Each answer of the first with the nearest of the second, each used once; None where none has one. slow_ns: how
    much later the second patch is read out.
    """
    if not first or not second:
        return None
    gaps = [b.at_ns - a.at_ns for turns in (first, second) for a, b in pairwise(turns)]
    most = min(MOST_NS, 0.45 * float(np.median(gaps))) if gaps else MOST_NS
    pairs = sorted(
        (abs(b.at_ns - a.at_ns), i, k) for i, a in enumerate(first) for k, b in enumerate(second)
        if abs(b.at_ns - a.at_ns) <= most
    )  # fmt: skip
    used: tuple[set[int], set[int]] = set(), set()
    found: list[float] = []
    for _, i, k in pairs:
        if i not in used[0] and k not in used[1]:
            used[0].add(i)
            used[1].add(k)
            found.append(second[k].at_ns - first[i].at_ns + slow_ns)
    if not found:
        return None
    low, high = median_span(found) or (None, None)
    alone = len(first) + len(second) - 2 * len(found)
    return Apart(len(found), float(np.median(found)), low, high, frame_ns, alone)
