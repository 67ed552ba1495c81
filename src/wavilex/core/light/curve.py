"""A curve through readings: set value to light, monotone, with the uncertainty of the readings carried through.

Interpolation: PCHIP (Fritsch and Carlson 1980), scipy's. Readings that fall where the rest rise are pooled first
(weighted isotonic regression, pool adjacent violators). Outside the readings nothing is said.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from math import sqrt
from typing import Any

import numpy as np

Z95 = 1.959964  # of a normal, both sides together 5 %
FEWEST = 3
_BENT = 0.25  # share of what one reading less would change that is put down to the curve between readings
CLOSE = 0.03  # an answer is close enough where half its interval is no more of the light
_TOO_FAR = 0.001  # readings that fall with a chance below this are not noise


def _through(x: np.ndarray, y: np.ndarray) -> Any:
    """The curve through some readings."""
    from scipy.interpolate import PchipInterpolator  # takes a second to load

    return PchipInterpolator(x, y)


@dataclass(frozen=True, slots=True)
class Point:
    """A reading: what was set, the light there, and its standard error, all in their own units."""

    at: float
    light: float
    error: float


@dataclass(frozen=True, slots=True)
class Found:
    """The value that gives a light: best, and 95 % interval; the light at `best` with its own interval."""

    value: float
    low: float
    high: float
    light: float
    light_low: float
    light_high: float

    @property
    def close(self) -> bool:
        """Is the light there known closely enough, or is one reading more worth its time?"""
        return (self.light_high - self.light_low) / 2 <= CLOSE * self.light


@dataclass(frozen=True, slots=True)
class Refusal:
    """Why nothing is said: `few`, `above`, `below`, `flat`, `falls`; next_at: where the next reading helps most."""

    code: str
    next_at: float | None = None
    most: float | None = None


class Curve:
    """Readings of one cell. Raises ValueError for fewer than two different values set."""

    def __init__(self, points: Sequence[Point]) -> None:
        merged = _merged(points)
        if len(merged) < 2:
            raise ValueError("a curve needs readings at two values")
        self.points = merged
        self.x = np.array([p.at for p in merged])
        self.errors = np.array([p.error for p in merged])
        self.raw = np.array([p.light for p in merged])
        self.y = _rising(self.raw, self.errors)
        self._fit = _through(self.x, self.y)

    @cached_property
    def falls(self) -> bool:
        """Do the readings fall somewhere by more than their errors allow? Then something else changed between them."""
        off = float(np.sum(((self.raw - self.y) / self.errors) ** 2))
        moved = int(np.sum(self.raw != self.y))
        from scipy.stats import chi2  # takes a second to load

        return moved > 0 and float(chi2.sf(off, moved)) < _TOO_FAR

    @property
    def span(self) -> tuple[float, float]:
        return float(self.x[0]), float(self.x[-1])

    def light(self, at: float) -> float:
        """The light at a value inside the readings. Raises ValueError outside."""
        if not self.x[0] <= at <= self.x[-1]:
            raise ValueError("outside the readings")
        return float(self._fit(at))

    def error(self, at: float) -> float:
        """Standard error of the light at a value: each reading's own, and how far the curve may bend between them."""
        base = self.light(at)
        total = sum((float(fit(at)) - base) ** 2 for fit in self._moved)
        return sqrt(total + self._bend(at) ** 2)

    @cached_property
    def _moved(self) -> list[Any]:
        """The curve with each reading in turn raised by its error."""
        out = []
        for n in range(len(self.x)):
            raw = self.raw.copy()
            raw[n] += self.errors[n]
            out.append(_through(self.x, _rising(raw, self.errors)))
        return out

    def drawn(self, count: int = 61) -> list[tuple[float, float, float, float]]:
        """Value, light, and its 95 % band, at equal steps over the readings."""
        out = []
        for at in np.linspace(self.x[0], self.x[-1], count):
            light, off = self.light(float(at)), Z95 * self.error(float(at))
            out.append((float(at), light, max(light - off, 0.0), light + off))
        return out

    def _bend(self, at: float) -> float:
        """What leaving out the nearer neighbour would change, a share of it: the spacing halves what it says there."""
        inner = list(range(1, len(self.x) - 1))
        if not inner or float(np.min(np.abs(self.x - at))) == 0:
            return 0.0
        n = min(inner, key=lambda i: abs(self.x[i] - at))
        keep = [i for i in range(len(self.x)) if i != n]
        less = float(_through(self.x[keep], self.y[keep])(self.x[n])) if len(keep) > 1 else float(self.y[n])
        gap = (self.x[n + 1] - self.x[n - 1]) / 2
        near = float(np.min(np.abs(self.x - at))) / gap if gap else 0.0
        return _BENT * abs(less - float(self.y[n])) * min(1.0, 2 * near)

    def find(self, wanted: float, step: float = 0.0, origin: float = 0.0) -> Found | Refusal:
        """The value that gives a light; step: values are set in steps from an origin (0: freely)."""
        if len(self.x) < FEWEST:
            return Refusal("few", self._widest_gap())
        if self.falls:
            return Refusal("falls", float(self.x[int(np.argmax(np.abs(self.raw - self.y)))]))
        if wanted > self.y[-1]:
            return Refusal("above", None, float(self.y[-1]))
        if wanted < self.y[0]:
            return Refusal("below", None, float(self.y[0]))
        value = self._at(wanted)
        off = self.error(value)
        low, high = self._at(wanted - Z95 * off), self._at(wanted + Z95 * off)
        best = value
        if step:
            best = min(max(origin + round((value - origin) / step) * step, self.x[0]), self.x[-1])
        there, its = self.light(best), self.error(best)
        return Found(best, low, high, there, there - Z95 * its, there + Z95 * its)

    def _at(self, wanted: float) -> float:
        """Where the curve reaches a light; the ends where it does not."""
        if wanted <= self.y[0]:
            return float(self.x[0])
        if wanted >= self.y[-1]:
            return float(self.x[-1])
        n = int(np.searchsorted(self.y, wanted))
        a, b = float(self.x[n - 1]), float(self.x[n])
        from scipy.optimize import brentq  # takes a second to load

        return float(brentq(lambda x: float(self._fit(x)) - wanted, a, b, xtol=1e-9))

    def _widest_gap(self) -> float:
        gaps = np.diff(self.x)
        n = int(np.argmax(gaps))
        return float(self.x[n] + gaps[n] / 2)


def _merged(points: Sequence[Point]) -> list[Point]:
    """Readings of the same value taken together, each by its weight."""
    by_value: dict[float, list[Point]] = {}
    for p in points:
        by_value.setdefault(p.at, []).append(p)
    out = []
    for at, same in sorted(by_value.items()):
        weights = [1 / p.error**2 for p in same]
        mean = sum(w * p.light for w, p in zip(weights, same, strict=True)) / sum(weights)
        out.append(Point(at, mean, 1 / sqrt(sum(weights))))
    return out


def _rising(light: np.ndarray, errors: np.ndarray) -> np.ndarray:
    from scipy.optimize import isotonic_regression  # takes a second to load

    found: np.ndarray = isotonic_regression(light, weights=1 / errors**2).x
    return found
