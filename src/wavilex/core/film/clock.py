"""True time of a film: the rate it was taken at, which one stored slow does not say, checked against what is in view.

Lamps on the mains flicker at twice its frequency (100 or 120 Hz; common practice). A camera sees that folded back: the
flicker's cycles a frame tell which rates could have taken the film, and which could not.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wavilex.core.errors import WavilexError

USUAL_FPS = (30, 60, 120, 240, 480, 960)
MAINS_HZ = (100, 120)
_NEAR = 0.006  # cycles a frame that a peak may lie beside its place: own figure
_OVER = 8.0  # times the middle of the spectrum that a peak must reach: own figure
_LOWEST = 0.04  # cycles a frame: slower changes are no flicker
_FEWEST = 64
_COUNTER_NEAR = 0.02  # of its rate that a counter may be seen beside it: own figure
_TICK_NS = 1_100_000  # frames nearer than this to an even rate stand at it: files of whole milliseconds round so far


class FilmError(WavilexError):
    """A film that tells no time, or patches that are none."""

    code = "film_unreadable"


@dataclass(frozen=True, slots=True)
class Clock:
    """stored_fps: as the file's times have it. even: frames stand at an even rate. taken_fps: as it was filmed, by the
    one who says so. at_ns: int64, (frames,), in true time.
    """

    stored_fps: float
    even: bool
    taken_fps: float
    at_ns: NDArray[np.int64]


def clock(file_ns: NDArray[np.int64], taken_fps: float | None) -> Clock:
    """True times from a file's: stretched where it was taken faster than it is stored. None: as stored.

    Raises FilmError where its times do not rise.
    """
    gaps = np.diff(file_ns)
    if len(gaps) < 1 or int(gaps.min()) <= 0:
        raise FilmError("the film’s frames do not follow each other in time: bring the camera’s own file")
    usual = float(np.median(gaps))
    line = np.linspace(int(file_ns[0]), int(file_ns[-1]), len(file_ns))
    even = float(np.abs(file_ns - line).max()) <= _TICK_NS
    stored = 1e9 / float(gaps.mean() if even else usual)
    if even:  # some files keep whole milliseconds only: what is left of an even rate is the file's rounding
        file_ns = np.round(line).astype(np.int64)
    taken = stored if taken_fps is None else float(taken_fps)
    return Clock(stored, even, taken, np.round((file_ns - file_ns[0]) * (stored / taken)).astype(np.int64))


def flicker(light: NDArray[np.float64]) -> float | None:
    """Cycles a frame at which a still part of the picture flickers most; None where nothing stands out."""
    if len(light) < _FEWEST:
        return None
    x = light - np.convolve(light, np.ones(9) / 9, "same")
    power = np.abs(np.fft.rfft(x * np.hanning(len(x)))) ** 2
    cycles = np.fft.rfftfreq(len(x))
    use = cycles >= _LOWEST
    peak = int(np.argmax(np.where(use, power, 0)))
    return float(cycles[peak]) if power[peak] > _OVER**2 * float(np.median(power[use])) else None


def folded(hz: float, fps: float) -> float:
    """Cycles a frame, 0 to ½, at which a rate shows in a film."""
    cycles = hz / fps
    return abs(cycles - round(cycles))


def rates_by(cycles: float, rates: Sequence[float] = USUAL_FPS) -> list[float]:
    """Which of the rates could show mains flicker at so many cycles a frame."""
    return [r for r in rates if any(abs(folded(hz, r) - cycles) <= _NEAR for hz in MAINS_HZ)]


def said_by_counter(seen_hz: float, shown_hz: float, fps: float) -> tuple[bool, str]:
    """Does a counter that runs at a known rate bear out the rate the film was taken at? With words."""
    off = seen_hz / shown_hz
    if abs(off - 1) <= _COUNTER_NEAR:
        return True, f"the counter bears it out: it runs at {shown_hz:g} a second and is seen at {seen_hz:.2f}"
    true = fps / off
    usual = min(USUAL_FPS, key=lambda r: abs(r / true - 1))
    like = f": that fits {usual:g} frames a second" if abs(usual / true - 1) <= _COUNTER_NEAR else ""
    return False, f"the counter contradicts it: it runs at {shown_hz:g} a second and is seen at {seen_hz:.2f}{like}"


def said_by_flicker(cycles: float | None, fps: float) -> tuple[bool | None, str]:
    """Does the lamps' flicker bear out the rate; None: it does not say. With words."""
    if cycles is None:
        return None, "no lamp flickers in view: nothing in the film bears the rate out"
    could = rates_by(cycles, [fps])
    if could:
        mains = next(hz for hz in MAINS_HZ if abs(folded(hz, fps) - cycles) <= _NEAR)
        return True, f"the lamps’ flicker fits it: {mains} Hz seen at {cycles:.3f} cycles a frame"
    others = [r for r in rates_by(cycles) if abs(r - fps) > 1]
    if not others:
        return None, f"something flickers at {cycles:.3f} cycles a frame, which is no mains flicker at a usual rate"
    named = " or ".join(f"{r:g}" for r in others)
    return False, (
        f"the lamps’ flicker contradicts it: {cycles:.3f} cycles a frame is mains flicker at {named} frames a second, "
        f"not at {fps:g}"
    )
