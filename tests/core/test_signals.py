"""What a signal asks: sound by channels and rate, slow clocks and repeated pixels, fast vertical active."""

from __future__ import annotations

from fractions import Fraction

import pytest

from wavilex.core.errors import SignalError, TimingError
from wavilex.core.link.answer import link_answer
from wavilex.core.video.audio import USUAL, parse_audio
from wavilex.core.video.codes import parse_timing
from wavilex.core.video.signal import DigitalVideo, demand


@pytest.mark.parametrize(
    ("text", "channels", "rate_hz", "quarters"),
    [("none", 0, 0, 0), ("2ch", 2, 192_000, 1), ("2ch@48", 2, 48_000, 1), ("3ch@44.1", 3, 44_100, 4),
     ("8ch@96", 8, 96_000, 4), ("bitstream", 8, 192_000, 4), ("1ch@32", 1, 32_000, 1)],
)  # fmt: skip
def test_sound_formats(text: str, channels: int, rate_hz: int, quarters: int) -> None:
    """HDMI 2.1: a quarter packet a sample for two channels, one for three to eight and high bit rate; from memory."""
    sound = parse_audio(text)
    assert (sound.channels, sound.sample_rate_hz, sound.packet_quarters) == (channels, rate_hz, quarters)


@pytest.mark.parametrize("text", ["", "9ch", "2ch@47", "2ch@", "0ch", "8ch@192.5", "bitstream@1000", "2CH"])
def test_no_sound_format(text: str) -> None:
    with pytest.raises(SignalError):
        parse_audio(text)


def test_packets_a_line_differ_by_transport() -> None:
    """FRL counts with 192 kHz at least (step 4); TMDS with the sound's own rate. 480p: line of 31.78 µs at most."""
    need = demand(DigitalVideo(parse_timing("vic:3"), "rgb", 8, "8ch@48"))
    assert need.tmds_audio_packets == 2  # 48 000 × 858/27.135 MHz = 1.52
    assert need.audio_packets == 7  # 192 000 × 31.62 µs = 6.07


@pytest.mark.parametrize(
    ("code", "audio", "fits"),
    [
        ("vic:3", "8ch@48", True),  # 480p carries eight channels at 48 kHz
        ("vic:3", "8ch@192", False),  # but not at 192: 138 characters of blanking
        ("vic:3", "2ch@192", True),
        ("vic:16", "8ch@192", True),  # 1080p carries everything
        ("vic:4", "bitstream", True),
    ],
)
def test_room_for_sound_on_tmds(code: str, audio: str, fits: bool) -> None:
    """Agrees with the sample rates HDMI 1.4b lists for these formats; value from memory."""
    answer = link_answer(code, "rgb", 8, "tmds:340", audio, "none")
    assert answer["fits"] is fits
    assert answer["blocked_by"] == (None if fits else "no_audio_room")


def test_no_room_for_sound_names_the_richest_that_would_pass() -> None:
    answer = link_answer("vic:3", "rgb", 8, "tmds:340", "8ch@192", "none")
    assert "8 channels at 48 kHz would pass" in answer["sentence"] or "96 kHz" in answer["sentence"]
    richest = "8ch@96" if "96" in answer["sentence"] else "8ch@48"
    assert link_answer("vic:3", "rgb", 8, "tmds:340", richest, "none")["fits"]
    frl = link_answer("cvt:3840x2160@144:rb2", "420", 8, "frl:4x10", "8ch", "none")
    assert frl["blocked_by"] == "no_audio_room"


def test_a_slow_picture_is_refused_and_its_repetition_passes() -> None:
    """HDMI 1.4b: TMDS starts at 25 MHz; slower pictures repeat pixels. 13.5 MHz is BT.601's rate."""
    line = "13.5 720 739 801 858 240 244 247 262 -hsync -vsync"
    slow = link_answer(f"modeline:{line}", "rgb", 8, "tmds:165", "2ch", "none")
    assert slow["blocked_by"] == "below_minimum_clock"
    assert "each pixel sent 2 times it runs at 27 MHz" in slow["sentence"]
    again = parse_timing(f"modeline:{line}+rep2")
    assert (again.pixel_clock_hz, again.h_active, again.h_total) == (27_000_000, 1440, 1716)
    assert again.refresh == parse_timing(f"modeline:{line}").refresh
    assert link_answer(f"modeline:{line}+rep2", "rgb", 8, "tmds:165", "2ch", "none")["fits"]


def test_repetition_agrees_with_the_table_codes() -> None:
    """CTA-861: code 8 is 240p with each of 720 pixels sent twice."""
    listed = parse_timing("vic:8")
    made = parse_timing("modeline:13.5 720 739 801 858 240 244 247 262 -hsync -vsync+rep2")
    assert (made.h_total, made.pixel_clock_hz, made.v_total) == (listed.h_total, listed.pixel_clock_hz, listed.v_total)


def test_fast_vertical_active_grows_the_clock_and_keeps_the_rate() -> None:
    t, f = parse_timing("vic:16"), parse_timing("vic:16+fva2")
    assert f.pixel_clock_hz == 2 * t.pixel_clock_hz
    assert f.v_total == 2 * t.v_total
    assert f.refresh == t.refresh == 60
    assert Fraction(f.pixel_clock_hz) / f.h_total / f.v_total == 60
    # the link bears it: 2160p60 doubled asks what 2160p120 asks
    twice = link_answer("vic:97+fva2", "444", 10, "frl:4x10", "2ch", "none")
    assert twice["used_percent"] == link_answer("vic:118", "444", 10, "frl:4x10", "2ch", "none")["used_percent"]
    assert not link_answer("vic:97+fva2", "444", 8, "tmds:600", "2ch", "none")["fits"]


def test_vrr_loads_the_link_as_its_highest_rate_does() -> None:
    """VRR stretches the vertical blanking; clock and line stay (HDMI 2.1; value from memory)."""
    t = parse_timing("vic:118")
    longer = parse_timing(f"modeline:{t.pixel_clock_hz / 1e6:g} 3840 4016 4104 4400 2160 2168 2178 4500")
    assert longer.nominal_hz == 60
    fast, slow = (demand(DigitalVideo(x, "444", 10)) for x in (t, longer))
    assert (fast.tb_active, fast.tb_blank, fast.tmds_rate_hz) == (slow.tb_active, slow.tb_blank, slow.tmds_rate_hz)


@pytest.mark.parametrize("text", ["vic:16+fva1", "vic:16+fva17", "vic:5+fva2", "vic:16+rep11", "vic:16+rep2+rep2"])
def test_derived_timings_that_cannot_be(text: str) -> None:
    with pytest.raises(TimingError):
        parse_timing(text)


def test_every_usual_sound_is_one() -> None:
    assert [parse_audio(code).code for code in USUAL] == list(USUAL)


def test_workings_hold_the_numbers() -> None:
    """By hand: 4400 ÷ (1188 MHz × 1.005) = 3.685 µs; ⌈1.5 × 4800⌉ = 7200."""
    rows = {
        q["name"]: q for q in link_answer("vic:118", "444", 10, "frl:4x10", "2ch", "none")["reasons"][0]["quantities"]
    }
    assert rows["line, clock +0.5 %"]["working"] == "4400 ÷ (1188 MHz × 1.005)"
    assert rows["picture"]["working"] == "⌈1.5 × 4800⌉, 4800 = ⌈30 × 3840 ÷ 24⌉"
    assert rows["pixel clock, VIC 118"]["working"] == "4400 × 2250 × 120 Hz"
    assert rows["used of a line"]["working"].endswith(f"÷ {rows['characters a line']['value']}")
