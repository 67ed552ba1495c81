"""What a render rate looks like on a screen: in the window, repeated, at a fixed rate; even or not.

Source: HDMI 2.1 variable refresh, VESA adaptive sync (value from memory): in the window each frame is shown once, for
as long as it lasts. Below it a frame is shown n times, n the smallest with n·f at or over the lower end; that is
always possible when the upper end is at least twice the lower, and often not done where it is not (common practice).
Cadence at a fixed rate: whole numbers of refreshes.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from fractions import Fraction
from math import ceil, floor

from wavilex.core.modes.shapes import State

Window = tuple[int, int]  # lowest and highest rate in Hz
LOW_FPS, HIGH_FPS = 20, 240
FIXED_TOLERANCE = Fraction(
    1, 200
)  # ±0.5 % of pixel clock is what a fixed-rate input must take (CTA-861; value from memory)
WORDS = {
    "window": "in the window: each frame once, evenly",
    "repeated": "below the window, each frame shown {n} times, evenly",
    "even": "fixed rate: each frame shown {n} times, evenly" ,
    "once": "fixed rate: each frame once, evenly",
    "uneven": "fixed rate: frames shown {low} or {high} times, unevenly: judder",
    "over": "more frames than refreshes: some are lost, or the picture tears",
}  # fmt: skip


_NOT_REPEATED = "below the window, where frames are not repeated: "
_GAP = "below the window, and no multiple of it falls inside: "
_NARROW = "below a window narrower than 2:1, where frames are often not repeated: "


@dataclass(frozen=True, slots=True)
class Shown:
    """How frames of a rate are shown. fps and refresh_hz in 1/s, holds in ms.

    state: window, repeated, once, even, uneven or over. low, high: refreshes a frame stays. but: what the words begin
    with, where there is a window that does not serve; if_so: what they end with, where it hangs on something unknown.
    """

    fps: Fraction
    state: State
    refresh_hz: Fraction
    low: int
    high: int
    but: str = ""
    if_so: str = ""

    @property
    def hold_ms(self) -> tuple[Fraction, Fraction]:
        """The shortest and the longest time a frame stays."""
        return self.low * 1000 / self.refresh_hz, self.high * 1000 / self.refresh_hz

    @property
    def even(self) -> bool:
        return self.state in ("window", "repeated", "once", "even")

    @property
    def words(self) -> str:
        return self.but + WORDS[self.state].format(n=self.low, low=self.low, high=self.high) + self.if_so


def shown(
    fps: Fraction | int, fixed_hz: Fraction | int, window: Window | None = None, *, repeats: bool | None = True
) -> Shown:
    """Frames at `fps` on a screen whose fixed rate is `fixed_hz`, with a window in Hz or without.

    repeats: the source or screen repeats frames below the window, None: nobody knows; without it, and in a window
    narrower than 2:1, the screen falls back to its fixed rate there. Raises ValueError for rates that are not positive.
    """
    fps, fixed = Fraction(fps), Fraction(fixed_hz)
    if fps <= 0 or fixed <= 0:
        raise ValueError("rates must be positive")
    if window is None:
        return _at_fixed(fps, fixed)
    low, high = window
    if low <= fps <= high:
        return Shown(fps, "window", fps, 1, 1)
    if fps > high:
        return Shown(fps, "over", Fraction(high), 0, 1)
    times = ceil(low / fps)
    if repeats is False:
        return replace(_at_fixed(fps, fixed), but=_NOT_REPEATED)
    if times * fps > high:
        return replace(_at_fixed(fps, fixed), but=_GAP)
    if high < 2 * low:
        return replace(_at_fixed(fps, fixed), but=_NARROW)
    unknown = " if the source repeats frames, which is not known" if repeats is None else ""
    return Shown(fps, "repeated", times * fps, times, times, if_so=unknown)


def _at_fixed(fps: Fraction, fixed: Fraction) -> Shown:
    if fps > fixed:
        return Shown(fps, "over", fixed, 0, 1)
    ratio = fixed / fps
    if ratio == 1:
        return Shown(fps, "once", fixed, 1, 1)
    if ratio.denominator == 1:
        return Shown(fps, "even", fixed, int(ratio), int(ratio))
    return Shown(fps, "uneven", fixed, floor(ratio), ceil(ratio))


@dataclass(frozen=True, slots=True)
class Pacing:
    """What decides how frames look on a run, whatever their rate. hz: of the output; offered: the window in Hz as it
    reaches the source, None without one; repeats: does the source repeat frames below it, None: not known.
    """

    hz: int
    offered: Window | None
    repeats: bool | None

    @property
    def window(self) -> Window | None:
        """The window at this output: not over its rate, and none where that does not reach into it."""
        if self.offered is None or self.hz <= self.offered[0]:
            return None
        return self.offered[0], min(self.offered[1], self.hz)

    def of(self, fps: Fraction | int) -> Shown:
        """How a render rate looks."""
        return shown(fps, self.hz, self.window, repeats=self.repeats)

    def at(self, hz: int) -> Pacing:
        """The same with another output rate."""
        return replace(self, hz=hz)


def cadence(fps: Fraction | int, fixed_hz: Fraction | int, most: int = 12) -> tuple[int, ...]:
    """How many refreshes each frame stays at a fixed rate, over one cycle, at most `most` frames: 24 in 60 → 2, 3."""
    ratio = Fraction(fixed_hz) / Fraction(fps)
    count = min(ratio.denominator, most)
    return tuple(floor((n + 1) * ratio) - floor(n * ratio) for n in range(count))


def accepted(rate_hz: Fraction, nominal_hz: Fraction, window: Window | None, *, listed: bool = True) -> bool | None:
    """Does an input take a rate beside the standard one (60.1 for 60)? None: outside what it must take, it may.

    listed: does it list the standard one at all. An input with a window is likelier to: that it takes any rate in its
    window is common practice.
    """
    if listed and abs(rate_hz - nominal_hz) <= nominal_hz * FIXED_TOLERANCE:
        return True
    if window is not None and window[0] <= rate_hz <= window[1]:
        return True
    return None


@dataclass(frozen=True, slots=True)
class Segment:
    """Neighbouring whole render rates that look alike."""

    from_fps: int
    to_fps: int
    state: State
    words: str


def segments(pacing: Pacing) -> list[Segment]:
    """The whole render rates from 20 to 240 in runs of the same answer."""
    found: list[Segment] = []
    for fps in range(LOW_FPS, HIGH_FPS + 1):
        s = pacing.of(fps)
        last = found[-1] if found else None
        if last is not None and (last.state, last.words) == (s.state, s.words):
            found[-1] = Segment(last.from_fps, fps, s.state, s.words)
        else:
            found.append(Segment(fps, fps, s.state, s.words))
    return found
