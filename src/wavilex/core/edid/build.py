"""From what a screen's input takes to an EDID that says so. `edid-decode -c` accepts what is built."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from math import ceil, floor
from typing import Literal

from wavilex.core.edid.base import HEADER
from wavilex.core.edid.build_displayid import SectionSpec, section_of
from wavilex.core.edid.cta import AUDIO_FORMATS, EOTF, OUI_FORUM, OUI_HDMI
from wavilex.core.edid.decode import BLOCK
from wavilex.core.edid.detailed import fits_detailed, write_detailed, write_type7, write_type10
from wavilex.core.edid.model import Audio, EdidError, ForumBlock, HdmiBlock
from wavilex.core.video.audio import SAMPLE_RATES_HZ
from wavilex.core.video.cta import cta_timing
from wavilex.core.video.timing import Timing

_DEPTHS = {6: 1, 8: 2, 10: 3, 12: 4, 16: 6}
_MAKER = "WVX"  # our own letters for what is built, not a maker's
STEREO = Audio("lpcm", 2, (32_000, 44_100, 48_000), (16, 20, 24))
_FIRST_INPUT = HdmiBlock((1, 0, 0, 0))


@dataclass(frozen=True, slots=True)
class SinkSpec:
    """What an EDID shall say. The first of `timings` is preferred; CTA codes travel as codes, the rest in full.

    vics_420: codes taken in 4:2:0 as well. eotf: of sdr, traditional, pq, hlg; empty: no HDR block.
    max_code: CTA-861.3 luminance code, 0 not stated. socket: at another than HDMI none of its blocks are
    there; bits: the depth of the base block there; window: of adaptive sync at a DisplayPort socket.
    """

    name: str
    timings: tuple[Timing, ...]
    vics_420: tuple[int, ...] = ()
    yuv444: bool = True
    yuv422: bool = True
    hdmi: HdmiBlock = _FIRST_INPUT
    forum: ForumBlock | None = None
    eotf: tuple[str, ...] = ()
    max_code: int = 0
    audio: tuple[Audio, ...] = (STEREO,)
    width_cm: int = 60
    height_cm: int = 34
    socket: Literal["hdmi", "dp", "dvi"] = "hdmi"
    bits: int = 8
    window: tuple[int, int] | None = None


def build(spec: SinkSpec) -> bytes:
    """The bytes: base block, CTA extension. Raises EdidError when they do not hold what is asked."""
    if not spec.timings:
        raise EdidError("an EDID needs at least one mode")
    vics = [int(t.code[4:]) for t in spec.timings if t.code.startswith("vic:") and "@" not in t.code]
    others = [t for t in spec.timings if not t.code.startswith("vic:")]
    plain = spec.socket != "hdmi"
    first = spec.timings[0]
    if not fits_detailed(first):
        first = next((t for t in spec.timings if fits_detailed(t)), cta_timing(16))
    in_base = [first, *[t for t in others if fits_detailed(t) and t != first][:1]]
    rest = [t for t in others if t not in in_base]
    base = _base(spec, in_base)
    base[126] = 1
    if not plain:
        return bytes(_sealed(base)) + bytes(_sealed(_cta(spec, vics, rest)))
    if spec.socket == "dp" and (rest or spec.window):
        base[126] = 2
        return bytes(_sealed(base)) + bytes(_sealed(_cta(spec, vics, []))) + section_of(_section(spec, rest))
    return bytes(_sealed(base)) + bytes(_sealed(_cta(spec, vics, rest)))


def _section(spec: SinkSpec, timings: list[Timing]) -> SectionSpec:
    return SectionSpec(
        tuple(timings) or spec.timings[:1], spec.window, spec.bits, spec.yuv444, spec.yuv422, spec.width_cm * 10,
        spec.height_cm * 10,
    )  # fmt: skip


def _sealed(block: bytearray) -> bytearray:
    block[127] = -sum(block[:127]) % 256
    return block


def _text(tag: int, text: str) -> bytes:
    body = text.encode("ascii", "replace")[:13]
    return bytes([0, 0, 0, tag, 0]) + (body + b"\n" if len(body) < 13 else body).ljust(13, b" ")


def _base(spec: SinkSpec, detailed: list[Timing]) -> bytearray:
    b = bytearray(BLOCK)
    b[0:8] = HEADER
    letters = [ord(c) - 64 for c in _MAKER]
    b[8:10] = (letters[0] << 10 | letters[1] << 5 | letters[2]).to_bytes(2, "big")
    b[10:12] = (1).to_bytes(2, "little")
    b[16], b[17], b[18], b[19] = 1, 36, 1, 3  # week 1 of 2026; HDMI asks for version 1.3
    b[20] = 0x80  # digital; 1.3 has no field for depth
    if spec.socket != "hdmi":
        b[19], b[20] = 4, 0x80 | _DEPTHS[spec.bits] << 4 | (5 if spec.socket == "dp" else 1)
    b[21], b[22], b[23] = spec.width_cm, spec.height_cm, 120  # gamma 2.2
    b[24] = 0x08 | 0x04 | 0x02  # RGB colour, sRGB primaries, first timing preferred
    if spec.socket != "hdmi":
        b[24] = 0x04 | 0x02 | (8 if spec.yuv444 else 0) | (16 if spec.yuv422 else 0) | (1 if spec.window else 0)
    b[25:35] = bytes.fromhex("ee91a3544c99260f5054")  # BT.709 primaries, D65 (E-EDID 1.4, 3.7)
    b[35] = 0x20  # 640x480 at 60, which CTA-861 asks of every screen
    for n in range(8):
        b[38 + 2 * n : 40 + 2 * n] = b"\x01\x01"
    rows = [write_detailed(t, spec.width_cm * 10, spec.height_cm * 10) for t in detailed]
    rows += [_ranges(spec), _text(0xFC, spec.name)]
    while len(rows) < 4:
        rows.append(bytes([0, 0, 0, 0x10]) + bytes(14))
    for n, row in enumerate(rows[:4]):
        b[54 + 18 * n : 72 + 18 * n] = row
    return b


def _ranges(spec: SinkSpec) -> bytes:
    """Range limits that hold every timing, as far as version 1.3 can say: 255 Hz, 255 kHz, 2550 MHz."""
    every = (*spec.timings, cta_timing(1))
    v = [t.refresh for t in every]
    h = [Fraction(t.pixel_clock_hz, t.h_total * 1000) for t in every]
    clock = -(-max(t.pixel_clock_hz for t in every) // 10_000_000)
    body = [floor(min(v)), ceil(max(v)), floor(min(h)), ceil(max(h)), clock]
    if spec.socket == "hdmi":
        return bytes([0, 0, 0, 0xFD, 0, *(min(x, 255) for x in body), 0, 0x0A]) + b" " * 6
    if spec.window:
        body[0], body[1] = min(body[0], spec.window[0]), max(body[1], spec.window[1])
    over = (2 if body[1] > 255 else 0) | (8 if body[3] > 255 else 0)  # 1.4: a maximum may be 255 higher
    figures = [body[0], body[1] - 255 * (body[1] > 255), body[2], body[3] - 255 * (body[3] > 255), min(clock, 255)]
    return bytes([0, 0, 0, 0xFD, over, *(min(x, 255) for x in figures), 1, 0x0A]) + b" " * 6


def _block(tag: int, body: bytes) -> bytes:
    if len(body) > 31:
        raise EdidError(f"a data block holds 31 bytes, not {len(body)}")
    return bytes([tag << 5 | len(body)]) + body


def _cta(spec: SinkSpec, vics: list[int], rest: list[Timing]) -> bytearray:
    blocks = []
    if vics:
        blocks.append(_block(2, bytes(v for v in vics)))
    if spec.audio:
        blocks.append(_block(1, b"".join(_audio(a) for a in spec.audio)))
        blocks.append(_block(4, b"\x01\x00\x00"))
    if spec.socket == "hdmi":
        blocks.append(_block(3, _hdmi(spec.hdmi)))
    if spec.forum is not None:
        blocks.append(_block(3, OUI_FORUM.to_bytes(3, "little") + forum_bytes(spec.forum)))
    blocks.append(_block(7, bytes([0, 0xCA])))  # selectable quantisation, never overscanned
    blocks.append(_block(7, bytes([5, 0xC0, 0x00]) if spec.eotf else bytes([5, 0x00, 0x00])))
    if spec.eotf:
        eotf = sum(1 << EOTF.index(e) for e in spec.eotf)
        blocks.append(_block(7, bytes([6, eotf, 1, *([spec.max_code] if spec.max_code else [])])))
    if spec.vics_420:
        both = [v in spec.vics_420 for v in vics]
        size = max((n for n, yes in enumerate(both) if yes), default=-1) // 8 + 1
        bits = [sum(1 << n for n in range(8) if 8 * row + n < len(both) and both[8 * row + n]) for row in range(size)]
        if size:
            blocks.append(_block(7, bytes([15, *bits])))
    large = [t for t in rest if not fits_detailed(t)]
    small = [t for t in rest if fits_detailed(t)]
    for t in large:
        formula = write_type10(t)
        blocks.append(_block(7, b"\x2a\x00" + formula if formula else b"\x22\x02" + write_type7(t)))
    body = b"".join(blocks)
    rows = b"".join(write_detailed(t, spec.width_cm * 10, spec.height_cm * 10) for t in small)
    if 4 + len(body) + len(rows) > 127:
        raise EdidError("these modes do not fit one extension block: leave some out")
    b = bytearray(BLOCK)
    b[0], b[1], b[2] = 2, 3, 4 + len(body)
    b[3] = 0x80 | (0x40 if spec.audio else 0) | (0x20 if spec.yuv444 else 0) | (0x10 if spec.yuv422 else 0) | 1
    b[4 : 4 + len(body)] = body
    b[4 + len(body) : 4 + len(body) + len(rows)] = rows
    return b


def _audio(a: Audio) -> bytes:
    named = {name: n for n, name in AUDIO_FORMATS.items()}
    code = named[a.format] if a.format in named else int(a.format.removeprefix("code "))
    rates = sum(1 << n for n, r in enumerate(SAMPLE_RATES_HZ) if r in a.rates_hz)
    detail = sum(1 << n for n, b in enumerate((16, 20, 24)) if b in a.detail) if code == 1 else a.detail[0]
    return bytes([code << 3 | a.channels - 1, rates, detail])


def _hdmi(h: HdmiBlock) -> bytes:
    a, b, c, d = h.physical_address
    deep = sum(1 << n for n, bits in ((4, 10), (5, 12), (6, 16)) if bits in h.deep_bits)
    flags = deep | (8 if h.deep_444 else 0) | (0x80 if h.ai else 0)
    out = OUI_HDMI.to_bytes(3, "little") + bytes([a << 4 | b, c << 4 | d, flags, (h.tmds_mhz or 0) // 5])
    present = (0x20 if h.hdmi_vics else 0) | (8 if h.game_content else 0)
    if not present:
        return out
    tail = bytes([0, len(h.hdmi_vics) << 5, *h.hdmi_vics]) if h.hdmi_vics else b""
    return out + bytes([present]) + tail


def forum_bytes(f: ForumBlock) -> bytes:
    """The HDMI Forum fields from the version byte on, as short as what is said allows."""
    first = [1, (f.tmds_mhz or 0) // 5]
    scdc = (0x80 if f.scdc else 0) | (0x40 if f.read_request else 0) | (8 if f.scramble_low else 0)
    frl = f.frl_code << 4 | sum(1 << n for n, b in ((0, 10), (1, 12), (2, 16)) if b in f.bits_420)
    shown = (2 if f.allm else 0) | (4 if f.fva else 0) | (0x40 if f.qms else 0)
    vrr_max = f.vrr_max_hz or 0
    window = [(f.vrr_min_hz or 0) | (vrr_max >> 8) << 6, vrr_max & 255]
    dsc = (0x80 if f.dsc else 0) | (0x40 if f.dsc_native_420 else 0) | (8 if f.dsc_all_bpp else 0)
    dsc |= sum(1 << n for n, b in ((0, 10), (1, 12), (2, 16)) if b in f.dsc_bits)
    d = [*first, scdc, frl, shown, *window, dsc, f.dsc_frl_code << 4 | f.dsc_slice_code, f.dsc_chunk_kib]
    while len(d) > 4 and not d[-1]:
        d.pop()
    return bytes(d)
