"""Links asked by hand: lead and ends, what is assumed of compression, what is named where the rate alone would do."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction
from math import ceil
from typing import Any

import pytest

from tests.rigs import device, lead, rig, run, setting
from wavilex.core.advise.fixes import find_fixes
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.reasons import render
from wavilex.core.errors import SignalError
from wavilex.core.link.answer import link_answer
from wavilex.core.link.cable import Cable
from wavilex.core.link.check import End, LinkVerdict, cable_capacity, check_link
from wavilex.core.link.compression import compression_words, parse_compression, slice_choices
from wavilex.core.link.dsc import DscSink, DscStop, dsc_use
from wavilex.core.link.frl import frl_use
from wavilex.core.link.rates import NO_FRL, frl_rate
from wavilex.core.link.words import verdict_sentence
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig
from wavilex.core.video.codes import parse_timing
from wavilex.core.video.signal import DigitalVideo, demand

FAST, TMDS = End(600_000_000, frl_rate("4x12")), End(600_000_000, NO_FRL)


def over(cable: Cable, code: str = "vic:118", bits: int = 10, end: End = FAST) -> LinkVerdict:
    return check_link(demand(DigitalVideo(parse_timing(code), "rgb", bits)), cable_capacity(FAST, cable, end))


# --- length: 48 Gb/s to about 3 m, 5 m at best; 18 Gb/s to 5 to 7 m; 10.2 Gb/s to 10 to 15 m (common practice) ---


@pytest.mark.parametrize(
    ("length_m", "code", "bits", "end", "verdict"),
    [
        (3, "vic:118", 10, FAST, "fits"), (5, "vic:118", 10, FAST, "tight"), (5.1, "vic:118", 10, FAST, "unknown"),
        (12, "vic:118", 10, FAST, "unknown"),
        (5, "vic:97", 8, TMDS, "fits"), (7, "vic:97", 8, TMDS, "tight"), (7.1, "vic:97", 8, TMDS, "unknown"),
        (10, "vic:16", 8, TMDS, "fits"), (15, "vic:16", 8, TMDS, "tight"), (16, "vic:16", 8, TMDS, "unknown"),
        (12, "vic:16", 8, FAST, "tight"),  # two fast ends fall back to what such a lead carries
        (5, "vic:97", 10, FAST, "tight"),  # 742.5 MHz is no TMDS; 4 × 6 is enough
    ],
)  # fmt: skip
def test_passive_copper_too_long_for_its_rate_is_unlikely(
    length_m: float, code: str, bits: int, end: End, verdict: str
) -> None:
    link = over(Cable("ultra", round(length_m * 1000), "passive"), code, bits, end)
    assert link.verdict == verdict
    assert link.fits is (verdict != "unknown")
    if verdict == "unknown":
        assert link.blocked_by == "lead_too_long"
        assert verdict_sentence(link).startswith(f"Unlikely: {length_m:g} m of passive copper")
        assert "active or optical lead" in verdict_sentence(link)


def test_a_long_lead_is_taken_at_its_proof_and_at_its_make() -> None:
    long = Cable("ultra", 12_000, "passive")
    assert over(replace(long, proved="frl:4x10")).verdict == "fits"
    assert over(replace(long, proved="frl:4x6")).verdict == "unknown"
    assert over(replace(long, build="optical")).verdict == over(replace(long, build="active")).verdict == "fits"
    unknown = verdict_sentence(over(replace(long, build="unknown")))
    assert unknown.startswith("Doubtful: 12 m long, and nobody wrote down")


def chain(*ops: dict[str, Any], mode: str = "3840x2160@240", bits: int = 10) -> Rig:
    """A PC through the fast receiver to the monitor that decodes compressed pictures."""
    wanted = {"mode": mode, "chroma": "444", "bits": bits}
    return rig(
        device("pc", "tindrel-r7"), device("av", "ostavar-av990"), device("screen", "kelpine-x32"),
        setting("av", "game1", "format", "widest"), lead("A1", "pc/hdmi", "av/game1"),
        lead("A2", "av/out1", "screen/hdmi1"), run("main", "pc", "screen", **wanted),
        *ops,
    )  # fmt: skip


def told(r: Rig) -> tuple[str, list[str], str]:
    result = run_result(Layer(r), r.runs["main"])
    codes = [x.code for x in result.reasons if x.verdict in ("blocked", "unknown")]
    return result.verdict, codes, render(result.reasons[0], r)


def without_compression(r: Rig, box: str) -> Rig:
    profile = r.devices[box].profile
    plain = profile.model_copy(update={"video": profile.video.model_copy(update={"dsc": False})})
    return replace(r, devices={**r.devices, box: replace(r.devices[box], profile=plain, profile_digest=f"{box}-plain")})


def test_a_long_lead_in_a_run_is_mended_by_an_optical_one() -> None:
    r = chain({"op": "replace_lead", "lead": "A2", "length_mm": 12_000, "build": "passive"}, mode="3840x2160@120")
    assert told(r)[:2] == ("unknown", ["lead_too_long"])
    found = find_fixes(r, r.runs["main"])
    assert next(w.label for w in found.ways).startswith("Replace lead A2 by an optical one")
    assert run_result(Layer(apply(r, found.ways[0].ops)[0]), r.runs["main"]).verdict == "fits"
    assert "prove it as it is" in found.proof


# --- compression ---


def test_the_one_box_that_passes_nothing_compressed_is_the_obstacle() -> None:
    assert told(chain())[0] == "compressed"
    verdict, codes, words = told(without_compression(chain(), "av"))
    assert (verdict, codes) == ("blocked", ["no_compression"])
    assert words.startswith("2160p240 RGB 10-bit would pass compressed")
    assert "AV" in words
    assert "passes nothing compressed" in words
    both = without_compression(without_compression(chain(), "av"), "pc")
    assert "no_compression" not in told(both)[1]  # two boxes in the way: neither alone is the one
    off = {"op": "set_setting", "device": "screen", "scope": "", "key": "compression", "value": "off"}
    verdict, codes, words = told(chain(off))
    assert codes == ["no_compression"]
    assert "takes nothing compressed as set (Compression at off)" in words


def test_where_compression_would_not_do_either_no_box_is_blamed_for_it() -> None:
    """4320p240 fits compressed nowhere under 48 Gb/s: eight slices of 400 MHz are too slow for its clock."""
    r = without_compression(chain(mode="7680x4320@240"), "av")
    assert "no_compression" not in told(r)[1]


@pytest.mark.parametrize("text", slice_choices())
def test_every_pair_a_receiver_can_declare_may_be_assumed_and_is_told(text: str) -> None:
    sink = parse_compression(text)
    slices, mhz = text.split("x")
    assert sink is not None
    assert compression_words(sink).startswith(f"{slices} slice")
    assert f"each to {mhz} MHz; at most 12 bits a pixel; no bound of bytes a line" in compression_words(sink)


def test_what_is_assumed_of_compression_changes_the_answer() -> None:
    """By the document: at most 12 bits a pixel unless all are declared; 1024 × (1 + n) bytes a line at most."""

    def bits(dsc: str) -> float:
        return link_answer("cvt:3840x2160@144:rb2", "rgb", 12, "frl:4x10", "2ch", dsc)["bits_per_pixel"]

    assert bits("allowed") == bits("8x340") == 12
    assert bits("8x340,all") > 15
    most = 1024 * 5
    assert bits("8x340,chunk:4") == Fraction(most // 4 * 8 * 16 // 960, 16)  # four slices of 960 dots: 1280 bytes each
    slower = link_answer("cvt:3840x2160@240:rb2", "rgb", 10, "frl:4x12", "2ch", "8x340,frl:4x6")
    assert slower["bits_per_pixel"] < 12
    assert "4 lanes × 6 Gb/s" in slower["sentence"]
    assert link_answer("vic:97", "rgb", 8, "frl:4x10", "2ch", "none")["compression"] == "not allowed"


@pytest.mark.parametrize("text", ["yes", "8x341", "3x340", "8x340,many", "8x340,chunk:64", "8x340,frl:9x9", "0x340"])
def test_a_malformed_compression_is_refused(text: str) -> None:
    with pytest.raises(SignalError):
        parse_compression(text)


def test_too_few_slices_are_said_with_how_many_would_do() -> None:
    """4320p120 CVT-RB2 is 4258 MHz: of 340 MHz 13 slices or more, so 16 of the steps there are."""
    clock = parse_timing("cvt:7680x4320@120:rb2").pixel_clock_hz
    assert ceil(clock / 340e6) == 13
    few = link_answer("cvt:7680x4320@120:rb2", "rgb", 10, "frl:4x24", "2ch", "8x340")
    assert few["verdict"] == "blocked"
    assert "8 slices at most" in few["sentence"]
    assert "12 would do" in few["sentence"]
    assert "nor uncompressed" in few["sentence"]
    need = demand(DigitalVideo(parse_timing("vic:118"), "rgb", 12))
    stop = dsc_use(need, frl_rate("4x12"), DscSink(bits=(8, 10)))
    assert isinstance(stop, DscStop)
    assert stop.why == "depth"
    stop = dsc_use(need, frl_rate("3x3"), DscSink())
    assert isinstance(stop, DscStop)
    assert stop.why == "rate"
    assert stop.used is not None
    assert stop.used > 1
    stop = dsc_use(need, frl_rate("4x12"), DscSink(chunk_kib=1))  # 2048 bytes, of at least 3840
    assert isinstance(stop, DscStop)
    assert stop.why == "bytes"


# --- what else than the rate ---


def test_8k30_in_ten_bits_fits_40_gbps() -> None:
    """The borrowing bound in tri-bytes (HDMI 2.1; value from memory): real screens list this mode."""
    assert link_answer("vic:196", "444", 10, "frl:4x10", "2ch", "none")["fits"]


@pytest.mark.parametrize(
    ("code", "bits", "step"), [("vic:92", 12, "3x6"), ("vic:93", 12, "3x3"), ("vic:101", 10, "3x6")]
)
def test_borrowed_blanking_is_named_where_it_blocks_and_not_the_used_share(code: str, bits: int, step: str) -> None:
    """Step 5 again by hand: time the picture lacks × mean tri-byte rate, 400 at most (value from memory)."""
    t = parse_timing(code)
    rate = frl_rate(step)
    line_s = t.h_total / (t.pixel_clock_hz * 1.005)
    char_hz = rate.lane_gbps * 1e9 * (1 - 300e-6) / 18
    lost = (rate.lanes + 32 + 2.5) / (2040 + rate.lanes) + 0.003
    tb_active, tb_blank = ceil(ceil(3 * bits * t.h_active / 8) / 3), ceil(t.h_blank * bits / 8)
    lacking_s = 1.5 * tb_active / (rate.lanes * char_hz * (1 - lost)) - line_s * t.h_active / t.h_total
    borrowed = lacking_s * (tb_active + tb_blank) / line_s
    assert borrowed > 400
    answer = link_answer(code, "444", bits, f"frl:{step}", "2ch", "none")
    assert answer["verdict"] == "blocked"
    assert answer["used_percent"] < 100
    assert f"borrow {ceil(borrowed)} tri-bytes" in answer["sentence"]
    assert "%" not in answer["sentence"]
    assert frl_use(demand(DigitalVideo(t, "444", bits)), rate).short_of == "borrowing"


# --- the same questions on the command line as on the page ---


def test_a_link_takes_lead_length_make_and_receiving_end() -> None:
    def ask(**more: Any) -> tuple[str, str]:
        answer = link_answer("vic:118", "rgb", 12, "frl:4x12", "2ch", "none", **more)
        return answer["verdict"], answer["limited_by"]

    assert ask() == ("fits", "")
    assert ask(inp="frl:4x10") == ("blocked", "the receiving end")
    assert ask(lead=Cable("premium", 2000)) == ("blocked", "the lead")
    assert ask(lead=Cable("ultra", 12_000, "passive")) == ("unknown", "the lead")
    assert ask(lead=Cable("ultra", 12_000, "optical", "unfed")) == ("blocked", "the lead")
    with pytest.raises(SignalError, match="build"):
        ask(lead=Cable("ultra", 2000, "woven"))
