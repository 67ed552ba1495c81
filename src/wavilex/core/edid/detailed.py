"""The 18-byte detailed timing descriptor and DisplayID's type VII timing, both ways.

Source: VESA E-EDID 1.4 section 3.10.2; VESA DisplayID 2.0 type VII; values from memory of the documents.
"""

from __future__ import annotations

import re
from fractions import Fraction

from wavilex.core.errors import TimingError
from wavilex.core.video.codes import parse_timing
from wavilex.core.video.timing import Timing

DTD_BYTES = 18
TYPE7_BYTES = 20
DTD_MAX_CLOCK_HZ = 655_350_000
DTD_MAX_PIXELS = 4095


def read_detailed(d: bytes) -> Timing | None:
    """A timing from 18 bytes; None when they are none. Porches beyond the blanking are cut to it: see `implausible`."""
    figures = _figures(d)
    digital_separate = (d[17] & 0x18) == 0x18
    return timing_from(
        *figures, interlaced=bool(d[17] & 0x80), h_plus=bool(digital_separate and d[17] & 2),
        v_plus=bool(digital_separate and d[17] & 4),
    )  # fmt: skip


def implausible(d: bytes) -> str:
    """What is wrong with the figures of a detailed timing, in words; "" where nothing is."""
    _, _, h_blank, h_front, h_sync, _, v_blank, v_front, v_sync = _figures(d)
    used = (("horizontal", h_blank, h_front + h_sync), ("vertical", v_blank, v_front + v_sync))
    over = [name for name, blank, taken in used if taken > blank]
    if over:
        return f"its {' and '.join(over)} porch and sync are longer than the blanking"
    none = [name for name, sync in (("horizontal", h_sync), ("vertical", v_sync)) if not sync]
    return f"it has no {' and no '.join(none)} sync" if none else ""


def _figures(d: bytes) -> tuple[int, int, int, int, int, int, int, int, int]:
    """Clock in Hz; across and down: active, blanking, front porch, sync."""
    clock = int.from_bytes(d[0:2], "little") * 10_000
    h_active, h_blank = d[2] | (d[4] & 0xF0) << 4, d[3] | (d[4] & 0x0F) << 8
    v_active, v_blank = d[5] | (d[7] & 0xF0) << 4, d[6] | (d[7] & 0x0F) << 8
    h_front, h_sync = d[8] | (d[11] & 0xC0) << 2, d[9] | (d[11] & 0x30) << 4
    v_front, v_sync = d[10] >> 4 | (d[11] & 0x0C) << 2, (d[10] & 0x0F) | (d[11] & 0x03) << 4
    return clock, h_active, h_blank, h_front, h_sync, v_active, v_blank, v_front, v_sync


def timing_from(
    clock: int, ha: int, hb: int, hf: int, hs: int, va: int, vb: int, vf: int, vs: int,
    *, interlaced: bool, h_plus: bool, v_plus: bool, of_frame: bool = False,
) -> Timing | None:  # fmt: skip
    """Clock in Hz; across, down: active, blanking, front porch, sync. of_frame: lines of both fields are counted.

    None without a clock, a picture or blanking. Porches and sync are cut to the blanking; a sync is there in any case.
    """
    if interlaced and of_frame:
        va, vb, vf, vs = va // 2, vb // 2, vf // 2, vs // 2
    if not clock or not ha or not va or not hb or not vb:
        return None
    hf, vf = min(hf, hb - 1), min(vf, vb - 1)
    hs, vs = max(1, min(hs, hb - hf)), max(1, min(vs, vb - vf))
    h_back, v_back = hb - hf - hs, vb - vf - vs
    lines = Fraction(va + vb) + (Fraction(1, 2) if interlaced else 0)
    return Timing(
        "", "detailed", ha, hf, hs, h_back, va, vf, vs, v_back, clock,
        Fraction(clock) / ((ha + hb) * lines), interlaced, h_plus, v_plus,
    )  # fmt: skip


def fits_detailed(t: Timing) -> bool:
    """Can 18 bytes say this timing, its clock to the nearest 10 kHz? Not above 655.35 MHz or 4095 pixels."""
    return (
        t.pixel_clock_hz <= DTD_MAX_CLOCK_HZ
        and max(t.h_active, t.h_blank, t.v_active) <= DTD_MAX_PIXELS
        and max(t.h_front, t.h_sync) < 1024
        and max(t.v_front, t.v_sync) < 64
        and t.v_front + t.v_sync + t.v_back <= DTD_MAX_PIXELS
    )


def write_detailed(t: Timing, width_mm: int, height_mm: int) -> bytes:
    """18 bytes for a timing that fits them. Sizes in mm up to 4095."""
    v_blank = t.v_front + t.v_sync + t.v_back
    flags = 0x18 | (0x80 if t.interlaced else 0) | (2 if t.h_sync_positive else 0) | (4 if t.v_sync_positive else 0)
    return bytes([
        *((t.pixel_clock_hz + 5_000) // 10_000).to_bytes(2, "little"),
        t.h_active & 255, t.h_blank & 255, (t.h_active >> 8) << 4 | t.h_blank >> 8,
        t.v_active & 255, v_blank & 255, (t.v_active >> 8) << 4 | v_blank >> 8,
        t.h_front & 255, t.h_sync & 255, (t.v_front & 15) << 4 | (t.v_sync & 15),
        (t.h_front >> 8) << 6 | (t.h_sync >> 8) << 4 | (t.v_front >> 4) << 2 | t.v_sync >> 4,
        width_mm & 255, height_mm & 255, (width_mm >> 8) << 4 | height_mm >> 8, 0, 0, flags,
    ])  # fmt: skip


def read_type7(d: bytes, step_hz: int = 1000) -> Timing | None:
    """A timing from DisplayID's 20-byte type VII descriptor, or type I's with a clock in steps of 10 kHz."""

    def word(at: int) -> int:
        return int.from_bytes(d[at : at + 2], "little")

    clock = (int.from_bytes(d[0:3], "little") + 1) * step_hz
    return timing_from(
        clock, word(4) + 1, word(6) + 1, (word(8) & 0x7FFF) + 1, word(10) + 1,
        word(12) + 1, word(14) + 1, (word(16) & 0x7FFF) + 1, word(18) + 1,
        interlaced=bool(d[3] & 0x10), h_plus=bool(word(8) & 0x8000), v_plus=bool(word(16) & 0x8000), of_frame=True,
    )  # fmt: skip


ASPECTS = ((1, 1), (5, 4), (4, 3), (15, 9), (16, 9), (16, 10), (64, 27), (256, 135))


def write_type7(t: Timing, preferred: bool = False) -> bytes:
    """20 bytes for a timing on the 1 kHz grid, progressive or not."""
    aspect = next((n for n, (w, h) in enumerate(ASPECTS) if t.h_active * h == t.frame_height * w), 8)
    flags = aspect | (0x10 if t.interlaced else 0) | (0x80 if preferred else 0)
    words = (
        t.h_active - 1, t.h_blank - 1, (t.h_front - 1) | (0x8000 if t.h_sync_positive else 0), t.h_sync - 1,
        t.v_active - 1, t.v_front + t.v_sync + t.v_back - 1,
        (t.v_front - 1) | (0x8000 if t.v_sync_positive else 0), t.v_sync - 1,
    )  # fmt: skip
    clock = (t.pixel_clock_hz // 1000 - 1).to_bytes(3, "little")
    return clock + bytes([flags]) + b"".join(w.to_bytes(2, "little") for w in words)


TYPE10_BYTES = 6
_FORMULA = re.compile(r"cvt:(\d+)x(\d+)@(\d+):rb([0-3])$", re.ASCII)


def read_type10(d: bytes) -> Timing | None:
    """A timing from a type X formula descriptor (DisplayID 2.0): which CVT, size, whole rate. None if there is none."""
    kind, fractional = d[0] & 7, d[0] & 0x10
    width, height, rate = int.from_bytes(d[1:3], "little") + 1, int.from_bytes(d[3:5], "little") + 1, d[5] + 1
    hz = f"{rate * 1000}/1001" if fractional and kind == 2 else str(rate)
    try:
        return parse_timing(f"cvt:{width}x{height}@{hz}:rb{kind}")
    except TimingError:
        return None


def write_type10(t: Timing) -> bytes | None:
    """Six bytes for a timing that a formula gives; None when none does."""
    m = _FORMULA.match(t.code)
    if not m or not 1 <= int(m[3]) <= 256:
        return None
    size = (int(m[1]) - 1).to_bytes(2, "little") + (int(m[2]) - 1).to_bytes(2, "little")
    return bytes([int(m[4])]) + size + bytes([int(m[3]) - 1])
