"""Compressed transport over FRL: slices, chunk bytes and the highest bits per pixel that fits.

Source: VESA DSC 1.2a, HDMI 2.1 compressed transport; value from memory. The margin is approximate.
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from wavilex.core.link.frl import overhead
from wavilex.core.link.rates import FrlRate
from wavilex.core.video.signal import Demand

# sink slice code: (most slices, ceiling per slice in MHz)
SLICE_CODES: dict[int, tuple[int, int]] = {
    0: (0, 0), 1: (1, 340), 2: (2, 340), 3: (4, 340), 4: (8, 340), 5: (8, 400), 6: (12, 400), 7: (16, 400),
}  # fmt: skip
_SLICE_STEPS = (1, 2, 4, 8, 12, 16)
_MAX_SLICE_WIDTH = 2720
_LEAST_BPP = {"rgb": 8, "444": 8, "422": 7, "420": 6}
_MOST_PER_BIT = {"rgb": Fraction(3), "444": Fraction(3), "422": Fraction(2), "420": Fraction(3, 2)}
_USUAL_MOST_BPP = 12  # unless the sink declares all bits per pixel


@dataclass(frozen=True, slots=True)
class DscSink:
    """What a sink says of compression. chunk_kib 0 means not declared."""

    slice_code: int = 4
    chunk_kib: int = 0
    all_bpp: bool = False


@dataclass(frozen=True, slots=True)
class DscUse:
    """The compressed line. bits_per_pixel in sixteenths, as the document counts."""

    slices: int
    bits_per_pixel_x16: int
    used: Fraction


def dsc_use(need: Demand, rate: FrlRate, sink: DscSink) -> DscUse | None:
    """The highest bits per pixel that fits `rate`, or None when even the least does not."""
    signal = need.signal
    t = signal.timing
    slices = _slices(need, sink)
    if slices is None:
        return None
    width = -(-t.h_active // slices)
    lost = overhead(rate.lanes)
    line_num, line_den = t.h_total * 200, t.pixel_clock_hz * 201
    characters = line_num * rate.lanes * rate.lane_gbps * 10**9 * 9997 // (line_den * 18 * 10000)
    if not characters:
        return None
    most = _MOST_PER_BIT[signal.encoding] * signal.bits - Fraction(1, 16)
    if not sink.all_bpp:
        most = min(most, Fraction(_USUAL_MOST_BPP))
    for x16 in range(int(most * 16), _LEAST_BPP[signal.encoding] * 16 - 1, -1):
        chunk = slices * -(-width * x16 // 128)
        if sink.chunk_kib and chunk > 1024 * (1 + sink.chunk_kib):
            continue
        active = -(-chunk // 3)
        blank = max(-(-active * t.h_blank // t.h_active), need.blank_needed)
        used = Fraction(-(-3 * active // 2) + blank, characters) + lost
        if used <= 1:
            return DscUse(slices, x16, used)
    return None


def _slices(need: Demand, sink: DscSink) -> int | None:
    most, ceiling_mhz = SLICE_CODES[sink.slice_code]
    t = need.signal.timing
    halves = 1 if need.signal.encoding in ("rgb", "444") else 2
    for slices in _SLICE_STEPS:
        if slices > most:
            return None
        if t.h_active <= _MAX_SLICE_WIDTH * slices and (t.pixel_clock_hz <= ceiling_mhz * 1_000_000 * slices * halves):
            return slices
    return None
