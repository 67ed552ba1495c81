"""From bytes to an Edid: blocks, checksums, DisplayID. Any bytes give an Edid with findings, or an EdidError."""

from __future__ import annotations

from wavilex.core.edid.base import HEADER, read_base
from wavilex.core.edid.cta import read_cta
from wavilex.core.edid.displayid import Section, read_section
from wavilex.core.edid.displayid_base import read_alone, stands_alone
from wavilex.core.edid.model import Base, Cta, Edid, EdidError, Finding

BLOCK = 128
MOST_BYTES = 256 * BLOCK


def decode(data: bytes) -> Edid:
    """Decode an EDID, or a DisplayID structure by itself. Raises EdidError when it is neither."""
    if data[:8] != HEADER and stands_alone(data):
        return _alone(data)
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
    sections: list[Section] = []
    unknown: list[bytes] = []
    for number, block in enumerate(blocks[1:], 1):
        if block[0] == 0x02:
            cta = read_cta(block, number, cta, findings)
        elif block[0] == 0x70:
            section, cta = read_section(block, number, cta, findings)
            sections.append(section)
        else:
            unknown.append(bytes(block))
    said = cta.extension_count if cta is not None and cta.extension_count is not None else data[126]
    if said != len(blocks) - 1:
        text = f"{said} extensions are declared, {len(blocks) - 1} are there"
        findings.append(Finding("extension_count", "base.126", "failure", text))
    return _whole(base, cta, sections, unknown, findings)


def _alone(data: bytes) -> Edid:
    """A DisplayID structure in the place of a base block."""
    findings: list[Finding] = []
    alone, cta, sections = read_alone(data), None, []
    for number, block in enumerate(alone.sections):
        section, cta = read_section(block, number, cta, findings)
        sections.append(section)
    return _whole(alone.base, cta, sections, [], findings)


def _whole(base: Base, cta: Cta | None, sections: list[Section], unknown: list[bytes], findings: list[Finding]) -> Edid:
    unknown += [block for section in sections for block in section.unknown]
    return Edid(
        base, cta, tuple(t for s in sections for t in s.timings), next((s.window for s in sections if s.window), None),
        tuple(unknown), tuple(findings), next((s.range_v_hz for s in sections if s.range_v_hz), None),
        next((s.tiles for s in sections if s.tiles), None),
    )  # fmt: skip
