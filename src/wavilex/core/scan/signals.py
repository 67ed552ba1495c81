"""Analogue signals worked out from a machine's clocks, and how an input treats them.

Sources: ITU-R BT.1700 (525 lines at 15.734 kHz, 625 at 15.625 kHz), BT.601 (13.5 MHz, 858 and 864 samples); square
pixels at 135/11 MHz (525) and 14.75 MHz (625) of an interlaced frame.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import lru_cache
from typing import Literal

from wavilex.core.scan.described import Scan, Sync, Takes
from wavilex.core.video.timing import Timing

SQUARE_HZ = {"525": Fraction(135_000_000, 11), "625": Fraction(14_750_000)}
_WIDE_SLACK = Fraction(2, 100)  # 1366 × 768 and 854 × 480 are called 16:9, too
_TELEVISION_KHZ = (15, Fraction(163, 10))
# lines of a field that carry picture: of BT.601's 720 × 480 and 720 × 576 (480: common practice)
_FIELD_LINES = {"525": 240, "625": 288}
NAMES = {"525": "525 lines", "625": "625 lines", "vga": "computer rates"}
SYNCS: Mapping[str, str] = {
    "on_picture": "sync on the picture wire", "separate": "sync on a wire of its own",
    "on_luma": "sync on green or luma", "two_wires": "line and frame sync on two wires",
}  # fmt: skip
# colour carriers, Hz (BT.1700): 455/2 × the 525-line rate; (1135/4 + 1/625) × 15625; 282 × 15625 for its red lines
CARRIERS_HZ: Mapping[str, Fraction] = {
    "ntsc": Fraction(455, 2) * Fraction(4_500_000, 286),
    "pal": (Fraction(1135, 4) + Fraction(1, 625)) * 15_625,
    "secam": Fraction(282) * 15_625,
    "pal_525": (Fraction(1135, 4) + Fraction(1, 625)) * 15_625,
}
COLOURS: Mapping[str, str] = {
    name: f"{text}, carrier at {float(CARRIERS_HZ[name]) / 1e6:.2f} MHz"
    for name, text in (("ntsc", "NTSC"), ("pal", "PAL"), ("secam", "SECAM"), ("pal_525", "PAL colour on 525 lines"))
}
_COLOUR_PLUGS = ("composite", "s_video")  # they carry colour on a carrier; the others carry it apart
_PLUG_SYNC: Mapping[str, Sync] = {
    "component": "on_luma", "composite": "on_picture", "s_video": "on_luma", "vga": "two_wires",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class AnalogueVideo:
    """An analogue signal. Rates in Hz; lines a field (262, or 262½ interlaced); shape: width to height as meant."""

    system: str  # 525, 625, vga
    line_hz: Fraction
    vertical_hz: Fraction
    lines: Fraction
    dots: Fraction
    dot_clock_hz: Fraction
    active: tuple[int, int]
    interlaced: bool
    pixel_aspect: Fraction | None
    shape: Fraction
    sync: Sync = "on_picture"
    colour: str | None = None

    @property
    def frame_lines(self) -> int:
        """Lines a television shows, the border an old machine leaves above and below its picture included."""
        field = _FIELD_LINES.get(self.system)
        return self.active[1] if field is None else max(self.active[1], field * (2 if self.interlaced else 1))

    @property
    def field_lines(self) -> int:
        """Lines of one field that carry picture: what a multiplier sends at once."""
        return self.active[1] // 2 if self.interlaced else self.active[1]

    @property
    def covers(self) -> tuple[Fraction, Fraction]:
        """The part of a 4:3 frame the picture takes, across and down; at computer rates the whole."""
        if self.system not in _FIELD_LINES:
            return Fraction(1), Fraction(1)
        down = Fraction(self.active[1], self.frame_lines)
        return min(Fraction(1), self.shape * down / Fraction(4, 3)), down

    @property
    def name(self) -> str:
        """`262 lines, 15.73 kHz, 60.05 Hz`."""
        lines = f"{float(self.lines):g}"
        kind = ", interlaced" if self.interlaced else ""
        return f"{lines} lines{kind}, {float(self.line_hz) / 1000:.2f} kHz, {float(self.vertical_hz):.2f} Hz"


@lru_cache(maxsize=1024)
def analogue(scan: Scan) -> AnalogueVideo:
    """The signal a machine's clocks give: line rate = dot clock over dots a line, and so on; nothing is rounded."""
    clock, dots = Fraction(scan.dot_clock_hz), Fraction(scan.dots)
    line = clock / dots
    lines = Fraction(scan.lines, 2) if scan.interlaced else Fraction(scan.lines)
    width, height = (int(n) for n in scan.active.split("x"))
    system = system_of(line, lines)
    aspect = pixel_aspect(system, clock, scan.interlaced)
    shape = Fraction(4, 3)
    if scan.shape is not None:
        across, down = (int(n) for n in scan.shape.split(":"))
        shape = Fraction(across, down)
    elif aspect is not None:
        shape = aspect * width / height
    elif is_wide(width, height):
        shape = Fraction(16, 9)
    return AnalogueVideo(
        system, line, line / lines, lines, dots, clock, (width, height), scan.interlaced, aspect, shape, scan.sync,
        scan.colour,
    )  # fmt: skip


def from_timing(timing: Timing | None) -> AnalogueVideo | None:
    """The analogue signal an adapter makes of a digital timing; its raster fills the tube."""
    if timing is None:
        return None
    clock, dots = Fraction(timing.pixel_clock_hz), Fraction(timing.h_total)
    line = clock / dots
    shape = Fraction(16, 9) if is_wide(timing.h_active, timing.frame_height) else Fraction(4, 3)
    return AnalogueVideo(
        system_of(line, line / timing.refresh), line, timing.refresh, line / timing.refresh, dots, clock,
        (timing.h_active, timing.frame_height), timing.interlaced, None, shape, "two_wires",
    )  # fmt: skip


def is_wide(width: int, height: int) -> bool:
    """Is a raster one of square dots in 16:9 (720p, 1080i by component)? Others are meant for a 4:3 tube."""
    return abs(Fraction(width * 9, height * 16) - 1) <= _WIDE_SLACK


def system_of(line_hz: Fraction, lines: Fraction) -> str:
    """525 or 625 by lines a field at television's line rate; anything faster is a computer's."""
    low, high = _TELEVISION_KHZ
    if not low * 1000 <= line_hz <= high * 1000:
        return "vga"
    return "525" if lines < 288 else "625"


def pixel_aspect(system: str, dot_clock_hz: Fraction, interlaced: bool) -> Fraction | None:
    """Width of a dot to its height on a 4:3 picture tube: the square-pixel rate over the dot clock.

    Progressive low-resolution lines lie twice as far apart, so half the rate: 5.3693 MHz → 8:7. None at computer
    rates: there the raster fills the tube.
    """
    square = SQUARE_HZ.get(system)
    if square is None:
        return None
    return (square if interlaced else square / 2) / dot_clock_hz


Handling = Literal["correct", "as_interlaced", "black", "rolling", "refused", "no_sync", "grey"]
TREATMENTS: Mapping[Handling, str] = {
    "correct": "takes it as it is",
    "as_interlaced": "takes it for interlaced: later, and combed",
    "black": "stays black with it",
    "rolling": "shows it rolling",
    "refused": "takes no such scan rate",
    "no_sync": "finds no sync: it reads none of this kind",
    "grey": "shows it without colour: it does not know this colour system",
}
GOOD: tuple[Handling, ...] = ("correct", "as_interlaced")  # treatments that give a picture


def treatment(signal: AnalogueVideo, takes: Sequence[Takes] | None) -> Handling | None:
    """How an input treats a signal: its first range that holds it; `refused` where none does; None: not known.

    `no_sync`: it reads no such sync. `grey`: it knows its colour system not, and shows no colour.
    """
    if takes is None:
        return None
    for t in takes:
        if t.interlaced is not None and t.interlaced != signal.interlaced:
            continue
        khz, hz = float(signal.line_hz) / 1000, float(signal.vertical_hz)
        if t.line_khz[0] <= khz <= t.line_khz[1] and t.hz[0] <= hz <= t.hz[1]:
            return _but_for_sync_and_colour(signal, t)
    return "refused"


def _but_for_sync_and_colour(signal: AnalogueVideo, takes: Takes) -> Handling:
    if takes.syncs is not None and signal.sync not in takes.syncs:
        return "no_sync"
    if takes.treats == "correct" and signal.colour and takes.colours is not None and signal.colour not in takes.colours:
        return "grey"
    return takes.treats


def through_plug(signal: AnalogueVideo, plug: str) -> AnalogueVideo:
    """The signal as it leaves a plug: sync as the plug has it, colour apart where it has wires for it."""
    sync = _PLUG_SYNC.get(plug, signal.sync)
    return replace(signal, sync=sync, colour=signal.colour if plug in _COLOUR_PLUGS else None)


@dataclass(frozen=True, slots=True)
class RateChange:
    """A vertical rate turned into another. per_minute: frames dropped (over 0) or shown twice (under 0) in a minute."""

    from_hz: Fraction
    to_hz: Fraction
    per_minute: Fraction
    words: str


def rate_change(from_hz: Fraction, to_hz: Fraction, window: tuple[int, int] | None = None) -> RateChange:
    """What a converted rate does to motion; a window at the screen that holds the machine's own rate is the cure."""
    per_minute = (from_hz - to_hz) * 60
    if per_minute == 0:
        words = "the rate is the machine’s own: nothing is dropped"
    elif abs(from_hz - to_hz) < 1:
        every = 60 / float(abs(per_minute))
        what = "dropped" if per_minute > 0 else "shown twice"
        words = f"a frame is {what} every {every:.0f} s: a small hitch"
    else:
        what = "dropped" if per_minute > 0 else "repeated"
        words = f"{abs(float(per_minute)) / 60:.1f} frames a second are {what}: scrolling judders"
    if per_minute and window is not None and window[0] <= from_hz <= window[1]:
        words += f"; a variable rate at the screen ({window[0]} to {window[1]} Hz) would show the machine’s own"
    return RateChange(from_hz, to_hz, per_minute, words)


_ONE_RATE_KHZ = 2  # a range no wider is one rate: 15.5 to 16


def socket_rates(sends: Sequence[Scan], takes: Sequence[Takes] | None) -> tuple[str, str]:
    """What an analogue socket sends or takes, in short (`15, 31 kHz`) and in full; `? kHz` where nobody knows."""
    if sends:
        signals = [analogue(s) for s in sends]
        khz = dict.fromkeys(f"{int(s.line_hz / 1000)}" for s in signals)
        return f"{', '.join(khz)} kHz", "; ".join(s.name for s in signals)
    if takes is None:
        return "? kHz", "a picture, its scan rate not known"
    short, full = [], []
    for t in takes:
        low, high = t.line_khz
        short.append(f"{int(low)}" if high - low < _ONE_RATE_KHZ else f"{low:g}–{high:g}")
        full.append(f"{low:g} to {high:g} kHz at {t.hz[0]:g} to {t.hz[1]:g} Hz")
    return f"{', '.join(dict.fromkeys(short))} kHz", "; ".join(full)
