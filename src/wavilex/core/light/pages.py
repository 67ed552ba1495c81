"""A source's HDR set-up pages: how many clicks for a light, and what a count found on site means.

One clicks until a pattern just vanishes: the right count is the first whose light the screen no longer tells from
brighter (peak, full picture), or the first that shows above black. Common practice.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil
from typing import Literal

from scipy.optimize import linprog

from wavilex.core.gear.hdr_pages import HdrPage, PageOf
from wavilex.core.light.transfer import PQ_MOST, pq_light, pq_signal

FEWEST_TO_FIT = 3
_TINY = 1e-9
_MOST_FITTED = 120  # counts a fitted table has


def lights(page: HdrPage) -> list[float]:
    """cd/m² of each count from 0; none where nobody knows the steps."""
    if page.steps:
        return list(page.steps)
    if page.first is None or page.step is None or page.most is None:
        return []
    on = [page.first + n * page.step for n in range(page.most + 1)]
    return on if page.scale == "light" else [pq_light(x / 10_000) for x in on]


@dataclass(frozen=True, slots=True)
class Clicks:
    """Counts from `low` to `high` by what is known of the light; sure: they are one. at: the light of `low`.

    beyond: the page ends before this light (`above`), or begins after it (`below`).
    """

    low: int
    high: int
    at: float
    beyond: Literal["", "above", "below"] = ""

    @property
    def sure(self) -> bool:
        return self.low == self.high and not self.beyond


def clicks_for(table: Sequence[float], low: float, high: float) -> Clicks:
    """How many clicks for a light known to lie from low to high cd/m². Raises ValueError for an empty table."""
    if not table:
        raise ValueError("nobody knows the steps of this page")
    if low > table[-1]:
        return Clicks(len(table) - 1, len(table) - 1, table[-1], "above")
    if high < table[0]:
        return Clicks(0, 0, table[0], "below")
    first, last = (min(bisect_left(table, x), len(table) - 1) for x in (low, high))
    return Clicks(first, last, table[first], "above" if high > table[-1] else "")


def light_of(table: Sequence[float], count: int) -> tuple[float, float]:
    """What a count says: the light lies above the count before and up to this one. Raises ValueError outside."""
    if not 0 <= count < len(table):
        raise ValueError(f"this page counts 0 to {len(table) - 1}")
    return (table[count - 1] if count else 0.0), table[count]


Scale = Literal["light", "pq"]
SCALES: tuple[Scale, Scale] = ("light", "pq")
Counted = tuple[int, float, float]  # a count, and the light it was counted on: at least, at most


@dataclass(frozen=True, slots=True)
class Fit:
    """Equal steps (of light, or of a PQ signal) that explain every count. first and step: the middle of all that do, in
    cd/m² or ten-thousandths of a PQ signal; residuals: how far each light lies from the middle of its click, in clicks.
    """

    scale: Scale
    first: float
    step: float
    residuals: tuple[float, ...]
    counted: tuple[Counted, ...]

    def page(self, name: str, label: str, sets: PageOf) -> HdrPage:
        """As a profile has it: a table of equal steps, as far as they can be told."""
        top = 10_000 if self.scale == "pq" else PQ_MOST
        return HdrPage(
            id=name, label=label, sets=sets, first=round(max(self.first, 0), 3), step=round(self.step, 4),
            most=max(1, min(_MOST_FITTED, int((top - self.first) / self.step))), scale=self.scale,
            source="measured_here",
        )  # fmt: skip


@dataclass(frozen=True, slots=True)
class Fitted:
    """What counts on screens of known light say of a page: every way of equal steps that explains them all."""

    fits: tuple[Fit, ...]

    def clicks_for(self, low: float, high: float) -> Clicks:
        """How many clicks for a light from low to high cd/m², by every table that explains the counts."""
        ends = [x for f in self.fits for x in (_turns(f, low)[0], _turns(f, high)[1])]
        first, last = max(0, ceil(min(ends) - _TINY)), max(0, ceil(max(ends) - _TINY))
        fit = self.fits[0]
        at = fit.first + fit.step * first
        return Clicks(first, last, at if fit.scale == "light" else pq_light(min(max(at, 0), 10_000) / 10_000))


def fitted(counted: Sequence[Counted]) -> Fitted | None:
    """The tables that explain what was counted; None under three points or with fewer than two different counts: a
    line through two explains anything. Fitted with no fits: no equal steps explain them.

    A count n on a screen of light L says step(n - 1) < L ≤ step(n): with p = 1/step and q = first/step two linear
    bounds, so the least and greatest count of another light are linear programmes.
    """
    if len(counted) < FEWEST_TO_FIT or len({c for c, *_ in counted}) < 2:
        return None
    return Fitted(tuple(f for s in SCALES if (f := _fit(s, tuple(counted))) is not None))


def _fit(scale: Scale, counted: tuple[Counted, ...]) -> Fit | None:
    """The widest-standing solution: each light as near the middle of its click as can be for all."""
    rows, rights = _bounds(scale, counted)
    wide = [[*row, 1.0] for row in rows]  # a third unknown: room to each bound, made as large as can be
    found = linprog([0, 0, -1], A_ub=wide, b_ub=rights, bounds=[(_TINY, None), (None, None), (0, 0.5)], method="highs")
    if not found.success:
        return None
    p, q, _room = found.x
    middles = [p * (_on(scale, a) + _on(scale, b)) / 2 - q for _, a, b in counted]
    off = tuple(float(m - (n - 0.5)) for m, (n, *_) in zip(middles, counted, strict=True))
    return Fit(scale, float(q / p), float(1 / p), off, counted)


def _bounds(scale: Scale, counted: Sequence[Counted]) -> tuple[list[list[float]], list[float]]:
    """n - 1 ≤ p·most - q and p·least - q ≤ n, as rows of p and q at most a right side. Count 0 has no lower bound."""
    rows, rights = [], []
    for n, least, most in counted:
        if n:
            rows.append([-_on(scale, most), 1.0])
            rights.append(1.0 - n)
        rows.append([_on(scale, least), -1.0])
        rights.append(float(n))
    return rows, rights


def _turns(fit: Fit, light: float) -> tuple[float, float]:
    """Least and greatest p·light - q among all that explain the counts."""
    rows, rights = _bounds(fit.scale, fit.counted)
    aim = [_on(fit.scale, light), -1.0]
    out = []
    for sign in (1, -1):
        found = linprog([sign * a for a in aim], A_ub=rows, b_ub=rights, bounds=[(_TINY, None), (None, None)],
                        method="highs")  # fmt: skip
        out.append(sign * float(found.fun) if found.success else float("inf") * -sign)
    return out[0], out[1]


def _on(scale: Scale, light: float) -> float:
    return light if scale == "light" else 10_000 * pq_signal(min(light, PQ_MOST))
