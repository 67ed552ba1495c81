"""Line multiplication: every line sent n times; what comes out, what it is nearest to, and whether a screen takes it.

Totals are exact: n times the machine's lines at n times its line rate. Whole-line sampling makes lines as long as the
nearest standard's; sampling matched to the dots makes each dot a whole number of pixels wide.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from math import ceil
from typing import Literal, Protocol, get_args

from wavilex.core.scan.described import Sampling
from wavilex.core.scan.signals import AnalogueVideo
from wavilex.core.video.codes import listed_timing
from wavilex.core.video.cta import VICS, cta_timing
from wavilex.core.video.dmt import DMT_IDS, dmt_timing
from wavilex.core.video.modeline import parse_modeline
from wavilex.core.video.timing import Timing

# active lines and width a multiple is sent as, with the total pixels of a line: common practice
_RASTERS: Mapping[int, tuple[int, int, int]] = {
    1: (720, 240, 858), 2: (720, 480, 858), 3: (1280, 720, 1650), 4: (1280, 960, 1800), 5: (1920, 1080, 2200),
    6: (1920, 1440, 2600),
}  # fmt: skip
MOST_TIMES = max(_RASTERS)
_RASTERS_625: Mapping[int, tuple[int, int, int]] = {1: (720, 288, 864), 2: (720, 576, 864)}
SURE_PERCENT = Fraction(1, 2)  # what an input must take beside a listed clock: ±0.5 % (CTA-861; value from memory)
_SURE_FRAMES_PERCENT = 1  # 524 lines for 525 are nothing; a tenth fewer are: own figure
_DOUBTFUL_PERCENT = 3  # off in frames a second, beyond this hardly any input follows: own figure
_LIKELY_PERCENT, _LIKELY_HEIGHT = 6, 720  # multiples to 720 lines nearly always work: common practice
_BETWEEN_HZ = 55  # below: of the 50 Hz family
_TALL_FIELD = 400  # lines of a field from which on a signal has the lines of 480p already
Taken = Literal["sure", "likely", "doubtful", "no"]
ANSWERS: tuple[Taken, ...] = get_args(Taken)


@dataclass(frozen=True, slots=True)
class Multiple:
    """What comes out of a multiplier. Rates in Hz; off_percent: pixel clock against the nearest standard's.

    raster: the size it is sent in, of which sampling matched to the dots may leave some unused.
    lines: a frame; of an interlaced signal each field is a frame (bobbed), half a line makes two totals by turns.
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
    step = times * unit_of(signal)
    width, height, total = (_RASTERS_625.get(step) if _of_625(signal) else None) or _RASTERS[step]
    raster = width, height
    line, lines = signal.line_hz * times, signal.lines * times
    vertical = line / lines
    standard = nearest_standard(*raster, vertical)
    if standard.h_active == width and step > 1:
        total = standard.h_total  # 1650 at 60 Hz, 1980 at 50
    dots: Fraction = Fraction(total)
    if sampling == "matched":
        whole = max(1, width // signal.active[0])
        dots, width = signal.dots * whole, signal.active[0] * whole
    off = (dots * line / standard.pixel_clock_hz - 1) * 100
    return Multiple(times, sampling, raster, (width, height), line, lines, vertical, dots, dots * line, standard, off)


def unit_of(signal: AnalogueVideo) -> int:
    """How many of a low-resolution signal's lines stand in one place of this one: 1, or 2 of 480p and its like."""
    return 2 if signal.lines >= _TALL_FIELD else 1


def _of_625(signal: AnalogueVideo) -> bool:
    """Is it of the 50 Hz family: 288 or 576 lines."""
    return signal.vertical_hz < _BETWEEN_HZ


def times_of(width: int, height: int, signal: AnalogueVideo | None = None) -> int | None:
    """Which multiple is sent in a raster; None: in none, or not in whole lines of this signal (480p into 720 lines)."""
    known = (*_RASTERS.items(), *_RASTERS_625.items())
    step = next((n for n, (w, h, _) in known if (w, h) == (width, height)), None)
    unit = unit_of(signal) if signal is not None else 1
    return None if step is None or step % unit else step // unit


def offered(multiples: Sequence[int], signal: AnalogueVideo) -> list[int]:
    """The multiples a box that multiplies low-resolution lines so makes of a signal: 480p once, or twice at most."""
    unit = unit_of(signal)
    return [m // unit for m in multiples if m % unit == 0]


def sent_timing(m: Multiple) -> Timing:
    """A multiple as a timing of its own, its clock exact to the Hz: what the link behind carries."""
    near, (width, height) = m.nearest, m.raster
    total, lines = max(round(m.dots), width + near.h_front + near.h_sync + 1), ceil(m.lines)
    v_front, v_sync = near.v_front, near.v_sync
    if lines <= height + v_front + v_sync:
        v_front, v_sync = 1, 1
    edges_h = (width, width + near.h_front, width + near.h_front + near.h_sync, total)
    edges_v = (height, height + v_front, height + v_front + v_sync, max(lines, height + v_front + v_sync + 1))
    return parse_modeline(f"{round(m.pixel_clock_hz) / 1e6:.6f} {' '.join(map(str, (*edges_h, *edges_v)))}")


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


def taken_by(m: Multiple, state: Listing, tried: bool | None = None, most_hz: int | None = None) -> Answer:
    """Will an input take a multiple? What was tried on site wins over what is listed. most_hz: the multiplier's own
    ceiling, in Hz.

    sure: clock and line rate within ±0.5 % of a timing of this size that it lists. likely: of no more than 720 lines
    and not far off. doubtful: anything else that it might follow. no: past a ceiling, or far off in frames a second.
    """
    if tried is not None:
        return Answer("sure" if tried else "no", "tried here: a picture" if tried else "tried here: no picture", True)
    if most_hz is not None and m.pixel_clock_hz > most_hz:
        return Answer(
            "no", f"{float(m.pixel_clock_hz) / 1e6:.1f} MHz is over the multiplier’s own {most_hz / 1e6:g} MHz"
        )
    if state.tmds_hz is not None and m.pixel_clock_hz > state.tmds_hz:
        most = state.tmds_hz / 1e6
        return Answer("no", f"{float(m.pixel_clock_hz) / 1e6:.1f} MHz is over the input’s {most:g} MHz")
    listed = _listed(state.modes)
    if listed is None:
        return Answer("doubtful", "which modes the input lists is not known")
    same = [t for t in listed if (t.h_active, t.frame_height) == m.raster and not t.interlaced]
    in_window = isinstance(state.vrr, tuple) and state.vrr[0] <= m.vertical_hz <= state.vrr[1]
    if not same:
        helps = "; its window helps with the rate" if in_window else "; many inputs stay black"
        return Answer("doubtful", f"it does not list {m.raster[0]}×{m.raster[1]}{helps}")
    near = min(same, key=lambda t: (abs(m.vertical_hz / t.refresh - 1) > SURE_PERCENT / 100, _off(m, t)))
    return _beside(m, near, in_window)


def _beside(m: Multiple, listed: Timing, in_window: bool) -> Answer:
    """Held against the nearest timing of its size that an input lists."""
    clock, line = (abs(x) for x in _offs(m, listed))
    frames = abs(m.vertical_hz / listed.refresh - 1) * 100
    if frames > _DOUBTFUL_PERCENT and not in_window:
        return Answer("no", f"{float(frames):.1f} % off the nearest rate it lists in this size")
    listed_khz = listed.pixel_clock_hz / listed.h_total / 1000
    figures = (
        f"{_mhz(m.pixel_clock_hz)} MHz and {float(m.line_hz) / 1000:.1f} kHz against {_mhz(listed.pixel_clock_hz)} and "
        f"{listed_khz:.1f} of a timing it lists"
    )
    if max(clock, line) <= SURE_PERCENT:
        if frames <= _SURE_FRAMES_PERCENT:
            return Answer("sure", f"{figures}: within ±{float(SURE_PERCENT):g} %")
        word: Taken = "likely" if in_window else "doubtful"
        return Answer(word, f"{figures}, {float(frames):.1f} % off in frames a second" + _WINDOW_HELPS * in_window)
    if m.sampling == "matched":
        return Answer("doubtful", f"{figures}; sampling matched to the dots is the least compatible")
    if m.raster[1] <= _LIKELY_HEIGHT and max(clock, line) <= _LIKELY_PERCENT:
        return Answer("likely", f"{figures}; multiples to {_LIKELY_HEIGHT} lines nearly always work (common practice)")
    return Answer("doubtful", figures)


def _mhz(hz: Fraction | int) -> str:
    return f"{float(hz) / 1e6:.1f}"


_WINDOW_HELPS = ", which its window allows"


def _offs(m: Multiple, t: Timing) -> tuple[Fraction, Fraction]:
    """Pixel clock and line rate against a timing's, in percent."""
    line = Fraction(t.pixel_clock_hz, t.h_total)
    return (m.pixel_clock_hz / t.pixel_clock_hz - 1) * 100, (m.line_hz / line - 1) * 100


def _off(m: Multiple, t: Timing) -> Fraction:
    return max(abs(x) for x in _offs(m, t))


@lru_cache(maxsize=256)
def _listed(modes: tuple[str, ...] | str | None) -> list[Timing] | None:
    if modes is None or isinstance(modes, str):
        return None
    return [listed_timing(m) for m in modes]
