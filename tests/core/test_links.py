"""Links: the check values of the FRL procedure, the TMDS rule, leads, compression."""

from __future__ import annotations

import itertools
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from wavilex.core.errors import SignalError
from wavilex.core.link.answer import link_answer
from wavilex.core.link.cable import GRADES, Cable
from wavilex.core.link.check import Capacity, End, capacity, check_link
from wavilex.core.link.dsc import DscSink, DscStop, dsc_use
from wavilex.core.link.frl import frl_fits, frl_use
from wavilex.core.link.proof import conclude, proof_steps
from wavilex.core.link.rates import FRL_RATES, NO_FRL, frl_rate
from wavilex.core.link.scratch import LinkQuestion, scratch_link
from wavilex.core.video.codes import parse_timing
from wavilex.core.video.signal import Demand, DigitalVideo, demand

UP_TO_48 = FRL_RATES[:6]


def need(code: str, encoding: str, bits: int, audio: str = "2ch") -> Demand:
    return demand(DigitalVideo(parse_timing(code), encoding, bits, audio))


# HDMI 2.1 FRL capacity procedure, two channels of sound; values from memory of worked figures.
CHECKS = [
    ("vic:118", "444", 8, "4x8", 92.1),
    ("vic:118", "444", 10, "4x10", 91.9),
    ("vic:118", "444", 12, "4x12", 91.8),
    ("vic:118", "420", 10, "4x6", None),
    ("vic:199", "420", 10, "4x10", 90.1),
    ("vic:97", "444", 10, "4x6", 77.0),
    ("cvt:3840x2160@144:rb2", "444", 8, "4x10", None),
    ("cvt:3840x2160@144:rb2", "444", 10, "4x12", 93.6),
    ("vic:219", "444", 10, "4x10", 97.3),
]


@pytest.mark.parametrize(("code", "encoding", "bits", "lowest", "percent"), CHECKS)
def test_frl_check_values(code: str, encoding: str, bits: int, lowest: str, percent: float | None) -> None:
    found = frl_fits(need(code, encoding, bits), UP_TO_48)
    assert found == frl_rate(lowest)
    if percent is not None:
        used = float(frl_use(need(code, encoding, bits), found).used * 100)
        assert used == pytest.approx(percent, abs=0.06)  # the figures are given to a tenth


def test_2160p144_12_bit_fits_nothing_up_to_48() -> None:
    assert frl_fits(need("cvt:3840x2160@144:rb2", "444", 12), UP_TO_48) is None


def test_short_blanking_in_420_leaves_no_room_for_sound() -> None:
    """A real failure of RB2 with 4:2:0: the picture fits, the sound does not."""
    for rate in FRL_RATES[2:6]:
        assert frl_use(need("cvt:3840x2160@144:rb2", "420", 8), rate).blocked_by == "no_audio_room"
        assert frl_use(need("cvt:3840x2160@144:rb2", "420", 8, "none"), rate).blocked_by is None


def test_the_plain_count_would_wrongly_refuse_2160p120_10_bit() -> None:
    """Clock × bits × 18/16 says 40.095 Gb/s; the procedure fits it on 40."""
    t = parse_timing("vic:118")
    assert Fraction(t.pixel_clock_hz * 30 * 18, 16) > 40_000_000_000
    assert frl_use(need("vic:118", "444", 10), frl_rate("4x10")).blocked_by is None


def fractions_procedure(d: Demand, lanes: int, gbps: int) -> Fraction:
    """Steps 1, 2 and 7 once more, in plain fractions, as an independent rendering of the document."""
    t = d.signal.timing
    ovh = (lanes + 32 + Fraction(5, 2)) / Fraction(2040 + lanes) + Fraction(3, 1000)
    line = t.h_total / (t.pixel_clock_hz * Fraction(1005, 1000))
    chars = int(line * gbps * 10**9 * (1 - Fraction(300, 10**6)) / 18 * lanes)
    return Fraction(-(-3 * d.tb_active // 2) + d.tb_blank - d.saved, chars) + ovh


@given(
    st.sampled_from(["vic:118", "vic:97", "vic:199", "vic:16", "cvt:2560x1440@144:rb2", "cvt:3440x1440@165:rb1"]),
    st.sampled_from([("444", 8), ("rgb", 10), ("444", 12), ("422", 12), ("420", 10)]),
    st.sampled_from(FRL_RATES),
)
def test_scaled_integers_equal_fractions(code: str, form: tuple[str, int], rate: object) -> None:
    d = need(code, *form)
    assert frl_use(d, rate).used == fractions_procedure(d, rate.lanes, rate.lane_gbps)  # type: ignore[attr-defined]


@pytest.mark.parametrize(
    ("code", "encoding", "bits", "mhz", "fits"),
    [
        ("vic:97", "444", 8, 594, True),
        ("vic:97", "444", 10, 742.5, False),
        ("vic:97", "422", 12, 594, True),
        ("vic:97", "420", 10, 371.25, True),
        ("vic:118", "420", 8, 594, True),
        ("vic:63", "444", 8, 297, True),
        ("cvt:2560x1440@120:rb1", "rgb", 8, 497.75, True),
        ("cvt:2560x1440@120:rb1", "rgb", 10, 622.1875, False),
    ],
)
def test_tmds_rates(code: str, encoding: str, bits: int, mhz: float, fits: bool) -> None:
    """HDMI 2.0 character rates; values from memory of the document."""
    answer = link_answer(code, encoding, bits, "tmds:600", "2ch", "none")
    assert answer["tmds_character_rate_hz"] == mhz * 1e6
    assert answer["fits"] is fits
    assert answer["blocked_by"] == (None if fits else "rate")


def test_tmds_at_99_percent_fits_and_frl_above_98_is_tight() -> None:
    assert link_answer("vic:97", "422", 12, "tmds:600", "2ch", "none")["verdict"] == "fits"
    tight = [link_answer(f"cvt:3840x2160@{hz}:rb2", "444", 10, "frl:4x10", "2ch", "none") for hz in range(100, 145)]
    assert {a["verdict"] for a in tight if a["used_percent"] and 98 < a["used_percent"] <= 100} <= {
        "tight",
        "blocked",
    }
    assert any(a["verdict"] == "tight" for a in tight)


def test_a_link_takes_the_lowest_of_its_parts_and_says_which() -> None:
    best = End(600_000_000, frl_rate("4x12"))
    cap = capacity(best, GRADES["premium"], End(600_000_000, frl_rate("4x10")))
    assert (cap.frl, cap.frl_by) == (NO_FRL, "lead")
    assert capacity(best, GRADES["ultra"], End(300_000_000, NO_FRL)).tmds_by == "in"


def test_unknown_is_neither_a_fit_nor_a_block() -> None:
    best = End(600_000_000, frl_rate("4x12"))
    cap = capacity(best, GRADES["unknown"], best)
    assert check_link(need("vic:16", "rgb", 8), cap).verdict == "unknown"
    # a known part that is too small blocks all the same
    small = capacity(best, GRADES["unknown"], End(165_000_000, NO_FRL))
    assert check_link(need("vic:97", "rgb", 8), small).verdict == "blocked"


@pytest.mark.parametrize(("length_mm", "verdict"), [(3000, "fits"), (3001, "tight"), (None, "fits")])
def test_a_lead_longer_than_practice_is_tight(length_mm: int | None, verdict: str) -> None:
    """48 Gb/s class copper to about 3 m: common practice."""
    cap = Capacity(600_000_000, frl_rate("4x10"), "in", "in", length_mm)
    assert check_link(need("vic:118", "444", 10), cap).verdict == verdict


def test_compression_fits_what_does_not_and_says_so() -> None:
    """VESA DSC 1.2a: 12 bits a pixel at most unless the sink declares all; slices no wider than 2720."""
    answer = link_answer("vic:118", "444", 12, "frl:4x10", "2ch", "allowed")
    assert (answer["verdict"], answer["fits"], answer["slices"]) == ("compressed", True, 4)
    assert answer["bits_per_pixel"] == 12
    stop = dsc_use(need("vic:118", "444", 12), frl_rate("4x10"), DscSink(slice_code=2))
    assert isinstance(stop, DscStop)
    assert stop.why == "slices"


@pytest.mark.parametrize(
    "call",
    [("vic:118", "555", 10, "frl:4x10"), ("vic:118", "444", 9, "frl:4x10"), ("vic:118", "444", 10, "frl:5x10"),
     ("vic:118", "444", 10, "tmds:9999"), ("vic:118", "444", 10, "frl:none"), ("vic:118", "422", 16, "frl:4x10")],
)  # fmt: skip
def test_a_malformed_question_is_refused(call: tuple[str, str, int, str]) -> None:
    with pytest.raises(SignalError):
        link_answer(*call, "2ch", "none")


# --- compression, proving a rate, a link without a job ---

RATES_240 = (240, 200, 180, 165, 144, 120)


def test_s12_2160p240_fits_4x12_only_compressed() -> None:
    """3840x2160@240 CVT-RB2, 10 bits: blocked plain, compressed to 12 bits a pixel in eight slices."""
    plain = link_answer("cvt:3840x2160@240:rb2", "444", 10, "frl:4x12", "2ch", "none")
    assert (plain["verdict"], plain["blocked_by"]) == ("blocked", "rate")
    squeezed = link_answer("cvt:3840x2160@240:rb2", "444", 10, "frl:4x12", "2ch", "allowed")
    assert (squeezed["verdict"], squeezed["slices"], squeezed["bits_per_pixel"]) == ("compressed", 8, 12)
    assert {"name": "given up", "text": "18.00 bit/px"}.items() <= next(
        q for q in squeezed["reasons"][0]["quantities"] if q["name"] == "given up"
    ).items()


def test_s12_compression_off_leaves_the_best_rate_and_costs_a_120_hz_console_nothing() -> None:
    codes = {hz: f"cvt:3840x2160@{hz}:rb2" for hz in RATES_240}
    fits = [hz for hz, code in codes.items() if link_answer(code, "444", 10, "frl:4x12", "2ch", "none")["fits"]]
    assert max(fits) == 144
    console = [link_answer("vic:118", "444", 10, "frl:4x12", "2ch", dsc) for dsc in ("none", "allowed")]
    assert console[0]["verdict"] == console[1]["verdict"] == "fits"
    assert console[0]["used_percent"] == console[1]["used_percent"]


def test_s19_each_step_needs_exactly_its_rate() -> None:
    steps = proof_steps()
    assert [s.rate.code for s in steps] == ["4x12", "4x10", "4x8", "4x6", "3x6", "3x3"]
    for step, lower in itertools.pairwise(steps):
        assert frl_use(demand(step.signal), step.rate).blocked_by is None
        assert frl_use(demand(step.signal), lower.rate).blocked_by is not None


@pytest.mark.parametrize(
    ("stuck", "fell", "off", "determined", "words"),
    [
        (["4x12"], [], True, True, "at least 4 × 12 Gb/s"),
        (["4x12"], [], False, False, "Undetermined"),
        (["4x10"], ["4x12"], True, True, "stops under 4 × 12 Gb/s"),
        (["4x8"], ["4x12"], True, False, "still open: 4 × 10 Gb/s"),
        (["4x12"], ["4x10"], True, False, "contradict"),
        ([], [], True, False, "Nothing tried yet"),
    ],
)
def test_s19_what_each_outcome_proves(
    stuck: list[str], fell: list[str], off: bool, determined: bool, words: str
) -> None:
    """40 or 48 Gb/s? Undetermined unless compression is excluded."""
    outcomes = {frl_rate(c): True for c in stuck} | {frl_rate(c): False for c in fell}
    told = conclude(outcomes, compression_off=off)
    assert told.determined is determined
    assert words in told.sentence


def test_a_scratch_link_says_which_part_limits() -> None:
    def ask(out: str, grade: str, inp: str) -> LinkQuestion:
        return LinkQuestion(out, inp, Cable(grade, 2000), "vic:118", "rgb", 12)

    by_end = scratch_link(ask("frl:4x12", "ultra", "frl:4x10"))
    assert (by_end["verdict"], by_end["limited_by"]) == ("blocked", "the receiving end")
    by_lead = scratch_link(ask("frl:4x12", "premium", "frl:4x12"))
    assert (by_lead["verdict"], by_lead["limited_by"]) == ("blocked", "the lead")
    assert [r["timing"] for r in by_end["rows"] if r["wanted"]] == ["vic:118"]
    clocks = [parse_timing(r["timing"]).pixel_clock_hz for r in by_end["rows"]]
    assert clocks == sorted(clocks, reverse=True)
    for text in ("frl:9x9", "usb", "tmds:1"):
        with pytest.raises(SignalError):
            scratch_link(ask(text, "ultra", "frl:4x10"))
