"""Timings of DisplayID's data blocks, versions 1.x and 2.x, type by type.

Source: VESA DisplayID 1.3 and 2.0; value from memory, every type held against the reference program edid-decode.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from fractions import Fraction

from wavilex.core.edid.detailed import ASPECTS, read_type7, read_type10, timing_from
from wavilex.core.errors import TimingError
from wavilex.core.video.cta import cta_timing
from wavilex.core.video.cvt import cvt_timing
from wavilex.core.video.dmt import dmt_timing
from wavilex.core.video.timing import Timing

HDMI_CODES = {1: 95, 2: 94, 3: 93, 4: 98}  # HDMI 1.4b: its own four codes for 2160-line pictures, as CTA codes
_TEN_KHZ = 10_000


def _type1(d: bytes, _: int) -> Timing | None:
    """As type VII, its clock in steps of 10 kHz."""
    return read_type7(d, _TEN_KHZ)


def _type2(d: bytes, _: int) -> Timing | None:
    clock = (int.from_bytes(d[0:3], "little") + 1) * _TEN_KHZ
    h_active, h_blank = 8 + 8 * (d[4] | (d[5] & 1) << 8), 8 + 8 * (d[5] >> 1)
    h_front, h_sync = 8 + 8 * (d[6] >> 4), 8 + 8 * (d[6] & 15)
    v_active, v_blank, v_front, v_sync = 1 + (d[7] | (d[8] & 15) << 8), 1 + d[9], 1 + (d[10] >> 4), 1 + (d[10] & 15)
    return timing_from(
        clock, h_active, h_blank, h_front, h_sync, v_active, v_blank, v_front, v_sync,
        interlaced=bool(d[3] & 0x10), h_plus=bool(d[3] & 8), v_plus=bool(d[3] & 4), of_frame=True,
    )  # fmt: skip


def _type3(d: bytes, _: int) -> Timing | None:
    w, h = ASPECTS[d[0] & 7] if d[0] & 15 < len(ASPECTS) else (0, 0)
    if not w or d[2] & 0x80:  # another shape, or interlaced: no formula of ours makes it
        return None
    width = 8 + 8 * d[1]
    return _by_formula(width, width * h // w, Fraction(1 + (d[2] & 0x7F)), {0: "rb0", 1: "rb1"}.get(d[0] >> 4 & 7, ""))


def _type4(d: bytes, revision: int) -> Timing | None:
    """One code: of DMT, of CTA, of HDMI's own four, by the block's revision."""
    kind, code = revision >> 6, int.from_bytes(d, "little")
    try:
        if kind == 0:
            return dmt_timing(code)
        return cta_timing(code if kind == 1 else HDMI_CODES[code])
    except (TimingError, KeyError):
        return None


def _type5(d: bytes, _: int) -> Timing | None:
    width, height = 1 + int.from_bytes(d[2:4], "little"), 1 + int.from_bytes(d[4:6], "little")
    return _by_formula(width, height, Fraction(1 + d[6]), "rb2")


def _type6(d: bytes, _: int) -> Timing | None:
    clock = ((int.from_bytes(d[0:3], "little") & 0x3F_FFFF) + 1) * 1000
    return timing_from(
        clock, 1 + (d[3] | (d[4] & 0x3F) << 8), 1 + (d[7] | (d[9] & 15) << 8), 1 + (d[8] | (d[9] >> 4) << 8), 1 + d[10],
        1 + (d[5] | (d[6] & 0x3F) << 8), 1 + d[11], 1 + d[12], 1 + (d[13] & 15),
        interlaced=bool(d[13] & 0x80), h_plus=bool(d[4] & 0x80), v_plus=bool(d[6] & 0x80), of_frame=True,
    )  # fmt: skip


def _type9(d: bytes, _: int) -> Timing | None:
    return read_type10(d)


def _by_formula(width: int, height: int, rate: Fraction, kind: str) -> Timing | None:
    try:
        return cvt_timing(width, height, rate, kind)
    except TimingError:
        return None


_Reader = Callable[[bytes, int], Timing | None]
# tag: bytes of one timing, its reader
_ROWS: dict[int, tuple[int, _Reader]] = {
    0x03: (20, _type1), 0x04: (11, _type2), 0x05: (3, _type3), 0x06: (1, _type4), 0x11: (7, _type5),
    0x22: (20, lambda d, _: read_type7(d)), 0x23: (1, _type4), 0x24: (6, _type9), 0x2A: (6, _type9),
}  # fmt: skip
_SIXTH, _SIZED_BYTES, _PLAIN_BYTES = 0x13, 17, 14
_DMT_BITS, _CTA_BITS = 0x07, 0x08
TIMING_TAGS = frozenset({*_ROWS, _SIXTH, _DMT_BITS, _CTA_BITS})


def timings_of(tag: int, revision: int, d: bytes) -> tuple[list[Timing], int]:
    """The timings of a data block, and how many of its entries make none."""
    found = list(_entries(tag, revision, d))
    timings = [t for t in found if t is not None]
    return timings, len(found) - len(timings)


def _entries(tag: int, revision: int, d: bytes) -> Iterator[Timing | None]:
    if tag in (_DMT_BITS, _CTA_BITS):
        read = dmt_timing if tag == _DMT_BITS else cta_timing
        for n in range(8 * len(d)):
            if d[n // 8] >> n % 8 & 1:
                try:
                    yield read(n + 1)
                except TimingError:
                    yield None
        return
    if tag == _SIXTH:
        at = 0
        while at + _PLAIN_BYTES <= len(d):
            yield _type6(d[at : at + _PLAIN_BYTES], revision)
            at += _SIZED_BYTES if d[at + 2] & 0x40 else _PLAIN_BYTES
        return
    size, reader = _ROWS[tag]
    step = size + (revision >> 4 & 7 if tag in (0x22, 0x2A) else 0)
    if tag == 0x23 and revision & 8:
        size = step = 2
    for at in range(0, len(d) - size + 1, step):
        yield reader(d[at : at + size], revision)
