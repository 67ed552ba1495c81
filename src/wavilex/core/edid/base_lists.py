"""Short references of the base block: established timings I to III, standard timings, CVT codes.

Source: VESA E-EDID 1.4, tables 3.18 to 3.20 and 3.24 to 3.27; DMT 1.13 for the two-byte codes. Values from memory, held
against the lists of the reference program edid-decode by tests.
"""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction

from wavilex.core.errors import TimingError
from wavilex.core.video.codes import parse_timing
from wavilex.core.video.cta import timing_of_row
from wavilex.core.video.cta_table import Row
from wavilex.core.video.cvt import cvt_timing
from wavilex.core.video.dmt import dmt_timing
from wavilex.core.video.timing import Timing

# established timings I and II by (byte, bit): a DMT id, or the figures of one older than that list
_OLDER: dict[tuple[int, int], Row] = {
    (35, 7): (720, 18, 108, 54, 400, 12, 2, 35, 28320, "-+"),
    (35, 6): (720, 18, 108, 54, 400, 21, 2, 26, 35500, "--"),
    (35, 4): (640, 64, 64, 96, 480, 3, 3, 39, 30240, "--"),
    (36, 5): (832, 32, 64, 224, 624, 1, 3, 39, 57284, "--"),
    (37, 7): (1152, 32, 128, 144, 870, 3, 3, 39, 100000, "--"),
}
_ESTABLISHED = {
    (35, 5): 0x04, (35, 3): 0x05, (35, 2): 0x06, (35, 1): 0x08, (35, 0): 0x09, (36, 7): 0x0A, (36, 6): 0x0B,
    (36, 4): 0x0F, (36, 3): 0x10, (36, 2): 0x11, (36, 1): 0x12, (36, 0): 0x24,
}  # fmt: skip
# established timings III: DMT ids from bit 7 of the descriptor's byte 6 on
_THIRD = (
    0x01, 0x02, 0x03, 0x07, 0x0E, 0x0C, 0x13, 0x15, 0x16, 0x17, 0x18, 0x19, 0x20, 0x21, 0x23, 0x25, 0x27, 0x2E, 0x2F,
    0x30, 0x31, 0x29, 0x2A, 0x2B, 0x2C, 0x39, 0x3A, 0x3B, 0x3C, 0x33, 0x34, 0x35, 0x36, 0x37, 0x3E, 0x3F, 0x41, 0x42,
    0x44, 0x45, 0x46, 0x47, 0x49, 0x4A,
)  # fmt: skip
# the one DMT entry a two-byte code names: never its sister of reduced blanking
STANDARD_CODES = {
    (0x31, 0x19): 0x02, (0x31, 0x40): 0x04, (0x31, 0x4C): 0x05, (0x31, 0x4F): 0x06, (0x31, 0x59): 0x07,
    (0x45, 0x40): 0x09, (0x45, 0x4C): 0x0A, (0x45, 0x4F): 0x0B, (0x45, 0x59): 0x0C, (0x61, 0x40): 0x10,
    (0x61, 0x4C): 0x11, (0x61, 0x4F): 0x12, (0x61, 0x59): 0x13, (0x71, 0x4F): 0x15, (0x81, 0xC0): 0x55,
    (0x81, 0x00): 0x1C, (0x81, 0x0F): 0x1D, (0x81, 0x19): 0x1E, (0x81, 0x40): 0x20, (0x81, 0x59): 0x21,
    (0x81, 0x80): 0x23, (0x81, 0x8F): 0x24, (0x81, 0x99): 0x25, (0x90, 0x40): 0x2A, (0x90, 0x4F): 0x2B,
    (0x90, 0x59): 0x2C, (0x95, 0x00): 0x2F, (0x95, 0x0F): 0x30, (0x95, 0x19): 0x31, (0xA9, 0xC0): 0x53,
    (0xA9, 0x40): 0x33, (0xA9, 0x45): 0x34, (0xA9, 0x4A): 0x35, (0xA9, 0x4F): 0x36, (0xA9, 0x59): 0x37,
    (0xB3, 0x00): 0x3A, (0xB3, 0x0F): 0x3B, (0xB3, 0x19): 0x3C, (0xC1, 0x40): 0x3E, (0xC1, 0x4F): 0x3F,
    (0xC9, 0x40): 0x41, (0xC9, 0x4F): 0x42, (0xD1, 0xC0): 0x52, (0xD1, 0x00): 0x45, (0xD1, 0x0F): 0x46,
    (0xD1, 0x19): 0x47, (0xD1, 0x40): 0x49, (0xD1, 0x4F): 0x4A, (0xE1, 0xC0): 0x54,
}  # fmt: skip
NO_STANDARD = ((1, 1), (0, 0), (0x20, 0x20))  # unused places: as the document says, and as screens also fill them
_SHAPES = ((16, 10), (4, 3), (5, 4), (16, 9))  # of a standard timing; a 1.2 block and older means 1:1 by the first
_CVT_SHAPES = ((4, 3), (16, 9), (16, 10), (15, 9))
_CVT_RATES = ((0x10, 50, "rb0"), (0x08, 60, "rb0"), (0x04, 75, "rb0"), (0x02, 85, "rb0"), (0x01, 60, "rb1"))


def established(b: bytes) -> Iterator[Timing]:
    """Established timings I, II and the maker's one that has a meaning, of a base block."""
    for at in (35, 36, 37):
        for bit in range(7, -1, -1):
            if b[at] >> bit & 1:
                if (at, bit) in _ESTABLISHED:
                    yield dmt_timing(_ESTABLISHED[at, bit])
                elif (at, bit) in _OLDER:
                    yield timing_of_row(_OLDER[at, bit], "", "established")


def established_third(d: bytes) -> Iterator[Timing]:
    """Established timings III, of an 18-byte descriptor F7."""
    for n, dmt in enumerate(_THIRD):
        if d[6 + n // 8] >> (7 - n % 8) & 1:
            yield dmt_timing(dmt)


def standard(first: int, second: int, minor: int, cvt: bool) -> Timing | None:
    """The timing of a two-byte code: the DMT entry that has it, else by formula (CVT where the screen has it, GTF).

    minor: of the EDID's version. None where no formula gives one.
    """
    if (first, second) in STANDARD_CODES:
        return dmt_timing(STANDARD_CODES[first, second])
    width, rate = (first + 31) * 8, (second & 63) + 60
    w, h = (1, 1) if minor < 3 and not second >> 6 else _SHAPES[second >> 6]
    height = width * h // w
    try:
        return parse_timing(f"{'cvt' if cvt else 'gtf'}:{width}x{height}@{rate}{':rb0' if cvt else ''}")
    except TimingError:
        return None


def cvt_codes(code: bytes) -> list[Timing]:
    """The timings of a 3-byte CVT code, the preferred rate first; none where its figures make none."""
    lines = ((code[1] >> 4) << 8 | code[0]) * 2 + 2
    w, h = _CVT_SHAPES[code[1] >> 2 & 3]
    width = lines * w // h // 8 * 8
    preferred = (50, 60, 75, 85)[code[2] >> 5 & 3]
    found = []
    for bit, hz, kind in sorted(_CVT_RATES, key=lambda r: r[1] != preferred):
        if code[2] & bit:
            try:
                found.append(cvt_timing(width, lines, Fraction(hz), kind))
            except TimingError:
                continue
    return found
