"""Summary of lag readings: median, spread, and an interval of the median that assumes no distribution.

Readings counted in frames are summarised by their mean: their median stays on a frame. Readings are whole
microseconds. Tests compare every interval with scipy.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from math import comb, sqrt
from typing import Literal

from wavilex.core.lag.mean import mean_of
from wavilex.core.lag.readings import Readings, as_readings
from wavilex.core.lag.shapes import BoundOut
from wavilex.core.lag.steps import Steps, steps_of

LEVEL = Fraction(95, 100)
FEWEST_FOR_INTERVAL = 6  # below six readings no order-statistic interval reaches 95 %
OUTLIER_AT = Fraction(7, 2)  # in robust standard deviations (Iglewicz and Hoaglin 1993; value from memory)
_MAD_TO_SD = 1.4826  # of a normal distribution
_EXACT_RANK_UP_TO = 300


@dataclass(frozen=True, slots=True)
class LagSummary:
    """Figures of one condition, in µs. ci_low/ci_high: the interval of the figure that is given (`lag_us`), None: too
    few readings for the level. counted_us: the frame they were counted by, None: not counted. late: the share of
    readings a frame step or more above the lowest, None: they lie on no steps.

    quartiles: of the sorted readings, by linear interpolation. outliers: how many stand out by the robust rule;
    they are shown and still count.
    """

    n: int
    median_us: Fraction
    mean_us: Fraction
    sd_us: float | None
    low_us: int
    high_us: int
    ci_low_us: int | None
    ci_high_us: int | None
    quartiles_us: tuple[Fraction, Fraction] = (Fraction(0), Fraction(0))
    outliers: int = 0
    counted_us: Fraction | None = None
    late: Fraction | None = None

    @property
    def lag_us(self) -> Fraction:
        """The figure to give: the median, of counted readings the mean."""
        return self.median_us if self.counted_us is None else self.mean_us

    @property
    def of(self) -> Literal["median", "mean"]:
        return "median" if self.counted_us is None else "mean"


def median(values: Sequence[int]) -> Fraction:
    """The middle of the sorted values, or the mean of the middle two. Needs at least one."""
    return quantile(sorted(values), Fraction(1, 2))


def quantile(ordered: Sequence[int], share: Fraction) -> Fraction:
    """A quantile of sorted values by linear interpolation between neighbours. Needs at least one."""
    at = share * (len(ordered) - 1)
    low = int(at)
    part = at - low
    if not part:
        return Fraction(ordered[low])
    return ordered[low] + part * (ordered[low + 1] - ordered[low])


def summarise(given: Readings | Sequence[int], level: Fraction = LEVEL) -> LagSummary | None:
    """Summarise readings in µs; None of none."""
    r = as_readings(given)
    values = r.values
    if not values:
        return None
    steps = steps_of(r)
    ordered = sorted(values)
    n, total = len(ordered), sum(ordered)
    squares = sum(v * v for v in ordered)
    # whole numbers to the end: the sum of squared deviations is squares − total²/n
    sd = sqrt(Fraction(n * squares - total * total, n * (n - 1))) if n > 1 else None
    low, high = _interval(r, ordered, steps, level)
    quarters = (quantile(ordered, Fraction(1, 4)), quantile(ordered, Fraction(3, 4)))
    return LagSummary(
        n, quantile(ordered, Fraction(1, 2)), Fraction(total, n), sd, ordered[0], ordered[-1], low, high, quarters,
        0 if r.step_us else len(outliers(ordered)), r.step_us, steps.late if steps and not steps.counted else None,
    )  # fmt: skip


def _interval(
    r: Readings, ordered: Sequence[int], steps: Steps | None, level: Fraction
) -> tuple[int, int] | tuple[None, None]:
    """Of the mean where readings were counted, else of the median."""
    n = len(ordered)
    if r.step_us is None:
        rank = median_interval_rank(n, level)
        return (ordered[rank - 1], ordered[n - rank]) if rank else (None, None)
    found = mean_of(r, level, steps)
    if found.low_us is None or found.high_us is None:
        return None, None
    return round(found.low_us), round(found.high_us)


def median_interval_rank(n: int, level: Fraction = LEVEL) -> int | None:
    """The largest k for which the k-th smallest and k-th largest of n hold the median at `level`.

    Coverage is 1 − 2·P(B ≤ k−1) with B binomial(n, ½) (order statistics; textbook result). None if no k does.
    Exact up to a few hundred readings; beyond, scipy's binomial gives the same k.
    """
    if n > _EXACT_RANK_UP_TO:
        from scipy.stats import binom  # takes a second to load

        return int(binom.ppf(float((1 - level) / 2), n, 0.5)) or None
    return _exact_rank(n, level)


@lru_cache(maxsize=1024)
def _exact_rank(n: int, level: Fraction) -> int | None:
    outside, best = 0, None
    for k in range(1, n // 2 + 1):
        outside += comb(n, k - 1)
        if 1 - Fraction(2 * outside, 2**n) < level:
            break
        best = k
    return best


def outliers(values: Sequence[int]) -> list[int]:
    """Positions of readings that stand out: over 3.5 robust standard deviations from the median.

    The robust deviation is 1.4826 times the median of distances from the median. Where more than half are alike,
    none stands out by this rule.
    """
    if len(values) < FEWEST_FOR_INTERVAL:
        return []
    twice = int(2 * median(values))  # doubled, a median of whole numbers is whole
    distances = [abs(2 * v - twice) for v in values]
    spread = median(distances)
    reach = float(OUTLIER_AT * spread) * _MAD_TO_SD
    return [n for n, d in enumerate(distances) if d > reach] if spread else []


@dataclass(frozen=True, slots=True)
class Judgement:
    """Against a bound in ms (common practice: monitor 10, television 40)."""

    bound_ms: int
    verdict: str  # within, over, undecided
    sentence: str


BOUNDS_MS = {"monitor": 10, "television": 40}
UNHURRIED = 2  # titles that are not competitive are held against so many bounds: own figure
_MEANT: Mapping[str, tuple[str, str]] = {
    "monitor": ("a monitor that people compete at", "common practice"),
    "television": ("a television in game mode", "common practice, an older bound: new ones reach 5 to 15 at 60 Hz"),
}


def bounds_data() -> list[BoundOut]:
    """What lag may be for whom, in ms, the strictest first."""
    own: list[BoundOut] = [
        {"ms": ms, "what_for": _MEANT[kind][0], "source": _MEANT[kind][1]} for kind, ms in BOUNDS_MS.items()
    ]
    usual: BoundOut = {
        "ms": UNHURRIED * BOUNDS_MS["television"], "what_for": "titles at a television where nobody competes",
        "source": "twice the bound, our own figure; outside game mode televisions are usually at 80 to 110",
    }  # fmt: skip
    return [*own, usual]


def judge(summary: LagSummary, bound_ms: int, kind: str) -> Judgement:
    """Within when the whole interval is at or under the bound, over when it is wholly beyond it."""
    bound_us = bound_ms * 1000
    lag = summary.lag_us
    low = lag if summary.ci_low_us is None else summary.ci_low_us
    high = lag if summary.ci_high_us is None else summary.ci_high_us
    shown = f"{float(lag) / 1000:.1f} ms"
    away = f"{abs(float(lag) / 1000 - bound_ms):.1f} ms"
    if summary.ci_low_us is None:
        side = "under" if lag <= bound_us else "over"
        few = "1 reading is" if summary.n == 1 else f"{summary.n} readings are"
        text = f"{shown} is {side} {bound_ms} ms, but {few} too few to be sure: take six."
        return Judgement(bound_ms, "undecided", text)
    if high <= bound_us:
        return Judgement(bound_ms, "within", f"{shown}: {away} under the {bound_ms} ms asked of a {kind}.")
    if low > bound_us:
        return Judgement(bound_ms, "over", f"{shown}: {away} over the {bound_ms} ms asked of a {kind}.")
    text = f"{shown}: the interval holds the {bound_ms} ms asked of a {kind}; take more readings."
    return Judgement(bound_ms, "undecided", text)
