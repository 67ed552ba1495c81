"""What part of a reading is scan-out: the time a line waits for the beam, at its place, by the timing's own lines.

A screen that shows lines as they come is later at the bottom than at the top by nearly a frame; one that shows all at
once is not. Positions are shares of the picture's height from its top.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from itertools import combinations

from wavilex.core.lag.shapes import LightKind
from wavilex.core.lag.summary import median
from wavilex.core.video.named import timing_of
from wavilex.core.video.timing import Timing

POSITIONS: Mapping[str, Fraction] = {"top": Fraction(1, 10), "middle": Fraction(1, 2), "bottom": Fraction(9, 10)}
# measured slope over expected: what kind of light it is (own figures around 1 and 0)
_ROLLING = (Fraction(3, 4), Fraction(5, 4))
_AT_ONCE = Fraction(1, 5)


@dataclass(frozen=True, slots=True)
class ScanOut:
    """line_us: time of a line; frame_us: of a frame (of a field, interlaced); at_us: until the line at a position."""

    line_us: Fraction
    frame_us: Fraction
    active_us: Fraction

    def at_us(self, position: Fraction) -> Fraction:
        """From the first active line to the one at the position."""
        return position * self.active_us


def scan_out(timing: Timing) -> ScanOut:
    """Scan-out of a timing: line time and active time from its totals; of one field where it is interlaced."""
    line = Fraction(1_000_000 * timing.h_total) / Fraction(timing.pixel_clock_hz)
    lines = Fraction(timing.frame_height, 2 if timing.interlaced else 1)
    whole = 1_000_000 / timing.refresh
    return ScanOut(line, whole, line * lines)


def frame_of(signal: str) -> Fraction | None:
    """The time of a test signal's frame (of a field, interlaced) in µs; None where its name is no mode."""
    timing = timing_of(signal)
    return None if timing is None else 1_000_000 / timing.refresh


@dataclass(frozen=True, slots=True)
class Parts:
    """A reading taken apart, in µs: scan-out at its position and what is left for the screen's processing."""

    scan_us: Fraction
    processing_us: Fraction


def parts(reading_us: Fraction, timing: Timing, position: Fraction) -> Parts:
    """What of a reading is scan-out, and what is left. A negative rest: the screen shows ahead of the beam's place."""
    scan = scan_out(timing).at_us(position)
    return Parts(scan, reading_us - scan)


@dataclass(frozen=True, slots=True)
class Slope:
    """Top to bottom, in µs a picture height: measured (Theil–Sen over medians) against expected; kind of light."""

    measured_us: Fraction
    expected_us: Fraction
    kind: LightKind
    words: str


_WORDS = {
    "rolling": "lines light up as they come",
    "at_once": "the whole picture lights up at once: it waits for the last line",
    "strobed": "the light flashes when the picture is whole",
    "reversed": "the bottom is earlier than the top: is the picture turned, or are the positions swapped?",
    "between": "between the two: take more readings at top and bottom",
}


def slope(by_position: Mapping[str, Fraction], timing: Timing, *, strobes: bool = False) -> Slope | None:
    """How much later lower places are. by_position: the lag there in µs. strobes: black frames or a flashing light are
    known to be on. None below two positions.
    """
    points = [(POSITIONS[p], lag_us) for p, lag_us in by_position.items() if p in POSITIONS]
    if len(points) < 2:
        return None
    slopes = sorted((b - a) / (y - x) for (x, a), (y, b) in combinations(sorted(points), 2))
    measured = median([round(s) for s in slopes])
    expected = scan_out(timing).active_us
    share = measured / expected
    kind: LightKind
    if share < -_AT_ONCE:
        kind = "reversed"
    elif abs(share) <= _AT_ONCE:
        kind = "strobed" if strobes else "at_once"
    elif _ROLLING[0] <= share <= _ROLLING[1]:
        kind = "rolling"
    else:
        kind = "between"
    return Slope(measured, expected, kind, _WORDS[kind])
