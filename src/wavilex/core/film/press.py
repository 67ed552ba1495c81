"""Presses: what started held against what answered, each a reading with its interval; what was missed is listed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from wavilex.core.film.trace import Polarity, Trace, Turn, parts_of, turns

MOST_NS = 500_000_000  # an answer later than this is none: own figure
LEVEL = 0.95
_GRID, _PHASES = 2001, 100
_LIKELY = (0.1, 0.3, 0.5, 0.7, 0.9)


@dataclass(frozen=True, slots=True)
class Patch:
    """Where a patch lies from the top of the picture, 0 to 1, by its middle, and how high it is: rows further down are
    read out later.
    """

    row: float = 0.0
    height: float = 0.0


@dataclass(frozen=True, slots=True)
class Camera:
    """What a film tells of its camera. open_ns: for how long the shutter is open, equally likely values, from how many
    turns fell within a frame; rise_ns: how long the answer takes. readout_ns: from the first row to the last, None: not
    known.
    """

    frame_ns: float
    open_ns: tuple[float, ...]
    rise_ns: float = 0.0
    readout_ns: float | None = None

    @property
    def usual_open_ns(self) -> float:
        return self.open_ns[len(self.open_ns) // 2]

    def smear_ns(self, patch: Patch) -> float:
        """How long the rows of a patch take to be read out; 0 where nobody knows."""
        return patch.height * (self.readout_ns or 0.0)


@dataclass(frozen=True, slots=True)
class Press:
    """start and answer: turns, None: missing. lag_ns: corrected for the read-out where that is known; half_ns: half of
    the interval at 95 %. kept: it counts. moved: a hand moved one of its ends.
    """

    start: Turn | None
    answer: Turn | None
    lag_ns: float | None = None
    half_ns: float | None = None

    @property
    def what(self) -> Literal["read", "missed", "unasked"]:
        """missed: nothing answered; unasked: nothing started it."""
        if self.start is None:
            return "unasked"
        return "read" if self.answer is not None else "missed"


def pair(starts: Sequence[Turn], answers: Sequence[Turn], most_ns: float = MOST_NS) -> list[Press]:
    """Each start with the first answer before the next start and within `most_ns`; in order of time.

    An answer may seem to come up to a frame early by the camera's own grain; one earlier still is unasked.
    """
    out: list[Press] = []
    used: set[int] = set()
    for n, start in enumerate(starts):
        until = starts[n + 1].at_ns - starts[n + 1].gap_ns if n + 1 < len(starts) else float("inf")
        found = next(
            (i for i, a in enumerate(answers)
             if i not in used and start.at_ns - start.gap_ns <= a.at_ns < min(until, start.at_ns + most_ns)),
            None,
        )  # fmt: skip
        if found is not None:
            used.add(found)
        out.append(Press(start, None if found is None else answers[found]))
    out += [Press(None, a) for i, a in enumerate(answers) if i not in used]
    return sorted(out, key=lambda p: (p.start or p.answer).at_ns)  # type: ignore[union-attr]


def read(presses: Sequence[Press], camera: Camera, start: Patch, answer: Patch) -> list[Press]:
    """Presses with their lags, corrected for the read-out where that is known."""
    down = answer.row - start.row
    known = camera.readout_ns is not None
    slow = down * (camera.readout_ns or 0.0)
    unsure = 0.0 if known else abs(down) * camera.frame_ns
    return [
        p if p.start is None or p.answer is None
        else Press(
            p.start, p.answer, p.answer.at_ns - p.start.at_ns + slow,
            half_ns(p.start, p.answer, camera, (start, answer)) + unsure,
        )
        for p in presses
    ]  # fmt: skip


def measure(
    start: Trace, answer: Trace, *, patches: tuple[Patch, Patch] = (Patch(), Patch()),
    readout_ns: float | None = None, ways: tuple[Polarity, Polarity] = ("rise", "rise"), most_ns: float = MOST_NS,
) -> tuple[list[Press], Camera]:  # fmt: skip
    """Every press of a film, and what it tells of the camera.

    How long the shutter is open is told from how many turns fell within a frame, by the quicker of the two patches,
    which is taken to take no time; then every moment is worked out with it.
    """
    camera = camera_of(start, answer, patches, readout_ns)
    first, second = (turns(t, way, camera.usual_open_ns) for t, way in zip((start, answer), ways, strict=True))
    return read(pair(first, second, most_ns), camera, *patches), camera


def camera_of(start: Trace, answer: Trace, patches: tuple[Patch, Patch], readout_ns: float | None) -> Camera:
    """What two patches tell of the camera, by all their turns, up and down."""
    frame_ns = start.frame_ns
    bare = Camera(frame_ns, (frame_ns,), 0.0, readout_ns)
    found = [turns(t) for t in (start, answer)]
    seen = [
        (parts - bare.smear_ns(patch) / frame_ns, len(t))
        for t, patch in zip(found, patches, strict=True) if (parts := parts_of(t)) is not None
    ]  # fmt: skip
    if not seen:
        return bare
    share, n = min(seen)
    shares = _likely(min(1.0, max(0.0, share)), n)
    rise = max(0.0, seen[-1][0] - shares[len(shares) // 2])
    return Camera(frame_ns, tuple(s * frame_ns for s in shares), rise * frame_ns, readout_ns)


def _likely(share: float, n: int) -> tuple[float, ...]:
    """Equally likely true shares for one seen among n turns (Jeffreys' interval; textbook result)."""
    from scipy.stats import beta  # takes a second to load

    return tuple(float(x) for x in beta.ppf(_LIKELY, share * n + 0.5, (1 - share) * n + 0.5))


def half_ns(start: Turn, answer: Turn, camera: Camera, patches: tuple[Patch, Patch]) -> float:
    """Half of the 95 % interval of a lag: the grain of the camera at both ends, and the light's noise."""
    wide = max(start.gap_ns, answer.gap_ns)
    noise = float(np.hypot(start.noise_ns, answer.noise_ns))
    ends = tuple(
        (round(t.gap_ns / wide, 2), round(rise / t.gap_ns, 1), round(camera.smear_ns(patch) / t.gap_ns, 2))
        for t, rise, patch in zip((start, answer), (0.0, camera.rise_ns), patches, strict=True)
    )  # fmt: skip
    return wide * _half(ends, tuple(round(o / wide, 2) for o in camera.open_ns), round(noise / wide, 3))


End = tuple[float, float, float]  # how wide its frame is, of the wider of the two; in frames: its rise, its smear


@lru_cache(maxsize=4096)
def _half(ends: tuple[End, ...], opens: tuple[float, ...], noise: float) -> float:
    """Of the wider end's frame. opens: equally likely times for which the shutter is open, of the same. A sum over
    shares is off by a saw of one frame, averaged over the time the shutter is open, the rise, and the rows' smear; both
    ends fall anywhere within a frame.
    """
    apart = np.concatenate([
        np.subtract.outer(*(wide * _saw(min(1.0, o / wide), rise, smear) for wide, rise, smear in ends)).ravel()
        for o in opens
    ])  # fmt: skip
    span = float(np.abs(apart).max()) + 6 * noise + 1 / _GRID
    count, edges = np.histogram(apart, _GRID, (-span, span))
    shape = count.astype(float)
    if noise > 0:
        kernel = np.exp(-0.5 * ((edges[1:] + edges[:-1]) / 2 / noise) ** 2)
        shape = np.convolve(shape, kernel / kernel.sum(), "same")
    below = np.cumsum(shape)
    return float(np.interp((1 + LEVEL) / 2, below / below[-1], edges[1:]))


def _saw(*wide: float) -> NDArray[np.float64]:
    """A saw from −½ to ½ over one period, averaged round over each width in periods."""
    saw = (np.arange(_PHASES) + 0.5) / _PHASES - 0.5
    for width in wide:
        whole = round(width * _PHASES)
        if whole:
            # a mean over whole periods is 0: only the rest counts, in the share it has
            rest = np.zeros(_PHASES)
            rest[: whole % _PHASES] = 1.0 / whole
            saw = np.real(np.fft.ifft(np.fft.fft(saw) * np.fft.fft(rest)))
    return saw
