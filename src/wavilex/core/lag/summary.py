"""Summary of lag readings: median, spread, and intervals that assume no distribution.

Readings are whole microseconds. Tests compare every interval with scipy.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from math import comb, sqrt

LEVEL = Fraction(95, 100)
FEWEST_FOR_INTERVAL = 6  # below six readings no order-statistic interval reaches 95 %
_EXACT_UP_TO = 4000  # n·m beyond which the shift interval uses the normal approximation


@dataclass(frozen=True, slots=True)
class LagSummary:
    """Figures of one condition, in µs. ci_low/ci_high None: too few readings for the level."""

    n: int
    median_us: Fraction
    mean_us: Fraction
    sd_us: float | None
    low_us: int
    high_us: int
    ci_low_us: int | None
    ci_high_us: int | None


def median(values: Sequence[int]) -> Fraction:
    """The middle of the sorted values, or the mean of the middle two. Needs at least one."""
    ordered = sorted(values)
    middle = len(ordered) // 2
    if len(ordered) % 2:
        return Fraction(ordered[middle])
    return Fraction(ordered[middle - 1] + ordered[middle], 2)


def summarise(values: Sequence[int], level: Fraction = LEVEL) -> LagSummary | None:
    """Summarise readings in µs; None of none."""
    if not values:
        return None
    n, total = len(values), sum(values)
    mean = Fraction(total, n)
    sd = sqrt(sum((v - mean) ** 2 for v in values) / (n - 1)) if n > 1 else None
    ordered = sorted(values)
    rank = median_interval_rank(n, level)
    low, high = (ordered[rank - 1], ordered[n - rank]) if rank else (None, None)
    return LagSummary(n, median(values), mean, sd, ordered[0], ordered[-1], low, high)


def median_interval_rank(n: int, level: Fraction = LEVEL) -> int | None:
    """The largest k for which the k-th smallest and k-th largest of n hold the median at `level`.

    Coverage is 1 − 2·P(B ≤ k−1) with B binomial(n, ½) (order statistics; textbook result). None if no k does.
    """
    outside, best = 0, None
    for k in range(1, n // 2 + 1):
        outside += comb(n, k - 1)
        if 1 - Fraction(2 * outside, 2**n) < level:
            break
        best = k
    return best


@dataclass(frozen=True, slots=True)
class Difference:
    """B minus A in µs: difference of medians, and the interval of the shift (None: too few)."""

    medians_us: Fraction
    ci_low_us: Fraction | None
    ci_high_us: Fraction | None


def compare(a: Sequence[int], b: Sequence[int], level: Fraction = LEVEL) -> Difference | None:
    """How much longer B's readings are than A's. None when either is empty.

    The interval is the Mann–Whitney one: order statistics of all pairwise differences, exact for few
    readings, by the normal approximation beyond.
    """
    if not a or not b:
        return None
    shift = median(b) - median(a)
    if min(len(a), len(b)) < FEWEST_FOR_INTERVAL:
        return Difference(shift, None, None)
    pairs = sorted(y - x for x in a for y in b)
    k = _shift_rank(len(a), len(b), level)
    if k is None:
        return Difference(shift, None, None)
    return Difference(shift, Fraction(pairs[k - 1]), Fraction(pairs[len(pairs) - k]))


def _shift_rank(n: int, m: int, level: Fraction) -> int | None:
    """The largest k with 2·P(U ≤ k−1) ≤ 1 − level, U the Mann–Whitney statistic of n and m."""
    tail = (1 - level) / 2
    if n * m > _EXACT_UP_TO:
        spread = sqrt(n * m * (n + m + 1) / 12)
        k = int(n * m / 2 - 1.959963984540054 * spread) if level == LEVEL else 0
        return k or None
    counts = u_counts(n, m)
    total, so_far, best = comb(n + m, n), 0, None
    for k in range(1, n * m // 2 + 1):
        so_far += counts[k - 1]
        if Fraction(so_far, total) > tail:
            break
        best = k
    return best


def u_counts(n: int, m: int) -> list[int]:
    """How many orderings give each value of the Mann–Whitney U, 0 to n·m (Gaussian binomial coefficients)."""
    counts = [1] + [0] * (n * m)
    for i in range(1, n + 1):
        for u in range(n * m, m + i - 1, -1):
            counts[u] -= counts[u - m - i]
        for u in range(i, n * m + 1):
            counts[u] += counts[u - i]
    return counts


@dataclass(frozen=True, slots=True)
class Judgement:
    """Against a bound in ms (common practice: monitor 10, television 40)."""

    bound_ms: int
    verdict: str  # within, over, undecided
    sentence: str


BOUNDS_MS = {"monitor": 10, "television": 40}


def judge(summary: LagSummary, bound_ms: int, kind: str) -> Judgement:
    """Within when the whole interval is at or under the bound, over when it is wholly beyond it."""
    bound_us = bound_ms * 1000
    low = summary.median_us if summary.ci_low_us is None else summary.ci_low_us
    high = summary.median_us if summary.ci_high_us is None else summary.ci_high_us
    shown = f"{float(summary.median_us) / 1000:.1f} ms"
    away = f"{abs(float(summary.median_us) / 1000 - bound_ms):.1f} ms"
    if summary.ci_low_us is None:
        side = "under" if summary.median_us <= bound_us else "over"
        text = f"{shown} is {side} {bound_ms} ms, but {summary.n} readings are too few to be sure: take six."
        return Judgement(bound_ms, "undecided", text)
    if high <= bound_us:
        return Judgement(bound_ms, "within", f"{shown}: {away} under the {bound_ms} ms asked of a {kind}.")
    if low > bound_us:
        return Judgement(bound_ms, "over", f"{shown}: {away} over the {bound_ms} ms asked of a {kind}.")
    text = f"{shown}: the interval holds the {bound_ms} ms asked of a {kind}; take more readings."
    return Judgement(bound_ms, "undecided", text)
