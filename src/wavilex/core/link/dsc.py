"""Compressed transport over FRL: slices, chunk bytes and the highest bits per pixel that fits.

Source: VESA DSC 1.2a, HDMI 2.1 compressed transport; value from memory. The margin is approximate.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Literal

from wavilex.core.link.frl import overhead
from wavilex.core.link.rates import FrlRate
from wavilex.core.video.signal import Demand
from wavilex.core.video.worst import fewest_characters

# sink slice code: (most slices, ceiling per slice in MHz)
SLICE_CODES: dict[int, tuple[int, int]] = {
    0: (0, 0), 1: (1, 340), 2: (2, 340), 3: (4, 340), 4: (8, 340), 5: (8, 400), 6: (12, 400), 7: (16, 400),
}  # fmt: skip


def slice_code(slices: int, slice_mhz: int) -> int | None:
    """The code a sink declares this many slices of this clock by, or None when there is none."""
    return next((code for code, pair in SLICE_CODES.items() if pair == (slices, slice_mhz)), None)


def widest_code(cut: tuple[int, int]) -> int:
    """The widest code whose slices and clock are within these; 0: none."""
    return max(code for code, pair in SLICE_CODES.items() if pair[0] <= cut[0] and pair[1] <= cut[1])


_SLICE_STEPS = (1, 2, 4, 8, 12, 16)
_MAX_SLICE_WIDTH = 2720
LEAST_BPP = {"rgb": 8, "444": 8, "422": 7, "420": 6}
MOST_PER_BIT = {"rgb": Fraction(3), "444": Fraction(3), "422": Fraction(2), "420": Fraction(3, 2)}
USUAL_MOST_BPP = 12  # unless the sink declares all bits per pixel


@dataclass(frozen=True, slots=True)
class DscSink:
    """What a sink says of compression. chunk_kib 0 means not declared; frl None: no step of its own named.

    formats: the encodings it takes compressed; dp_cut: slices and MHz where it is told over DisplayPort.

    certain False: it is not known whether the path compresses at all; the figures are then the widest there are.
    """

    slice_code: int = 4
    chunk_kib: int = 0
    all_bpp: bool = False
    frl: FrlRate | None = None
    bits: tuple[int, ...] = (8, 10, 12, 16)
    certain: bool = True
    formats: tuple[str, ...] = ("rgb", "444", "422", "420")
    dp_cut: tuple[int, int] | None = None

    @property
    def cut(self) -> tuple[int, int]:
        """The most slices of a line and the MHz of each, over DisplayPort."""
        return self.dp_cut or SLICE_CODES[self.slice_code]


UNCERTAIN = DscSink(slice_code=7, all_bpp=True, certain=False, dp_cut=(24, 400))


def common_dsc(a: DscSink | bool | None, b: DscSink | bool | None) -> DscSink | bool | None:
    """What two boxes in a row compress together: False beats unknown beats the narrower of two."""
    if a is False or b is False:
        return False
    if a is None or b is None:
        return None
    if a is True or b is True:
        return b if a is True else a
    kib = min(a.chunk_kib or 64, b.chunk_kib or 64) % 64
    steps = [x for x in (a.frl, b.frl) if x is not None]
    return DscSink(
        min(a.slice_code, b.slice_code), kib, a.all_bpp and b.all_bpp, min(steps, default=None),
        tuple(x for x in a.bits if x in b.bits), a.certain and b.certain,
        tuple(x for x in a.formats if x in b.formats), (min(a.cut[0], b.cut[0]), min(a.cut[1], b.cut[1])),
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class DscUse:
    """The compressed line over `rate`, None over DisplayPort. bits_per_pixel in sixteenths, as the document counts."""

    rate: FrlRate | None
    slices: int
    chunk_bytes: int
    bits_per_pixel_x16: int
    used: Fraction


@dataclass(frozen=True, slots=True)
class DscStop:
    """Why nothing compressed passes. why: the depth is not taken; the line needs more slices; the rate is too small
    for the fewest bits a pixel; the sink's bound of bytes a line is. with_slices: what would pass if only the sink cut
    a line into more of them, each no faster.
    """

    why: Literal["depth", "slices", "rate", "bytes"]
    slices: int
    used: Fraction | None = None
    with_slices: DscUse | None = None


def dsc_use(need: Demand, rate: FrlRate, sink: DscSink) -> DscUse | DscStop:
    """The highest bits per pixel that fits `rate`, or what stops even the least."""
    signal = need.signal
    slices = slice_count(need, SLICE_CODES[sink.slice_code], _SLICE_STEPS)
    if signal.bits not in sink.bits or signal.encoding not in sink.formats:
        return DscStop("depth", slices or 0)
    if slices is None:
        most, mhz = SLICE_CODES[sink.slice_code]
        wider = (replace(sink, slice_code=c) for c, (n, each) in SLICE_CODES.items() if n > most and each >= mhz)
        tried = (dsc_use(need, rate, w) for w in wider)
        return DscStop("slices", most, with_slices=next((u for u in tried if isinstance(u, DscUse)), None))
    return _within(need, rate if sink.frl is None else min(rate, sink.frl), sink, slices)


def _within(need: Demand, rate: FrlRate, sink: DscSink, slices: int) -> DscUse | DscStop:
    """The most bits a pixel that so many slices and this rate hold."""
    signal = need.signal
    t = signal.timing
    if not rate.lanes:
        return DscStop("rate", slices)
    width = -(-t.h_active // slices)
    lost = overhead(rate.lanes)
    characters = fewest_characters(t, rate.lanes, rate.lane_gbps)
    if not characters:
        return DscStop("rate", slices)
    most = MOST_PER_BIT[signal.encoding] * signal.bits - Fraction(1, 16)
    if not sink.all_bpp:
        most = min(most, Fraction(USUAL_MOST_BPP))
    stop = DscStop("bytes", slices)
    for x16 in range(int(most * 16), LEAST_BPP[signal.encoding] * 16 - 1, -1):
        chunk = slices * -(-width * x16 // 128)
        if sink.chunk_kib and chunk > 1024 * (1 + sink.chunk_kib):
            continue
        active = -(-chunk // 3)
        blank = max(-(-active * t.h_blank // t.h_active), need.blank_needed)
        used = Fraction(-(-3 * active // 2) + blank, characters) + lost
        if used <= 1:
            return DscUse(rate, slices, chunk, x16, used)
        stop = DscStop("rate", slices, used)
    return stop


def slice_count(need: Demand, cut: tuple[int, int], steps: tuple[int, ...]) -> int | None:
    """The fewest slices of a line, of those a link knows, that a decoder keeps up with; None: it has too few."""
    most, ceiling_mhz = cut
    t = need.signal.timing
    halves = 1 if need.signal.encoding in ("rgb", "444") else 2
    for slices in steps:
        if slices > most:
            return None
        if t.h_active <= _MAX_SLICE_WIDTH * slices and (t.pixel_clock_hz <= ceiling_mhz * 1_000_000 * slices * halves):
            return slices
    return None
