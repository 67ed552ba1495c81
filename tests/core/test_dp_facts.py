"""Known facts of DisplayPort, USB-C and DVI links, each with its source; none is worked out by what is tested.

Sources: [S] VESA DisplayPort 1.4a/2.1, CVT 1.2/2.0, DVI 1.0, CTA-861-I, figures from memory; [P] common practice, as
technicians and data sheets say it. A row that says "blocked" is blocked plainly; compression is named where it is on.
"""

from __future__ import annotations

from fractions import Fraction

import pytest

from wavilex.core.link.answer import link_answer
from wavilex.core.link.dp import dp_use, slots_of
from wavilex.core.link.dp_rates import DP_CODES, dp_rate
from wavilex.core.video.codes import parse_timing
from wavilex.core.video.signal import DigitalVideo, demand

# pixel clocks as tables print them, in kHz
CLOCKS_KHZ = {
    "vic:16": 148_500, "vic:95": 297_000, "vic:97": 594_000, "vic:118": 1_188_000,
    "cvt:1920x1200@60:rb1": 154_000, "cvt:2560x1440@60:rb1": 241_500, "cvt:2560x1600@60:rb1": 268_500,
    "cvt:2560x1440@120:rb1": 497_750, "cvt:3840x2160@60:rb1": 533_250, "cvt:5120x2880@60:rb1": 938_250,
    "cvt:1920x1080@120:rb1": 285_500, "cvt:1920x1080@144:rb2": 333_216, "cvt:2560x1440@144:rb2": 586_586,
    "cvt:3840x2160@120:rb2": 1_075_804, "cvt:3840x2160@144:rb2": 1_306_206, "cvt:3840x2160@240:rb2": 2_285_203,
}  # fmt: skip
UHD60, UHD120, UHD144, UHD240 = (f"cvt:3840x2160@{x}" for x in ("60:rb1", "120:rb2", "144:rb2", "240:rb2"))
QHD60, QHD120, QHD144, QHD240 = (f"cvt:2560x1440@{x}" for x in ("60:rb1", "120:rb1", "144:rb2", "240:rb2"))
FIVE_K, EIGHT_K = "cvt:5120x2880@60:rb1", "cvt:7680x4320@60:rb2"

# timing, bits, link, compression, verdict, source
FACTS = [
    (UHD60, 10, "dp:4xhbr2", "none", "fits", "[S] 16.00 of 17.28 Gb/s"),
    (UHD60, 12, "dp:4xhbr2", "none", "blocked", "[S] 19.2 of 17.28"),
    (UHD60, 8, "dp:4xhbr2", "none", "fits", "[P] 4K60 is what 5.4 Gb/s lanes were made for"),
    (UHD60, 8, "dp:4xhbr", "none", "blocked", "[P] first-generation sockets stop at 4K30"),
    (UHD60, 8, "dp:2xhbr2", "none", "blocked", "[P] a dock with fast data on 5.4 Gb/s lanes stops at 4K30"),
    (UHD60, 8, "dp:2xhbr3", "none", "fits", "[S] 12.80 of 12.96"),
    (UHD60, 10, "dp:2xhbr3", "none", "blocked", "[S] 16.00 of 12.96"),
    ("vic:97", 8, "dp:4xhbr2", "none", "fits", "[S] 14.26 of 17.28"),
    ("vic:97", 10, "dp:4xhbr2", "none", "blocked", "[S] 17.82 of 17.28: television timing, ten bits"),
    ("vic:97", 10, "dp:4xhbr3", "none", "fits", "[S] 17.82 of 25.92"),
    ("vic:97", 12, "dp:4xhbr3", "none", "fits", "[S] 21.38 of 25.92"),
    ("vic:95", 8, "dp:4xhbr", "none", "fits", "[P] 4K30 on first-generation sockets"),
    ("vic:95", 10, "dp:4xhbr", "none", "blocked", "[S] 8.91 of 8.64"),
    ("vic:95", 8, "dp:4xrbr", "none", "blocked", "[S] 7.13 of 5.18"),
    ("vic:95", 8, "dp:2xhbr2", "none", "fits", "[P] 4K30 behind a dock with fast data"),
    (UHD120, 8, "dp:4xhbr3", "none", "tight", "[S] 25.82 of 25.92: within the spread of the clock"),
    (UHD120, 10, "dp:4xhbr3", "none", "blocked", "[S] 32.3 of 25.92"),
    (UHD120, 10, "dp:4xhbr3", "8x340", "compressed", "[P] 4K120 HDR monitors on 8.1 Gb/s lanes compress"),
    (UHD120, 10, "dp:4xuhbr10", "none", "fits", "[S] 32.3 of 38.69"),
    ("vic:118", 8, "dp:4xhbr3", "none", "blocked", "[S] 28.5 of 25.92: television timing"),
    ("vic:118", 10, "dp:4xuhbr10", "none", "fits", "[S] 35.64 of 38.69"),
    ("vic:118", 12, "dp:4xuhbr10", "none", "blocked", "[S] 42.77 of 38.69"),
    ("vic:118", 12, "dp:4xuhbr13.5", "none", "fits", "[S] 42.77 of 52.23"),
    (UHD144, 8, "dp:4xhbr3", "none", "blocked", "[S] 31.35 of 25.92"),
    (UHD144, 10, "dp:4xhbr3", "8x340", "compressed", "[P] 4K144 HDR on 8.1 Gb/s lanes is always compressed"),
    (UHD144, 8, "dp:4xuhbr10", "none", "fits", "[S] 31.35 of 38.69"),
    (UHD144, 10, "dp:4xuhbr10", "none", "blocked", "[S] 39.19 of 38.69: ten bits just miss"),
    (UHD144, 10, "dp:4xuhbr13.5", "none", "fits", "[S] 39.19 of 52.23"),
    (UHD240, 10, "dp:4xhbr3", "8x340", "compressed", "[P] 4K240 monitors of 8.1 Gb/s lanes: 11.1 bit/px of room"),
    (UHD240, 8, "dp:4xuhbr13.5", "none", "blocked", "[S] 54.84 of 52.23"),
    (UHD240, 8, "dp:4xuhbr20", "none", "fits", "[S] 54.84 of 77.37"),
    (UHD240, 10, "dp:4xuhbr20", "none", "fits", "[S] 68.56 of 77.37"),
    (UHD240, 10, "dp:4xhbr2", "8x340", "blocked", "[S] 7.4 bit/px of room, and eight are the fewest"),
    (QHD240, 8, "dp:4xhbr3", "none", "fits", "[P] 1440p240 needs 8.1 Gb/s lanes"),
    (QHD240, 8, "dp:4xhbr2", "none", "blocked", "[P] 1440p240 needs 8.1 Gb/s lanes"),
    (QHD240, 10, "dp:4xhbr3", "none", "blocked", "[S] 30.8 of 25.92"),
    (QHD240, 10, "dp:4xhbr3", "4x400", "compressed", "[P] ten bits at 1440p240 are compressed"),
    (QHD144, 8, "dp:4xhbr2", "none", "fits", "[S] 14.08 of 17.28"),
    (QHD144, 10, "dp:4xhbr2", "none", "blocked", "[P] 1440p144 in ten bits asks 8.1 Gb/s lanes"),
    (QHD144, 10, "dp:4xhbr3", "none", "fits", "[S] 17.60 of 25.92"),
    (QHD120, 8, "dp:4xhbr2", "none", "fits", "[S] 11.95 of 17.28"),
    (QHD120, 10, "dp:4xhbr2", "none", "fits", "[S] 14.93 of 17.28"),
    (QHD60, 8, "dp:4xhbr", "none", "fits", "[P] the first 1440p monitors: 2.7 Gb/s lanes"),
    (QHD60, 10, "dp:4xhbr", "none", "fits", "[S] 7.25 of 8.64"),
    (QHD60, 8, "dp:4xrbr", "none", "blocked", "[S] 5.80 of 5.18"),
    ("cvt:2560x1600@60:rb1", 8, "dp:4xhbr", "none", "fits", "[S] 6.44 of 8.64"),
    ("vic:16", 8, "dp:1xhbr2", "none", "fits", "[S] 3.56 of 4.32"),
    ("vic:16", 8, "dp:1xhbr", "none", "blocked", "[S] 3.56 of 2.16"),
    ("vic:16", 8, "dp:4xrbr", "none", "fits", "[S] 3.56 of 5.18"),
    ("vic:16", 8, "dp:2xrbr", "none", "blocked", "[S] 3.56 of 2.59"),
    ("vic:16", 8, "dp:2xhbr", "none", "fits", "[S] 3.56 of 4.32"),
    (FIVE_K, 8, "dp:4xhbr2", "none", "blocked", "[P] 5K60 took two leads of 5.4 Gb/s lanes"),
    (FIVE_K, 8, "dp:4xhbr3", "none", "fits", "[P] and one of 8.1"),
    (FIVE_K, 10, "dp:4xhbr3", "none", "blocked", "[S] 28.1 of 25.92"),
    (EIGHT_K, 10, "dp:4xuhbr20", "none", "fits", "[S] 62.1 of 77.37"),
    (EIGHT_K, 10, "dp:4xhbr3", "8x400", "compressed", "[P] 8K60 on 8.1 Gb/s lanes is compressed"),
    (EIGHT_K, 10, "dp:4xhbr3", "none", "blocked", "[P] and never plain"),
    (EIGHT_K, 10, "dp:4xuhbr13.5", "none", "blocked", "[S] 62.1 of 52.23"),
    (EIGHT_K, 8, "dp:4xuhbr13.5", "none", "fits", "[S] 49.6 of 52.23"),
    (UHD60, 8, "usbc:2xhbr3", "none", "fits", "[P] 4K60 beside fast data asks 8.1 Gb/s lanes"),
    (UHD60, 8, "usbc:2xhbr2", "none", "blocked", "[P] beside fast data 5.4 Gb/s lanes stop at 4K30"),
    (UHD60, 8, "usbc:4xhbr2", "none", "fits", "[P] with USB 2 alone they carry 4K60"),
    (QHD120, 8, "usbc:2xhbr3", "none", "fits", "[S] 11.95 of 12.96"),
    ("vic:16", 8, "dvi:single", "none", "fits", "[S] 148.5 of 165 MHz"),
    ("cvt:1920x1200@60:rb1", 8, "dvi:single", "none", "fits", "[P] 1200p60 with reduced blanking on single link"),
    (QHD60, 8, "dvi:single", "none", "blocked", "[S] 241.5 of 165 MHz"),
    (QHD60, 8, "dvi:dual", "none", "fits", "[P] 1440p60 asks dual link"),
    ("cvt:2560x1600@60:rb1", 8, "dvi:dual", "none", "fits", "[P] 30-inch monitors: 268.5 of 330 MHz"),
    ("cvt:1920x1080@120:rb1", 8, "dvi:dual", "none", "fits", "[P] the first 120 Hz monitors: dual link"),
    (QHD120, 8, "dvi:dual", "none", "blocked", "[S] 497.75 of 330 MHz"),
    ("vic:16", 10, "dvi:dual", "none", "blocked", "[S] DVI knows eight bits"),
    (QHD144, 8, "tmds:300", "none", "blocked", "[S] 586.6 of 300 MHz: a passive adapter of type 2"),
    ("vic:95", 8, "tmds:300", "none", "fits", "[P] a passive adapter of type 2 does 4K30"),
    (QHD60, 8, "tmds:165", "none", "blocked", "[P] a passive adapter of type 1 stops at 1200p60"),
]  # fmt: skip


@pytest.mark.parametrize(("timing", "khz"), CLOCKS_KHZ.items())
def test_the_clocks_are_those_of_the_tables(timing: str, khz: int) -> None:
    assert abs(parse_timing(timing).pixel_clock_hz - khz * 1000) < 1000


def test_there_are_enough_of_them() -> None:
    assert len(FACTS) >= 60
    assert all(row[-1].startswith(("[S]", "[P]")) for row in FACTS)


@pytest.mark.parametrize(("timing", "bits", "over", "dsc", "verdict", "source"), FACTS)
def test_a_known_fact(timing: str, bits: int, over: str, dsc: str, verdict: str, source: str) -> None:
    answer = link_answer(timing, "rgb", bits, over, "2ch", dsc)
    assert answer["verdict"] == verdict, (answer["sentence"], source)


# Gb/s of data, as the standard's tables print them for four lanes [S]
DATA = {
    "4xrbr": 5.184, "4xhbr": 8.64, "4xhbr2": 17.28, "4xhbr3": 25.92, "4xuhbr10": 38.69, "4xuhbr13.5": 52.22,
    "4xuhbr20": 77.37,
}  # fmt: skip


@pytest.mark.parametrize(("code", "gbps"), DATA.items())
def test_what_a_link_carries(code: str, gbps: float) -> None:
    assert float(dp_rate(code).data_bps) / 1e9 == pytest.approx(gbps, abs=0.01)


def test_error_correction_is_paid_on_8b10b_only() -> None:
    """[S] 25.30 of 25.92 Gb/s; 128b/132b has it in its coding."""
    assert float(dp_rate("4xhbr3").corrected_bps) / 1e9 == pytest.approx(25.30, abs=0.005)
    assert dp_rate("4xuhbr10").corrected_bps == dp_rate("4xuhbr10").data_bps


@pytest.mark.parametrize(("timing", "room"), [(UHD144, 19.4), (UHD240, 11.1)])
def test_how_many_bits_a_pixel_there_is_room_for(timing: str, room: float) -> None:
    """[S] 25.30 Gb/s over the clock, cut to sixteenths of a bit and whole bytes of a slice."""
    answer = link_answer(timing, "rgb", 10, "dp:4xhbr3", "2ch", "8x340")
    assert room - 0.13 < answer["bits_per_pixel"] <= room + 0.05


@pytest.mark.parametrize(
    ("timing", "code", "streams", "fits"),
    [
        (QHD60, "4xhbr2", 2, True),  # [P] two 1440p60 monitors in a chain on 5.4 Gb/s lanes
        (QHD60, "4xhbr2", 3, False),  # [S] 3 × 22 of 63 slots
        ("vic:16", "4xhbr", 2, True),  # [P] two 1080p60 on 2.7 Gb/s lanes
        ("vic:16", "4xhbr2", 4, True),  # [P] four 1080p60 on 5.4 Gb/s lanes
        ("vic:16", "4xhbr2", 5, False),  # [S] 5 × 14 of 63 slots
        (UHD60, "4xhbr2", 2, False),  # [P] never two 4K60 on 5.4 Gb/s lanes
        (QHD144, "4xhbr3", 2, False),  # [S] 2 × 35 of 63 slots
    ],
)
def test_several_streams_on_one_link(timing: str, code: str, streams: int, fits: bool) -> None:
    need = demand(DigitalVideo(parse_timing(timing), "rgb", 8, "none"))
    rate = dp_rate(code)
    each = slots_of(Fraction(parse_timing(timing).pixel_clock_hz * 24), rate)
    use = dp_use(need, rate, each * (streams - 1))
    assert (use.blocked_by is None) is fits
    assert use.used == Fraction(each * streams, 63)


def test_chroma_given_up_is_bits_saved() -> None:
    """[S] 4:2:2 costs two thirds, 4:2:0 half, at every depth: no container of 24 bits as over HDMI."""
    need = {
        e: dp_use(demand(DigitalVideo(parse_timing("vic:97"), e, 10)), dp_rate("4xhbr3")) for e in ("444", "422", "420")
    }
    assert [need[e].bits_per_pixel for e in ("444", "422", "420")] == [30, 20, 15]


def test_sound_needs_blanking() -> None:
    """[S] a line's sound packets stand in its blanking; one of 24 pixels has no room for them on a single lane."""
    short = parse_timing("modeline:148.5 1920 1928 1936 1944 1080 1084 1089 1125")

    def stopped(audio: str, code: str) -> str | None:
        return dp_use(demand(DigitalVideo(short, "rgb", 8, audio)), dp_rate(code)).blocked_by

    assert stopped("8ch@192", "1xhbr2") == "no_audio_room"
    assert stopped("2ch", "1xhbr2") is None
    assert stopped("none", "1xhbr2") is None
    assert stopped("8ch@192", "4xhbr2") is None
    roomy = demand(DigitalVideo(parse_timing("vic:16"), "rgb", 8, "8ch@192"))
    assert dp_use(roomy, dp_rate("1xhbr2")).blocked_by is None


def test_every_rate_has_its_code() -> None:
    """[S] lanes 1, 2, 4 and seven rates."""
    assert len(DP_CODES) == 1 + 3 * 7
    assert all(dp_rate(code).code == code for code in DP_CODES)
