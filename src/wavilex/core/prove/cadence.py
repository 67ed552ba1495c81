"""Frame times of a browser as a rate: how many a second, how even, and whether that is enough to tell 59.94 from 60.

A browser calls back once a refresh. Its times are rounded (to 0.1 or 1 ms, say) and late ones skip refreshes, so each
gap is taken as a whole number of the shortest regular gap; the rate is refreshes over time. The rounding of the first
and last time bounds the error (a rectangle of that width at each end).
"""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median

FEWEST_FRAMES = 120
MOST_FRAMES = 20_000
LONGEST_GAP = 60  # refreshes: more is a pause, and the frames before it are another stretch
TELLS_APART = 0.0005  # half of the part in a thousand between 59.94 and 60.00
_EVEN = 0.02  # share of frames late or early: below it an eye sees an even motion (common practice)
_STEADY = 0.15  # of a refresh: gaps farther from whole ones than that follow the title, not a clock
NOMINAL_HZ = (24, 25, 30, 48, 50, 60, 72, 75, 90, 100, 120, 144, 165, 180, 200, 240, 360)


@dataclass(frozen=True, slots=True)
class Cadence:
    """hz: refreshes a second by the browser's own clock, ± error_hz. late: gaps that skip refreshes; missed: how many
    they skip; early: two in one refresh. histogram: gaps by whole refreshes. enough: can 59.94 be told from 60.00?
    steady False: the gaps fit no clock (the rate follows the title, or the browser is busy).
    """

    frames: int
    seconds: float
    hz: float
    error_hz: float
    late: int
    missed: int
    early: int
    histogram: tuple[tuple[int, int], ...]
    steady: bool
    enough: bool

    @property
    def even(self) -> bool:
        return (self.late + self.early) <= _EVEN * self.frames

    @property
    def nominal(self) -> int:
        """The rate as people call it: 60 for 59.94 and 60.00."""
        return min(NOMINAL_HZ, key=lambda n: abs(n - self.hz))

    @property
    def near_nominal(self) -> bool:
        return abs(self.hz - self.nominal) <= self.nominal / 500 + self.error_hz


def cadence(times_us: Sequence[int]) -> Cadence | None:
    """Frame times in µs, rising, as a cadence; None with fewer than 120 of them, or where they do not rise.

    Frames behind a pause of more than 60 refreshes are left out with it.
    """
    gaps = [b - a for a, b in itertools.pairwise(times_us)]
    if len(gaps) < FEWEST_FRAMES or min(gaps) < 0:
        return None
    base = _refresh(gaps)
    if base is None:
        return None
    whole = [round(g / base) for g in gaps]
    last = next((n for n, k in enumerate(whole) if k > LONGEST_GAP), len(gaps))
    gaps, whole = gaps[:last], whole[:last]
    refreshes, span = sum(whole), sum(gaps)
    if refreshes < FEWEST_FRAMES or not span:
        return None
    base = span / refreshes
    quantum = _quantum(times_us)
    hz = 1_000_000 / base
    error = hz * 2 * quantum / span
    off = sum(abs(g / base - k) > _STEADY + quantum / base for g, k in zip(gaps, whole, strict=True))
    return Cadence(
        frames=len(gaps) + 1, seconds=span / 1_000_000, hz=hz, error_hz=error,
        late=sum(k > 1 for k in whole), missed=sum(k - 1 for k in whole if k > 1), early=sum(k == 0 for k in whole),
        histogram=tuple(sorted(Counter(whole).items())), steady=off <= len(gaps) // 10,
        enough=error <= hz * TELLS_APART,
    )  # fmt: skip


def _refresh(gaps: Sequence[int]) -> float | None:
    """The gap of one refresh: the middle of the gaps near the commonest short one."""
    rising = sorted(g for g in gaps if g > 0)
    if not rising:
        return None
    short = rising[len(rising) // 10]  # a tenth may be shorter still: two callbacks in one refresh
    near = [g for g in rising if 0.6 * short <= g <= 1.4 * short]
    return median(near) if near else None


def _quantum(times_us: Sequence[int]) -> int:
    """How finely the browser tells its time, in µs: by what its times are multiples of."""
    for step in (5000, 1000, 500, 200, 100, 50, 20, 10, 5):
        if all(t % step == 0 for t in times_us):
            return step
    return 5


def cadence_words(c: Cadence) -> str:
    """`119.88 Hz ± 0.01, even`, `60.0 Hz, 12 of 600 late, 14 refreshes missed`."""
    digits = 2 if c.enough else 1
    error = f" ± {max(c.error_hz, 0.01):.2f}" if c.enough else ""
    if not c.steady:
        return f"about {c.hz:.0f} Hz, of no even step: it follows the title, or the browser is busy"
    if c.even and not c.late and not c.early:
        return f"{c.hz:.{digits}f} Hz{error}, even"
    parts = [f"{c.hz:.{digits}f} Hz{error}", f"{c.late} of {c.frames} late, {c.missed} refreshes missed"]
    if c.early:
        parts.append(f"{c.early} doubled up in one refresh")
    return ", ".join(parts)
