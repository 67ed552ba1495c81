"""Line multiplication: every line sent n times; what comes out, what it is nearest to, and whether a screen takes it.

Totals are exact: n times the machine's lines at n times its line rate. Whole-line sampling makes lines as long as the
nearest standard's; sampling matched to the dots makes each dot a whole number of pixels wide.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from typing import Literal, Protocol, get_args

from wavilex.core.scan.described import Sampling
from wavilex.core.scan.signals import AnalogueVideo
from wavilex.core.video.codes import listed_timing
from wavilex.core.video.cta import VICS, cta_timing
from wavilex.core.video.dmt import DMT_IDS, dmt_timing
from wavilex.core.video.timing import Timing

# active lines and width a multiple is sent as, with the total pixels of a line: common practice
_RASTERS: Mapping[int, tuple[int, int, int]] = {
    1: (720, 240, 858), 2: (720, 480, 858), 3: (1280, 720, 1650), 4: (1280, 960, 1800), 5: (1920, 1080, 2200),
    6: (1920, 1440, 2600),
}  # fmt: skip
MOST_TIMES = max(_RASTERS)
_RASTERS_625: Mapping[int, tuple[int, int, int]] = {1: (720, 288, 864), 2: (720, 576, 864)}
SURE_PERCENT = Fraction(1, 2)  # what an input must take beside a listed rate: ±0.5 % (CTA-861; value from memory)
_DOUBTFUL_PERCENT = 3  # beyond this hardly any input follows: own figure
Taken = Literal["sure", "likely", "doubtful", "no"]
ANSWERS: tuple[Taken, ...] = get_args(Taken)


@dataclass(frozen=True, slots=True)
class Multiple:
    """What comes out of a multiplier. Rates in Hz; off_percent: vertical rate against the nearest standard.

    raster: the size it is sent in, of which sampling matched to the dots may leave some unused.
    """

    times: int
    sampling: Sampling
    raster: tuple[int, int]
    active: tuple[int, int]
    line_hz: Fraction
    lines: Fraction
    vertical_hz: Fraction
    dots: Fraction
    pixel_clock_hz: Fraction
    nearest: Timing
    off_percent: Fraction


def multiple(signal: AnalogueVideo, times: int, sampling: Sampling) -> Multiple:
    """A signal multiplied. Raises KeyError for a multiple nobody makes."""
    width, height, total = (_RASTERS_625.get(times) if signal.system == "625" else None) or _RASTERS[times]
    raster = width, height
    line, lines = signal.line_hz * times, signal.lines * times  # of an interlaced one, each field by itself
    dots: Fraction = Fraction(total)
    if sampling == "matched":
        whole = max(1, width // signal.active[0])
        dots, width = signal.dots * whole, signal.active[0] * whole
    vertical = line / lines
    standard = nearest_standard(*raster, vertical)
    off = (vertical - standard.refresh) / standard.refresh * 100
    return Multiple(times, sampling, raster, (width, height), line, lines, vertical, dots, dots * line, standard, off)


def times_of(width: int, height: int) -> int | None:
    """Which multiple is sent in a raster."""
    known = (*_RASTERS.items(), *_RASTERS_625.items())
    return next((n for n, (w, h, _) in known if (w, h) == (width, height)), None)


@lru_cache(maxsize=256)
def nearest_standard(width: int, height: int, hz: Fraction) -> Timing:
    """The progressive CTA or DMT timing nearest in lines, then width, then rate; CTA's where both have it."""
    known = [t for t in (*map(cta_timing, VICS), *map(dmt_timing, DMT_IDS)) if not t.interlaced]
    return min(known, key=lambda t: (abs(t.frame_height - height), abs(t.h_active - width), abs(t.refresh - hz)))


@dataclass(frozen=True, slots=True)
class Answer:
    """Does a screen take it: one of ANSWERS, why, and whether that was tried on site."""

    answer: Taken
    why: str
    tried: bool = False


class Listing(Protocol):
    """What of an input decides whether it takes a multiple. None: not known; modes: addresses, or `any`."""

    @property
    def tmds_hz(self) -> int | None: ...
    @property
    def modes(self) -> tuple[str, ...] | str | None: ...
    @property
    def vrr(self) -> tuple[int, int] | bool | None: ...


def taken_by(m: Multiple, state: Listing, tried: bool | None = None) -> Answer:
    """Will an input take a multiple? What was tried on site wins over what is listed.

    sure: a listed size within ±0.5 % of its rate, whole-line sampled. likely: the rate lies in the input's window.
    doubtful: a size it does not list, or sampling matched to the dots. no: past its clock, or far off its rates.
    """
    if tried is not None:
        return Answer("sure" if tried else "no", "tried here: a picture" if tried else "tried here: no picture", True)
    if state.tmds_hz is not None and m.pixel_clock_hz > state.tmds_hz:
        most = state.tmds_hz / 1e6
        return Answer("no", f"{float(m.pixel_clock_hz) / 1e6:.1f} MHz is over the input’s {most:g} MHz")
    listed = _listed(state.modes)
    if listed is None:
        return Answer("doubtful", "which modes the input lists is not known")
    same = [t for t in listed if (t.h_active, t.frame_height) == m.raster]
    off = min((abs(m.vertical_hz - t.refresh) / t.refresh * 100 for t in same), default=None)
    in_window = isinstance(state.vrr, tuple) and state.vrr[0] <= m.vertical_hz <= state.vrr[1]
    if off is None:
        size = f"{m.active[0]}×{m.active[1]}"
        return Answer("doubtful", f"it does not list {size}; " + ("its window helps with the rate" if in_window else
                                                                   "many inputs stay black"))  # fmt: skip
    if off > _DOUBTFUL_PERCENT and not in_window:
        return Answer("no", f"{float(off):.1f} % off the nearest rate it lists")
    if m.sampling == "matched":
        if in_window:
            return Answer("likely", "lines as long as the machine’s own, and a variable rate: it mostly follows")
        return Answer("doubtful", "sampling matched to the dots is the least compatible")
    if off <= SURE_PERCENT:
        return Answer("sure", f"{float(off):.2f} % off a rate it lists: within ±0.5 %")
    if in_window:
        return Answer("likely", f"{float(off):.1f} % off its rates, inside its variable window")
    return Answer("doubtful", f"{float(off):.1f} % off the nearest rate it lists")


@lru_cache(maxsize=256)
def _listed(modes: tuple[str, ...] | str | None) -> list[Timing] | None:
    if modes is None or isinstance(modes, str):
        return None
    return [listed_timing(m) for m in modes]
