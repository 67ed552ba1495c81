"""EDIDs of DisplayPort, USB-C and DVI sockets: built ones against the reference edid-decode, DisplayID by itself."""

from __future__ import annotations

import re
import shutil
import subprocess
from pathlib import Path

import pytest

from tests.core.edid_corpus import first_family
from tests.rigs import device, rig
from wavilex.core.edid.answers import answer
from wavilex.core.edid.build import build
from wavilex.core.edid.decode import decode
from wavilex.core.edid.facts import facts_of
from wavilex.core.edid.model import EdidError
from wavilex.core.edid.text import bytes_of
from wavilex.core.gear.edid_of_input import factory_settings, spec_of_input
from wavilex.core.gear.profile_of_edid import profile_of
from wavilex.core.rig.teach import teach
from wavilex.core.video.codes import parse_timing
from wavilex.library import starter_profiles

TOOL = shutil.which("edid-decode")
PLAIN = [
    (uid, port.id) for uid, p in starter_profiles().items() if p.role == "screen"
    for port in p.inputs() if port.kind in ("dp", "usbc", "dvi")
]  # fmt: skip
HDMI_OUIS = (bytes.fromhex("030c00"), bytes.fromhex("d85dc4"))


def built(uid: str, port: str) -> bytes:
    profile = starter_profiles()[uid]
    return build(spec_of_input(profile, port, factory_settings(profile)))


def reference(data: bytes, *options: str) -> str:
    assert TOOL
    return subprocess.run([TOOL, *options], input=data, capture_output=True, check=False).stdout.decode()


@pytest.mark.parametrize(("uid", "port"), PLAIN)
def test_what_is_built_passes_edid_decode(uid: str, port: str) -> None:
    """Reference: edid-decode -c reports no failure. It warns of one thing: the maker's number is nobody's."""
    data = built(uid, port)
    said = reference(data, "-c")
    assert "EDID conformity: PASS" in said
    complaints = [line for line in said[said.find("Warnings:") :].splitlines() if "0x20" in line]
    assert all("Unknown OUI" in line for line in complaints)
    assert decode(data).findings == ()
    assert not any(oui in data for oui in HDMI_OUIS)


def test_the_reference_reads_what_was_meant() -> None:
    data = built("kelpine-m28", "dp")
    said = reference(data)
    assert "DisplayPort interface" in said
    assert "Bits per primary color channel: 10" in said
    assert re.search(r"Min Refresh Rate: 48 Hz\s+Max Refresh Rate: 144 Hz", said)
    assert "1306.206000 MHz" in said
    assert "TMDS" not in said
    assert "DVI interface" in reference(built("kelpine-m22", "dvi"))


def test_a_displayport_edid_teaches_depth_and_window_and_no_tmds() -> None:
    e = decode(built("kelpine-m28", "dp"))
    a, facts = answer(e), facts_of(e)
    assert (a.socket, a.tmds_hz, a.frl, a.vrr_kinds) == ("DisplayPort", None, None, ("dp",))
    assert facts["vrr"] == [48, 144]
    assert facts["encodings"] == {"rgb": [8, 10], "444": [8, 10], "422": [8, 10]}
    assert not {"tmds_mhz", "frl", "dsc", "scdc", "dp"} & set(facts)
    told = teach(rig(device("m", "kelpine-m28")), "m", "dp", e)
    assert not any("another kind" in f for f in told["findings"])
    assert any("another kind" in f for f in teach(rig(device("m", "kelpine-m28")), "m", "hdmi1", e)["findings"])


def test_range_limits_are_a_window_by_guess() -> None:
    """E-EDID 1.4, continuous frequency: without an adaptive-sync block the range limits stand in, and are no proof."""
    data = bytearray(built("kelpine-m28", "dp")[:128])
    data[126] = 0
    data[127] = -sum(data[:127]) % 256
    e = decode(bytes(data))
    window = answer(e).vrr
    assert window is not None
    assert (window.kind, window.min_hz, window.max_hz) == ("limits", 48, 144)
    told = teach(rig(device("m", "kelpine-m26")), "m", "dp", e)
    taught = next(op for op in told["ops"] if op["op"] == "set_fact" and op["path"].endswith(".vrr"))
    assert taught["provenance"] == "guess"
    data[24] &= 0xFE
    data[127] = -sum(data[:127]) % 256
    assert answer(decode(bytes(data))).vrr is None


def alone(data: bytes) -> bytes:
    """The section of the third block, without the extension's own first byte and sum."""
    section = data[256:384]
    return bytes(section[1 : 1 + 4 + section[2] + 1])


def test_displayid_stands_by_itself(tmp_path: Path) -> None:
    """The same section inside an extension, read by the reference, lists the timings that are read of it alone."""
    data = built("kelpine-m28", "dp")
    e = decode(alone(data))
    assert e.findings == ()
    assert answer(e).socket == "DisplayPort"
    assert (e.base.width_cm, e.base.height_cm, e.base.bits) == (60, 34, 10)
    window = answer(e).vrr
    assert window is not None
    assert (window.min_hz, window.max_hz) == (48, 144)
    said = reference(data)
    for timing in e.displayid_timings[:1]:
        assert f"{timing.pixel_clock_hz / 1e6:.6f} MHz" in said
    codes = {answer_mode.timing.mode for answer_mode in answer(e).modes}
    assert len(codes) == len(e.displayid_timings) == 4
    assert bytes_of(alone(data).hex(" ").encode()) == alone(data)
    profile = profile_of(e)
    assert [(p.kind, p.direction) for p in profile.ports] == [("dp", "in")]


def first_version() -> bytes:
    """A DisplayID 1.3 structure by hand: product, parameters, interface, range limits, one type I timing."""
    t = parse_timing("cvt:2560x1440@60:rb1")
    timing = (t.pixel_clock_hz // 10_000 - 1).to_bytes(3, "little") + first_family(t)
    product = b"WVX" + (7).to_bytes(2, "little") + bytes(4) + bytes([12, 26, 5]) + b"Chain"
    parameters = (5_970).to_bytes(2, "little") + (3_360).to_bytes(2, "little") + bytes(8)
    limits = bytes(10) + bytes([40, 75]) + bytes(3)
    body = b""
    for tag, data in ((0x00, product), (0x01, parameters), (0x0F, bytes([0x94, 0, 0x07, *bytes(7)])), (0x09, limits),
                      (0x03, timing)):  # fmt: skip
        body += bytes([tag, 0, len(data)]) + data
    head = bytes([0x13, len(body), 0x03, 0]) + body
    return head + bytes([-sum(head) % 256])


def test_the_first_version_stands_by_itself_too() -> None:
    """VESA DisplayID 1.3, value from memory; its timing as the reference reads it out of an extension block."""
    e = decode(first_version())
    a = answer(e)
    assert (e.base.maker, e.base.name, e.base.width_cm, e.base.bits, a.socket) == (
        "WVX",
        "Chain",
        60,
        10,
        "DisplayPort",
    )
    assert [m.timing.pixel_clock_hz for m in a.modes] == [241_500_000]
    assert a.vrr is not None
    assert (a.vrr.kind, a.vrr.min_hz, a.vrr.max_hz) == ("limits", 40, 75)
    section = first_version()
    block = bytearray(b"\x70" + section[:1] + bytes([121]) + section[2:-1]).ljust(126, b"\0")
    block += bytes([-sum(block[1:126]) % 256])
    block += bytes([-sum(block) % 256])
    base = bytearray(built("kelpine-m26", "dp")[:128])
    base[126], base[127] = 1, (base[127] + base[126] - 1) % 256
    assert "241.500000 MHz" in reference(bytes(base) + bytes(block))


def test_bytes_that_only_look_like_it_are_refused() -> None:
    data = bytearray(alone(built("kelpine-m28", "dp")))
    data[7] ^= 1
    with pytest.raises(EdidError):
        decode(bytes(data))


def test_dvi_is_rgb_and_eight_bits() -> None:
    e = decode(built("kelpine-m26", "dvi"))
    assert {m.bits for m in answer(e).modes} == {(("rgb", (8,)), ("444", ()), ("422", ()), ("420", ()))}
    port = profile_of(e).ports[0]
    assert (port.kind, port.links) == ("dvi", 2)
    assert profile_of(decode(built("kelpine-m22", "dvi"))).ports[0].links == 1
