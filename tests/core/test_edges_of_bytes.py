"""Bits of the documents one at a time: what each says, and that it says nothing else."""

from __future__ import annotations

from dataclasses import fields, replace
from typing import Any

import pytest

from wavilex.core.edid.cta import read_forum
from wavilex.core.edid.decode import decode
from wavilex.core.edid.detailed import read_detailed, read_type7, write_type7
from wavilex.core.edid.formats import rid_timing
from wavilex.core.edid.model import ForumBlock, HdmiBlock
from wavilex.core.video.cta import cta_timing
from wavilex.core.video.dmt import DMT_IDS, dmt_timing
from wavilex.core.video.timing import Timing


def _sealed(block: bytearray) -> bytes:
    block[127] = -sum(block[:127]) % 256
    return bytes(block)


def hdmi_block(*payload: int) -> HdmiBlock | None:
    """The HDMI block read from an EDID that says nothing else. payload: from the physical address on."""
    base = bytearray(128)
    base[:8], base[18], base[19], base[126] = b"\0\xff\xff\xff\xff\xff\xff\0", 1, 3, 1
    cta = bytearray(128)
    data = bytes((0x03, 0x0C, 0x00, *payload))
    body = bytes((3 << 5 | len(data), *data))
    cta[:4] = 2, 3, 4 + len(body), 0
    cta[4 : 4 + len(body)] = body
    read = decode(_sealed(base) + _sealed(cta)).cta
    return read.hdmi if read else None


def changed(a: Any, b: Any) -> dict[str, Any]:
    return {f.name: getattr(b, f.name) for f in fields(a) if getattr(a, f.name) != getattr(b, f.name)}


@pytest.mark.parametrize(("bit", "says"), [
    (0x80, {"ai": True}), (0x40, {"deep_bits": (16,)}), (0x20, {"deep_bits": (12,)}), (0x10, {"deep_bits": (10,)}),
    (0x08, {"deep_444": True}), (0x04, {}), (0x02, {}), (0x01, {}),
])  # fmt: skip
def test_each_bit_of_the_hdmi_blocks_sixth_byte(bit: int, says: dict[str, Any]) -> None:
    """HDMI 1.4b, 8.3.2: Supports_AI, DC_48bit, DC_36bit, DC_30bit, DC_Y444, reserved, reserved, DVI_Dual."""
    none, one = hdmi_block(0x10, 0x00, 0), hdmi_block(0x10, 0x00, bit)
    assert none is not None
    assert one is not None
    assert changed(none, one) == says


@pytest.mark.parametrize(("bit", "payload", "says"), [
    (0x80, (10, 20), {"video_latency_ms": 18, "audio_latency_ms": 38}), (0x08, (), {"game_content": True}),
    (0x04, (), {}), (0x02, (), {}), (0x01, (), {}), (0x20, (0, 2 << 5, 1, 3), {"hdmi_vics": (1, 3)}),
    (0x80, (251, 252), {"video_latency_ms": 500}), (0x80, (0, 255), {}), (0x80, (1, 1), {
        "video_latency_ms": 0, "audio_latency_ms": 0}),
])  # fmt: skip
def test_each_bit_of_the_hdmi_blocks_eighth_byte(bit: int, payload: tuple[int, ...], says: dict[str, Any]) -> None:
    """HDMI 1.4b, 8.3.2: latency fields (2·(v-1) ms up to 251; 0 unknown, 255 no such thing), HDMI_Video, content."""
    none, one = hdmi_block(0x10, 0x00, 0, 0, 0), hdmi_block(0x10, 0x00, 0, 0, bit, *payload)
    assert none is not None
    assert one is not None
    assert changed(none, one) == says


FORUM_BITS = {
    (2, 0x80): {"scdc": True}, (2, 0x40): {"read_request": True}, (2, 0x20): {}, (2, 0x10): {},
    (2, 0x08): {"scramble_low": True}, (2, 0x04): {}, (2, 0x02): {}, (2, 0x01): {},
    (3, 0x80): {"frl_code": 8}, (3, 0x10): {"frl_code": 1}, (3, 0x08): {}, (3, 0x04): {"bits_420": (16,)},
    (3, 0x02): {"bits_420": (12,)}, (3, 0x01): {"bits_420": (10,)},
    (4, 0x80): {}, (4, 0x40): {"qms": True}, (4, 0x20): {}, (4, 0x10): {}, (4, 0x08): {}, (4, 0x04): {"fva": True},
    (4, 0x02): {"allm": True}, (4, 0x01): {},
    (5, 0x80): {"vrr_max_hz": 512}, (5, 0x40): {"vrr_max_hz": 256}, (5, 0x20): {"vrr_min_hz": 32},
    (5, 0x01): {"vrr_min_hz": 1}, (6, 0x80): {"vrr_max_hz": 128}, (6, 0x01): {"vrr_max_hz": 1},
    (7, 0x80): {"dsc": True}, (7, 0x40): {"dsc_native_420": True}, (7, 0x20): {}, (7, 0x10): {},
    (7, 0x08): {"dsc_all_bpp": True}, (7, 0x04): {"dsc_bits": (16,)}, (7, 0x02): {"dsc_bits": (12,)},
    (7, 0x01): {"dsc_bits": (10,)}, (8, 0x80): {"dsc_frl_code": 8}, (8, 0x10): {"dsc_frl_code": 1},
    (8, 0x08): {"dsc_slice_code": 8}, (8, 0x01): {"dsc_slice_code": 1}, (9, 0x80): {}, (9, 0x40): {},
    (9, 0x20): {"dsc_chunk_kib": 32}, (9, 0x01): {"dsc_chunk_kib": 1}, (1, 0x01): {"tmds_mhz": 5},
}  # fmt: skip


@pytest.mark.parametrize(("place", "says"), FORUM_BITS.items())
def test_each_bit_of_the_forum_block(place: tuple[int, int], says: dict[str, Any]) -> None:
    """HDMI 2.1, HF-VSDB from its version byte on; value from memory, as CTA-861-H carries the same fields."""
    at, bit = place
    payload = [1, *[0] * 9]
    none = read_forum(bytes(payload), "test", [])
    payload[at] |= bit
    assert changed(none, read_forum(bytes(payload), "test", [])) == says
    assert changed(ForumBlock(), none) == {}


DETAILED = bytes.fromhex("023a801871382d40582c450000000000001e")  # VIC 16 as EDID 1.4 writes it, both signs up


@pytest.mark.parametrize(("byte", "bits", "says"), [
    (17, 0x80, {"interlaced": True}), (17, 0x60, {}), (17, 0x01, {}),
    (11, 0x80, {"h_front": 88 + 512}), (11, 0x40, {"h_front": 88 + 256}), (11, 0x20, {"h_sync": 44 + 512}),
    (11, 0x10, {"h_sync": 44 + 256}),
])  # fmt: skip
def test_each_bit_of_a_detailed_timing(byte: int, bits: int, says: dict[str, Any]) -> None:
    """VESA E-EDID 1.4, 3.10.2: byte 17 bit 7 interlaced, 6 and 5 stereo, 0 stereo; byte 11 upper bits of the porches.

    The blanking grows with the porch, so that the back porch stays as it is.
    """
    data = bytearray(DETAILED)
    plain = read_detailed(bytes(data))
    data[byte] |= bits
    if byte == 11:
        data[4] = (data[4] & 0xF0) | (0x118 + (bits & 0xC0) * 4 + (bits & 0x30) * 16) >> 8
    read = read_detailed(bytes(data))
    assert plain is not None
    assert read is not None
    own = {k: v for k, v in changed(plain, read).items() if k != "refresh"}
    assert own == says


def test_signs_of_a_detailed_timing() -> None:
    """VESA E-EDID 1.4: digital separate sync is bits 4 and 3 both; then bit 2 is the vertical sign, bit 1 the other."""
    signs = {}
    for flags in range(0, 32, 2):
        t = read_detailed(DETAILED[:17] + bytes((flags,)))
        assert t is not None
        signs[flags] = (t.h_sync_positive, t.v_sync_positive)
    assert {f for f, s in signs.items() if s[0]} == {0x1A, 0x1E}
    assert {f for f, s in signs.items() if s[1]} == {0x1C, 0x1E}


@pytest.mark.parametrize(("size", "timings"), [(21, 1), (20, 0), (22, 1)])
def test_a_type_7_timing_in_a_cta_block_takes_twenty_one_bytes(size: int, timings: int) -> None:
    """CTA-861-H, extended tag 0x22: a revision byte, then the 20 bytes of DisplayID 2.0."""
    row = (bytes(1) + write_type7(dmt_timing(0x52)) + bytes(1))[:size]
    cta = bytearray(128)
    cta[:4] = 2, 3, 4 + 2 + size, 0
    cta[4 : 6 + size] = bytes((7 << 5 | (size + 1), 0x22)) + row
    base = bytearray(128)
    base[:8], base[18], base[19], base[126] = b"\0\xff\xff\xff\xff\xff\xff\0", 1, 3, 1
    read = decode(_sealed(base) + _sealed(cta)).cta
    assert read is not None
    assert len(read.detailed) == timings


def _type7_by_the_document(t: Timing) -> bytes:
    """VESA DisplayID 2.0, 4.3: little-endian words, each less one; the signs in bit 15 of the front porches."""
    out = (t.pixel_clock_hz // 1000 - 1).to_bytes(3, "little")
    words = [t.h_active, t.h_front + t.h_sync + t.h_back, t.h_front, t.h_sync,
             t.v_active, t.v_front + t.v_sync + t.v_back, t.v_front, t.v_sync]  # fmt: skip
    signs = {2: t.h_sync_positive, 6: t.v_sync_positive}
    return (
        out + b"\0" + b"".join((w - 1 + 2**15 * signs.get(n, False)).to_bytes(2, "little") for n, w in enumerate(words))
    )


@pytest.mark.parametrize("more", [0, 1])  # of the front porches: even and odd
@pytest.mark.parametrize("dmt", sorted(DMT_IDS))
def test_type_7_is_written_and_read_as_the_document_lays_it_out(dmt: int, more: int) -> None:
    t = dmt_timing(dmt)
    if t.interlaced or not t.h_front:
        return
    t = replace(t, h_front=t.h_front + more, v_front=t.v_front + more)
    data = write_type7(t)
    assert data[:3] + data[4:] == _type7_by_the_document(t)[:3] + _type7_by_the_document(t)[4:]
    read = read_type7(data)
    assert read is not None
    wide = ("h_active", "h_front", "h_sync", "h_back", "v_active", "v_front", "v_sync", "v_back", "h_sync_positive",
            "v_sync_positive", "interlaced")  # fmt: skip
    assert [getattr(read, f) for f in wide] == [getattr(t, f) for f in wide]
    assert read.pixel_clock_hz == t.pixel_clock_hz // 1000 * 1000


@pytest.mark.parametrize(("rid", "hz", "vic"), [
    (1, 60, 4), (2, 60, 69), (4, 60, 16), (5, 60, 76), (11, 60, 97), (12, 60, 107), (11, 120, 118), (12, 120, 120),
    (19, 60, 199), (20, 60, 207), (13, 60, 126), (6, 60, 90), (3, 60, 83),
])  # fmt: skip
def test_two_codes_of_a_size_are_two_shapes(rid: int, hz: int, vic: int) -> None:
    """CTA-861.6, resolution codes, and CTA-861's list of codes (16:9 before 64:27); value from memory."""
    assert rid_timing(rid, hz) == cta_timing(vic)
