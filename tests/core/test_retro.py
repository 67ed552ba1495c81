"""Scan rates, sync, colour and multiples, against BT.601, BT.1700, DMT and exact clocks."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

import pytest

from tests.core.retro_rigs import data_of
from tests.rigs import analogue_lead, device, rig, run, s01, s18, setting
from wavilex.core.advise.connect import rank_inputs
from wavilex.core.chain.analogue import meetings
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.reasons import render
from wavilex.core.errors import ProfileError
from wavilex.core.gear.profile import profile_data, profile_from_data
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Socket
from wavilex.core.scan.described import Scan, Takes
from wavilex.core.scan.multiples import multiple, taken_by
from wavilex.core.scan.signals import CARRIERS_HZ, analogue, pixel_aspect, rate_change, socket_rates, treatment
from wavilex.library import starter_profiles

CONSOLE = Scan(dot_clock_hz="59062500/11", dots="341.25", lines=262, active="256x224")


# --- signals


def test_262_lines_at_15734_hz_are_60_05_hz() -> None:
    """BT.1700: 525 lines of 4500000/286 Hz; a low-resolution mode of 262 whole lines runs at 60.054 Hz."""
    s = analogue(CONSOLE)
    assert s.line_hz == Fraction(4_500_000, 286)
    assert float(s.vertical_hz) == pytest.approx(60.0545, abs=1e-4)
    assert (s.system, s.lines, s.interlaced) == ("525", 262, False)


@pytest.mark.parametrize(
    ("system", "clock", "interlaced", "aspect"),
    [("525", Fraction(59_062_500, 11), False, Fraction(8, 7)), ("525", Fraction(13_500_000), True, Fraction(10, 11)),
     ("625", Fraction(13_500_000), True, Fraction(59, 54)), ("625", Fraction(14_750_000), True, Fraction(1)),
     ("525", Fraction(135_000_000, 11), True, Fraction(1)), ("vga", Fraction(25_175_000), False, None)],
)  # fmt: skip
def test_pixel_aspects(system: str, clock: Fraction, interlaced: bool, aspect: Fraction | None) -> None:
    """BT.601 at 13.5 MHz: 10:11 and 59:54; square pixels at 135/11 and 14.75 MHz; 5.3693 MHz gives 8:7."""
    assert pixel_aspect(system, clock, interlaced) == aspect


def test_480i_is_half_lines_and_fields() -> None:
    s = analogue(Scan(dot_clock_hz="13500000", dots="858", lines=525, active="704x480", interlaced=True))
    assert (s.lines, float(s.vertical_hz)) == (Fraction(525, 2), pytest.approx(59.94006, abs=1e-5))
    assert s.shape == Fraction(4, 3)


@pytest.mark.parametrize(
    ("takes", "treats"),
    [([{"line_khz": (15.5, 16), "hz": (49, 62)}], "correct"),
     ([{"line_khz": (15.5, 16), "hz": (49, 62), "interlaced": True}], "refused"),
     ([{"line_khz": (31, 32), "hz": (49, 62)}], "refused"),
     ([{"line_khz": (15.5, 16), "hz": (49, 62), "treats": "rolling"}], "rolling"), (None, None), ([], "refused")],
)  # fmt: skip
def test_how_an_input_treats_a_signal(takes: Any, treats: str | None) -> None:
    ranges = None if takes is None else [Takes.model_validate(t) for t in takes]
    assert treatment(analogue(CONSOLE), ranges) == treats


def test_a_converted_rate_repeats_or_drops_frames() -> None:
    kept = rate_change(Fraction(60), Fraction(60))
    assert kept.per_minute == 0
    fifty = rate_change(Fraction(50), Fraction(60), (48, 120))
    assert fifty.per_minute == -600
    assert "judders" in fifty.words
    assert "a variable rate at the screen (48 to 120 Hz)" in fifty.words
    hitch = rate_change(analogue(CONSOLE).vertical_hz, Fraction(60_000, 1001))
    assert float(hitch.per_minute) == pytest.approx(6.87, abs=0.01)
    assert "every 9 s" in hitch.words


def test_strange_scans_are_refused_plainly() -> None:
    bad = profile_data(starter_profiles()["brindlo-c16"])
    bad["ports"][0]["sends"][0]["active"] = "400x224"
    with pytest.raises(ProfileError, match="blanking included"):
        profile_from_data(bad)


# --- multiples


@pytest.mark.parametrize(
    ("times", "line_khz", "lines", "clock_mhz", "nearest", "off"),
    [(2, 31.4685, 524, 27.0, "vic:2", 0.0), (3, 47.2028, 786, 77.8846, "vic:4", 4.9),
     (5, 78.6713, 1310, 173.0769, "vic:16", 16.55)],
)  # fmt: skip
def test_multiples_of_a_256_dot_console(
    times: int, line_khz: float, lines: int, clock_mhz: float, nearest: str, off: float
) -> None:
    """By hand: n × 15.7343 kHz, n × 262 lines, times the total pixels of the standard's line (CTA-861)."""
    m = multiple(analogue(CONSOLE), times, "whole_line")
    assert float(m.line_hz) / 1000 == pytest.approx(line_khz, abs=1e-3)
    assert m.lines == lines
    assert float(m.pixel_clock_hz) / 1e6 == pytest.approx(clock_mhz, abs=1e-3)
    assert m.nearest.code == nearest
    assert float(m.off_percent) == pytest.approx(off, abs=0.01)
    assert m.vertical_hz == analogue(CONSOLE).vertical_hz  # the machine's own rate is kept


def answers(data: dict[str, Any], screen: int = 0) -> dict[tuple[int, str], dict[str, Any]]:
    """What a screen says to each multiple; the run's own is the first."""
    rows = zip(data["multiples"], data["screens"][screen]["answers"], strict=True)
    return {(m["times"], m["sampling"]): a for m, a in rows}


def test_s18_which_multiples_a_screen_takes_and_what_was_tried_wins() -> None:
    rows = answers(data_of(s18()))
    assert rows[3, "whole_line"]["answer"] == "likely"  # 77.9 MHz against 74.25: 720 lines nearly always work
    assert rows[2, "whole_line"]["answer"] == "doubtful"  # the screen lists no 480 lines
    assert rows[5, "matched"]["answer"] == "no"  # 187.9 MHz: past the multiplier's own ceiling
    plain = answers(data_of(s18("ostavar-43p")))
    assert plain[2, "whole_line"]["answer"] == "sure"
    assert plain[5, "matched"]["answer"] in ("doubtful", "no")
    tried = {"op": "set_fact", **rows[5, "matched"]["fact"], "value": True}
    again = answers(data_of(apply(s18(), [tried])[0]))
    assert (again[5, "matched"]["answer"], again[5, "matched"]["tried"]) == ("sure", True)


def test_every_screen_of_the_job_is_asked_at_its_best_input() -> None:
    r, _ = apply(s18(), [device("old", "ostavar-43p")])
    data = data_of(r)
    assert [s["here"] for s in data["screens"]] == [True, False]
    assert data["screens"][1]["screen"] == "OLD"
    assert answers(data, 1)[2, "whole_line"]["answer"] == "sure"
    assert answers(data, 1)[2, "whole_line"]["fact"]["device"] == "old"


def test_six_times_is_beside_a_monitor_timing_and_past_an_old_televisions_clock() -> None:
    """1920 × 1440 at 60 Hz is DMT 0x49 (234 MHz); 15.7343 kHz × 6 × 2600 dots = 245.5 MHz."""
    m = multiple(analogue(CONSOLE), 6, "whole_line")
    assert m.nearest.code == "dmt:0x49"
    assert float(m.pixel_clock_hz) / 1e6 == pytest.approx(245.455, abs=1e-3)
    r, _ = apply(s18("ostavar-43p"), [])
    assert taken_by(m, Layer(r).state(Socket("tv", "hdmi1"))).answer == "no"
    assert multiple(analogue(CONSOLE), 4, "whole_line").nearest.code == "dmt:0x20"


# --- sync and colour


def test_carriers_of_bt_1700() -> None:
    """BT.1700: 3.579545 and 4.43361875 MHz; SECAM's red rest carrier 4.40625 MHz."""
    assert float(CARRIERS_HZ["ntsc"]) == pytest.approx(3_579_545.45, abs=0.01)
    assert CARRIERS_HZ["pal"] == Fraction("4433618.75")
    assert CARRIERS_HZ["secam"] == 4_406_250


@pytest.mark.parametrize(
    ("plug", "verdict", "code"),
    [("cvbs", "blocked", "scan_grey"), ("scart", "fits", None)],
)
def test_a_tube_that_knows_another_colour_system_shows_grey_and_rgb_lifts_it(
    plug: str, verdict: str, code: str | None
) -> None:
    r = rig(device("c16", "brindlo-c16"), device("tv", "brindlo-t14"),
            analogue_lead("V1", f"c16/{plug}", f"tv/{plug}"), run("main", "c16", "tv", mode="640x480@60"))  # fmt: skip
    result = run_result(Layer(r), r.runs["main"])
    assert result.verdict == verdict
    assert [x.code for x in result.reasons if x.code.startswith("scan")] == ([code] if code else [])
    if code:
        text = render(result.reasons[0], r)
        assert "it knows PAL, carrier at 4.43 MHz" in text
        assert "NTSC, carrier at 3.58 MHz" in text


def test_an_input_without_this_sync_and_an_adapter_that_moves_it_to_luma() -> None:
    tv = {**profile_data(starter_profiles()["brindlo-t14"])}
    tv["ports"] = [{**tv["ports"][0], "takes": [{"line_khz": [15.5, 16], "hz": [49, 62], "syncs": ["on_luma"]}]},
                   {**tv["ports"][0], "id": "ypbpr", "connector": "component", "label": "component",
                    "takes": [{"line_khz": [15.5, 16], "hz": [49, 62], "syncs": ["on_luma"]}]}]  # fmt: skip
    ops = [
        {"op": "add_device", "device": {"uid": "odd", "label": "ODD", "profile": tv}},
        run("main", "c16", "odd", mode="640x480@60"),
    ]
    straight, _ = apply(rig(device("c16", "brindlo-c16")), [*ops, analogue_lead("V1", "c16/scart", "odd/scart")])
    result = run_result(Layer(straight), straight.runs["main"])
    assert [x.code for x in result.reasons] == ["scan_no_sync"]
    assert "sync on a wire of its own" in render(result.reasons[0], straight)
    adapted, _ = apply(
        rig(device("c16", "brindlo-c16"), device("a5", "brindlo-a5")),
        [*ops, analogue_lead("V1", "c16/scart", "a5/scart"), analogue_lead("V2", "a5/ypbpr", "odd/ypbpr")],
    )
    met = meetings(Layer(adapted), run_result(Layer(adapted), adapted.runs["main"]).path)
    assert [m.treats for m in met] == ["correct", "correct"]


def test_the_other_signals_of_a_machine_are_judged_too() -> None:
    r = rig(device("c32", "brindlo-c32"), device("tv", "ostavar-43p"),
            analogue_lead("V1", "c32/cvbs", "tv/cvbs"), run("main", "c32", "tv", mode="720x480@60"))  # fmt: skip
    data = data_of(r)
    assert data["links"][0]["treats"] == "correct"
    assert [(s["name"][:9], s["links"][0]["treats"]) for s in data["also"]] == [("262 lines", "as_interlaced")]


# --- runs


def test_s01_rate_notice_order_and_what_takes_15_khz() -> None:
    r, _ = apply(s01(), [setting("conv", "", "output", "fhd")])
    data = data_of(r)
    assert data["links"][0]["treats"] == "correct"
    assert data["rate"]["words"].startswith("CONV turns 50.08 Hz into 60.00: 9.9 frames a second are repeated")
    assert data["notice"] == "625 lines to 1080p60"
    assert data["order"] == ["MONITOR", "CONV", "H8"]
    assert any("supply voltage" in c for c in data["cautions"])
    assert any("proper supply" in c for c in data["cautions"])  # the converter is fed by itself
    layer = Layer(r)
    assert run_result(layer, r.runs["main"]).good
    taking = [p.id for p in starter_profiles().values() if p.role == "repeater" and any(
        treatment(analogue(starter_profiles()["brindlo-h8"].ports[0].sends[0]), q.takes) == "correct"
        for q in p.ports if q.direction == "in" and q.kind == "analogue"
    )]  # fmt: skip
    assert set(taking) >= {"brindlo-v2", "yarrowby-lm5"}
    assert "brindlo-a2" not in taking


def test_a_screen_that_refuses_the_scan_rate_says_what_is_needed() -> None:
    r = rig(device("c16", "brindlo-c16"), device("tube", "brindlo-t17"),
            device("rc", "tindrel-rc"), analogue_lead("V1", "c16/scart", "rc/scart"))  # fmt: skip
    vga = {**profile_data(starter_profiles()["brindlo-c16"])}
    vga["ports"] = [{**vga["ports"][0], "connector": "vga"}]
    r, _ = apply(
        r,
        [
            {"op": "add_device", "device": {"uid": "odd", "label": "ODD", "profile": vga}},
            analogue_lead("V2", "odd/scart", "tube/vga"),
            run("main", "odd", "tube", mode="640x480@60"),
        ],
    )
    result = run_result(Layer(r), r.runs["main"])
    assert [x.code for x in result.reasons] == ["scan_refused"]
    assert result.verdict == "blocked"


def test_inputs_that_would_show_no_colour_come_last_in_the_ranked_list() -> None:
    r = rig(device("c16", "brindlo-c16"), device("conv", "brindlo-v2"), device("tv", "ostavar-43p"),
            device("tube", "brindlo-t14"))  # fmt: skip
    ranked = rank_inputs(r, Socket("c16", "cvbs"))
    by = {o.socket.device: (n, o) for n, o in enumerate(ranked)}
    assert by["tube"][0] > by["tv"][0]
    assert by["tube"][1].verdict == "blocked"
    assert "shows no colour" in by["tube"][1].why
    assert by["tv"][1].verdict == "tight"  # taken for interlaced


def test_analogue_sockets_say_their_scan_rates() -> None:
    profiles = starter_profiles()
    said = {
        (p.id, q.id): socket_rates(q.sends, q.takes)
        for p in profiles.values() for q in p.ports if q.kind == "analogue"
    }  # fmt: skip
    assert said["brindlo-c16", "scart"] == ("15 kHz", "262 lines, 15.73 kHz, 60.05 Hz")
    assert said["yarrowby-lm5", "ypbpr"][0] == "15, 31 kHz"
    assert said["brindlo-t17", "vga"][0].endswith(" kHz")
    assert "–" in said["brindlo-t17", "vga"][0]  # a tube of many rates
    assert socket_rates((), None)[0] == "? kHz"


def test_the_lead_that_joins_the_chain_makes_the_run_whichever_comes_first() -> None:
    """Source into the multiplier first, the multiplier into the screen after: the run wants what the box then sends."""
    r = rig(device("h8", "brindlo-h8"), device("lm", "yarrowby-lm5"), device("tv", "ostavar-43p"),
            analogue_lead("V1", "h8/scart", "lm/scart"))  # fmt: skip
    option = next(o for o in rank_inputs(r, Socket("lm", "out")) if o.socket == Socket("tv", "hdmi1"))
    joined, _ = apply(r, option.ops)
    (made,) = joined.runs.values()
    assert (made.source, made.sink, made.want.mode) == ("h8", "tv", "1280x720@50")
    result = run_result(Layer(joined), made)
    assert result.verdict == "tight"  # 92.8 MHz against 74.25 of the 720p50 that it lists
    assert [x.code for x in result.reasons] == ["multiple"]


def test_an_input_that_takes_it_for_interlaced_says_so_in_the_ranked_list() -> None:
    r = rig(device("h8", "brindlo-h8"), device("tv", "ostavar-43p"))
    (scart,) = [o for o in rank_inputs(r, Socket("h8", "scart")) if o.socket.port == "scart"]
    assert scart.verdict == "tight"
    assert "for interlaced: later" in scart.why
