"""The 128-byte base block. Source: VESA E-EDID 1.4; values from memory of the document."""

from __future__ import annotations

from wavilex.core.edid.detailed import DTD_BYTES, read_detailed
from wavilex.core.edid.model import Base, Finding
from wavilex.core.errors import TimingError
from wavilex.core.video.codes import parse_timing
from wavilex.core.video.timing import Timing

HEADER = bytes.fromhex("00ffffffffffff00")
_DEPTHS = {1: 6, 2: 8, 3: 10, 4: 12, 5: 14, 6: 16}
# table 3.18: established timings I and II that are monitor timings of DMT, by (byte, bit)
_ESTABLISHED = {
    (35, 5): "dmt:0x04", (35, 3): "dmt:0x05", (35, 2): "dmt:0x06", (35, 1): "dmt:0x08", (35, 0): "dmt:0x09",
    (36, 7): "dmt:0x0a", (36, 6): "dmt:0x0b", (36, 4): "dmt:0x0f", (36, 3): "dmt:0x10", (36, 2): "dmt:0x11",
    (36, 1): "dmt:0x12", (36, 0): "dmt:0x24",
}  # fmt: skip
# table 3.20: picture shapes of standard timings
_SHAPES = {0: (16, 10), 1: (4, 3), 2: (5, 4), 3: (16, 9)}


def read_base(b: bytes, findings: list[Finding]) -> Base:
    """The base block's fields; what departs from the document is added to `findings`."""
    word = int.from_bytes(b[8:10], "big")
    maker = "".join(chr(64 + (word >> shift & 31)) for shift in (10, 5, 0))
    if not maker.isalpha() or word & 0x8000:
        findings.append(Finding("maker_letters", "base.8", "failure", "the maker’s three letters are none"))
    digital = bool(b[20] & 0x80)
    if b[18] != 1 or b[19] not in (3, 4):
        findings.append(Finding("version", "base.18", "warning", f"version {b[18]}.{b[19]}, expected 1.3 or 1.4"))
    detailed: list[Timing] = []
    unknown: list[bytes] = []
    texts: dict[int, str] = {}
    ranges: bytes | None = None
    for n in range(4):
        d = b[54 + n * DTD_BYTES : 72 + n * DTD_BYTES]
        where = f"base.descriptor.{n}"
        if d[0] or d[1]:
            timing = read_detailed(d)
            if timing is None:
                findings.append(Finding("detailed_timing", where, "failure", "its figures do not make a timing"))
                unknown.append(d)
            else:
                detailed.append(timing)
        elif d[3] in (0xFC, 0xFF):
            texts[d[3]] = d[5:].split(b"\n")[0].decode("latin-1").rstrip()
        elif d[3] == 0xFD:
            ranges = d
        elif d[3] != 0x10:
            unknown.append(d)
    if not detailed:
        findings.append(Finding("no_preferred", "base.descriptor.0", "failure", "no preferred timing"))
    bump = 0 if ranges is None else ranges[4]
    return Base(
        maker=maker,
        product=int.from_bytes(b[10:12], "little"),
        serial=int.from_bytes(b[12:16], "little"),
        week=b[16],
        year=1990 + b[17],
        digital=digital,
        bits=_DEPTHS.get(b[20] >> 4 & 7) if digital else None,
        interface=b[20] & 15 if digital else 0,
        width_cm=b[21],
        height_cm=b[22],
        name=texts.get(0xFC),
        serial_text=texts.get(0xFF),
        range_v_hz=(ranges[5] + 255 * (bump >> 0 & 1 and bump >> 1 & 1), ranges[6] + 255 * (bump >> 1 & 1))
        if ranges
        else None,
        range_h_khz=(ranges[7] + 255 * (bump >> 2 & 1 and bump >> 3 & 1), ranges[8] + 255 * (bump >> 3 & 1))
        if ranges
        else None,
        range_clock_mhz=ranges[9] * 10 if ranges and ranges[9] else None,
        detailed=tuple(detailed),
        listed=(*_established(b), *_standard(b, findings)),
        unknown=tuple(unknown),
    )


def _established(b: bytes) -> list[Timing]:
    return [parse_timing(code) for (at, bit), code in _ESTABLISHED.items() if b[at] >> bit & 1]


def _standard(b: bytes, findings: list[Finding]) -> list[Timing]:
    """Standard timings: the DMT of that size and rate where there is one, else GTF (E-EDID 1.4, 3.9)."""
    found = []
    for n in range(8):
        first, second = b[38 + 2 * n], b[39 + 2 * n]
        if (first, second) == (1, 1):
            continue
        if first == 0:
            findings.append(Finding("standard_timing", f"base.standard.{n}", "failure", "a width of 248 is not used"))
            continue
        width = (first + 31) * 8
        w, h = _SHAPES[second >> 6]
        height, rate = width * h // w, (second & 63) + 60
        timing = _dmt(width, height, rate)
        if timing is not None:
            found.append(timing)
    return found


def _dmt(width: int, height: int, rate: int) -> Timing | None:
    from wavilex.core.video.dmt import DMT_IDS, dmt_timing

    for number in DMT_IDS:
        t = dmt_timing(number)
        if (t.h_active, t.frame_height, t.nominal_hz) == (width, height, rate) and not t.interlaced:
            return t
    try:
        return parse_timing(f"gtf:{width}x{height}@{rate}")
    except TimingError:
        return None
