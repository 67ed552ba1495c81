"""Are there enough readings, and has the picture settled?"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise
from math import ceil
from statistics import NormalDist

from wavilex.core.lag.summary import FEWEST_FOR_INTERVAL, LEVEL, LagSummary, median, median_interval_rank

WANTED_US = 1000  # the interval's half width a bench wants, by default: ±1 ms
MOST_WANTED = 400
_SETTLE_SPAN = 5
_SETTLE_REACH_US = 600  # neighbours of a settled picture stay this near, or within four robust deviations
MOST_SETTLING = 40


@dataclass(frozen=True, slots=True)
class Enough:
    """enough: the interval is as narrow as wanted; more: readings still to take (None: no telling yet)."""

    enough: bool
    half_width_us: Fraction | None
    more: int | None
    sentence: str


def enough(s: LagSummary | None, wanted_us: int = WANTED_US) -> Enough:
    """Is the interval within ± wanted? Else how many readings that would take, by its shrinking.

    s: the summary of what was taken, None: nothing yet.
    """
    if s is None or s.ci_low_us is None or s.ci_high_us is None:
        short = FEWEST_FOR_INTERVAL - (s.n if s else 0)
        return Enough(False, None, max(short, 1), f"{max(short, 1)} more for an interval")
    half = Fraction(s.ci_high_us - s.ci_low_us, 2)
    words = f"±{float(half) / 1000:.1f} ms"
    if half <= wanted_us:
        return Enough(True, half, 0, f"enough: {words}")
    more = _to_take(s, half, wanted_us)
    wanted = f"±{wanted_us / 1000:g} ms"
    told = f"about {more} more for {wanted}" if more else _hopeless(s, wanted)
    return Enough(False, half, more, f"{words}; {told}")


def _hopeless(s: LagSummary, wanted: str) -> str:
    if s.counted_us is None:
        return f"it varies too much for {wanted}"
    return f"frames of {float(s.counted_us) / 1000:.1f} ms are too coarse for {wanted}: film faster, or use a meter"


def _to_take(s: LagSummary, half: Fraction, wanted_us: int) -> int | None:
    """The width falls with the root of n."""
    need = ceil(s.n * float(half / wanted_us) ** 2)
    return need - s.n if need <= MOST_WANTED else None


def readings_for(half_width_sd: float, level: Fraction = LEVEL) -> int:
    """The fewest readings whose median's interval reaches at most so many standard deviations to each side,
    on average of a normal distribution. For planning before anything was read.
    """
    for n in range(FEWEST_FOR_INTERVAL, MOST_WANTED + 1):
        rank = median_interval_rank(n, level)
        if rank is not None and NormalDist().inv_cdf(1 - (rank - 0.375) / (n + 0.25)) <= half_width_sd:
            return n  # Blom's position of the rank-th of n (1958; value from memory)
    return MOST_WANTED


def settled(values: Sequence[int]) -> bool:
    """Has the picture settled after a change? The last five readings stay together and do not drift one way.

    A fixed pause is either too long or too short: the readings themselves tell. Never before five of them.
    """
    if len(values) < _SETTLE_SPAN:
        return False
    last = list(values[-_SETTLE_SPAN:])
    middle = median(last)
    spread = median([abs(int(v - middle)) for v in last])
    reach = max(_SETTLE_REACH_US, 4 * float(spread))
    together = all(abs(v - float(middle)) <= reach for v in last)
    steps = [b - a for a, b in pairwise(last)]
    one_way = all(s > 0 for s in steps) or all(s < 0 for s in steps)
    return together and not (one_way and abs(last[-1] - last[0]) > _SETTLE_REACH_US)
