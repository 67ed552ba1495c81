"""Differences between conditions: how much, how sure, and whether they are equivalent. No distribution assumed.

The interval of a shift is the Mann–Whitney one: order statistics of all pairwise differences (Hodges and Lehmann).
Exact for few readings, by the normal approximation beyond. Tests compare with scipy.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from math import ceil, comb, exp, log, sqrt
from statistics import NormalDist
from typing import Literal

import numpy as np

from wavilex.core.lag.summary import FEWEST_FOR_INTERVAL, LEVEL, median

DECISIONS = {"same": "no practical change", "changed": "changed", "undecided": "undecided"}
EQUIVALENCE_LEVEL = Fraction(90, 100)  # two one-sided tests at 5 % (Schuirmann; textbook result)
EQUIVALENCE_US = 2000  # a difference wholly within this is no practical change: the trade's default here
_EXACT_UP_TO = 4000  # n·m beyond which the shift interval uses the normal approximation
MOST_MORE = 500
_LOG_SCALE = 1_000_000_000


@dataclass(frozen=True, slots=True)
class Difference:
    """B minus A in µs: difference of medians, and the interval of the shift (None: too few)."""

    medians_us: Fraction
    ci_low_us: Fraction | None
    ci_high_us: Fraction | None


def compare(a: Sequence[int], b: Sequence[int], level: Fraction = LEVEL) -> Difference | None:
    """How much longer B's readings are than A's. None when either is empty."""
    if not a or not b:
        return None
    shift = median(b) - median(a)
    if min(len(a), len(b)) < FEWEST_FOR_INTERVAL:
        return Difference(shift, None, None)
    k = _shift_rank(len(a), len(b), level)
    if k is None:
        return Difference(shift, None, None)
    return Difference(shift, Fraction(nth_difference(a, b, k)), Fraction(-nth_difference(b, a, k)))


def nth_difference(a: Sequence[int], b: Sequence[int], k: int) -> int:
    """The k-th smallest (from 1) of all differences y − x, x of A and y of B; never all of them at once."""
    if len(a) * len(b) <= _EXACT_UP_TO:
        return sorted(y - x for x in a for y in b)[k - 1]
    x, y = np.sort(np.asarray(a, dtype=np.int64)), np.sort(np.asarray(b, dtype=np.int64))
    low, high = int(y[0] - x[-1]), int(y[-1] - x[0])
    while low < high:  # the least d with at least k differences at or under it
        middle = (low + high) // 2
        if int(np.searchsorted(y, x + middle, side="right").sum()) >= k:
            high = middle
        else:
            low = middle + 1
    return low


def _shift_rank(n: int, m: int, level: Fraction) -> int | None:
    """The largest k with 2·P(U ≤ k−1) ≤ 1 − level, U the Mann–Whitney statistic of n and m."""
    tail = (1 - level) / 2
    if n * m > _EXACT_UP_TO:
        spread = sqrt(n * m * (n + m + 1) / 12)
        k = int(n * m / 2 + NormalDist().inv_cdf(float(tail)) * spread)
        return k if k > 0 else None
    return _exact_shift_rank(n, m, tail)


@lru_cache(maxsize=512)
def _exact_shift_rank(n: int, m: int, tail: Fraction) -> int | None:
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
class Equivalence:
    """decision: same (no practical change), changed, undecided; more: readings of each still to take, if undecided."""

    decision: Literal["same", "changed", "undecided"]
    difference: Difference
    bound_us: int
    more: int | None
    sentence: str


def equivalence(a: Sequence[int], b: Sequence[int], bound_us: int = EQUIVALENCE_US) -> Equivalence | None:
    """Is B practically the same as A? By the 90 % interval of the difference against ± the bound.

    Wholly within: no practical change. Wholly outside on one side: it changes by so much. Else undecided, with an
    estimate of how many more readings would settle it. None when either is empty.
    """
    d = compare(a, b, EQUIVALENCE_LEVEL)
    if d is None:
        return None
    low, high = d.ci_low_us, d.ci_high_us
    bound = f"±{bound_us / 1000:g} ms"
    if low is None or high is None:
        short = FEWEST_FOR_INTERVAL - min(len(a), len(b))
        more = max(short, 1)
        return Equivalence("undecided", d, bound_us, more, f"undecided, take {more} more: six of each at least")
    span = f"{_ms(low)} to {_ms(high)} ms at 90 %"
    if -bound_us <= low and high <= bound_us:
        return Equivalence("same", d, bound_us, None, f"no practical change: {span}, within {bound}")
    if low > bound_us or high < -bound_us:
        return Equivalence("changed", d, bound_us, None, f"changes by {_ms(d.medians_us)} ms ({span})")
    still = _more(a, b, d, bound_us)
    words = f"take {still} more" if still else "more readings may never settle it"
    return Equivalence("undecided", d, bound_us, still, f"undecided, {words}: {span}, across {bound}")


def _ms(us: Fraction) -> str:
    return f"{float(us) / 1000:+.1f}".replace("-", "−")


def _more(a: Sequence[int], b: Sequence[int], d: Difference, bound_us: int) -> int | None:
    """Readings of each still needed until the interval clears the nearer edge: its width falls with the root of n."""
    assert d.ci_low_us is not None
    assert d.ci_high_us is not None
    half = float(d.ci_high_us - d.ci_low_us) / 2
    middle = float(d.ci_high_us + d.ci_low_us) / 2
    room = abs(bound_us - abs(middle))
    if room < 1:
        return None
    now = min(len(a), len(b))
    need = ceil(now * (half / room) ** 2) + 1
    more = max(need - now, 1)
    return more if more <= MOST_MORE else None


@dataclass(frozen=True, slots=True)
class Ratio:
    """B's lag as a multiple of A's: ratio of medians, and the interval of the ratio (None: too few)."""

    ratio: float
    ci_low: float | None
    ci_high: float | None


def ratio(baseline: Sequence[int], b: Sequence[int], level: Fraction = LEVEL) -> Ratio | None:
    """B over a named baseline: the Mann–Whitney interval of the shift of logarithms. Readings must be positive."""
    if not baseline or not b:
        return None
    middle = float(median(b) / median(baseline))
    if min(len(baseline), len(b)) < FEWEST_FOR_INTERVAL:
        return Ratio(middle, None, None)
    k = _shift_rank(len(baseline), len(b), level)
    if k is None:
        return Ratio(middle, None, None)
    x, y = _logs(baseline), _logs(b)
    low, high = nth_difference(x, y, k), -nth_difference(y, x, k)
    return Ratio(middle, exp(low / _LOG_SCALE), exp(high / _LOG_SCALE))


def _logs(values: Sequence[int]) -> list[int]:
    """Logarithms as whole numbers, fine enough that no two readings of a bench fall together."""
    return [round(log(v) * _LOG_SCALE) for v in values]


@dataclass(frozen=True, slots=True)
class Cost:
    """What a setting costs against the baseline: its difference, with p corrected for as many looks as were taken."""

    name: str
    difference: Difference
    p: float
    p_corrected: float
    different: bool


def costs(baseline: Sequence[int], settings: Mapping[str, Sequence[int]], level: Fraction = LEVEL) -> list[Cost]:
    """Each setting against the baseline, the costliest first.

    Looking many times finds differences by chance: p is corrected by Holm's step-down rule, and intervals are
    at 1 − (1 − level)/m for m settings (Bonferroni). p by scipy's Mann–Whitney test.
    """
    known = {name: values for name, values in settings.items() if values and baseline}
    if not known:
        return []
    narrow = 1 - (1 - level) / len(known)
    from scipy.stats import mannwhitneyu  # takes a second to load

    raw = {name: float(mannwhitneyu(baseline, values).pvalue) for name, values in known.items()}
    corrected = holm(raw)
    rows = []
    for name, values in known.items():
        d = compare(baseline, values, narrow)
        assert d is not None
        rows.append(Cost(name, d, raw[name], corrected[name], corrected[name] <= float(1 - level)))
    return sorted(rows, key=lambda c: -c.difference.medians_us)


def holm(p: dict[str, float]) -> dict[str, float]:
    """Holm's corrected p-values (1979; textbook rule): the i-th smallest times m − i + 1, never falling, at most 1."""
    order = sorted(p, key=lambda name: p[name])
    out: dict[str, float] = {}
    so_far = 0.0
    for place, name in enumerate(order):
        so_far = max(so_far, min(1.0, p[name] * (len(order) - place)))
        out[name] = so_far
    return out
