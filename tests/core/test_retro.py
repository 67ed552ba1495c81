"""Scan rates, multiples and shapes, against BT.601, BT.1700, exact clocks and brute force."""

from __future__ import annotations

import itertools
import random
from fractions import Fraction
from typing import Any

import pytest

from tests.rigs import analogue_lead, device, rig, run, s01, s18, s21, setting
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.changes import apply
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.rig import Rig
from wavilex.core.errors import ProfileError
from wavilex.core.gear.analogue import Scan, Takes
from wavilex.core.gear.profile import profile_data, profile_from_data
from wavilex.core.retro.multiply import multiple
from wavilex.core.retro.report import retro_data
from wavilex.core.retro.scan import analogue, pixel_aspect, rate_change, treatment
from wavilex.core.retro.shape import Stage, trace, truest, whole_scale
from wavilex.library import starter_profiles

CONSOLE = Scan(dot_clock_hz="59062500/11", dots="341.25", lines=262, active="256x224")


def data_of(r: Rig) -> dict[str, Any]:
    layer = Layer(r)
    found = retro_data(layer, run_result(layer, r.runs["main"]))
    assert found is not None
    return found


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
    [(2, 31.4685, 524, 27.0, "vic:2", 0.19), (3, 47.2028, 786, 77.8846, "vic:4", 0.09),
     (5, 78.6713, 1310, 173.0769, "vic:16", 0.09)],
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


def test_s18_which_multiples_a_screen_takes_and_what_was_tried_wins() -> None:
    rows = {(m["times"], m["sampling"]): m for m in data_of(s18())["multiples"]}
    assert rows[3, "whole_line"]["answer"] == "sure"
    assert rows[2, "whole_line"]["answer"] == "doubtful"  # the screen lists no 480 lines
    assert rows[5, "matched"]["answer"] == "likely"  # its window helps; without one it is the least compatible
    plain = {(m["times"], m["sampling"]): m["answer"] for m in data_of(s18("ostavar-43p"))["multiples"]}
    assert plain[2, "whole_line"] == "sure"
    assert plain[5, "matched"] in ("doubtful", "no")
    tried = {"op": "set_fact", **rows[5, "matched"]["fact"], "value": False}
    again = {(m["times"], m["sampling"]): m for m in data_of(apply(s18(), [tried])[0])["multiples"]}
    assert (again[5, "matched"]["answer"], again[5, "matched"]["tried"]) == ("no", True)


# --- shape


def test_s21_source_stretches_scaler_and_tube_make_it_true() -> None:
    """True at 640×480 as at 1280×1024; a square-pixel window inside 1280×1024 is 6.7 % too wide on a 4:3 tube."""
    for output in ("vga", "sxga"):
        shape = data_of(s21(output))["shape"]
        assert (shape["error_percent"], shape["words"]) == (0, "true shape")
        assert shape["stages"][0]["error_percent"] == 33.3
    window = data_of(s21("sxga", "window"))["shape"]
    assert (window["error_percent"], window["words"]) == (6.7, "6.7 % too wide")
    assert window["best"] == ["SC, 1280×1024p60: fills the frame"]


def test_s01_four_to_three_or_a_third_too_wide() -> None:
    shape = data_of(s01())["shape"]
    assert shape["words"] == "33.3 % too wide"
    assert shape["best"] == ["MONITOR: 4:3 with borders"]
    assert data_of(apply(s01(), shape["ops"])[0])["shape"]["words"] == "true shape"
    narrow, _ = apply(s01(), [setting("monitor", "", "shape", "narrow")])
    assert data_of(narrow)["shape"]["words"] == "true shape"


def test_s01_rate_notice_order_and_what_takes_15_khz() -> None:
    r, _ = apply(s01(), [setting("conv", "", "output", "fhd")])
    data = data_of(r)
    assert data["links"][0]["treats"] == "correct"
    assert data["rate"]["words"].startswith("CONV turns 50.08 Hz into 60.00: 9.9 frames a second are repeated")
    assert data["notice"] == "625 lines to 1080p60"
    assert data["order"] == ["MONITOR", "CONV", "H8"]
    assert data["cautions"]
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


@pytest.mark.parametrize("seed", range(60))
def test_the_search_for_the_true_shape_agrees_with_brute_force(seed: int) -> None:
    """Every combination traced one by one; nearest shape first (1 % counts as true), then fewest resamplings."""
    rnd = random.Random(seed)
    shapes = [Fraction(4, 3), Fraction(16, 9), Fraction(5, 4), Fraction(3, 2)]
    stages = []
    for n in range(rnd.randint(1, 4)):
        fits = rnd.sample(["fill", "keep", "window"], rnd.randint(1, 3))
        options = tuple((f"o{k}", f) for k, f in enumerate(fits))
        raster = (640, 480) if rnd.random() < 0.6 else None
        stages.append(Stage(f"s{n}", rnd.choice(shapes), options, options[0][0], raster))
    intended = rnd.choice([Fraction(4, 3), Fraction(64, 49)])
    best = truest(intended, Fraction(4, 3), stages)
    assert best is not None
    found = []
    for chosen in itertools.product(*([o for o, _ in s.options] for s in stages)):
        shown = trace(intended, Fraction(4, 3), [
            Stage(s.name, s.shape, s.options, c, s.raster) for s, c in zip(stages, chosen, strict=True)
        ])  # fmt: skip
        error = abs(shown[-1].picture / intended - 1) * 100
        found.append((error if error > 1 else Fraction(0), sum(x.resampled for x in shown)))
    error = abs(best.error_percent)
    assert (error if error > 1 else Fraction(0), best.resamplings) == min(found)


@pytest.mark.parametrize(
    ("lines", "panel", "times", "border", "even"),
    [(224, 1080, 4, 184, False), (240, 1440, 6, 0, True), (240, 2160, 9, 0, True), (256, 240, 0, 0, False)],
)  # fmt: skip
def test_whole_number_scales_and_borders(lines: int, panel: int, times: int, border: int, even: bool) -> None:
    found = whole_scale(lines, panel)
    assert (found.times, found.border, found.even) == (times, border, even)
