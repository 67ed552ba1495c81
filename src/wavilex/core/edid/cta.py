"""The CTA-861 extension block and its data blocks. Source: CTA-861-I, HDMI 1.4b and 2.1; values from memory."""

from __future__ import annotations

from dataclasses import replace

from wavilex.core.edid.base import read_timing
from wavilex.core.edid.detailed import (
    DTD_BYTES,
    TYPE7_BYTES,
    TYPE10_BYTES,
    read_type7,
    read_type10,
)
from wavilex.core.edid.displayid_timings import timings_of
from wavilex.core.edid.formats import read_formats
from wavilex.core.edid.model import Audio, Cta, Finding, ForumBlock, HdmiBlock, Hdr, Range
from wavilex.core.link.rates import TMDS_MAX_MHZ, TMDS_MIN_HZ
from wavilex.core.video.audio import SAMPLE_RATES_HZ
from wavilex.core.video.cta_table import CTA_ROWS

OUI_HDMI, OUI_FORUM, OUI_VENDOR_SYNC = 0x000C03, 0xC45DD8, 0x00001A
OUIS_DYNAMIC_HDR = (0x90848B, 0x00D046)  # blocks of the two kinds of dynamic-metadata HDR: that they are there says it
# CTA-861-I table 37; formats known by a trade name only are called by their code
AUDIO_FORMATS = {1: "lpcm", 2: "ac3", 3: "mpeg1", 4: "mp3", 5: "mpeg2", 6: "aac", 9: "one_bit", 10: "eac3", 13: "dst"}
EOTF = ("sdr", "traditional", "pq", "hlg")


def read_cta(b: bytes, number: int, before: Cta | None, findings: list[Finding]) -> Cta:
    """One CTA extension; a second one adds to the first. Bad lengths end the reading of that block, as findings."""
    where = f"cta.{number}"
    own = Cta(
        b[1], bool(b[3] & 0x80), bool(b[3] & 0x40), bool(b[3] & 0x20), bool(b[3] & 0x10), native_detailed=b[3] & 15
    )
    cta = own if before is None else _with_flags(before, own)
    if b[1] not in (1, 2, 3):
        findings.append(Finding("cta_revision", where, "warning", f"revision {b[1]}, expected 3"))
    end = b[2]
    if end and not 4 <= end <= 127:
        findings.append(Finding("cta_offset", where, "failure", f"detailed timings cannot start at byte {end}"))
        return replace(cta, unknown=(*cta.unknown, bytes(b)))
    cta = add_blocks(cta, bytes(b[4 : max(end, 4)]), f"{where}.block", findings, 4)
    detailed = list(cta.detailed)
    at = end or 127
    while at + DTD_BYTES <= 127 and (b[at] or b[at + 1]):
        timing = read_timing(bytes(b[at : at + DTD_BYTES]), f"{where}.byte.{at}", findings)
        if timing is not None:
            detailed.append(timing)
        at += DTD_BYTES
    return replace(cta, detailed=tuple(detailed))


def _with_flags(before: Cta, own: Cta) -> Cta:
    """What came before (blocks embedded elsewhere have no flags of their own), with an extension's flags."""
    return replace(
        before, underscan=before.underscan or own.underscan, basic_audio=before.basic_audio or own.basic_audio,
        yuv444=before.yuv444 or own.yuv444, yuv422=before.yuv422 or own.yuv422,
        native_detailed=before.native_detailed or own.native_detailed,
    )  # fmt: skip


def add_blocks(cta: Cta, b: bytes, where: str, findings: list[Finding], first: int = 0) -> Cta:
    """A collection of CTA data blocks, wherever it stands, added to what is known. first: where it begins there."""
    at = 0
    while at < len(b):
        tag, size, place = b[at] >> 5, b[at] & 31, f"{where}.{first + at}"
        if at + 1 + size > len(b):
            findings.append(Finding("block_length", place, "failure", "the data block runs past its collection"))
            break
        cta = _block(cta, tag, b[at + 1 : at + 1 + size], place, findings)
        at += 1 + size
    return cta


def _block(cta: Cta, tag: int, d: bytes, where: str, findings: list[Finding]) -> Cta:
    kept = replace(cta, unknown=(*cta.unknown, bytes([tag << 5 | len(d)]) + d))
    if tag == 1:
        if len(d) % 3:
            findings.append(Finding("audio_length", where, "failure", "audio descriptors are three bytes each"))
        return replace(cta, audio=(*cta.audio, *(_audio(d[n : n + 3]) for n in range(0, len(d) - 2, 3))))
    if tag == 2:
        vics = [_svd(byte) for byte in d]
        for vic, _ in vics:
            if vic not in CTA_ROWS:
                findings.append(Finding("unknown_vic", where, "failure", f"there is no code {vic}"))
        return replace(cta, vics=(*cta.vics, *vics))
    if tag == 4 and len(d) >= 3:
        return replace(cta, speakers=int.from_bytes(d[:3], "little"))
    if tag == 3 and len(d) >= 3:
        return _vendor(cta, kept, d, where, findings)
    if tag == 6:
        timings, also_420, faults = read_formats(d)
        findings += [Finding("video_format", where, "failure", fault) for fault in faults]
        in_420 = (*cta.formats_420, *(t.code for t in timings)) if also_420 else cta.formats_420
        return replace(cta, formats=(*cta.formats, *timings), formats_420=in_420)
    if tag == 7 and d:
        return _extended(cta, kept, d[0], d[1:], where, findings)
    return kept


def _svd(byte: int) -> tuple[int, bool]:
    """Short video descriptor: codes 1 to 64 carry the native mark in bit 7."""
    return (byte & 127, True) if 129 <= byte <= 192 else (byte, False)


def _audio(d: bytes) -> Audio:
    code = d[0] >> 3 & 15
    rates = tuple(r for n, r in enumerate(SAMPLE_RATES_HZ) if d[1] >> n & 1)
    detail = tuple(b for n, b in enumerate((16, 20, 24)) if d[2] >> n & 1) if code == 1 else (d[2],)
    return Audio(AUDIO_FORMATS.get(code, f"code {code}"), (d[0] & 7) + 1, rates, detail)


def _vendor(cta: Cta, kept: Cta, d: bytes, where: str, findings: list[Finding]) -> Cta:
    oui = int.from_bytes(d[:3], "little")
    if oui == OUI_HDMI:
        if len(d) < 5:
            findings.append(Finding("hdmi_short", where, "failure", "the HDMI block lacks its physical address"))
            return kept
        hdmi = _hdmi(d)
        least = TMDS_MIN_HZ // 1_000_000
        if hdmi.tmds_mhz is not None and not least <= hdmi.tmds_mhz <= TMDS_MAX_MHZ:
            text = f"{hdmi.tmds_mhz} MHz is no TMDS rate: taken for {least if hdmi.tmds_mhz < least else TMDS_MAX_MHZ}"
            findings.append(Finding("hdmi_tmds", where, "failure", text))
        return replace(cta, hdmi=hdmi)
    if oui == OUI_FORUM:
        return replace(cta, forum=read_forum(d[3:], where, findings))
    if oui in OUIS_DYNAMIC_HDR:
        return replace(kept, dynamic_hdr=True)
    if oui == OUI_VENDOR_SYNC and len(d) >= 7 and d[5] and d[6] > d[5]:
        return replace(kept, vendor_vrr=Range("vendor", d[5], d[6]))
    return kept


def _hdmi(d: bytes) -> HdmiBlock:
    address = (d[3] >> 4, d[3] & 15, d[4] >> 4, d[4] & 15)
    flags = d[5] if len(d) > 5 else 0
    tmds = d[6] * 5 if len(d) > 6 and d[6] else None
    present = d[7] if len(d) > 7 else 0
    at = 8
    latency: list[int | None] = [None, None, None, None]  # of picture and sound, then of interlaced ones
    for place, bit in ((0, 0x80), (2, 0x40)):
        if present & bit:
            pair = [(2 * (v - 1) if 0 < v <= 251 else None) for v in d[at : at + 2]]
            latency[place : place + 2] = [*pair, None, None][:2]
            at += 2
    vics: tuple[int, ...] = ()
    if present & 0x20 and len(d) > at + 1:
        count = d[at + 1] >> 5
        vics = tuple(v for v in d[at + 2 : at + 2 + count] if 1 <= v <= 4)
    deep = tuple(b for bit, b in ((4, 10), (5, 12), (6, 16)) if flags >> bit & 1)
    return HdmiBlock(address, deep, bool(flags & 8), bool(flags & 0x80), tmds, vics, bool(present & 8), *latency)


def read_forum(d: bytes, where: str, findings: list[Finding]) -> ForumBlock:
    """The HDMI Forum fields, from the version byte on; may be short, absent means unsupported."""

    def byte(at: int) -> int:
        return d[at] if at < len(d) else 0

    tmds, frl = byte(1) * 5, byte(3) >> 4
    if byte(0) != 1:
        findings.append(Finding("forum_version", where, "warning", f"version {byte(0)}, expected 1"))
    if tmds and not 345 <= tmds <= 600:
        findings.append(
            Finding(
                "forum_tmds",
                where,
                "failure",
                f"{tmds} MHz: declare 0, or 345 to 600; taken as near to that as TMDS goes",
            )
        )
    if (frl == 1 and 0 < tmds < 300) or (frl >= 2 and tmds != 600):
        findings.append(Finding("forum_frl_tmds", where, "failure", "this FRL rate needs a 600 MHz TMDS ceiling"))
    vrr_min, vrr_max = byte(5) & 63, (byte(5) >> 6) << 8 | byte(6)
    if vrr_min > 48 or (vrr_max and vrr_max < 100):
        findings.append(Finding("forum_vrr", where, "failure", "VRR runs from at most 48 to at least 100 Hz"))
    return ForumBlock(
        tmds_mhz=tmds or None,
        scdc=bool(byte(2) & 0x80),
        read_request=bool(byte(2) & 0x40),
        scramble_low=bool(byte(2) & 8),
        frl_code=frl,
        bits_420=tuple(b for bit, b in ((0, 10), (1, 12), (2, 16)) if byte(3) >> bit & 1),
        allm=bool(byte(4) & 2),
        fva=bool(byte(4) & 4),
        qms=bool(byte(4) & 0x40),
        vrr_min_hz=vrr_min or None,
        vrr_max_hz=vrr_max or None,
        dsc=bool(byte(7) & 0x80),
        dsc_native_420=bool(byte(7) & 0x40),
        dsc_all_bpp=bool(byte(7) & 8),
        dsc_bits=tuple(b for bit, b in ((0, 10), (1, 12), (2, 16)) if byte(7) >> bit & 1),
        dsc_frl_code=byte(8) >> 4,
        dsc_slice_code=byte(8) & 15,
        dsc_chunk_kib=byte(9) & 63,
    )


def _extended(cta: Cta, kept: Cta, tag: int, d: bytes, where: str, findings: list[Finding]) -> Cta:
    if tag == 0 and d:
        return replace(cta, video_capability=d[0])
    if tag == 1 and len(d) >= 3 and int.from_bytes(d[:3], "little") in OUIS_DYNAMIC_HDR:
        return replace(kept, dynamic_hdr=True)
    if tag == 5 and len(d) >= 2:
        return replace(cta, colorimetry=int.from_bytes(d[:2], "little"))
    if tag == 6 and len(d) >= 2:
        return replace(cta, hdr=_hdr(d))
    if tag == 13:
        return replace(cta, preference=tuple(d))
    if tag == 14:
        return replace(cta, vics_420_only=(*cta.vics_420_only, *(_svd(x)[0] for x in d)))
    if tag == 15:
        return replace(cta, map_420=bytes(d))
    if tag == 0x22 and len(d) > TYPE7_BYTES:
        timing = read_type7(d[1 : 1 + TYPE7_BYTES])
        if timing is None:
            findings.append(Finding("type7_timing", where, "failure", "its figures do not make a timing"))
            return kept
        return replace(cta, detailed=(*cta.detailed, timing))
    if tag == 0x23:
        if len(d) < 2 or d[0] & 0xC0:
            findings.append(Finding("type8_timing", where, "failure", "only lists of DMT codes are defined here"))
            return kept
        timings, none = timings_of(tag, d[0], d[1:])
        if none:
            text = f"{none} of {none + len(timings)} codes are none of DMT"
            findings.append(Finding("type8_timing", where, "failure", text))
        return replace(cta, formats=(*cta.formats, *timings))
    if tag == 0x2A and d:
        width = TYPE10_BYTES + (d[0] >> 4 & 7)
        rows = [d[n : n + TYPE10_BYTES] for n in range(1, len(d) - TYPE10_BYTES + 1, width)]
        found = [t for t in map(read_type10, rows) if t is not None]
        if len(found) != len(rows):
            findings.append(Finding("type10_timing", where, "failure", "a formula that gives no timing"))
        return replace(cta, detailed=(*cta.detailed, *found))
    if tag == 0x78 and d:
        return replace(cta, extension_count=d[0])
    if tag == 0x79 and len(d) >= 4:
        return replace(cta, forum=read_forum(d[2:], where, findings))
    return kept


def _hdr(d: bytes) -> Hdr:
    """Luminance codes by CTA-861.3: max = 50·2^(cv/32), min = max·(cv/255)²/100; code 0 is not stated."""

    def most(at: int) -> float | None:
        return 50 * 2 ** (d[at] / 32) if len(d) > at and d[at] else None

    top = most(2)
    low = top * (d[4] / 255) ** 2 / 100 if top is not None and len(d) > 4 and d[4] else None
    return Hdr(tuple(e for n, e in enumerate(EOTF) if d[0] >> n & 1), top, most(3), low)
