"""Edges of what is listed, drawn and said: tables from the documents, geometry by reading the drawing back."""

from __future__ import annotations

import re
from itertools import pairwise
from xml.etree import ElementTree

import pytest

import tests.rigs as made
from tests.rigs import device, lead, rig, run, setting
from wavilex.core import bounds
from wavilex.core.advise.connect_sound import rank_places
from wavilex.core.advise.table import mode_choices
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.edid.build import build
from wavilex.core.edid.cta import read_forum
from wavilex.core.edid.displayid_timings import timings_of
from wavilex.core.edid.formats import RIDS
from wavilex.core.errors import ChangeError
from wavilex.core.gear.classes import from_template
from wavilex.core.gear.edid_of_input import factory_settings, spec_of_input
from wavilex.core.gear.profile import profile_data
from wavilex.core.lag.enough import settled
from wavilex.core.link.answer import link_answer
from wavilex.core.link.dsc import UNCERTAIN
from wavilex.core.link.tmds import tmds_use
from wavilex.core.modes.coverage import coverage_data
from wavilex.core.modes.run_refresh import refresh_data
from wavilex.core.rig.model import Socket
from wavilex.core.rig.teach import teach
from wavilex.core.scan.signals import analogue
from wavilex.core.scan.typed import scan_data, typed
from wavilex.core.tell.drawing import dot, svg
from wavilex.core.tell.old_machine import _signal
from wavilex.core.tell.view import job_view
from wavilex.core.video.audio import SAMPLE_RATES_HZ, parse_audio
from wavilex.core.video.codes import parse_timing
from wavilex.core.video.signal import DigitalVideo, demand


def test_sample_rates_are_those_of_the_document() -> None:
    """IEC 60958-3, sampling frequencies that HDMI carries as L-PCM."""
    assert SAMPLE_RATES_HZ == (32_000, 44_100, 48_000, 88_200, 96_000, 176_400, 192_000)


@pytest.mark.parametrize(
    ("code", "says"), [("1ch@48", "1 channel at"), ("2ch@48", "2 channels at"), ("none", "no sound")]
)
def test_channels_are_counted_in_words(code: str, says: str) -> None:
    assert parse_audio(code).name.startswith(says)


def test_formats_of_the_format_block_are_those_of_the_document() -> None:
    """CTA-861-H, table of resolution identifications; a row in each size."""
    assert (RIDS[1], RIDS[7], RIDS[13], RIDS[15], RIDS[28]) == (
        (1280, 720, 0), (3840, 1080, 0), (5120, 2160, 0), (5120, 2880, 0), (20480, 8640, 0),
    )  # fmt: skip
    assert {h for _, h, _ in RIDS.values()} == {720, 1080, 1440, 2160, 2880, 4320, 6480, 8640}


@pytest.mark.parametrize(("first", "codes", "sizes"), [
    (0x00, (0x04, 0x10), 2), (0x01, (0x04, 0x10), 2), (0x07, (0x04, 0x10), 2), (0x08, (0x04, 0x00, 0x10, 0x00), 2),
])  # fmt: skip
def test_codes_of_a_list_are_as_wide_as_its_flag_says(first: int, codes: tuple[int, ...], sizes: int) -> None:
    """DisplayID 2.0, type VIII: bit 3 says two bytes a code; bits 0 to 2 are a revision and say nothing of it."""
    timings, none = timings_of(0x23, first, bytes(codes))
    assert (len(timings), none) == (sizes, 0)


@pytest.mark.parametrize(("lowest", "highest", "faulty"), [
    (48, 100, False), (48, 99, True), (48, 0, False), (49, 120, True), (40, 144, False),
])  # fmt: skip
def test_the_window_of_a_forum_block(lowest: int, highest: int, faulty: bool) -> None:
    """HDMI 2.1, HF-VSDB: VRR_min to 48, VRR_max 0 or from 100."""
    payload = bytes((1, 0, 0x80, 0, 0, lowest | (highest >> 8) << 6, highest & 255))
    findings: list = []  # type: ignore[type-arg]
    read_forum(payload, "test", findings)
    assert ("forum_vrr" in {f.code for f in findings}) is faulty


def test_compression_nobody_has_looked_at_is_taken_as_the_strongest() -> None:
    """Unknown is never less than there may be: all slices, all ratios; and never certain."""
    assert (UNCERTAIN.slice_code, UNCERTAIN.all_bpp, UNCERTAIN.certain) == (7, True, False)


@pytest.mark.parametrize(("mhz", "stops"), [("25.000", None), ("24.999", "below_minimum_clock")])
def test_the_slowest_clock_is_25_mhz(mhz: str, stops: str | None) -> None:
    """HDMI 1.4b, 4.2.4: TMDS links run from 25 MHz."""
    need = demand(DigitalVideo(parse_timing(f"modeline:{mhz} 640 656 752 800 480 490 492 525"), "rgb", 8, "none"))
    assert tmds_use(need, 340_000_000).blocked_by == stops


# --- drawings read back ------------------------------------------------------------------------------

_SVG = "{http://www.w3.org/2000/svg}"


def test_names_stand_in_their_boxes_and_wires_start_at_their_edges() -> None:
    layer = Layer(made.s05())
    drawing = ElementTree.fromstring(svg(layer))
    edges = set()
    for group in drawing.iter(f"{_SVG}g"):
        box = group.find(f"{_SVG}rect")
        assert box is not None
        left, width = int(box.attrib["x"]), int(box.attrib["width"])
        edges |= {left, left + width}
        for text in group.iter(f"{_SVG}text"):
            inside = left < int(text.attrib["x"]) < left + width
            at = "end" if int(text.attrib["x"]) > left + width // 2 else "start"
            assert inside
            assert text.attrib.get("text-anchor", "start") == at
    starts = [int(re.match(r"M(\d+) ", p.attrib["d"])[1]) for p in drawing.iter(f"{_SVG}path")]  # type: ignore[index]
    assert starts
    assert set(starts) <= edges


def test_sound_leads_are_dotted_and_others_are_not() -> None:
    optical = {"uid": "O", "label": "O", "kind": "audio", "grade": "unknown", "length_mm": 1000}
    ends = [{"device": "tv", "port": "optical"}, {"device": "bar", "port": "optical"}]
    answers = {"returns": "earc", "plugs": "optical"}
    bar = profile_data(from_template("soundbar", answers, "Ours", "Bar"))
    r = rig(
        device("s", "kelpine-k1"), device("tv", "yarrowby-65s"), lead("H", "s/hdmi", "tv/hdmi1"),
        {"op": "add_device", "device": {"uid": "bar", "label": "BAR", "profile": bar}},
        {"op": "add_lead", "lead": {**optical, "found": ends, "plan": ends}},
    )  # fmt: skip
    lines = {"O:" in line: line for line in dot(Layer(r)).splitlines() if "->" in line}
    assert "dotted" in lines[True]
    assert "dotted" not in lines[False]


# --- what is asked, listed, offered ------------------------------------------------------------------


def test_no_such_output_is_said() -> None:
    for socket in (Socket("none", "x"), Socket("console", "none"), Socket("tv", "hdmi1")):
        with pytest.raises(ChangeError, match="no output"):
            rank_places(made.s02(), socket)


def test_modes_to_choose_from_come_largest_first() -> None:
    r = made.s02()
    figures = [m.figures for m, _ in mode_choices(Layer(r), r.runs["main"])]
    assert figures == sorted(figures, reverse=True)
    assert len(figures) > 2


def test_an_address_behind_a_repeater_names_no_input() -> None:
    """HDMI 1.4b, 8.7: n.0.0.0 is a display's n-th input; with further figures it is another box's."""
    from dataclasses import replace

    from wavilex.core.edid.decode import decode

    r = made.s02()
    profile = r.devices["tv"].profile
    spec = spec_of_input(profile, "hdmi2", factory_settings(profile, {}))
    assert teach(r, "tv", "hdmi2", decode(build(spec)))["says_input"] == "hdmi2"
    behind = replace(spec, hdmi=replace(spec.hdmi, physical_address=(2, 1, 0, 0)))  # type: ignore[arg-type,type-var]
    assert teach(r, "tv", "hdmi2", decode(build(behind)))["says_input"] is None


def test_a_4k120_television_lists_2160p120_and_a_4k60_one_does_not() -> None:
    answers = {"inputs": "4", "returns": "earc"}
    lists = [str(profile_data(from_template(t, answers, "Ours", "Screen"))) for t in ("tv-4k120", "tv-4k60")]
    assert ["vic:118" in x for x in lists] == [True, False]


@pytest.mark.parametrize(("values", "is_settled"), [
    ((90_000, 90_100, 90_050, 90_120, 90_080), True),
    ((90_000, 90_400, 90_800, 91_200, 91_600), False),  # it drifts one way, by more than the reach
    ((91_600, 91_200, 90_800, 90_400, 90_000), False),
    ((90_000, 90_100, 90_200, 90_300), False),
])  # fmt: skip
def test_a_picture_that_drifts_has_not_settled(values: tuple[int, ...], is_settled: bool) -> None:
    assert settled(values) is is_settled


def test_old_and_odd_rates_are_looked_at() -> None:
    """59.94 Hz (60000/1001), 60.05, 60.1, 61 and 50.08 Hz machines, and 50 Hz: common practice."""
    r = rig(device("s", "kelpine-k1"), device("tv", "yarrowby-65s"), lead("L", "s/hdmi", "tv/hdmi3"),
            setting("tv", "hdmi3", "format", "wide"), run("main", "s", "tv", mode="3840x2160@60"))  # fmt: skip
    layer = Layer(r)
    rates = refresh_data(layer, run_result(layer, r.runs["main"]))["odd_rates"]
    assert [x["hz"] for x in rates][:2] == ["59.94", "60.05"]


def test_a_job_file_holds_24_conditions_a_session() -> None:
    assert bounds.CONDITIONS == 24


def test_coverage_counts_the_changes_of_mode_between_cells() -> None:
    r = made.s10()
    for row in coverage_data(Layer(r), {}):
        modes = [dict(zip(row["dimensions"], c["at"], strict=False)).get("mode") for c in row["cells"]]
        assert row["switches"] == sum(a != b for a, b in pairwise(modes))


def test_leads_to_move_are_counted_among_what_is_to_do() -> None:
    r = made.s02()
    move = {"op": "move_lead", "layer": "plan", "lead": "A1", "end": "b", "to": {"device": "tv", "port": "hdmi2"}}
    from wavilex.core.rig.changes import apply

    after, _ = apply(r, [move])
    before_text, after_text = (job_view(Layer(x), 0)["rail"]["runsheet"]["text"] for x in (r, after))
    assert before_text != after_text


def test_compression_is_told_in_bits_a_pixel() -> None:
    """Between 8 bits, the least of 4:4:4, and thrice the depth (VESA DSC 1.2a as HDMI uses it; value from memory)."""
    answer = link_answer("ovt:7680x4320@60", "rgb", 10, "frl:4x10", "2ch", "allowed")
    told = re.search(r"compressed to ([\d.]+) bits", answer["sentence"])
    assert told is not None
    assert 8 <= float(told[1]) < 30


def test_the_sums_of_a_link_come_to_its_share() -> None:
    """Steps 1 to 7 added up by hand give what the verdict says is used."""
    answer = link_answer("vic:118", "444", 10, "frl:4x10", "2ch", "none")
    percent = {q["name"]: float(q["text"].split()[0]) for q in answer["reasons"][0]["quantities"] if "%" in q["text"]}
    assert percent["used of a line"] == round(100 * (7200 + 700 - 552) / 8187, 1)
    assert percent["together"] == pytest.approx(percent["used of a line"] + percent["overhead, margin"], abs=0.11)
    spare = re.search(r"([\d.]+) % to spare", answer["sentence"])
    assert spare is not None
    assert percent["together"] == pytest.approx(100 - float(spare[1]), abs=0.06)


def test_a_typed_machine_keeps_its_clock() -> None:
    read = typed("7 MHz 448 dots 312 lines 256x192")
    assert scan_data(read.scan, read.guessed)["dot_clock_mhz"] == 7.0


@pytest.mark.parametrize(("plug", "says"), [("component", "colour on wires of its own"), ("composite", "not known")])
def test_colour_goes_on_wires_of_its_own_or_nobody_knows(plug: str, says: str) -> None:
    scan = _signal(analogue(typed("480i").scan), plug)
    assert scan is not None
    assert says in scan["colour"]
