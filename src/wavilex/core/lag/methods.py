"""Ways of taking a reading besides the meter: a film, camera frames, two counters in one picture, with their grain."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from wavilex.core.bounds import MOST_LAG_US
from wavilex.core.errors import WavilexError

METHODS = ("meter", "film", "camera", "reference", "typed", "guess")
MEASURED = ("meter", "film", "camera", "reference", "typed")
METHOD_NAMES = {
    "meter": "meter", "film": "a film", "camera": "camera frames", "reference": "two counters in one picture",
    "typed": "typed", "guess": "a guess",
}  # fmt: skip


class LagError(WavilexError):
    """Counts that give no lag."""

    code = "lag_impossible"


@dataclass(frozen=True, slots=True)
class Taken:
    """A reading in µs and how far it may be off to each side, in µs; step_ns: the frame it was counted by, in ns, None:
    not counted. Raises LagError past all bounds.
    """

    lag_us: int
    uncertainty_us: int
    step_ns: int | None = None

    def __post_init__(self) -> None:
        if not 0 < self.lag_us <= MOST_LAG_US:
            raise LagError(f"{self.lag_us / 1000:g} ms is no lag: under a minute, and over nothing", where="lag_ms")
        if self.uncertainty_us > MOST_LAG_US:
            raise LagError("it may be off by more than a minute: that is no reading")


def camera(frames: int, camera_fps: Fraction | int, fps_off: Fraction | int = 0) -> Taken:
    """From frames counted between act and light at a camera's rate.

    Off by up to a camera frame, one end and the other half each (the act and the light both fall somewhere inside a
    frame), and by how far the camera's rate may be off (fps_off, to each side). Raises LagError.
    """
    rate, off = Fraction(camera_fps), Fraction(fps_off)
    if frames < 1 or rate <= 0:
        raise LagError("count at least one frame, at a camera rate over 0")
    if not 0 <= off < rate:
        raise LagError("the camera's rate may be off by less than the rate itself")
    frame_us = 1_000_000 / rate
    slow = frames * (1_000_000 / (rate - off) - frame_us)
    return Taken(round(frames * frame_us), round(frame_us + slow), round(frame_us * 1000))


def reference(reference_ms: Fraction | float, screen_ms: Fraction | float, refresh_hz: Fraction | int) -> Taken:
    """From two counters photographed together: the reference runs ahead of the screen by its lag. Off by up to one
    refresh of each counter; both show the last refresh begun. Raises LagError where the screen is ahead.
    """
    lag_us = round((Fraction(reference_ms) - Fraction(screen_ms)) * 1000)
    if lag_us <= 0:
        raise LagError("the reference must read more than the screen: are the two the right way round?")
    if Fraction(refresh_hz) <= 0:
        raise LagError("a refresh rate over 0 is needed")
    step_us = 1_000_000 / Fraction(refresh_hz)
    return Taken(lag_us, round(step_us), round(step_us * 1000))
