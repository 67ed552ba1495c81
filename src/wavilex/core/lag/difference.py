"""Differences between conditions: how much, how sure, and whether they are equivalent. No distribution assumed.

A difference and its interval are the same quantity. Free readings: the shift, estimated by the median of all pairwise
differences, with their order statistics as interval (Hodges and Lehmann; Mann–Whitney). Exact for few readings, by the
normal approximation beyond. Readings counted in frames, or on frame steps, where a shift says nothing: the difference
of means. Tests compare with scipy and by simulation.
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

from wavilex.core.lag.mean import Mean, difference_of_means, mean_of
from wavilex.core.lag.readings import Readings, as_readings
from wavilex.core.lag.steps import Steps, late_words, steps_of
from wavilex.core.lag.summary import FEWEST_FOR_INTERVAL, LEVEL, median

DECISIONS = {"same": "no practical change", "changed": "changed", "undecided": "undecided"}
EQUIVALENCE_LEVEL = Fraction(90, 100)  # two one-sided tests at 5 % (Schuirmann; textbook result)
EQUIVALENCE_US = 2000  # a difference wholly within this is no practical change: the trade's default here
_EXACT_UP_TO = 4000  # n·m beyond which the shift interval uses the normal approximation
MOST_MORE = 500
_LOG_SCALE = 1_000_000_000
_HALVINGS = 20  # p to a millionth


@dataclass(frozen=True, slots=True)
class Difference:
    """B minus A in µs, with its interval (None: too few). of: the shift, or the means where readings lie on steps.

    medians_us: the difference of medians, for beside it. steps: how often each is late by a frame step, in words.
    """

    us: Fraction
    ci_low_us: Fraction | None
    ci_high_us: Fraction | None
    medians_us: Fraction
    of: Literal["shift", "means"] = "shift"
    steps: str = ""


Given = Readings | Sequence[int]


def compare(a: Given, b: Given, level: Fraction = LEVEL) -> Difference | None:
    """How much longer B's readings are than A's. None when either is empty."""
    ra, rb = as_readings(a), as_readings(b)
    if not ra.values or not rb.values:
        return None
    medians = median(rb.values) - median(ra.values)
    on = _stepped(ra, rb)
    if on is not None:
        means = mean_of(ra, level, on[0]), mean_of(rb, level, on[1])
        span = difference_of_means(*means)
        low, high = (_whole(x) for x in span) if span else (None, None)
        return Difference(means[1].mean_us - means[0].mean_us, low, high, medians, "means", _late(on))
    low, high = _shift_interval(ra.values, rb.values, level)
    return Difference(_shift(ra.values, rb.values), low, high, medians)


def _whole(us: float) -> Fraction:
    return Fraction(round(us))


def _stepped(a: Readings, b: Readings) -> tuple[Steps | None, Steps | None] | None:
    """How two sets of readings lie on steps, where one of them does; None where both are free."""
    one, two = steps_of(a), steps_of(b)
    if one is None and two is None:
        return None
    if one is None and two is not None and not two.counted:
        one = steps_of(a, two.period_us)  # all of them on one step, of which there are more
    if two is None and one is not None and not one.counted:
        two = steps_of(b, one.period_us)
    return one, two


def _late(on: tuple[Steps | None, Steps | None]) -> str:
    """`45 % against 55 % a frame late`, where a screen is; "" where frames were counted."""
    one, two = on
    if one is None or two is None or one.counted or two.counted:
        return ""
    apart = round((min(two.rest_us) - min(one.rest_us)) / one.period_us)  # steps from one's lowest to the other's
    if abs(apart) > 1:
        return f"{late_words(one.late)} and {late_words(two.late)} a frame later than their own quickest"
    shares = (Fraction(1) if apart < 0 else one.late, Fraction(1) if apart > 0 else two.late)
    return f"{late_words(shares[0])} against {late_words(shares[1])} a frame late"


def _shift(a: Sequence[int], b: Sequence[int]) -> Fraction:
    """The median of all pairwise differences."""
    pairs = len(a) * len(b)
    middle = [nth_difference(a, b, k) for k in {(pairs + 1) // 2, pairs // 2 + 1}]
    return Fraction(sum(middle), len(middle))


def _shift_interval(
    a: Sequence[int], b: Sequence[int], level: Fraction
) -> tuple[Fraction, Fraction] | tuple[None, None]:
    k = _shift_rank(len(a), len(b), level) if min(len(a), len(b)) >= FEWEST_FOR_INTERVAL else None
    if k is None:
        return None, None
    return Fraction(nth_difference(a, b, k)), Fraction(-nth_difference(b, a, k))


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


def equivalence(a: Given, b: Given, bound_us: int = EQUIVALENCE_US) -> Equivalence | None:
    """Is B practically the same as A? By the 90 % interval of the difference against ± the bound.

    Wholly within: no practical change; where readings lie on a screen's frame steps that of the means and that of the
    shift both. Wholly outside on one side: it changes by so much. Else undecided, with an
    estimate of how many more readings would settle it. None when either is empty.
    """
    d = compare(a, b, EQUIVALENCE_LEVEL)
    if d is None:
        return None
    low, high = d.ci_low_us, d.ci_high_us
    fewest = min(len(as_readings(x).values) for x in (a, b))
    bound = f"±{bound_us / 1000:g} ms"
    if low is None or high is None:
        short = FEWEST_FOR_INTERVAL - fewest
        more = max(short, 1)
        return Equivalence("undecided", d, bound_us, more, f"undecided, take {more} more: six of each at least")
    span = f"{_ms(low)} to {_ms(high)} ms at 90 %" + (f"; {d.steps}" if d.steps else "")
    if -bound_us <= low and high <= bound_us and _shift_within(a, b, d, bound_us):
        return Equivalence("same", d, bound_us, None, f"no practical change: {span}, within {bound}")
    if low > bound_us or high < -bound_us:
        return Equivalence("changed", d, bound_us, None, f"changes by {_ms(d.us)} ms ({span})")
    still = _more(fewest, d, bound_us)
    words = f"take {still} more" if still else "more readings may never settle it"
    return Equivalence("undecided", d, bound_us, still, f"undecided, {words}: {span}, across {bound}")


def _shift_within(a: Given, b: Given, d: Difference, bound_us: int) -> bool:
    """On a screen's steps the shift must lie within the bound, too; of counted readings it says nothing."""
    if not d.steps:
        return True
    low, high = _shift_interval(as_readings(a).values, as_readings(b).values, EQUIVALENCE_LEVEL)
    return low is not None and high is not None and -bound_us <= low and high <= bound_us


def _ms(us: Fraction) -> str:
    return f"{float(us) / 1000:+.1f}".replace("-", "−")


def _more(now: int, d: Difference, bound_us: int) -> int | None:
    """Readings of each still needed beside those there are now until the interval clears the nearer edge.

    Its width falls with the root of n.
    """
    assert d.ci_low_us is not None
    assert d.ci_high_us is not None
    half = float(d.ci_high_us - d.ci_low_us) / 2
    middle = float(d.ci_high_us + d.ci_low_us) / 2
    room = abs(bound_us - abs(middle))
    if room < 1:
        return None
    need = ceil(now * (half / room) ** 2) + 1
    more = max(need - now, 1)
    return more if more <= MOST_MORE else None


@dataclass(frozen=True, slots=True)
class Ratio:
    """B's lag as a multiple of A's, with its interval (None: too few): the shift of logarithms, or of the means where
    readings lie on steps. of_medians: the ratio of medians, for beside it.
    """

    ratio: float
    ci_low: float | None
    ci_high: float | None
    of_medians: float
    of: Literal["shift", "means"] = "shift"


def ratio(baseline: Given, b: Given, level: Fraction = LEVEL) -> Ratio | None:
    """B over a named baseline. Readings must be positive."""
    ra, rb = as_readings(baseline), as_readings(b)
    if not ra.values or not rb.values:
        return None
    medians = float(median(rb.values) / median(ra.values))
    on = _stepped(ra, rb)
    if on is not None:
        return _ratio_of_means(mean_of(ra, level, on[0]), mean_of(rb, level, on[1]), medians)
    x, y = _logs(ra.values), _logs(rb.values)
    low, high = _shift_interval(x, y, level)
    middle = exp(_shift(x, y) / _LOG_SCALE)
    if low is None or high is None:
        return Ratio(middle, None, None, medians)
    return Ratio(middle, exp(low / _LOG_SCALE), exp(high / _LOG_SCALE), medians)


def _ratio_of_means(a: Mean, b: Mean, medians: float) -> Ratio:
    middle = float(b.mean_us / a.mean_us)
    if a.low_us is None or a.high_us is None or b.low_us is None or b.high_us is None or min(a.low_us, b.low_us) <= 0:
        return Ratio(middle, None, None, medians, "means")
    logs = [Mean(Fraction(log(m.mean_us)), log(m.low_us or 1), log(m.high_us or 1)) for m in (a, b)]
    span = difference_of_means(*logs)
    assert span is not None
    return Ratio(middle, exp(span[0]), exp(span[1]), medians, "means")


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


def costs(baseline: Given, settings: Mapping[str, Given], level: Fraction = LEVEL) -> list[Cost]:
    """Each setting against the baseline, the costliest first.

    Looking many times finds differences by chance: p is corrected by Holm's step-down rule, and intervals are
    at 1 − (1 − level)/m for m settings (Bonferroni). p by scipy's Mann–Whitney test; of readings on steps by the
    level at which the interval of the difference of means just holds none.
    """
    base = as_readings(baseline)
    given = {name: as_readings(values) for name, values in settings.items()}
    known = {name: r for name, r in given.items() if r.values and base.values}
    if not known:
        return []
    narrow = 1 - (1 - level) / len(known)
    raw = {name: _p(base, r) for name, r in known.items()}
    corrected = holm(raw)
    rows = []
    for name, values in known.items():
        d = compare(base, values, narrow)
        assert d is not None
        rows.append(Cost(name, d, raw[name], corrected[name], corrected[name] <= float(1 - level)))
    return sorted(rows, key=lambda c: -c.difference.us)


def _p(a: Readings, b: Readings) -> float:
    """How probable such a difference is by chance alone."""
    if _stepped(a, b) is None:
        from scipy.stats import mannwhitneyu  # takes a second to load

        return float(mannwhitneyu(a.values, b.values).pvalue)
    low, high = Fraction(0), Fraction(1)  # p lies between
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        d = compare(a, b, 1 - middle)
        if d is None or d.ci_low_us is None or d.ci_high_us is None:
            return 1.0
        apart = d.ci_low_us > 0 or d.ci_high_us < 0
        low, high = (low, middle) if apart else (middle, high)
    return float(high)


def holm(p: dict[str, float]) -> dict[str, float]:
    """Holm's corrected p-values (1979; textbook rule): the i-th smallest times m − i + 1, never falling, at most 1."""
    order = sorted(p, key=lambda name: p[name])
    out: dict[str, float] = {}
    so_far = 0.0
    for place, name in enumerate(order):
        so_far = max(so_far, min(1.0, p[name] * (len(order) - place)))
        out[name] = so_far
    return out
