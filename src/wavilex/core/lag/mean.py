"""The mean of readings with an interval that knows how they came: counted in frames, on frame steps, or free.

Counted or stepped: the t interval, never narrower than Clopper and Pearson's of the chance of the upper of two
neighbouring steps (1934; textbook result), which is what counting alone can tell. The t interval is what it takes where
the lag itself varies about a whole number of frames, and only one of its neighbours was seen. Free: the t interval.
Sums and differences of means: the method of variance estimates recovery (Zou and Donner 2008; value from memory).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from math import sqrt

from wavilex.core.lag.readings import Readings
from wavilex.core.lag.steps import Steps, steps_of

FEWEST = 6  # as for every interval of the bench


@dataclass(frozen=True, slots=True)
class Mean:
    """In µs; the interval None where there are too few readings."""

    mean_us: Fraction
    low_us: float | None
    high_us: float | None


def mean_of(r: Readings, level: Fraction, steps: Steps | None = None) -> Mean:
    """The mean with its interval at a level. steps: how the readings lie, found here where it is not given."""
    n = len(r.values)
    mean = Fraction(sum(r.values), n)
    if n < FEWEST:
        return Mean(mean, None, None)
    steps = steps or steps_of(r)
    if steps is None:
        low, high = _t_interval([float(v) for v in r.values], level)
        return Mean(mean, low - r.off_us, high + r.off_us)
    period = float(steps.period_us)
    low, high = (period * x for x in _of_counts(steps.counts, level))
    if not steps.counted:
        rest = sum(steps.rest_us, Fraction(0)) / n
        rest_low, rest_high = _t_interval([float(x) for x in steps.rest_us], level)
        middle = float(mean - rest)
        low = float(mean) - sqrt((middle - low) ** 2 + (float(rest) - rest_low) ** 2)
        high = float(mean) + sqrt((high - middle) ** 2 + (rest_high - float(rest)) ** 2)
    return Mean(mean, low - r.off_us, high + r.off_us)


def _of_counts(counts: Sequence[int], level: Fraction) -> tuple[float, float]:
    """The interval of the mean count."""
    n, base, top = len(counts), min(counts), max(counts)
    if top == base:  # all alike: the chance of the one above, and that of the one below
        reach = _clopper_pearson(0, n, level)[1]
        return base - reach, base + reach
    mean = sum(counts) / n
    floor = base if top == base + 1 else int(mean // 1)
    low, high = _clopper_pearson(round((mean - floor) * n), n, level)
    t_low, t_high = _t_interval([float(c) for c in counts], level)
    return min(t_low, floor + low), max(t_high, floor + high)


@lru_cache(maxsize=4096)
def _clopper_pearson(k: int, n: int, level: Fraction) -> tuple[float, float]:
    from scipy.stats import beta  # takes a second to load

    tail = float(1 - level) / 2
    low = 0.0 if k == 0 else float(beta.ppf(tail, k, n - k + 1))
    high = 1.0 if k == n else float(beta.ppf(1 - tail, k + 1, n - k))
    return low, high


def _t_interval(values: Sequence[float], level: Fraction) -> tuple[float, float]:
    n = len(values)
    mean = sum(values) / n
    half = _t_at(n - 1, level) * sqrt(sum((v - mean) ** 2 for v in values) / (n - 1) / n)
    return mean - half, mean + half


@lru_cache(maxsize=4096)
def _t_at(freedom: int, level: Fraction) -> float:
    from scipy.stats import t

    return float(t.ppf(1 - float(1 - level) / 2, freedom))


def difference_of_means(a: Mean, b: Mean) -> tuple[float, float] | None:
    """The interval of B's mean minus A's; None where one has none."""
    if a.low_us is None or a.high_us is None or b.low_us is None or b.high_us is None:
        return None
    am, bm = float(a.mean_us), float(b.mean_us)
    return (
        bm - am - sqrt((bm - b.low_us) ** 2 + (a.high_us - am) ** 2),
        bm - am + sqrt((b.high_us - bm) ** 2 + (am - a.low_us) ** 2),
    )
