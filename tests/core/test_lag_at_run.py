"""Readings held against a run: of its own signal, input and mode alone; the sums of its whole path."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

import pytest

from tests.rigs import analogue_lead, device, lead, rig, run, s05, setting
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.lag.at_run import Screen, at_screen
from wavilex.core.lag.budget import arriving, budget, budget_data, lip_sync, path_sync, picture_path
from wavilex.core.lag.groups import Group
from wavilex.core.lag.plan import Cell
from wavilex.core.lag.readings import Way
from wavilex.core.lag.report import Asked, lag_report
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig, Title, TitleMode


def group(
    lag_us: int, signal: str = "", socket: str = "", mode: str = "game", way: str = "meter", **more: Any
) -> Group:
    cell = Cell(signal, socket, mode, more.get("position", ""))
    return Group(cell, (lag_us,) * 8, (), (way,), (), Way(way, more.get("step_us")))


OWN = "3840x2160@60"


@pytest.mark.parametrize(
    ("groups", "lag_us", "signal"),
    [
        ([group(11_000, OWN), group(14_000, "1920x1080@60")], 11_000, OWN),  # the last one taken is another signal's
        ([group(14_000, "1920x1080@60"), group(11_000, OWN)], 11_000, OWN),
        ([group(12_000), group(11_000, OWN)], 11_000, OWN),  # one whose signal was noted comes first
        ([group(12_000), group(14_000, "1920x1080@60")], 12_000, ""),
        ([group(11_000, OWN, "HDMI 1"), group(13_000, OWN, "HDMI 3")], 13_000, OWN),  # the run's own input
        ([group(11_000, OWN), group(13_000, OWN, "HDMI 3")], 13_000, OWN),
        ([group(30_000, OWN, way="typed"), group(11_000, OWN, way="meter")], 11_000, OWN),  # the surest way
        ([group(4000, OWN, position="top"), group(11_000, OWN, position="middle")], 11_000, OWN),
    ],
)
def test_a_run_is_told_by_its_own_signal_input_and_mode(groups: list[Group], lag_us: int, signal: str) -> None:
    found = at_screen(groups, "HDMI 3", OWN)["game"]
    assert (found.lag_us, found.signal) == (lag_us, signal)


def test_a_reading_of_another_signal_is_none_of_this_one() -> None:
    found = at_screen([group(14_000, "1920x1080@60"), group(15_000, "1920x1080@120")], "HDMI 3", OWN)["game"]
    assert found.lag_us is None
    assert found.others == ("1920x1080@60", "1920x1080@120")
    assert at_screen([group(9000, OWN, "HDMI 1")], "HDMI 3", OWN) == {}
    r = s05("wide")
    part = budget(Layer(r), run_result(Layer(r), r.runs["main"]), found)[-1]
    assert part.kind == "unknown"
    assert part.why == "not measured for this signal, only with 1080p60 and 1080p120"


def test_counted_readings_stand_by_their_mean() -> None:
    step = Fraction(1_000_000, 60)
    counted = Group(Cell(OWN, "", "game"), tuple([16_667] * 5 + [33_333] * 3), (), ("camera",), (), Way("camera", step))
    found = at_screen([counted], "HDMI 3", OWN)["game"]
    assert float(found.lag_us or 0) == pytest.approx(1.375 * 16_666.7, abs=1)


def old_machine(through: str = "yarrowby-lm5") -> Rig:
    return rig(
        device("h8", "brindlo-h8"), device("lm", through), device("tv", "ostavar-43p"),
        analogue_lead("V1", "h8/scart", "lm/scart"), lead("C1", "lm/out", "tv/hdmi1", "high_speed"),
        setting("lm", "", "multiple", "x2"), run("main", "h8", "tv", mode="720x576@50"),
    )  # fmt: skip


def test_a_50_hz_machine_makes_a_frame_in_20_ms() -> None:
    """312 lines of 15.625 kHz: 19.97 ms; never 16.7."""
    r = old_machine()
    parts = budget(Layer(r), run_result(Layer(r), r.runs["main"]), None)
    assert float(parts[0].low_ms) == pytest.approx(312 / 15.625, abs=1e-6)
    assert parts[0].why == "1 frame at 50.08 a second"
    direct = rig(device("h8", "brindlo-h8"), device("tv", "ostavar-43p"), analogue_lead("V1", "h8/scart", "tv/scart"),
                 run("main", "h8", "tv", mode="720x576@50"))  # fmt: skip
    straight = budget(Layer(direct), run_result(Layer(direct), direct.runs["main"]), Screen(Fraction(30_000), "game"))
    assert float(straight[0].low_ms) == pytest.approx(19.968)
    assert (straight[-1].low_ms, straight[-1].kind) == (30, "measured")


def test_a_run_that_is_not_joined_has_no_sum() -> None:
    r = s05("wide")
    loose = apply(r, [{"op": "move_lead", "layer": "plan", "lead": "A1", "end": "b", "to": None}])[0]
    result = run_result(Layer(loose), loose.runs["main"])
    assert result.path == ()
    assert budget(Layer(loose), result, Screen(Fraction(11_000), "game", OWN)) == []
    told = budget_data([])
    assert (told["joined"], told["known"]) == (False, False)


def test_the_sound_sum_counts_every_box_of_the_picture_path() -> None:
    """A multiplier that holds three lines and a screen of 40 ms: both are in the picture's way."""
    r = old_machine()
    layer = Layer(r)
    result = run_result(layer, r.runs["main"])
    timing = arriving(result)
    assert timing is not None
    parts = picture_path(layer, result, Screen(Fraction(40_000), "game", str(timing.mode)))
    held = Fraction(3, 262) * 1000 / Fraction(15_625, 312)
    whole = sum((p.low_ms for p in parts), Fraction(0))
    assert whole == 40 + held
    told = path_sync(parts, Fraction(10_000), "BAR", None)
    alone = lip_sync(whole * 1000, Fraction(10_000), "BAR", None)
    assert (told.verdict, told.delay_ms) == (alone.verdict, alone.delay_ms)


def test_a_box_nobody_knows_leaves_both_ends() -> None:
    r = s05("wide")
    layer = Layer(r)
    result = run_result(layer, r.runs["main"])
    timing = arriving(result)
    assert timing is not None
    parts = picture_path(layer, result, Screen(Fraction(100_000), "standard", str(timing.mode)))
    told = path_sync(parts, Fraction(20_000), "AV", None)
    assert (told.verdict, told.delay_ms) == ("unknown", None)
    assert "AV may add" in told.words
    assert "set a delay of 80 ms" in told.words
    assert path_sync(parts, None, "AV", None).words == "measure the lag of the sound first"


def test_a_title_is_judged_at_mid_screen_of_its_own_signal() -> None:
    fast = Title("t", "Tide Racer", (TitleMode(120),), competitive=True)
    groups = [
        group(2000, "2560x1440@120", position="top"), group(60_000, "2560x1440@120", position="middle"),
        group(9000, "1920x1080@60", position="middle"),
    ]  # fmt: skip
    (told,) = lag_report(groups, Asked(titles=(fast,), played={"t": ("2560x1440@120",)}))["titles"]
    assert told["verdict"] == "over"
    assert told["condition"] == "game, 1440p120, middle"
    (none,) = lag_report(groups, Asked(titles=(fast,), played={"t": ("3840x2160@120",)}))["titles"]
    assert none["verdict"] == "not_measured"
    assert none["sentence"] == "not measured for this signal: it is played at 2160p120"
    (unnoted,) = lag_report([group(9000)], Asked(titles=(fast,), played={"t": ("3840x2160@120",)}))["titles"]
    assert unnoted["verdict"] == "within"
    assert "Its signal was not noted." in unnoted["sentence"]


def test_interlaced_is_held_against_the_same_size_and_rate() -> None:
    """1080i60 against 1080p60 and not against the first progressive there is; 50 Hz against 50 Hz."""
    quick, slow = group(10_000, "1280x720@60"), group(30_000, "1920x1080@60")
    weave = group(31_000, "1920x1080i@60")
    alone = lag_report([quick, weave])["handling"]
    assert alone == []
    (told,) = lag_report([quick, slow, weave])["handling"]
    assert told["kind"] == "line_by_line"
    assert told["fields"] == pytest.approx(0.06, abs=0.01)
    fifty = group(80_000, "1920x1080i@50")
    assert len(lag_report([slow, weave, fifty])["handling"]) == 1
