"""Light by the size of the bright patch: how much a screen dims a large one, and what a bright title can hold."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import log

from scipy.interpolate import PchipInterpolator

WINDOWS = (2, 10, 25, 50, 100)
SCENES = ((10, "night, a lamp or two"), (25, "a city by day"), (50, "snow, open sky"))  # share bright: own figures


@dataclass(frozen=True, slots=True)
class Dimming:
    """Light by window, in cd/m². held: what scenes with so much bright in them can keep up; keeps_percent: full picture
    against the brightest window.
    """

    windows: tuple[tuple[int, float], ...]
    held: tuple[tuple[int, str, float], ...]
    keeps_percent: float | None
    missing: tuple[int, ...]

    @property
    def peak(self) -> float:
        return max(light for _, light in self.windows)


def dimming(read: Sequence[tuple[int, float]]) -> Dimming | None:
    """From (window percent, cd/m²), one a window. None without a reading; between windows by PCHIP over log size."""
    at = dict(read)
    if not at:
        return None
    windows = tuple(sorted(at.items()))
    held: tuple[tuple[int, str, float], ...] = ()
    if len(windows) > 1:
        fit = PchipInterpolator([log(w) for w, _ in windows], [x for _, x in windows])
        held = tuple((w, words, float(fit(log(w)))) for w, words in SCENES if windows[0][0] <= w <= windows[-1][0])
    keeps = 100 * at[100] / max(at.values()) if 100 in at and len(at) > 1 else None
    return Dimming(windows, held, keeps, tuple(w for w in WINDOWS if w not in at))
