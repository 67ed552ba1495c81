"""More edges: windows, silence, conditions, the order of leads, what a line holds. Figures worked out by hand."""

from __future__ import annotations

from fractions import Fraction

import pytest

from tests.rigs import device, lead, rig, run, setting
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.sound import sound_of
from wavilex.core.edid.detailed import implausible, read_detailed, write_type10
from wavilex.core.gear.classes import from_template
from wavilex.core.lag.difference import Difference, _more
from wavilex.core.link.cable import BEST
from wavilex.core.link.check import End, capacity, check_link
from wavilex.core.link.dsc import DscSink, common_dsc
from wavilex.core.link.rates import FRL_RATES, NO_FRL, frl_rate
from wavilex.core.link.sums import line_data
from wavilex.core.modes.cells import spots
from wavilex.core.modes.run_refresh import window_of
from wavilex.core.rig.changes import apply
from wavilex.core.runsheet.plan import plan_steps
from wavilex.core.video.codes import parse_timing
from wavilex.core.video.signal import DigitalVideo, demand


def test_no_lead_carries_more_than_the_best() -> None:
    """HDMI 2.1: TMDS to 600 MHz, FRL to the highest rate listed."""
    assert (BEST.tmds_hz, BEST.frl) == (600_000_000, FRL_RATES[-1])


def test_a_window_ends_at_the_rate_sent() -> None:
    r = rig(device("s", "kelpine-k1"), device("tv", "yarrowby-65s"), lead("L", "s/hdmi", "tv/hdmi3"),
            setting("tv", "hdmi3", "format", "wide"), run("main", "s", "tv", mode="3840x2160@60"))  # fmt: skip
    layer = Layer(r)
    assert window_of(layer, run_result(layer, r.runs["main"])) == (48, 60)


def test_what_a_silent_run_lacks_is_named_socket_by_socket() -> None:
    """Free sound outputs on the way, and only those: no picture output, no sound input."""
    r = rig(device("s", "kelpine-k0"), device("sw", "tindrel-x1"), device("m", "kelpine-m24"),
            lead("L1", "s/hdmi", "sw/in"), lead("L2", "sw/out", "m/hdmi1"),
            run("main", "s", "m", mode="1920x1080@60"))  # fmt: skip
    layer = Layer(r)
    result = run_result(layer, r.runs["main"])
    assert result.path
    assert sound_of(layer, result).silent == (
        "Silent: M makes no sound, and this job has nothing that fits. It needs a sound device that takes "
        "optical from S or optical from SW or jack from SW or jack from M."
    )


def test_a_soundbar_plays() -> None:
    bar = from_template("soundbar", {"returns": "earc", "plugs": "optical"}, "Brindlo", "X")
    assert bar.plays is True
    assert [p.id for p in bar.ports] == ["screen", "optical"]


def test_conditions_are_of_the_screens_own_runs_that_have_a_way() -> None:
    r = rig(device("a", "kelpine-k1"), device("b", "kelpine-k1"), device("c", "kelpine-k1"),
            device("tv", "yarrowby-65s"), device("m", "kelpine-m27"),
            lead("L1", "a/hdmi", "tv/hdmi3"), lead("L2", "b/hdmi", "m/hdmi1"),
            run("mine", "a", "tv", mode="1920x1080@60"), run("other", "b", "m", mode="1920x1080@60"),
            run("unplugged", "c", "tv", mode="1920x1080@60"))  # fmt: skip
    assert {name for _, name in spots(Layer(r), "tv")} == {"mine"}


def test_a_detailed_timing_without_back_porch_is_a_timing() -> None:
    """E-EDID 1.4, 3.10.2: a porch may be none; a longer one than the blanking is cut to it, and told."""
    row = bytearray(18)
    row[0:2] = (7425).to_bytes(2, "little")
    row[2:5] = bytes([1280 & 255, 100, (1280 >> 8) << 4])  # 100 blank: front 60, sync 40, back 0
    row[5:8] = bytes([720 & 255, 30, (720 >> 8) << 4])
    row[8:12] = bytes([60, 40, 5 << 4 | 5, 0])
    row[17] = 0x18
    t = read_detailed(bytes(row))
    assert t is not None
    assert (t.h_back, t.v_back) == (0, 20)
    row[9] = 41
    longer = read_detailed(bytes(row))
    assert longer is not None
    assert (longer.h_total, longer.v_total, longer.h_back, longer.h_sync) == (t.h_total, t.v_total, 0, 40)
    assert implausible(bytes(row)) == "its horizontal porch and sync are longer than the blanking"


@pytest.mark.parametrize(("a", "b", "both"), [(0, 0, 0), (0, 12, 12), (63, 0, 63), (7, 5, 5)])
def test_a_chunk_store_of_two_boxes_is_the_smaller(a: int, b: int, both: int) -> None:
    """HDMI 2.1: code 0 says nothing of the store and bounds nothing (value from memory)."""
    found = common_dsc(DscSink(5, a), DscSink(5, b))
    assert isinstance(found, DscSink)
    assert found.chunk_kib == both


def test_four_times_the_readings_halve_the_interval() -> None:
    """By hand: −100 to 700 µs reaches 400 from its middle at 300; the edge at 500 is 200 away, half of that.

    Four times twelve readings are 48, and one to be inside: 37 more.
    """
    d = Difference(Fraction(300), Fraction(-100), Fraction(700), Fraction(300))
    assert _more(12, d, 500) == 37


def test_the_parts_of_a_line_come_to_the_line() -> None:
    """Only an FRL link has a line of characters; its parts, and what is spare, are all of it."""
    need = demand(DigitalVideo(parse_timing("vic:118"), "444", 10))
    end = End(600_000_000, frl_rate("4x10"))
    line = line_data(check_link(need, capacity(end, BEST, end)))
    assert line is not None
    parts = sum(line[k] for k in ("picture", "blanking", "sound", "overhead", "spare"))  # type: ignore[literal-required]
    assert line["characters"] - 2 <= parts <= line["characters"] + 2
    slow = End(600_000_000, NO_FRL)
    full_hd = demand(DigitalVideo(parse_timing("vic:16"), "444", 8))
    assert line_data(check_link(full_hd, capacity(slow, BEST, slow))) is None


def test_leads_of_the_strongest_link_move_first() -> None:
    """Choice of ours: the lead that carries most is the one a wrong step costs most."""
    r = rig(device("a", "kelpine-k1"), device("b", "kelpine-k1"), device("tv", "yarrowby-65s"),
            lead("weak", "a/hdmi", "tv/hdmi1"), lead("strong", "b/hdmi", "tv/hdmi4"),
            run("ra", "a", "tv", mode="1920x1080@60"), run("rb", "b", "tv", mode="3840x2160@60"))  # fmt: skip
    ends = {x: next(n for n, s in enumerate(r.leads[x].plan) if s and s.device == "tv") for x in ("weak", "strong")}
    moved, _ = apply(r, [
        {"op": "move_lead", "layer": "plan", "lead": name, "end": "ab"[ends[name]], "to": {"device": "tv", "port": to}}
        for name, to in (("weak", "hdmi2"), ("strong", "hdmi3"))
    ])  # fmt: skip
    titles = [s.title for s in plan_steps(moved) if "strong" in s.title or "weak" in s.title]
    assert ["strong" in t for t in titles] == [True, False]


def test_one_hertz_is_the_slowest_a_formula_says() -> None:
    """DisplayID 2.0, 4.5: the rate less one in a byte, so 1 to 256 Hz (value from memory)."""
    slow = parse_timing("cvt:640x480@1:rb2")
    assert write_type10(slow) == bytes([2, 0x7F, 0x02, 0xDF, 0x01, 0])
