"""A DisplayID section as an extension block: what the screen is, timings beyond 18 bytes, the adaptive-sync window.

Source: VESA DisplayID 2.0; value from memory, held against the reference program edid-decode.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from wavilex.core.edid.detailed import write_type7, write_type10
from wavilex.core.edid.model import EdidError
from wavilex.core.video.timing import Timing

_VERSION, _DESKTOP = 0x20, 0x04  # 2.0; used as a desktop monitor
_PRODUCT, _PARAMETERS, _TIMINGS, _INTERFACE, _FORMULAS, _SYNC = 0x20, 0x21, 0x22, 0x26, 0x2A, 0x2B
_OWN_OUI = bytes([0x02, 0, 0])  # locally administered: no maker's
_DEPTHS = (6, 8, 10, 12, 14, 16)
_PRIMARIES = ((0.640, 0.330), (0.300, 0.600), (0.150, 0.060), (0.3127, 0.3290))  # BT.709, D65
_MOST_BYTES = 121
_BLOCK = 128


@dataclass(frozen=True, slots=True)
class SectionSpec:
    """What a section says. timings: the first is preferred; window: of adaptive sync, in Hz; depths in bits."""

    timings: tuple[Timing, ...]
    window: tuple[int, int] | None
    bits: int
    yuv444: bool
    yuv422: bool
    width_mm: int
    height_mm: int


def section_of(spec: SectionSpec) -> bytes:
    """128 bytes, sealed. Raises EdidError where it does not hold them."""
    body = _block(_PRODUCT, 0, _OWN_OUI + bytes([1, 0, 0, 0, 0, 0, 1, 26, 0]))
    body += _block(_PARAMETERS, 0, _parameters(spec)) + _block(_INTERFACE, 0, _interface(spec))
    body += _timings(spec.timings)
    if spec.window is not None:
        low, high = spec.window
        body += _block(_SYNC, 0, bytes([0, 0, low, (high - 1) & 255, (high - 1) >> 8, 0]))
    if len(body) > _MOST_BYTES:
        raise EdidError("these modes do not fit one DisplayID section: leave some out")
    b = bytearray(_BLOCK)
    b[0:5] = bytes([0x70, _VERSION, _MOST_BYTES, _DESKTOP, 0])
    b[5 : 5 + len(body)] = body
    end = 5 + _MOST_BYTES
    b[end] = -sum(b[1:end]) % 256
    b[127] = -sum(b[:127]) % 256
    return bytes(b)


def _block(tag: int, revision: int, data: bytes) -> bytes:
    return bytes([tag, revision, len(data)]) + data


def _timings(timings: Sequence[Timing]) -> bytes:
    """The first in full, those that a formula gives by it, the rest in full too."""
    if not timings:
        return b""
    formulas = [(t, write_type10(t)) for t in timings[1:]]
    whole = [timings[0], *(t for t, row in formulas if row is None)]
    rows = b"".join(row for _, row in formulas if row is not None)
    full = b"".join(write_type7(t, preferred=n == 0) for n, t in enumerate(whole))
    return _block(_TIMINGS, 0, full) + (_block(_FORMULAS, 0, rows) if rows else b"")


def _parameters(spec: SectionSpec) -> bytes:
    """Size in tenths of a millimetre, native pixels, colours, gamma; depth stands in the base block, light nowhere."""
    native = max(spec.timings, key=lambda t: t.h_active * t.v_active, default=None)
    pixels = (native.h_active, native.v_active) if native is not None else (0, 0)
    words = (spec.width_mm * 10, spec.height_mm * 10, *pixels)
    out = b"".join(w.to_bytes(2, "little") for w in words) + bytes([0x80])  # no speakers built in
    for x, y in _PRIMARIES:
        a, b = round(x * 4096), round(y * 4096)
        out += bytes([a & 255, a >> 8 | (b & 15) << 4, b >> 4])
    return out + bytes(6) + bytes([0, 120])


def _interface(spec: SectionSpec) -> bytes:
    """Depths of each encoding as bits, sound, colour spaces."""
    depths = sum(1 << n for n, b in enumerate(_DEPTHS) if b <= spec.bits)
    beyond = depths >> 1
    return bytes([depths, depths if spec.yuv444 else 0, beyond if spec.yuv422 else 0, 0, 0, 0xE0, 1, 0, 0])
