"""The 128-byte base block. Source: VESA E-EDID 1.4; values from memory of the document."""

from __future__ import annotations

from wavilex.core.edid.base_lists import NO_STANDARD, cvt_codes, established, established_third, standard
from wavilex.core.edid.detailed import DTD_BYTES, implausible, read_detailed
from wavilex.core.edid.model import Base, Finding
from wavilex.core.video.timing import Timing

HEADER = bytes.fromhex("00ffffffffffff00")
_DEPTHS = {1: 6, 2: 8, 3: 10, 4: 12, 5: 14, 6: 16}
_F7, _F8, _FA, _NAME, _RANGES, _SERIAL = 0xF7, 0xF8, 0xFA, 0xFC, 0xFD, 0xFF  # tags of display descriptors
_DUMMY = 0x10
_BY_CVT = 4  # byte 10 of the range limits: the screen takes what the CVT formula gives


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
    listed: list[Timing] = []
    unknown: list[bytes] = []
    texts: dict[int, str] = {}
    rows = [bytes(b[54 + n * DTD_BYTES : 72 + n * DTD_BYTES]) for n in range(4)]
    ranges = next((d for d in reversed(rows) if not any(d[:3]) and d[3] == _RANGES), None)
    formula = bool(b[24] & 1) and ranges is not None and ranges[10] == _BY_CVT
    for n, d in enumerate(rows):
        where = f"base.descriptor.{n}"
        if d[0] or d[1]:
            timing = read_timing(d, where, findings)
            if timing is None:
                unknown.append(d)
            else:
                detailed.append(timing)
        elif d[3] in (_NAME, _SERIAL):
            texts[d[3]] = d[5:].split(b"\n")[0].decode("latin-1").rstrip()
        elif d[3] == _F7:
            listed += established_third(d)
        elif d[3] == _F8:
            listed += [t for at in (6, 9, 12, 15) if any(d[at : at + 3]) for t in cvt_codes(d[at : at + 3])]
        elif d[3] == _FA:
            listed += _standard(d[5:17], f"{where}.standard", b[19], formula, findings)
        elif d[3] not in (_RANGES, _DUMMY):
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
        listed=(*established(b), *_standard(b[38:54], "base.standard", b[19], formula, findings), *listed),
        unknown=tuple(unknown),
        minor=b[19],
        native_first=b[19] >= 4 and bool(b[24] & 2),
        yuv444=digital and b[19] >= 4 and bool(b[24] & 8),
        yuv422=digital and b[19] >= 4 and bool(b[24] & 16),
        continuous=b[19] >= 4 and bool(b[24] & 1),
    )


def read_timing(d: bytes, where: str, findings: list[Finding]) -> Timing | None:
    """A detailed timing; what is odd about it is told. None where it is none at all."""
    timing, odd = read_detailed(d), implausible(d)
    if timing is None:
        findings.append(Finding("detailed_timing", where, "failure", "its figures do not make a timing"))
    elif odd:
        findings.append(Finding("implausible_timing", where, "failure", f"{odd}: read by its totals alone"))
    return timing


def _standard(b: bytes, where: str, minor: int, cvt: bool, findings: list[Finding]) -> list[Timing]:
    """Standard timings, two bytes each."""
    found = []
    for n in range(len(b) // 2):
        first, second = b[2 * n], b[2 * n + 1]
        if (first, second) in NO_STANDARD:
            continue
        if first == 0:
            findings.append(Finding("standard_timing", f"{where}.{n}", "failure", "a width of 248 is not used"))
            continue
        timing = standard(first, second, minor, cvt)
        if timing is not None:
            found.append(timing)
    return found
