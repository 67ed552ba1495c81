"""A DisplayID section inside an EDID extension, version 1.x or 2.x: timings, windows, ranges, tiles, CTA blocks.

Source: VESA DisplayID 1.3 and 2.0; value from memory.
"""

from __future__ import annotations

from dataclasses import dataclass, field

from wavilex.core.edid.cta import add_blocks
from wavilex.core.edid.displayid_timings import TIMING_TAGS, timings_of
from wavilex.core.edid.model import Cta, Finding, Range, Tiles
from wavilex.core.video.timing import Timing

_MOST_BYTES = 251
_EXTENSION = 128
_RANGE_1, _TILES_1, _RANGE_2, _TILES_2, _SYNC, _CTA = 0x09, 0x12, 0x25, 0x28, 0x2B, 0x81


@dataclass(slots=True)
class Section:
    """What a section holds. window: of adaptive sync; range_v_hz: vertical rates of a range block."""

    timings: list[Timing] = field(default_factory=list)
    window: Range | None = None
    range_v_hz: tuple[int, int] | None = None
    tiles: Tiles | None = None
    unknown: list[bytes] = field(default_factory=list)


def read_section(b: bytes, number: int, cta: Cta | None, findings: list[Finding]) -> tuple[Section, Cta | None]:
    """The section of a 128-byte extension, or one by itself behind the same first byte, and the CTA fields with what it
    embeds; the unreadable is kept whole.
    """
    where, out = f"displayid.{number}", Section()
    size = b[2]
    room = min(_MOST_BYTES, len(b) - 6 - (len(b) == _EXTENSION))  # its own sum, and an extension's
    if b[1] >> 4 not in (1, 2) or size > room:
        findings.append(Finding("displayid_section", where, "warning", "no DisplayID section of a size that fits"))
        out.unknown.append(bytes(b))
        return out, cta
    at, end = 5, 5 + size
    while at + 3 <= end and (b[at] or b[at + 2]):
        tag, revision, length = b[at], b[at + 1], b[at + 2]
        d = bytes(b[at + 3 : at + 3 + length])
        place = f"{where}.{at}"
        if at + 3 + length > end:
            findings.append(Finding("block_length", place, "failure", "the block runs past its section"))
            break
        if tag == _CTA:
            empty = Cta(3, underscan=False, basic_audio=False, yuv444=False, yuv422=False)
            cta = add_blocks(cta or empty, d, place, findings)
        elif not _take(out, tag, revision, d, place, findings):
            out.unknown.append(bytes(b[at : at + 3 + length]))
        at += 3 + length
    return out, cta


def _take(out: Section, tag: int, revision: int, d: bytes, where: str, findings: list[Finding]) -> bool:
    """Write a block into the section; False where nothing of it is known."""
    if tag in TIMING_TAGS:
        timings, none = timings_of(tag, revision, d)
        out.timings += timings
        if none:
            text = f"{none} of {none + len(timings)} entries give no timing"
            findings.append(Finding("displayid_timing", where, "warning", text))
    elif tag == _SYNC and len(d) >= 5:
        low, high = d[2], (d[3] | (d[4] & 3) << 8) + 1
        out.window = out.window or (Range("displayid", low, high) if 0 < low < high else None)
    elif tag == _RANGE_1 and len(d) >= 15:
        out.range_v_hz = d[10], d[11]
    elif tag == _RANGE_2 and len(d) >= 9:
        out.range_v_hz = d[6], d[7] | ((d[8] & 3) << 8 if revision & 7 else 0)
    elif tag in (_TILES_1, _TILES_2) and len(d) >= 8:
        across, down = (d[1] >> 4 | (d[3] >> 6) << 4) + 1, (d[1] & 15 | (d[3] >> 4 & 3) << 4) + 1
        width, height = 1 + int.from_bytes(d[4:6], "little"), 1 + int.from_bytes(d[6:8], "little")
        out.tiles = Tiles(across, down, width, height)
    else:
        return False
    return True
