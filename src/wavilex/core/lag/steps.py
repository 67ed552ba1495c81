"""Readings that lie on steps: counted in frames, or a screen that is late by whole frames now and then.

Counting: a press that takes L is counted, by frames of T and independent phase, as ⌊L/T⌋ or ⌈L/T⌉, the upper with
chance frac(L/T); the mean of counts is unbiased, their median is not consistent (by the arithmetic: it stays on a
frame).
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from wavilex.core.lag.readings import Readings

# own figures, by simulation of readings that lie on no steps: below so many nothing is told (the
# second where the frame is not known); what lies on steps stays within so much of a frame, of few readings within less
_FEWEST, _FEWEST_UNKNOWN, _MANY = 6, 8, 12
_NARROW, _NARROW_OF_FEW = Fraction(1, 2), Fraction(1, 4)
_USUAL_HZ = (Fraction(60_000, 1001), Fraction(50), Fraction(120), Fraction(30))
_MOST_STEPS = 4  # apart, beyond the lowest: readings spread over more frames lie on no steps anybody could tell


@dataclass(frozen=True, slots=True)
class Steps:
    """period_us: a step. counts: which step each reading lies on; rest_us: what it lies beside it. counted: by frames
    of a camera or counter, so that nothing lies beside a step.
    """

    period_us: Fraction
    counts: tuple[int, ...]
    rest_us: tuple[Fraction, ...]
    counted: bool

    @property
    def lowest(self) -> int:
        return min(self.counts)

    @property
    def late(self) -> Fraction:
        """The share of readings above the lowest step."""
        return Fraction(sum(c > self.lowest for c in self.counts), len(self.counts))


def steps_of(r: Readings, period_us: Fraction | None = None) -> Steps | None:
    """The steps readings lie on; None where they lie on none. period_us: hold them against this step, as those they are
    compared with lie on it: then all may lie on one.
    """
    if not r.values:
        return None
    if r.step_us is not None:
        counts = tuple(round(v / r.step_us) for v in r.values)
        return Steps(r.step_us, counts, tuple(Fraction(0) for _ in counts), counted=True)
    if period_us is not None:
        return _on(r.values, period_us)
    if len(r.values) < (_FEWEST if r.frame_us is not None else _FEWEST_UNKNOWN):
        return None
    periods = (r.frame_us,) if r.frame_us is not None else tuple(1_000_000 / hz for hz in _USUAL_HZ)
    for period in periods:
        found = _on(r.values, period)
        if found is not None and len(set(found.counts)) > 1:
            return found
    return None


def _on(values: tuple[int, ...], period_us: Fraction) -> Steps | None:
    """Values on steps of a period from the lowest of them on; None where they spread between steps."""
    lowest = min(values)
    half = (_NARROW if len(values) >= _MANY else _NARROW_OF_FEW) * period_us
    if max(values) - lowest > _MOST_STEPS * period_us + half:
        return None
    period, width = round(period_us * 1000), round(half * 1000)  # in ns: whole numbers, and far from any overflow
    above = (np.asarray(values, dtype=np.int64) - lowest) * 1000
    counts = (above + (period - width) // 2) // period
    rest = above - counts * period
    if int(rest.max() - rest.min()) > width:
        return None
    rest_us = tuple(Fraction(int(x), 1000) + lowest for x in rest)
    return Steps(period_us, tuple(map(int, counts)), rest_us, counted=False)


def late_words(share: Fraction) -> str:
    """`45 %`, in whole percent."""
    return f"{float(share * 100):.0f} %"
