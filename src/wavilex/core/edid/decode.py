"""From bytes to an Edid: blocks, checksums, DisplayID. Any bytes give an Edid with findings, or an EdidError."""

from __future__ import annotations

from wavilex.core.edid.base import HEADER, read_base
from wavilex.core.edid.cta import read_cta
from wavilex.core.edid.detailed import TYPE7_BYTES, read_type7
from wavilex.core.edid.model import Cta, Edid, EdidError, Finding, Range
from wavilex.core.video.timing import Timing

BLOCK = 128
MOST_BYTES = 256 * BLOCK


def decode(data: bytes) -> Edid:
    """Decode an EDID. Raises EdidError when it is none (too short, or another header)."""
    if len(data) < BLOCK:
        raise EdidError(f"an EDID has at least 128 bytes; these are {len(data)}")
    if data[:8] != HEADER:
        raise EdidError("an EDID starts with 00 FF FF FF FF FF FF 00; this does not")
    findings: list[Finding] = []
    if len(data) % BLOCK:
        findings.append(Finding("length", "edid", "failure", f"{len(data)} bytes are no whole number of blocks"))
    blocks = [data[n : n + BLOCK] for n in range(0, min(len(data), MOST_BYTES) - BLOCK + 1, BLOCK)]
    for number, block in enumerate(blocks):
        if sum(block) % 256:
            findings.append(Finding("checksum", f"block.{number}", "failure", "the block’s bytes do not add up to 0"))
    base = read_base(blocks[0], findings)
    cta: Cta | None = None
    timings: list[Timing] = []
    window: Range | None = None
    unknown: list[bytes] = []
    for number, block in enumerate(blocks[1:], 1):
        if block[0] == 0x02:
            cta = read_cta(block, number, cta, findings)
        elif block[0] == 0x70:
            more, found = _displayid(block, number, findings, unknown)
            timings += more
            window = window or found
        else:
            unknown.append(bytes(block))
    said = cta.extension_count if cta is not None and cta.extension_count is not None else data[126]
    if said != len(blocks) - 1:
        text = f"{said} extensions are declared, {len(blocks) - 1} are there"
        findings.append(Finding("extension_count", "base.126", "failure", text))
    return Edid(base, cta, tuple(timings), window, tuple(unknown), tuple(findings))


def _displayid(
    b: bytes, number: int, findings: list[Finding], unknown: list[bytes]
) -> tuple[list[Timing], Range | None]:
    """A DisplayID 2.x section inside an extension: type VII timings (0x22), adaptive-sync ranges (0x2B).

    Other data blocks join `unknown`, header included; a section that cannot be read joins it whole.
    """
    where = f"displayid.{number}"
    size = b[2]
    timings: list[Timing] = []
    window: Range | None = None
    if b[1] >> 4 != 2 or size > 121:
        findings.append(Finding("displayid_section", where, "warning", "no DisplayID 2 section of a size that fits"))
        unknown.append(bytes(b))
        return [], None
    at, end = 5, 5 + size
    while at + 3 <= end and (b[at] or b[at + 2]):
        tag, length = b[at], b[at + 2]
        d = bytes(b[at + 3 : at + 3 + length])
        if at + 3 + length > end:
            findings.append(Finding("block_length", f"{where}.{at}", "failure", "the block runs past its section"))
            break
        if tag == 0x22:
            rows = [d[n : n + TYPE7_BYTES] for n in range(0, length - TYPE7_BYTES + 1, TYPE7_BYTES)]
            timings += [timing for timing in map(read_type7, rows) if timing is not None]
        elif tag == 0x2B and length >= 5 and window is None:
            low, high = d[2], (d[3] | (d[4] & 3) << 8) + 1
            window = Range("displayid", low, high) if 0 < low < high else None
        else:
            unknown.append(bytes(b[at : at + 3 + length]))
        at += 3 + length
    return timings, window
