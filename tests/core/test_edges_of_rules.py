"""Rules at their edges, by the figures of the documents they come from and not by those of the code."""

from __future__ import annotations

import random
from fractions import Fraction
from math import ceil, floor

import pytest

from wavilex.core.edid.base import read_base
from wavilex.core.edid.build import SinkSpec, build
from wavilex.core.edid.cta import _hdmi, _hdr
from wavilex.core.edid.decode import decode
from wavilex.core.edid.detailed import read_detailed
from wavilex.core.edid.model import HdmiBlock
from wavilex.core.lag.budget import lip_sync
from wavilex.core.lag.summary import median_interval_rank
from wavilex.core.link import check
from wavilex.core.link.dsc import DscSink, DscUse, dsc_use
from wavilex.core.link.frl import FrlUse, frl_use
from wavilex.core.link.rates import frl_rate
from wavilex.core.video.codes import parse_timing
from wavilex.core.video.signal import DigitalVideo, demand
from wavilex.core.video.timing import Timing

RATES = {"3x3": (3, 3), "3x6": (3, 6), "4x6": (4, 6), "4x8": (4, 8), "4x10": (4, 10), "4x12": (4, 12)}


def timing(clock_hz: int, active: int, blank: int, lines: int = 1125) -> Timing:
    """A timing of one's own, by its modeline; only the line matters here."""
    h = (active, active + blank // 4, active + blank // 2, active + blank)
    return parse_timing(f"modeline:{clock_hz / 1e6:.6f} {' '.join(map(str, h))} 1080 1084 1089 {lines}")


def frl_by_the_document(t: Timing, bits: int, packets_quarters: int, lanes: int, gbps: int) -> set[str]:
    """Steps 1 to 7 of HDMI 2.1's procedure in fractions, for RGB: what stops the signal (value from memory)."""
    ovh = Fraction(lanes + 32) / (4 * 510 + lanes) + Fraction(5, 2) / (4 * 510 + lanes) + Fraction(3, 1000)
    line_s = t.h_total / (Fraction(t.pixel_clock_hz) * Fraction(1005, 1000))
    rate = Fraction(gbps * 10**9) * (1 - Fraction(300, 10**6)) / 18
    c_line = floor(line_s * rate * lanes)
    k_cd = Fraction(bits, 8)
    active = ceil(Fraction(ceil(24 * k_cd * t.h_active / 8), 3))
    blank = ceil(t.h_blank * k_cd)
    packets = ceil(192_000 * Fraction(packets_quarters, 4) * line_s)
    effective = lanes * rate * (1 - ovh)
    stopped = set()
    if line_s * t.h_blank / t.h_total < blank / effective:
        stopped.add("blanking")
    t_active = Fraction(3, 2) * active / effective
    own = line_s * t.h_active / t.h_total
    if (t_active - own) * (active + blank) / line_s > 400:
        stopped.add("borrow")
    saved = max(0, floor((t.h_blank * k_cd - 1 - 32 * (1 + packets) - 4) * Fraction(7, 8)))
    if Fraction(ceil(Fraction(3, 2) * active) + blank - saved, c_line) + ovh > 1:
        stopped.add("line")
    if blank < 32 + 32 * packets:
        stopped.add("room")
    return stopped


def test_frl_agrees_with_the_document_on_timings_of_every_kind() -> None:
    """Random lines, long and short blanking; each of the four tests decides alone somewhere."""
    rnd = random.Random(5)
    alone: set[str] = set()
    for _ in range(6000):
        t = timing(rnd.randrange(60, 1600) * 10**6 + rnd.randrange(10**6), rnd.randrange(640, 7680, 2),
                   rnd.choice([rnd.randrange(24, 400, 4), rnd.randrange(400, 4400, 4)]))  # fmt: skip
        bits = rnd.choice([8, 10, 12])
        code = rnd.choice(list(RATES))
        use = frl_use(demand(DigitalVideo(t, "rgb", bits, "2ch")), frl_rate(code))
        stopped = frl_by_the_document(t, bits, 1, *RATES[code])
        assert (use.blocked_by is not None) == bool(stopped), (t.modeline, bits, code, stopped, use)
        if len(stopped) == 1:
            alone |= stopped
        assert (use.blocked_by == "no_audio_room") == (stopped == {"room"})
    assert alone >= {"borrow", "line", "room"}


def test_8k30_10_bit_444_fits_40_gbps() -> None:
    """Real screens list it (common practice); it borrows some of its blanking."""
    use = frl_use(demand(DigitalVideo(parse_timing("vic:196"), "444", 10, "2ch")), frl_rate("4x10"))
    assert use.blocked_by is None
    assert 0 < use.borrowed_tribytes < 400


def test_borrowing_stops_past_400_tri_bytes() -> None:
    """Lines that differ by two pixels: the last that borrows 400 or less fits, the next does not."""
    seen = []
    for active in range(2000, 6000, 2):
        use = frl_use(demand(DigitalVideo(timing(800_000_000, active, 1200), "rgb", 10, "none")), frl_rate("4x6"))
        seen.append((use.borrowed_tribytes <= 400, use.blocked_by is None, use.used <= 1))
    decided = [(few, fits) for few, fits, room in seen if room]
    assert {few for few, _ in decided} == {True, False}
    assert all(few == fits for few, fits in decided)


@pytest.mark.parametrize(
    ("used", "verdict"),
    [(Fraction(98, 100), "fits"), (Fraction(9801, 10000), "tight"), (Fraction(1), "tight")],
)
def test_frl_is_tight_only_above_98_percent(used: Fraction, verdict: str, monkeypatch: pytest.MonkeyPatch) -> None:
    """Common practice; TMDS at 99 % fits."""
    rate = frl_rate("4x10")
    told = FrlUse(rate, Fraction(1), Fraction(1), 1, 1, 1, 0, Fraction(0), used, Fraction(0), None)
    monkeypatch.setattr(check, "frl_use", lambda need, frl: told)
    signal = DigitalVideo(parse_timing("vic:118"), "rgb", 8)
    verdicts = check.check_link.__wrapped__(demand(signal), check.Capacity(None, rate, "link", "link"))
    assert verdicts.verdict == verdict


@pytest.mark.parametrize(
    ("active", "clock_mhz", "code", "encoding", "slices"),
    [
        (2720, 340, 1, "rgb", 1), (2722, 340, 2, "rgb", 2), (2720, 341, 1, "rgb", None), (2720, 341, 2, "rgb", 2),
        (5440, 680, 2, "rgb", 2), (5442, 680, 2, "rgb", None), (5442, 680, 3, "rgb", 4), (2720, 680, 1, "420", 1),
        (2720, 681, 1, "420", None), (7680, 2720, 4, "rgb", 8), (7680, 3200, 5, "rgb", 8), (7680, 3201, 5, "rgb", None),
        (7680, 3201, 6, "rgb", 12),
    ],
)  # fmt: skip
def test_slices_by_width_and_clock(active: int, clock_mhz: int, code: int, encoding: str, slices: int | None) -> None:
    """DSC 1.2a over FRL: as few as allowed with at most 2720 pixels, and clock·K over slices within the code's limit.

    Codes: 1: 1@340 MHz, 2: 2@340, 3: 4@340, 4: 8@340, 5: 8@400, 6: 12@400 (value from memory).
    """
    need = demand(DigitalVideo(timing(clock_mhz * 10**6, active, 400, 2000), encoding, 8, "none"))
    use = dsc_use(need, frl_rate("4x24"), DscSink(slice_code=code))
    assert (use.slices if isinstance(use, DscUse) else None) == slices


@pytest.mark.parametrize(
    ("code", "ms"), [(0, None), (1, 0), (2, 2), (11, 20), (251, 500), (252, None), (254, None), (255, None)]
)
def test_latency_codes(code: int, ms: int | None) -> None:
    """HDMI 1.4b: 2·(code − 1) ms; 0 not known, 255 no such signal, over 251 not used."""
    block = _hdmi(bytes([0x03, 0x0C, 0x00, 0x10, 0x00, 0x38, 60, 0x80, code, 7]))
    assert (block.video_latency_ms, block.audio_latency_ms) == (ms, 12)


def test_the_older_block_field_by_field() -> None:
    """HDMI 1.4b, vendor block: address, deep colour, TMDS in steps of 5 MHz, content types, its four modes."""
    d = bytes([0x03, 0x0C, 0x00, 0x21, 0x34, 0xF8, 68, 0x28, 0x00, 0x80, 1, 2, 4, 9])
    block = _hdmi(d)
    assert block.physical_address == (2, 1, 3, 4)
    assert (block.deep_bits, block.deep_444, block.tmds_mhz) == ((10, 12, 16), True, 340)
    assert block.hdmi_vics == (1, 2, 4)
    assert _hdmi(bytes([0x03, 0x0C, 0x00, 0x10, 0x00])).tmds_mhz is None
    assert _hdmi(bytes([0x03, 0x0C, 0x00, 0x10, 0x00, 0, 0])).tmds_mhz is None


@pytest.mark.parametrize(("code", "cd_m2"), [(0, None), (1, 51.1), (32, 100.0), (96, 400.0), (115, 603.7),
                                             (128, 800.0), (138, 993.5), (255, 12525.7)])  # fmt: skip
def test_luminance_codes(code: int, cd_m2: float | None) -> None:
    """CTA-861.3: 50·2^(code/32) cd/m²; 0 not stated."""
    told = _hdr(bytes([4, 1, code, code])).max_cd_m2
    assert told is None if cd_m2 is None else told == pytest.approx(cd_m2, abs=0.05)


def test_the_least_luminance_hangs_on_the_most() -> None:
    """CTA-861.3: most·(code/255)²/100."""
    assert _hdr(bytes([4, 1, 96, 0, 255])).min_cd_m2 == pytest.approx(4.0)
    assert _hdr(bytes([4, 1, 96, 0, 51])).min_cd_m2 == pytest.approx(0.16)
    assert _hdr(bytes([4, 1, 0, 0, 51])).min_cd_m2 is None
    assert _hdr(bytes([4, 1, 96])).frame_average_cd_m2 is None
    assert _hdr(bytes([0b1101, 1])).eotf == ("sdr", "pq", "hlg")


@pytest.mark.parametrize(
    ("offsets", "vertical", "horizontal"),
    [
        (0b0000, (48, 144), (30, 200)), (0b0010, (48, 399), (30, 200)), (0b0011, (303, 399), (30, 200)),
        (0b1000, (48, 144), (30, 455)), (0b1100, (48, 144), (285, 455)), (0b1111, (303, 399), (285, 455)),
    ],
)  # fmt: skip
def test_range_limits_and_their_offsets(offsets: int, vertical: tuple[int, int], horizontal: tuple[int, int]) -> None:
    """E-EDID 1.4, descriptor FD: byte 4 adds 255 to the greatest, or to both."""
    e = bytearray(build(SinkSpec("Test", (parse_timing("vic:16"),))))
    at = 54 + 3 * 18
    e[at : at + 18] = bytes([0, 0, 0, 0xFD, offsets, 48, 144, 30, 200, 60]) + b"\x01\x0a" + b" " * 6
    base = decode(bytes(e)).base
    assert (base.range_v_hz, base.range_h_khz, base.range_clock_mhz) == (vertical, horizontal, 600)


def test_a_detailed_timing_bit_by_bit() -> None:
    """E-EDID 1.4, 3.10.2: high bits of porches and sync widths stand in byte 11, two each."""
    for h_front, h_sync, v_front, v_sync in ((900, 44, 4, 5), (88, 800, 4, 5), (88, 44, 40, 5), (88, 44, 4, 50)):
        blank_h, blank_v = h_front + h_sync + 148, v_front + v_sync + 36
        d = bytes([
            0x02, 0x3A, 0x80, blank_h & 255, 0x70 | blank_h >> 8, 0x38, blank_v & 255, 0x40 | blank_v >> 8,
            h_front & 255, h_sync & 255, (v_front & 15) << 4 | v_sync & 15,
            h_front >> 8 << 6 | h_sync >> 8 << 4 | v_front >> 4 << 2 | v_sync >> 4, 0, 0, 0, 0, 0, 0x1E,
        ])  # fmt: skip
        read = read_detailed(d)
        assert read is not None
        assert (read.h_front, read.h_sync, read.v_front, read.v_sync) == (h_front, h_sync, v_front, v_sync)
        assert (read.pixel_clock_hz, read.h_active, read.v_active) == (148_500_000, 1920, 1080)


def test_standard_timings_in_the_base_block() -> None:
    """E-EDID 1.4, 3.9: width/8 − 31, two bits of shape (16:10, 4:3, 5:4, 16:9), rate − 60."""
    e = bytearray(build(SinkSpec("Test", (parse_timing("vic:16"),))))
    codes = {(1680, 1050, 60): (179, 0), (1024, 768, 75): (97, 0x40 | 15), (1280, 1024, 60): (129, 0x80),
             (1600, 900, 60): (169, 0xC0)}  # fmt: skip
    for n, pair in enumerate(codes.values()):
        e[38 + 2 * n : 40 + 2 * n] = bytes(pair)
    listed = {(t.h_active, t.frame_height, t.nominal_hz) for t in read_base(bytes(e[:128]), []).listed}
    assert set(codes) <= listed


def test_what_is_built_reads_back_by_address_and_latency() -> None:
    for address in ((1, 0, 0, 0), (2, 1, 0, 0), (15, 15, 15, 15)):
        spec = SinkSpec("Test", (parse_timing("vic:16"),), hdmi=HdmiBlock(address, (10, 12), True, tmds_mhz=300))
        cta = decode(build(spec)).cta
        assert cta is not None
        assert cta.hdmi is not None
        assert (cta.hdmi.physical_address, cta.hdmi.deep_bits, cta.hdmi.tmds_mhz) == (address, (10, 12), 300)


@pytest.mark.parametrize(
    ("picture_ms", "sound_ms", "verdict", "delay"),
    [
        (50, 50, "fits", 0), (90, 50, "fits", 40), (Fraction(901, 10), 50, "set", 40), (50, 110, "fits", 0),
        (50, Fraction(1101, 10), "late", None), (200, 50, "set", 150),
    ],
)  # fmt: skip
def test_sound_may_be_40_ms_early_and_60_ms_late(
    picture_ms: Fraction, sound_ms: Fraction, verdict: str, delay: int | None
) -> None:
    """EBU R 37 (value from memory)."""
    told = lip_sync(Fraction(picture_ms) * 1000, Fraction(sound_ms) * 1000, "bar", None)
    assert (told.verdict, told.delay_ms) == (verdict, delay)


def test_a_delay_its_player_has_not_is_not_promised() -> None:
    told = lip_sync(Fraction(200_000), Fraction(50_000), "bar", 100)
    assert (told.verdict, told.delay_ms) == ("set", 100)
    assert "sound stays 50 ms early" in told.words
    assert lip_sync(None, Fraction(1), "bar", None).verdict == lip_sync(Fraction(1), None, "bar", None).verdict


@pytest.mark.parametrize(
    ("n", "rank"),
    [(5, None), (6, 1), (8, 1), (9, 2), (11, 2), (12, 3), (17, 5), (20, 6), (30, 10), (50, 18), (100, 40)],
)
def test_ranks_of_the_medians_interval(n: int, rank: int | None) -> None:
    """Order statistics of a sign test at 95 %, as printed in tables of the binomial (Conover; textbook result)."""
    assert median_interval_rank(n) == rank
