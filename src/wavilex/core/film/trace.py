"""A patch's light over time, and the moments at which it turned.

Frame k of a camera gathers light from at_ns[k] on, for as long as its shutter is open. Where that is a whole frame, the
share of a frame's light tells where within it a lamp went on: summing shares over the turn gives the moment exactly
(the mean of the turn, which of an even rise is its middle). While the shutter is shut nothing is seen, and the light is
taken to go evenly: with a shutter open for a share d of a frame the sum is off by up to (1 − d)/2 of a frame to each
side, every value alike, and stays unbiased.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Polarity = Literal["rise", "fall", "both"]

# own figures, by films with known truth
_LEVEL_NS, _GUARD_NS = (
    20_000_000,
    8_000_000,
)  # light is levelled over so long on each side; a turn takes at most so long
_SURE, _OF_USUAL, _OF_MOST = 8.0, 0.45, 0.3  # times the noise; of the usual turn; of the largest
_PART = 0.02  # less of a turn than this in a frame is no part of it that could be told
MAD_TO_SD = 1.4826  # of a normal distribution
_SECOND_DIFFERENCE = 6**0.5  # sd of x[k-1] − 2x[k] + x[k+1] for noise of 1
FEWEST_FRAMES = 12


@dataclass(frozen=True, slots=True, eq=False)
class Trace:
    """at_ns: int64, (frames,), rising: when each frame began. light: (frames,), linear, on any scale."""

    at_ns: NDArray[np.int64]
    light: Floats

    @property
    def frame_ns(self) -> float:
        """The usual time between frames."""
        return float(np.median(np.diff(self.at_ns)))

    @property
    def noise(self) -> float:
        """Standard deviation of a frame's light where nothing turns, robustly."""
        bends = np.diff(self.light, 2)
        return MAD_TO_SD * float(np.median(np.abs(bends - np.median(bends)))) / _SECOND_DIFFERENCE


@dataclass(frozen=True, slots=True)
class Turn:
    """frame: the one it turned in or before. at_ns: the moment. height: how far the light went. parts: frames that hold
    part of the turn. noise_ns: standard deviation of the moment by the light's noise. gap_ns: between frames there.
    blind: a share of the turn too small to be told from none.
    """

    frame: int
    at_ns: float
    height: float
    parts: int
    noise_ns: float
    gap_ns: float
    blind: float = 0.0

    @property
    def up(self) -> bool:
        return self.height > 0


def turns(trace: Trace, polarity: Polarity = "both", open_ns: float | None = None) -> list[Turn]:
    """Every turn of a patch in order, told from noise and drift by its size; [] where there are none.

    A level must hold for two frames and 20 ms on both sides to be one. open_ns: for how long the shutter is open, None:
    a whole frame.
    """
    x = trace.light
    if len(x) < FEWEST_FRAMES or trace.frame_ns <= 0:
        return []
    frame = trace.frame_ns
    level, guard = max(2, round(_LEVEL_NS / frame)), max(1, round(_GUARD_NS / frame))
    step = _steps(x, level, guard)
    found = [k for k in _peaks(np.abs(step), level + guard) if step[k]]
    sizes = np.abs(step[found])
    sure = sizes[sizes > _SURE * _spread(step)]
    if not len(sure):
        return []
    usual = float(np.median(sure[sure > _OF_MOST * sure.max()]))
    least = max(_SURE * _spread(step), _OF_USUAL * usual)
    told = [
        _turn(trace, k, level, guard, min(open_ns or frame, frame))
        for k, size in zip(found, sizes, strict=True)
        if size >= least
    ]
    return [t for t in told if t is not None and (polarity == "both" or t.up == (polarity == "rise"))]


def _steps(x: Floats, level: int, guard: int) -> Floats:
    """How much higher the light is after each frame boundary than before it: means of `level` frames, `guard` away.
    Boundary k lies before frame k; 0 where there is no room.
    """
    total = np.concatenate(([0.0], np.cumsum(x)))
    out = np.zeros(len(x))
    k = np.arange(guard + level, len(x) - guard - level + 1)
    k = k[k < len(x)]
    after = (total[k + guard + level] - total[k + guard]) / level
    before = (total[k - guard] - total[k - guard - level]) / level
    out[k] = after - before
    return out


def _spread(step: Floats) -> float:
    return max(MAD_TO_SD * float(np.median(np.abs(step))), 1e-9)


def _peaks(size: Floats, apart: int) -> list[int]:
    """Middles of the plateaus that nothing within `apart` frames overtops; of two so near the larger."""
    from scipy.ndimage import maximum_filter1d  # takes a second to load

    top = maximum_filter1d(size, 2 * apart + 1, mode="constant")
    at = np.flatnonzero((size >= top * (1 - 1e-9)) & (size > 0))
    out: list[int] = []
    for run in np.split(at, np.flatnonzero(np.diff(at) > apart) + 1):
        if len(run):
            out.append(round(float(run.mean())))
    return out


def _turn(trace: Trace, k: int, level: int, guard: int, open_ns: float) -> Turn | None:
    """The turn at a boundary, to a part of a frame; None where the film's ends cut it."""
    x, at = trace.light, trace.at_ns
    reach = 2 * guard
    first, last = k - reach - 1, k + reach + 1  # frames within which it turned
    if first < 1 or last + 1 >= len(x):
        return None
    low = float(x[max(0, first - level) : first].mean())
    high = float(x[last + 1 : last + 1 + level].mean())
    if high == low:
        return None
    share = (x[first : last + 1] - low) / (high - low)
    noise = trace.noise / abs(high - low)
    blind = max(_PART, 3 * noise)
    half = int(np.argmax(share >= 0.5))
    dark = np.flatnonzero(share[: half + 1] < blind)
    lit = np.flatnonzero(share[half:] > 1 - blind)
    a = int(dark[-1]) if len(dark) else 0
    b = half + int(lit[0]) if len(lit) else len(share) - 1
    gaps = np.diff(at[first + a : first + b + 1]).astype(np.float64)  # between frames a to b, each to the next
    moment, gap, grain = _moment(share[a : b + 1], at[first + a], gaps, open_ns, level)
    # what is too faint to be told is lost between two frames, and at both ends of a slow turn
    lost = blind / 2 * (open_ns if len(gaps) == 1 else gap) if len(gaps) != 2 else 0.0
    noise_ns = float(np.hypot(noise * grain, lost))
    return Turn(first + half, moment, high - low, max(0, b - a - 1), noise_ns, gap, blind)


def _moment(share: Floats, begin_ns: int, gaps: Floats, open_ns: float, level: int) -> tuple[float, float, float]:
    """When it turned, the time between frames there, and what noise of 1 in a share moves it by, all in ns.

    share: of the frames from the last before it to the first after it. level: frames the levels are the means of.
    """
    shut = np.maximum(gaps - open_ns, 0.0)
    if len(gaps) <= 1:  # between two frames
        gap = float(gaps[0]) if len(gaps) else open_ns
        return begin_ns + open_ns + max(0.0, gap - open_ns) / 2, gap, 0.0
    if len(gaps) == 2:  # within one: what is dark around it counts alike on both sides
        dark = float(shut.min())
        within = begin_ns + float(gaps[0]) + open_ns * (1 - float(share[1])) + dark * (0.5 - float(share[1]))
        return within, open_ns + dark, open_ns + dark
    lit = open_ns * float(share[1:].sum()) + float(shut @ (share[1:] + share[:-1])) / 2
    moment = begin_ns + float(gaps.sum()) + open_ns - lit
    return moment, float(np.median(gaps)), float(np.sqrt((gaps**2).sum() + gaps.sum() ** 2 / (2 * level)))


def parts_of(found: Sequence[Turn]) -> float | None:
    """Frames that hold a part of a turn, on average, those too faint to be told allowed for; None of no turns.

    Of turns that take no time it is the share of a frame for which the shutter is open; of others, that and the time
    they take, in frames.
    """
    if not found:
        return None
    return sum(t.parts / (1 - 2 * t.blind) if t.parts == 1 else t.parts for t in found) / len(found)
