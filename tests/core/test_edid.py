"""EDID: what is built passes edid-decode, comes back as it was, and no bytes break the reading."""

from __future__ import annotations

import json
import random
import re
import subprocess
from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.test_timings import TOOL
from tests.rigs import s03
from wavilex.cli import main
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.edid.answers import answer, answers_data
from wavilex.core.edid.build import SinkSpec, build
from wavilex.core.edid.decode import decode
from wavilex.core.edid.difference import edid_difference
from wavilex.core.edid.facts import address_of, facts_of
from wavilex.core.edid.formats import RATES, RIDS, rates_of, rid_timing
from wavilex.core.edid.model import Audio, Edid, EdidError, ForumBlock, HdmiBlock
from wavilex.core.edid.text import bytes_of
from wavilex.core.gear.edid_of_input import factory_settings, spec_of_input
from wavilex.core.rig.changes import apply
from wavilex.core.rig.teach import teach
from wavilex.core.video.codes import parse_timing
from wavilex.library import starter_profiles

SCREENS = [
    (p.id, port.id, option)
    for p in starter_profiles().values()
    if p.role == "screen"
    for port in p.inputs()
    if port.kind == "hdmi"
    for option in [o.id for s in p.settings if s.id == "format" for o in s.options] or [""]
]


def of(profile: str, port: str, option: str = "") -> SinkSpec:
    p = starter_profiles()[profile]
    return spec_of_input(p, port, factory_settings(p, {"format": option} if option else {}))


@pytest.mark.parametrize(("profile", "port", "option"), SCREENS)
def test_what_is_built_passes_edid_decode(profile: str, port: str, option: str, tmp_path: Path) -> None:
    """Reference: edid-decode -c (2022) reports no failure and no warning.

    Known edge: HDMI asks for a 1.3 base block, whose range limits end at 510 kHz as the reference counts, and
    2160p240 has 583 kHz. No EDID with HDMI's blocks can say it; that one line is the only complaint.
    """
    file = tmp_path / "edid.bin"
    file.write_bytes(build(of(profile, port, option)))
    assert TOOL
    done = subprocess.run([TOOL, "-c", str(file)], capture_output=True, text=True, check=False)
    said = done.stdout[done.stdout.find("Failures:") :].split("\n")
    if profile == "kelpine-x32":
        assert [line.strip() for line in said if line.startswith("    ")] == [
            "Horizontal Freq: 31.468 - 582.959 kHz (Monitor: 31.000 - 510.000 kHz)"
        ]
    else:
        assert "EDID conformity: PASS" in done.stdout, done.stdout[-900:]
    assert decode(file.read_bytes()).findings == ()


def test_figures_agree_with_what_edid_decode_reads(tmp_path: Path) -> None:
    """The fields of the HDMI blocks, HDR and every timing, read by the reference from the same bytes."""
    file = tmp_path / "edid.bin"
    file.write_bytes(build(of("yarrowby-65s", "hdmi3", "wide")))
    assert TOOL
    text = subprocess.run([TOOL, "-L", str(file)], capture_output=True, text=True, check=True).stdout
    data = answers_data(decode(file.read_bytes()))
    assert f"Maximum TMDS Character Rate: {data['max_tmds_character_rate_hz'] // 10**6} MHz" in text
    assert "6, 8 and 10 Gbps on 4 lanes" in text
    assert data["max_frl"] == "4x10"
    assert f"VRRmin: {data['vrr']['min_hz']} Hz" in text
    assert f"VRRmax: {data['vrr']['max_hz']} Hz" in text
    assert ("Supports Auto Low-Latency Mode" in text) is data["allm"]
    assert f"Source physical address: {data['physical_address']}" in text
    clocks = sorted({round(float(m) * 1000) for m in re.findall(r"([\d.]+) MHz", text) if float(m) > 20})
    ours = {round(m["pixel_clock_hz"] / 1000) for m in data["modes"]}
    assert ours <= set(clocks)


VICS = st.lists(st.sampled_from([4, 16, 31, 63, 93, 95, 96, 97, 117, 118, 199]), min_size=1, max_size=8, unique=True)
OTHERS = st.lists(
    st.sampled_from(["cvt:2560x1440@120:rb1", "cvt:2560x1440@60:rb1", "cvt:3440x1440@144:rb2", "cvt:3840x2160@240:rb2",
                     "cvt:3840x2160@144:rb2"]), max_size=2, unique=True,
)  # fmt: skip


SOUND = (
    Audio("lpcm", 8, (48_000, 192_000), (16, 24)),
    Audio("ac3", 6, (48_000,), (80,)),
    Audio("code 7", 6, (48_000,), (192,)),
)


@st.composite
def specs(draw: Any) -> SinkSpec:
    vics = draw(VICS)
    frl = draw(st.integers(0, 6))
    window = draw(st.sampled_from([(None, None), (48, 120), (40, 240), (24, None), (48, 1000)]))
    deep = draw(st.sampled_from([(), (10,), (10, 12)]))
    forum = ForumBlock(
        tmds_mhz=600 if frl else draw(st.sampled_from([None, 345, 600])), scdc=draw(st.booleans()), frl_code=frl,
        bits_420=deep, allm=draw(st.booleans()), fva=draw(st.booleans()), vrr_min_hz=window[0], vrr_max_hz=window[1],
        dsc=bool(frl), dsc_bits=(10,) if frl else (), dsc_frl_code=frl, dsc_slice_code=5 if frl else 0,
        dsc_chunk_kib=draw(st.integers(0, 63)) if frl else 0,
    )  # fmt: skip
    yuv444 = draw(st.booleans())
    return SinkSpec(
        name=draw(st.text("ABCdef 123-", min_size=1, max_size=13).filter(lambda s: s == s.strip())),
        timings=tuple(parse_timing(f"vic:{v}") for v in vics) + tuple(map(parse_timing, draw(OTHERS))),
        vics_420=tuple(v for v in vics if v in (96, 97) and draw(st.booleans())),
        yuv444=yuv444, yuv422=draw(st.booleans()),
        hdmi=HdmiBlock((draw(st.integers(1, 4)), 0, 0, 0), deep, bool(deep) and yuv444, tmds_mhz=300),
        forum=draw(st.sampled_from([None, forum])),
        eotf=draw(st.sampled_from([(), ("sdr", "pq"), ("sdr", "pq", "hlg")])),
        max_code=draw(st.sampled_from([0, 96, 115])),
        audio=draw(st.sampled_from([(), SOUND])),
    )  # fmt: skip


@settings(max_examples=200, deadline=None)
@given(specs())
def test_what_was_said_is_what_is_read(spec: SinkSpec) -> None:
    """decode(build(x)) = x, field by field."""
    e = decode(build(spec))
    assert e.findings == ()
    cta = e.cta
    assert cta is not None
    assert (e.base.name, cta.yuv444, cta.yuv422) == (spec.name, spec.yuv444, spec.yuv422)
    assert (cta.hdmi, cta.forum, cta.audio) == (spec.hdmi, spec.forum, spec.audio)
    assert (cta.hdr.eotf if cta.hdr else ()) == spec.eotf
    got = answer(e)
    figures = lambda t: {k: v for k, v in t.as_dict().items() if k.endswith(("active", "front", "sync", "back"))}  # noqa: E731
    read = [figures(m.timing) for m in got.modes]
    assert all(figures(t) in read for t in spec.timings)
    with_420 = {int(m.timing.code[4:]) for m in got.modes if "420" in m.encodings}
    assert with_420 == set(spec.vics_420)


@settings(max_examples=400, deadline=None)
@given(st.binary(max_size=400), st.booleans())
def test_no_bytes_break_the_reading(data: bytes, headed: bool) -> None:
    if headed:
        data = bytes.fromhex("00ffffffffffff00") + data
    if len(data) < 128 or data[:8] != bytes.fromhex("00ffffffffffff00"):
        with pytest.raises(EdidError):
            decode(data)
    else:
        answers_data(decode(data))


def mutated(count: int, seed: int) -> None:
    rnd = random.Random(seed)
    sound = [bytearray(build(of(*row))) for row in SCREENS[:6]]
    for _ in range(count):
        b = bytearray(rnd.choice(sound))
        for _ in range(rnd.randrange(1, 8)):
            b[rnd.randrange(8, len(b))] = rnd.randrange(256)
        answer(decode(bytes(b)))


def test_mutated_edids_are_read_with_findings() -> None:
    mutated(3000, 1)


@pytest.mark.soak
@pytest.mark.parametrize("seed", range(20))
def test_a_million_mutated_edids(seed: int) -> None:
    mutated(50_000, 100 + seed)


def spoil(at: int, value: int) -> bytes:
    b = bytearray(build(of("yarrowby-65s", "hdmi3", "wide")))
    b[at] = value
    b[at // 128 * 128 + 127] = 0
    b[at // 128 * 128 + 127] = -sum(b[at // 128 * 128 : at // 128 * 128 + 127]) % 256
    return bytes(b)


@pytest.mark.parametrize(
    ("at", "value", "code"),
    [(126, 3, "extension_count"), (8, 0xFF, "maker_letters"), (130, 200, "cta_offset"), (18, 2, "version"),
     (132, 0x5F, "block_length")],
)  # fmt: skip
def test_a_departure_is_a_finding_with_its_place(at: int, value: int, code: str) -> None:
    findings = decode(spoil(at, value)).findings
    assert code in {f.code for f in findings}
    assert all(f.where and f.text and f.severity in ("failure", "warning") for f in findings)


def test_luminance_codes() -> None:
    """CTA-861.3: 96 → 400, 115 → 603.7, 128 → 800, 138 → 993.5 cd/m² (worked values)."""
    base = of("yarrowby-65s", "hdmi3", "wide")
    for code, value in ((96, 400), (115, 603.7), (128, 800), (138, 993.5)):
        read = answers_data(decode(build(replace(base, max_code=code))))["hdr"]["max_cd_m2"]
        assert read == pytest.approx(value, abs=0.05)


def test_vendor_and_displayid_windows_are_read() -> None:
    """A vendor's adaptive-sync block (values from memory [M]) and DisplayID's adaptive-sync block 0x2B."""
    b = bytearray(build(replace(of("kelpine-m27", "hdmi1"), forum=None)))
    block = bytes([0x68, 0x1A, 0x00, 0x00, 2, 1, 48, 144, 0])
    end = b[130]
    b[128 + end + len(block) : 255] = b[128 + end : 255 - len(block)]
    b[128 + end : 128 + end + len(block)] = block
    b[130] = end + len(block)
    b[255] = 0
    b[255] = -sum(b[128:255]) % 256
    assert answers_data(decode(bytes(b)))["vrr"] == {"min_hz": 48, "max_hz": 144, "kind": "vendor"}
    plain = bytearray(build(replace(of("brindlo-24b", "hdmi1"))))
    section = bytes([0x70, 0x20, 9, 0, 0, 0x2B, 0, 6, 0x01, 0, 40, 0x8F, 0x00, 0])
    ext = bytearray(section.ljust(128, b"\0"))
    ext[127] = -sum(ext[:127]) % 256
    plain[126] = 2
    plain[127] = 0
    plain[127] = -sum(plain[:127]) % 256
    data = answers_data(decode(bytes(plain + ext)))
    assert data["ok"]
    assert data["vrr"] == {"min_hz": 40, "max_hz": 144, "kind": "displayid"}


def test_hex_text_of_any_layout_is_read() -> None:
    data = build(of("brindlo-24b", "hdmi1"))
    rows = [data[n : n + 16] for n in range(0, len(data), 16)]
    layouts = [
        data.hex(), data.hex(" "), ", ".join(f"0x{x:02X}" for x in data),
        "\n".join(f"{16 * n:04x}: {row.hex(' ')}" for n, row in enumerate(rows)),
    ]  # fmt: skip
    for text in layouts:
        assert bytes_of(text.encode()) == data
    assert bytes_of(data) == data
    with pytest.raises(EdidError):
        bytes_of(b"no hex here")


def test_the_settings_of_an_input_change_what_the_source_reads() -> None:
    """The format at basic takes HDR, the newer ceiling and 4:4:4 depths away: the difference says so."""
    wide, basic = (decode(build(of("yarrowby-50w", "hdmi1", o))) for o in ("wide", "basic"))
    said = edid_difference(wide, basic)
    assert said["fields"]["max_tmds_character_rate_hz"] == [600_000_000, 300_000_000]
    assert said["fields"]["hdr"][1]["eotf"] == []
    assert said["depths"]
    assert not any(edid_difference(wide, wide).values())


def test_the_command_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    a, b = tmp_path / "a.bin", tmp_path / "b.bin"
    build_words = ["edid", "build", "yarrowby-50w", "--input", "hdmi1"]
    assert main([*build_words, "--set", "format=wide", "-o", str(a)]) == 0
    assert main([*build_words, "-o", str(b)]) == 0
    assert main(["edid", "decode", str(a), "--json"]) == 0
    data = json.loads(capsys.readouterr().out)
    assert data["ok"]
    assert next(m for m in data["modes"] if m["code"] == "vic:97")["bits"]["420"] == [8, 10, 12]
    assert main(["edid", "decode", str(a), str(b), "--json"]) == 0
    assert len(json.loads(capsys.readouterr().out)) == 2
    assert main(["edid", "diff", str(a), str(b), "--json"]) == 0
    assert "hdr" in json.loads(capsys.readouterr().out)["fields"]
    junk = tmp_path / "junk.bin"
    junk.write_bytes(b"\x00" * 200)
    assert main(["edid", "decode", str(junk)]) == 2
    assert main(["edid", "build", "yarrowby-50w", "--input", "none", "-o", str(a)]) == 2
    assert main([*build_words, "--set", "format=huge", "-o", str(a)]) == 2


def test_an_edid_read_at_an_input_becomes_facts_and_the_profile_stays() -> None:
    """What the wide input says, read at a plain one: the facts make the run fit; undo takes them back."""
    start = s03()
    said = decode(build(of("yarrowby-50w", "hdmi1", "wide")))
    taught = teach(start, "tv", "hdmi2", said)
    assert {r["field"] for r in taught["rows"]} >= {"TMDS ceiling, MHz", "HDR"}
    assert len(taught["cannot_tell"]) == 3
    after, back = apply(start, taught["ops"])
    assert run_result(Layer(after), after.runs["base"]).good
    assert after.devices["tv"].profile == start.devices["tv"].profile
    assert apply(after, back)[0] == start
    assert teach(after, "tv", "hdmi2", said)["rows"] == []


@pytest.mark.parametrize("code", ["cvt:2560x1440@120:rb1", "cvt:2560x1440@144:rb2", "vic:97"])
def test_a_read_timing_is_addressed_as_people_know_it(code: str) -> None:
    e = decode(build(replace(of("kelpine-m27", "hdmi1"), timings=(parse_timing(code),), vics_420=())))
    assert code in {address_of(m.timing) for m in answer(e).modes}


def test_compression_travels_from_profile_to_edid_and_back(tmp_path: Path) -> None:
    """HDMI Forum block bytes 11 to 13; the reference reads the same from what is built."""
    file = tmp_path / "edid.bin"
    file.write_bytes(build(of("kelpine-x32", "hdmi1")))
    assert TOOL
    text = subprocess.run([TOOL, str(file)], capture_output=True, text=True, check=False).stdout
    assert "DSC Max Slices: up to 8 slices and up to (400 MHz/Ksliceadjust) pixel clock per slice" in text
    assert "Supports VESA DSC 1.2a compression" in text
    assert facts_of(decode(file.read_bytes()))["dsc"] == {
        "frl": "4x12", "slices": 8, "slice_mhz": 400, "chunk_kib": 0, "all_bpp": False, "bits": [8, 10],
    }  # fmt: skip
    assert facts_of(decode(build(of("yarrowby-65s", "hdmi3", "wide"))))["dsc"] is False


def test_high_rate_without_its_control_channel_is_learned() -> None:
    forum = of("yarrowby-50w", "hdmi1", "wide").forum
    assert forum is not None
    silent = replace(of("yarrowby-50w", "hdmi1", "wide"), forum=replace(forum, scdc=False))
    assert facts_of(decode(build(silent)))["scdc"] is False
    assert "scdc" not in facts_of(decode(build(of("yarrowby-50w", "hdmi1", "wide"))))


def test_every_resolution_code_at_every_rate_as_the_reference_lists_it() -> None:
    """Reference: edid-decode --list-rid-timings; CTA codes by number, the rest by clock while it fits 32 bits."""
    assert TOOL
    said = subprocess.run([TOOL, "--list-rid-timings", "0"], capture_output=True, text=True, timeout=60, check=True)
    rows = re.findall(r"RID +(\d+): .*? ([\d.]+) Hz .*?(?:VIC (\d+)|([\d.]+) MHz)$", said.stdout, re.MULTILINE)
    assert len(rows) == len(RIDS) * len(RATES)
    wrong = []
    for rid, hz, vic, mhz in rows:
        timing = rid_timing(int(rid), round(float(hz)))
        same = timing.code == f"vic:{vic}" if vic else abs(timing.pixel_clock_hz - float(mhz) * 1e6) <= 500
        if not same and timing.pixel_clock_hz < 2**32:
            wrong.append((rid, hz, timing.code, vic or mhz))
    assert wrong == []


@pytest.mark.parametrize(
    ("descriptor", "rates"),
    [([11], (30, 60)), ([0x8B], (25, 30, 50, 60)), ([0x4B], (24, 30, 60)), ([11, 0], ()), ([11, 0xC0], (144,)),
     ([11, 0x84, 1], (48, 120)), ([0x8B, 0xB0], (300, 360, 400, 480))],
)  # fmt: skip
def test_rates_of_a_video_format_descriptor(descriptor: list[int], rates: tuple[int, ...]) -> None:
    """CTA-861.6, value from memory [M]; edid-decode agrees on which descriptors state any rate at all."""
    assert rates_of(bytes(descriptor)) == rates


def with_blocks(*blocks: bytes) -> Edid:
    """A television's EDID with further data blocks before its detailed timings."""
    b = bytearray(build(of("yarrowby-50w", "hdmi2")))
    more, end = b"".join(blocks), b[130]
    b[128 + end + len(more) : 255] = b[128 + end : 255 - len(more)]
    b[128 + end : 128 + end + len(more)] = more
    b[130] = end + len(more)
    b[255] = 0
    b[255] = -sum(b[128:255]) % 256
    return decode(bytes(b))


def test_format_and_code_list_blocks_become_modes() -> None:
    """Tag 6 lists 4K at 144 Hz, in 4:2:0 too; type VIII lists a DMT code; neither is left as unknown bytes."""
    read = with_blocks(bytes([0xC3, 0x81, 11, 0x40]), bytes([0xE3, 0x23, 0x00, 0x10]))
    modes = {m["code"]: m for m in answers_data(read)["modes"]}
    assert modes["ovt:3840x2160@144"]["bits"]["420"] == [8]
    assert modes["dmt:0x10"]["h_active"] == 1024
    assert read.ok
    assert read.cta is not None
    assert read.cta.unknown == ()


def test_unreadable_lists_are_findings() -> None:
    read = with_blocks(bytes([0xC1, 0x00]), bytes([0xC2, 0x00, 63]), bytes([0xE3, 0x23, 0x40, 0x52]))
    assert [f.code for f in read.findings] == ["video_format", "type8_timing"]
