"""The report of an EDID in words, against the reference program edid-decode; and what a spoilt one still gives."""

from __future__ import annotations

import random
import re
import subprocess
from dataclasses import replace
from typing import Any

import pytest

from tests.core.edid_corpus import corpus, sealed
from tests.rigs import s03
from wavilex.core.edid.build import build
from wavilex.core.edid.cta import add_blocks
from wavilex.core.edid.decode import decode
from wavilex.core.edid.facts import facts_of
from wavilex.core.edid.model import Cta, Edid, Finding
from wavilex.core.edid.report import colorimetry_words, edid_data, edid_report, speaker_words
from wavilex.core.gear.edid_of_input import factory_settings, spec_of_input
from wavilex.core.gear.profile_of_edid import profile_of
from wavilex.core.rig.changes import apply
from wavilex.core.rig.teach import teach
from wavilex.library import starter_profiles

SCREEN = build(
    spec_of_input(starter_profiles()["yarrowby-77e"], "hdmi1", factory_settings(starter_profiles()["yarrowby-77e"]))
)
BARE = Cta(3, underscan=False, basic_audio=False, yuv444=False, yuv422=False)


def with_block(block: bytes) -> bytes:
    """The built EDID with one more data block at the end of its CTA extension's, detailed timings left out."""
    ext = bytearray(SCREEN[128:256])
    old = bytes(ext[4 : ext[2]])
    body = old + block
    fresh = bytearray(128)
    fresh[:4] = ext[:4]
    fresh[2] = 4 + len(body)
    fresh[4 : 4 + len(body)] = body
    return SCREEN[:128] + sealed(fresh)


def reference(data: bytes) -> str:
    done = subprocess.run(["edid-decode"], input=data, capture_output=True, check=False)
    return done.stdout.decode()


def rows(e: Edid) -> dict[str, str]:
    return {r["name"]: r["value"] for s in edid_report(e) for r in s["rows"]}


@pytest.mark.parametrize(
    ("bit", "said"),
    [(0, "FL/FR"), (1, "LFE1"), (2, "FC"), (3, "BL/BR"), (4, "BC"), (5, "FLc/FRc"), (6, "RLC/RRC"), (7, "FLw/FRw"),
     (8, "TpFL/TpFR"), (9, "TpC"), (10, "TpFC"), (11, "LS/RS"), (12, "LFE2"), (13, "TpBC"), (14, "SiL/SiR"),
     (15, "TpSiL/TpSiR"), (16, "TpBL/TpBR"), (17, "BtFC"), (18, "BtFL/BtFR"), (19, "TpLS/TpRS")],
)  # fmt: skip
def test_speakers_bit_by_bit_as_the_reference_reads_them(bit: int, said: str) -> None:
    """CTA-861 speaker allocation; edid-decode's short names beside ours: the same word initials."""
    data = with_block(bytes([0x83]) + (1 << bit).to_bytes(3, "little"))
    text = reference(data)
    assert re.search(rf"{re.escape(said)} - (.+)", text), text
    long = re.search(rf"{re.escape(said)} - (.+)", text)
    assert long is not None
    (ours,) = speaker_words(1 << bit)
    theirs = long[1].lower().replace("/", " ").split()
    same = {"lfe": "frequency", "effects": "frequency", "center": "centre"}
    assert sum(same.get(w, w) in ours for w in theirs if w.isalpha()) >= 1
    assert rows(decode(data))["speakers"] == ours


@pytest.mark.parametrize(
    ("bit", "theirs", "ours"),
    [(0, "xvYCC601", "xvYCC 601"), (1, "xvYCC709", "xvYCC 709"), (2, "sYCC601", "sYCC 601"),
     (3, "opYCC601", "opYCC 601"), (4, "opRGB", "opRGB"),
     (5, "BT2020cYCC", "BT.2020 constant luminance"), (6, "BT2020YCC", "BT.2020 YCC"),
     (7, "BT2020RGB", "BT.2020 RGB"), (14, "ICtCp", "ICtCp"), (15, "DCI-P3|P3D65", "DCI-P3")],
)  # fmt: skip
def test_colour_spaces_bit_by_bit_as_the_reference_reads_them(bit: int, theirs: str, ours: str) -> None:
    data = with_block(bytes([0xE3, 5]) + (1 << bit).to_bytes(2, "little"))
    assert colorimetry_words(1 << bit) == [ours]
    if bit not in (14, 15):  # the 2022 build of the reference knows not both bits of the second byte
        assert re.search(theirs, reference(data))
    assert ours in rows(decode(data))["colorimetry"]


@pytest.mark.parametrize(("byte", "rgb", "ycc"), [(0x00, False, False), (0x40, True, False), (0x80, False, True)])
def test_levels_that_can_be_chosen_as_the_reference_reads_them(byte: int, rgb: bool, ycc: bool) -> None:
    """CTA-861 video capability block: bits 6 and 7."""
    data = with_block(bytes([0xE2, 0, byte]))
    text = reference(data)
    own = add_blocks(BARE, bytes([0xE2, 0, byte]), "test", [])
    told = rows(replace(decode(SCREEN), cta=own))
    for name, has, there in (
        ("RGB", rgb, told["RGB levels"] != "not selectable"),
        ("YCbCr", ycc, "YCC levels" in told),
    ):
        last = re.findall(rf"{name} quantization: (.+)", text)[-1]  # of the block that was added
        assert last.startswith("Selectable") is has
        assert there is has


def test_latencies_and_luminances_as_the_reference_reads_them() -> None:
    """HDMI 1.4b: latencies, then of interlaced pictures, which is which by the reference; CTA-861.3: 50·2^(cv/32)."""
    hdmi = bytes([0x6C, 0x03, 0x0C, 0x00, 0x10, 0x00, 0x38, 0x3C, 0xC0, 11, 6, 26, 21])
    text = reference(with_block(hdmi))
    told = rows(replace(decode(SCREEN), cta=add_blocks(BARE, hdmi, "test", [])))
    for name, words, code in (
        ("claimed picture latency", "Video latency", 11), ("claimed sound latency", "Audio latency", 6),
        ("of an interlaced picture", "Interlaced video latency", 26), ("of its sound", "Interlaced audio latency", 21),
    ):  # fmt: skip
        assert f"{words}: {1 + 2 * code} ms" in text  # so the 2022 build of the reference; the document: 2·(code − 1)
        assert told[name] == f"{2 * (code - 1)} ms"
    hdr = with_block(bytes([0xE6, 6, 0x0D, 1, 115, 90, 70]))
    light = rows(decode(hdr))
    for name, words in (
        ("brightest", "Desired content max luminance"), ("darkest", "Desired content min luminance"),
        ("brightest on average of a frame", "Desired content max frame-average luminance"),
    ):  # fmt: skip
        figure = re.search(rf"{words}: \d+ \(([\d.]+) cd/m\^2\)", reference(hdr))
        assert figure is not None
        assert float(light[name].split()[0]) == pytest.approx(float(figure[1]), rel=1e-3)


def test_the_base_block_in_words_as_the_reference_reads_it() -> None:
    text = reference(SCREEN)
    told = rows(decode(SCREEN))
    made = re.search(r"Made in: week (\d+) of (\d+)", text)
    limits = re.search(r"Monitor ranges.*: (\d+)-(\d+) Hz V, (\d+)-(\d+) kHz H, max dotclock (\d+) MHz", text)
    size = re.search(r"Maximum image size: (\d+) cm x (\d+) cm", text)
    assert made is not None
    assert limits is not None
    assert size is not None
    assert told["made"] == f"week {made[1]} of {made[2]}"
    assert told["size"].startswith(f"{size[1]} × {size[2]} cm")
    low, high, slow, fast, clock = limits.groups()
    assert told["range limits"] == f"{low} to {high} Hz, {slow} to {fast} kHz, to {clock} MHz"
    assert told["variable refresh"].startswith("40 Hz to 120 Hz")
    assert told["FRL"] == "48 Gb/s (4 × 12)"


def test_a_screen_without_an_extension_says_little_and_still_gives_a_report() -> None:
    bare = bytearray(SCREEN[:128])
    bare[126] = 0
    told = edid_data(decode(sealed(bare)))
    assert [s["title"] for s in told["report"]][:2] == ["Screen", "Picture"]
    assert rows(decode(sealed(bare)))["variable refresh"] == "none said"


# --- spoilt ones


def test_any_spoilt_edid_becomes_a_profile_and_a_report() -> None:
    """Bytes of a corpus of our own changed at random: figures out of range are clamped, never a dead end."""
    rnd = random.Random(16)
    for data in corpus(12):
        for _ in range(40):
            spoilt = bytearray(data)
            for _ in range(rnd.randint(1, 8)):
                spoilt[rnd.randrange(8, len(spoilt))] = rnd.randrange(256)
            e = decode(bytes(spoilt))
            assert edid_report(e)
            assert profile_of(e).ports


@pytest.mark.parametrize(
    ("steps", "believed"), [(1, 25), (4, 25), (5, 25), (60, 300), (120, 600), (121, 600), (255, 600)]
)
def test_a_tmds_figure_out_of_range_is_clamped_and_said(steps: int, believed: int) -> None:
    """The older HDMI block counts in 5 MHz; TMDS runs from 25 to 600 MHz (HDMI 1.0, 2.0)."""
    findings: list[Finding] = []
    cta = add_blocks(BARE, bytes([0x67, 0x03, 0x0C, 0x00, 0x10, 0x00, 0x00, steps]), "test", findings)
    base = decode(SCREEN)
    low = replace(base.base, detailed=(), listed=())
    facts = facts_of(replace(base, base=low, cta=cta, displayid_timings=()))
    assert facts["tmds_mhz"] == believed
    assert ("hdmi_tmds" in {f.code for f in findings}) is (not 25 <= steps * 5 <= 600)


@pytest.mark.parametrize("at", [8, 9, 10, 11])
def test_a_detailed_timing_without_a_sync_is_kept_and_said(at: int) -> None:
    """Porches and syncs of 0 where they cannot be."""
    data = bytearray(SCREEN[:128])
    row = data[54:72]
    row[at] = 0
    data[54:72] = row
    data[126] = 0
    e = decode(sealed(data))
    assert e.base.detailed
    assert profile_of(e).ports


def test_interlaced_timings_stay_among_what_is_taught() -> None:
    """VICs 5 and 20: 1080i60 and 1080i50."""
    e = decode(with_block(bytes([0x42, 5, 20])))
    assert {"vic:5", "vic:20"} <= set(facts_of(e)["modes"])
    assert profile_of(e).video is not None
    assert "2 of them interlaced" in rows(e)["timings listed"]


def test_flags_of_an_extension_are_kept_when_blocks_came_before_it() -> None:
    """CTA blocks inside DisplayID have no flags: those of the extension behind it count, in either order."""
    displayid = bytearray(128)
    block = bytes([0x81, 0, 3, 0x42, 16, 4])
    displayid[:5] = bytes([0x70, 0x20, len(block), 0, 0])
    displayid[5 : 5 + len(block)] = block
    cta = SCREEN[128:256]
    for order in ((sealed(displayid), cta), (cta, sealed(displayid))):
        head = bytearray(SCREEN[:128])
        head[126] = 2
        e = decode(sealed(head) + b"".join(order))
        assert e.cta is not None
        assert (e.cta.yuv444, e.cta.yuv422, e.cta.basic_audio) == (True, True, True)


def test_the_brightest_white_is_offered_and_used() -> None:
    r = s03()
    e = decode(with_block(bytes([0xE6, 6, 0x0D, 1, 115, 90, 70])))  # 603.7 cd/m²
    told = teach(r, "tv", "hdmi2", e)
    (row,) = [x for x in told["rows"] if x["field"].startswith("brightest")]
    assert row["after"] == "604"
    after = apply(r, [dict(op) for op in told["ops"]])[0]
    assert after.peak_cd_m2("tv") == 604
    assert told["report"][0]["title"] == "Screen"
    fields = [x["field"] for x in teach(after, "tv", "hdmi2", e)["rows"]]
    assert not any(f.startswith("brightest") for f in fields)


def test_a_peak_that_is_none_is_refused() -> None:
    from wavilex.core.errors import ChangeError

    for value in (0, 20_001, 3.5, True, "bright"):
        fact: dict[str, Any] = {"op": "set_fact", "device": "tv", "path": "peak_cd_m2", "value": value}
        with pytest.raises(ChangeError):
            apply(s03(), [fact])
    base = {"op": "set_fact", "device": "base", "path": "peak_cd_m2", "value": 500}
    with pytest.raises(ChangeError, match="only a screen"):
        apply(s03(), [base])
