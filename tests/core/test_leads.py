"""Leads: what is printed, how they are made, what was proved of them here; in one link and in a whole run."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from tests.rigs import device, lead, rig, run, s05, setting
from wavilex.core.advise.fixes import find_fixes
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.reasons import render
from wavilex.core.errors import ChangeError, SignalError
from wavilex.core.link.cable import Cable, cable_bounds, check_proofs
from wavilex.core.link.check import End, LinkVerdict, cable_capacity, check_link
from wavilex.core.link.rates import NO_FRL, frl_rate
from wavilex.core.link.words import cable_text, verdict_sentence
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig, Socket
from wavilex.core.rig.plugging import new_lead
from wavilex.core.video.codes import parse_timing
from wavilex.core.video.signal import DigitalVideo, demand

BEST = End(600_000_000, frl_rate("4x12"))


def over(cable: Cable, code: str = "vic:118", bits: int = 10) -> LinkVerdict:
    """2160p120 10-bit needs 4 × 10; between two 48 Gb/s ends the lead alone decides."""
    return check_link(demand(DigitalVideo(parse_timing(code), "444", bits)), cable_capacity(BEST, cable, BEST))


@pytest.mark.parametrize(
    ("cable", "verdict"),
    [
        (Cable("ultra", 2000), "fits"),
        (Cable("premium", 2000), "blocked"),
        (Cable("premium", 2000, proved="frl:4x10"), "fits"),  # proof overrides print, upwards
        (Cable("ultra", 2000, failed="frl:4x10"), "blocked"),  # and downwards
        (Cable("ultra", 2000, failed="frl:4x12"), "fits"),
        (Cable("unknown", 2000), "unknown"),
        (Cable("unknown", 2000, proved="frl:4x10"), "fits"),
        (Cable("unknown", 2000, proved="frl:4x8"), "unknown"),  # proved so far; nobody tried more
        (Cable("unknown", 2000, proved="frl:4x8", failed="frl:4x10"), "blocked"),
        (Cable("unknown", 2000, failed="frl:4x8"), "blocked"),
        (Cable("unknown", 2000, failed="frl:4x12"), "unknown"),
        (Cable("ultra", 5000), "tight"),
        (Cable("ultra", 8000), "unknown"),
        (Cable("ultra", 5000, "passive"), "tight"),
        (Cable("ultra", 8000, "passive"), "unknown"),
        (Cable("ultra", 8000, "active"), "fits"),  # bought for its length
        (Cable("ultra", 8000, "passive", proved="frl:4x12"), "fits"),  # proved at its length
        (Cable("ultra", 30000, "optical"), "fits"),
        (Cable("ultra", 30000, "optical", power="unfed"), "blocked"),
        (Cable("ultra", 30000, "optical", turned=True), "blocked"),
        (Cable("ultra", 2000, "passive", turned=True), "fits"),  # plain copper has no direction
    ],
)
def test_a_lead_by_print_make_and_proof(cable: Cable, verdict: str) -> None:
    """Lengths and directed leads: common practice. Certifications: HDMI cable categories; value from memory."""
    assert over(cable).verdict == verdict


def test_a_proof_at_frl_covers_tmds_of_the_same_lane_speed() -> None:
    """A TMDS lane at 600 MHz runs at 6 Gb/s."""
    assert cable_bounds(Cable(proved="frl:4x6")).sure.tmds_hz == 600_000_000
    assert cable_bounds(Cable(proved="frl:3x3")).sure.tmds_hz == 300_000_000
    failed = cable_bounds(Cable("ultra", failed="tmds:600")).most
    assert (failed.tmds_hz, failed.frl) == (340_000_000, frl_rate("3x3"))
    assert cable_bounds(Cable("high_speed", failed="tmds:300")).most.frl == NO_FRL


def test_proof_and_failure_may_not_contradict() -> None:
    with pytest.raises(SignalError, match="keep one"):
        check_proofs("frl:4x10", "frl:4x8")
    with pytest.raises(SignalError):
        check_proofs("hdmi", None)
    with pytest.raises(ChangeError, match="keep one"):
        apply(s05(), [{"op": "replace_lead", "lead": "A1", "proved": "frl:4x10", "failed": "frl:4x10"}])
    with pytest.raises(ChangeError, match="make is one of"):
        apply(s05(), [{"op": "replace_lead", "lead": "A1", "build": "string"}])


def test_words_for_a_lead() -> None:
    assert cable_text(Cable("ultra", 2000, "optical", proved="frl:4x10")) == (
        "Ultra High Speed, optical, proved 40 Gb/s (4 × 10)"
    )
    assert "sending end" in verdict_sentence(over(Cable("ultra", 5000, "active", turned=True)))


def told(r: Rig) -> tuple[str, str]:
    result = run_result(Layer(r), r.runs["main"])
    return result.verdict, " ".join(render(x, r) for x in result.reasons)


def with_lead(**known: Any) -> Rig:
    return apply(s05(), [{"op": "replace_lead", "lead": "A2", **known}])[0]


def test_in_a_run_a_turned_lead_is_named_and_turning_it_is_the_fix() -> None:
    r = with_lead(build="active", turned=True)
    verdict, words = told(r)
    assert verdict == "blocked"
    assert "lead A2" in words
    best = find_fixes(r, r.runs["main"])
    assert best.ways[0].label == "Turn lead A2 round"
    assert best.proved
    assert told(apply(r, best.ways[0].ops)[0])[0] == "fits"


def test_in_a_run_an_unfed_lead_is_switched_on() -> None:
    r = with_lead(build="optical", power="unfed")
    best = find_fixes(r, r.runs["main"]).ways[0]
    assert (best.label, best.cost_text) == ("Switch on the supply of lead A2", "1 setting")


def test_in_a_run_a_lead_that_failed_is_replaced_even_by_its_like() -> None:
    r = with_lead(failed="frl:4x10")
    verdict, words = told(r)
    assert verdict == "blocked"
    assert "as it failed here" in words
    best = find_fixes(r, r.runs["main"]).ways[0]
    after = apply(r, best.ops)[0]
    assert after.leads["A2"].cable.failed is None
    assert told(after)[0] == "fits"


def test_in_a_run_a_lead_proved_so_far_leaves_more_unknown() -> None:
    verdict, words = told(with_lead(grade="unknown", proved="frl:4x6"))
    assert verdict == "unknown"
    assert "was proved to 24 Gb/s (4 × 6)" in words
    assert told(with_lead(grade="unknown", proved="frl:4x10"))[0] == "fits"


def x32(**want: Any) -> Rig:
    """A gaming PC on the 4K240 monitor (S12)."""
    wanted = {"mode": "3840x2160@240", "chroma": "444", "bits": 10, **want}
    return rig(device("pc", "tindrel-r7"), device("screen", "kelpine-x32"),
               lead("A1", "pc/hdmi", "screen/hdmi1"), run("main", "pc", "screen", **wanted))  # fmt: skip


def test_s12_a_run_reaches_240_hz_compressed_and_says_so() -> None:
    r = x32()
    result = run_result(Layer(r), r.runs["main"])
    assert result.verdict == "compressed"
    assert result.links[0].wanted.dsc is not None
    assert result.links[0].wanted.dsc.slices == 8


def test_s12_compression_off_blocks_240_hz_and_switching_it_on_is_the_cheapest_fix() -> None:
    r = apply(x32(), [{"op": "set_setting", "device": "screen", "scope": "", "key": "compression", "value": "off"}])[0]
    assert told(r)[0] == "blocked"
    best = find_fixes(r, r.runs["main"])
    assert (best.ways[0].label, best.ways[0].cost_text) == ("SCREEN: Compression → on", "1 setting")


def test_compression_not_known_leaves_the_answer_open() -> None:
    r = x32()
    screen = r.devices["screen"]
    video = screen.profile.video.model_copy(update={"dsc": None})
    silent = screen.profile.model_copy(update={"video": video, "quirks": ()})
    r = replace(r, devices={**r.devices, "screen": replace(screen, profile=silent, profile_digest="silent")})
    verdict, words = told(r)
    assert verdict == "unknown"
    assert "fits only compressed" in words


def test_without_its_control_channel_an_end_stops_at_340_mhz() -> None:
    """HDMI 2.0: scrambling above 340 MHz is agreed over SCDC; FRL is trained over it. Value from memory."""
    fact = {"op": "set_fact", "device": "screen", "path": "ports.hdmi1.scdc", "value": False,
            "provenance": "measured_here"}  # fmt: skip
    r = apply(x32(mode="3840x2160@60"), [fact])[0]
    verdict, words = told(r)
    assert verdict == "blocked"
    assert "340" in words
    state = Layer(r).state(r.leads["A1"].plan[1])  # type: ignore[arg-type]
    assert (state.tmds_hz, state.frl) == (340_000_000, NO_FRL)
    assert "SCDC" in state.origins["tmds"].because


def unread(grade: str = "unread", **known: Any) -> Rig:
    """A 4K120 console on a fast input, over a lead noted on arrival."""
    ends = [{"device": "console", "port": "hdmi"}, {"device": "tv", "port": "hdmi1"}]
    return rig(
        device("console", "kelpine-k1"), device("tv", "yarrowby-77e"),
        {"op": "add_lead", "lead": {"uid": "A1", "label": "A1", "grade": grade, "plan": ends, **known}},
        setting("console", "", "fast_refresh", "on"),
        run("main", "console", "tv", mode="3840x2160@120", hdr="static", bits=10),
    )  # fmt: skip


def test_what_leans_on_a_print_nobody_read_says_so() -> None:
    result = run_result(Layer(unread()), unread().runs["main"])
    assert result.verdict == "tight"
    assert result.limiting is not None
    assert result.limiting.code == "lead_unread"
    fixes = find_fixes(unread(), unread().runs["main"])
    assert fixes.ways[0].label.startswith("Replace lead A1 by an Ultra")
    assert "Read what is printed on lead A1" in fixes.proof


@pytest.mark.parametrize(
    ("proved", "verdict"), [("frl:4x12", "fits"), ("frl:4x10", "fits"), ("frl:4x6", "tight"), ("tmds:600", "tight")]
)
def test_a_proof_stands_where_no_print_was_read(proved: str, verdict: str) -> None:
    """4K120 RGB at 10 bits takes 91.9 % of 40 Gb/s (HDMI 2.1, FRL sums; value from memory): such a proof is enough."""
    r = unread(proved=proved)
    assert run_result(Layer(r), r.runs["main"]).verdict == verdict


def test_a_lead_nobody_certified_is_unknown_never_blocked() -> None:
    r = unread("unknown")
    assert run_result(Layer(r), r.runs["main"]).verdict == "unknown"
    fixes = find_fixes(r, r.runs["main"])
    assert fixes.barred is None
    assert "Or try the one that hangs there first" in fixes.ways[0].moves[0].note


def test_a_lead_noted_as_found_is_not_read_and_one_planned_is_to_be_bought() -> None:
    r = rig(device("console", "kelpine-k1"), device("tv", "yarrowby-77e"))
    for layer, grade, length in (("found", "unread", None), ("plan", "ultra", 2000)):
        op = new_lead(r, layer, Socket("console", "hdmi"), Socket("tv", "hdmi1"))  # type: ignore[arg-type]
        assert (op["lead"].get("grade"), op["lead"].get("length_mm")) == (grade, length)
