"""Sound against picture: clicks of a film's sound track held against the flashes they were made with."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wavilex.core.film.between import FEWEST, median_span
from wavilex.core.film.trace import MAD_TO_SD, Turn

NS_A_METRE = 2_900_000  # sound takes about 2.9 ms a metre, at 20 °C (343 m/s)
_QUIET_NS = 60_000_000  # before a click it is quiet for so long: own figure
_OVER_NOISE, _OF_USUAL = 8.0, 0.25
MOST_NS = 400_000_000


@dataclass(frozen=True, slots=True)
class SoundOffset:
    """The click after the flash, in ns, the way of the sound to the microphone taken off: the median of `events`, with
    its interval at 95 % (None: too few). frame_ns/2 more or less of it may be the camera's own.
    """

    events: int
    offset_ns: float
    low_ns: float | None
    high_ns: float | None
    camera_ns: float


def clicks(level: NDArray[np.float64], begin_ns: float, step_ns: float) -> list[float]:
    """Moments in ns at which a click begins. level: loudness by step, (steps,); begin_ns: of the first."""
    if len(level) < FEWEST:
        return []
    rest = float(np.median(level))
    noise = MAD_TO_SD * float(np.median(np.abs(level - rest)))
    quiet = max(1, round(_QUIET_NS / step_ns))
    over = rest + _OVER_NOISE * max(noise, 1e-6)
    loud = np.flatnonzero(level > over)
    if not len(loud):
        return []
    begins = loud[np.concatenate(([True], np.diff(loud) > quiet))]
    peaks = np.array([level[b : b + quiet].max() for b in begins])
    least = rest + _OF_USUAL * (float(np.median(peaks)) - rest)
    out = []
    for b, peak in zip(begins, peaks, strict=True):
        if peak >= least:
            first = b + int(np.argmax(level[b : b + quiet] > max(over, rest + 0.1 * (peak - rest))))
            out.append(begin_ns + float(first) * step_ns)
    return out


def offset(flashes: Sequence[Turn], heard_ns: Sequence[float], metres: float, frame_ns: float) -> SoundOffset | None:
    """Each flash with the click nearest to it; None where none has one."""
    heard = np.asarray(sorted(heard_ns))
    apart: list[float] = []
    for f in flashes:
        near = heard[np.abs(heard - f.at_ns) <= MOST_NS]
        if len(near):
            apart.append(float(near[np.argmin(np.abs(near - f.at_ns))]) - f.at_ns - metres * NS_A_METRE)
    if not apart:
        return None
    low, high = median_span(apart) or (None, None)
    return SoundOffset(len(apart), float(np.median(apart)), low, high, frame_ns / 2)
