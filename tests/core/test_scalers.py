"""Boxes that send a mode of their own: the links behind them are judged by that, not by what the source sends."""

from __future__ import annotations

from fractions import Fraction

import pytest

from tests.core.retro_rigs import data_of
from tests.rigs import analogue_lead, device, lead, rig, run, s01, s18, s21, setting
from wavilex.core.advise.fixes import find_fixes
from wavilex.core.advise.table import carry_table
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.notes import notes
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.lag.budget import budget
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig
from wavilex.core.tell.report import run_data
from wavilex.core.tell.view import job_view


def result_of(r: Rig) -> RunResult:
    return run_result(Layer(r), r.runs["main"])


def scaler_to(screen: str, output: str) -> Rig:
    return rig(
        device("clone", "brindlo-clone"), device("sc", "brindlo-sc"), device("tv", screen),
        lead("C1", "clone/hdmi", "sc/in", "high_speed"), lead("C2", "sc/out", "tv/hdmi1", "high_speed"),
        setting("sc", "", "output", output), run("main", "clone", "tv", mode="1920x1080@60"),
    )  # fmt: skip


def test_s01_choosing_1080p_is_the_cheapest_fix() -> None:
    r = s01()
    data = run_data(Layer(r), result_of(r))
    assert (data["verdict"], data["limiting"]["subject"]) == ("blocked", "stage/conv/out")
    assert data["headline"] == "CONV, HDMI out does not send 1080p60 as set (Output at 720p)."
    found = find_fixes(r, r.runs["main"])
    assert found.proved
    assert [f.label for f in found.ways][:1] == ["CONV: Output → 1080p"]
    assert found.ways[0].cost_text == "1 setting"
    assert result_of(apply(r, found.ways[0].ops)[0]).verdict == "fits"
    assert [row.mode for row in carry_table(Layer(r), r.runs["main"])] == ["1280x720@60"]


def test_a_multiplier_sends_the_mode_of_its_multiple() -> None:
    r, _ = apply(s18(), [setting("lm", "", "multiple", "x5")])
    assert result_of(r).verdict == "blocked"
    assert find_fixes(r, r.runs["main"]).ways[0].label == "LM: Multiple → 3×"


@pytest.mark.parametrize(
    ("output", "clock_mhz", "name"),
    [("vga", Fraction("25.175"), "640×480p60"), ("sxga", Fraction(108), "1280×1024p60")],
)
def test_s21_each_link_by_its_own_signal(output: str, clock_mhz: Fraction, name: str) -> None:
    """1080p60 at 148.5 MHz (CTA-861) into the scaler; DMT's 25.175 or 108 MHz out of it; of 165 MHz each."""
    r = s21(output)
    result = result_of(r)
    assert result.asked is not None
    assert result.asked.name == "1080p60 RGB 8-bit"
    assert result.resent is not None
    assert result.resent.name == f"{name} RGB 8-bit"
    assert [x.wanted.used for x in result.links] == [Fraction("148.5") / 165, clock_mhz / 165]
    data = job_view(Layer(r))["runs"][0]
    assert f"sent on as {name}, fits" in data["headline"]
    assert data["stages"][1]["line"] == f"HDMI in · sends {name}"


def test_a_screen_that_does_not_list_what_the_scaler_sends() -> None:
    r = scaler_to("brindlo-24b", "sxga")
    result = result_of(r)
    assert result.limiting is not None
    assert (result.limiting.code, result.limiting.subject) == ("mode_not_taken", "stage/tv/hdmi1")
    ways = find_fixes(r, r.runs["main"]).ways
    assert ways[0].label == "SC: Output → 1080p"
    assert result_of(apply(r, ways[0].ops)[0]).verdict == "fits"


def test_what_follows_at_the_screen_follows_what_the_scaler_sends() -> None:
    r = scaler_to("yarrowby-50w", "fhd")
    result = result_of(r)
    (scaled,) = [n for n in notes(Layer(r), result) if n.code.startswith("scaled")]
    assert scaled.data["mode"] == "1080p60"
    scan = next(p for p in budget(Layer(r), result, None) if p.name.startswith("scan-out"))
    assert scan.why == "half the lines of 1080p60"
    tube = s21("sxga")
    scan = next(p for p in budget(Layer(tube), result_of(tube), None) if p.name.startswith("scan-out"))
    assert scan.why == "half the lines of 1280×1024p60"


def test_a_splitter_before_a_scaler_still_reads_its_other_screen() -> None:
    """What the source reads ends at the scaler's own EDID, but not what lies beside it."""
    r = rig(
        device("clone", "brindlo-clone"), device("split", "brindlo-d2"), device("sc", "brindlo-sc"),
        device("tube", "brindlo-t17"), device("a2", "brindlo-a2"), device("tv", "ostavar-43p"),
        lead("C1", "clone/hdmi", "split/in", "high_speed"), lead("C2", "split/out1", "sc/in", "high_speed"),
        lead("C3", "split/out2", "tv/hdmi1", "high_speed"), lead("C4", "sc/out", "a2/in", "high_speed"),
        analogue_lead("V1", "a2/vga", "tube/vga"), run("main", "clone", "tube", mode="1920x1080@60"),
    )  # fmt: skip
    assert {s.socket.device for s in result_of(r).beside} == {"split", "tv"}


def test_a_converter_spreads_the_frame_not_only_the_picture_over_the_panel() -> None:
    """288 lines of a 625-line frame over 1080: 3.75 each, though the machine draws 192 of them."""
    r, _ = apply(s01(), [setting("conv", "", "output", "fhd")])
    assert data_of(r)["scale"].startswith("each line is 3.75 panel lines high")


def fifty(want: str, multiple: str = "x3") -> Rig:
    """A 625-line machine through a multiplier, which keeps its 50 Hz."""
    return rig(
        device("h8", "brindlo-h8"), device("lm", "yarrowby-lm5"), device("tv", "ostavar-43p"),
        analogue_lead("V1", "h8/scart", "lm/scart"), lead("C1", "lm/out", "tv/hdmi1", "high_speed"),
        setting("lm", "", "multiple", multiple), run("main", "h8", "tv", mode=want),
    )  # fmt: skip


@pytest.mark.parametrize(("multiple", "mode"), [("x2", "720x576@50"), ("x3", "1280x720@50")])
def test_a_multiplier_sends_the_rate_of_its_machine(multiple: str, mode: str) -> None:
    r = fifty(mode, multiple)
    assert result_of(r).verdict == ("fits" if multiple == "x2" else "tight")  # three times 312 lines are no 750
    assert [row.mode for row in carry_table(Layer(r), r.runs["main"])] == [mode]
    assert {m["times"] for m in data_of(r)["multiples"] if m["set"]} == {int(multiple[1])}
    wrong = fifty(mode.replace("@50", "@60").replace("576", "480"), multiple)
    result = result_of(wrong)
    assert (result.verdict, result.limiting.code if result.limiting else "") == ("blocked", "source_mode")
    text = run_data(Layer(wrong), result)["headline"]
    assert text.endswith("as it is: it keeps the machine’s 50.08 Hz.")


def test_twice_625_lines_are_576_active_of_624() -> None:
    """2 × 15.625 kHz = 31.25 kHz, 2 × 312 lines; beside VIC 17, 720 × 576 at 50 Hz (CTA-861)."""
    rows = {(m["times"], m["sampling"]): m for m in data_of(fifty("720x576@50", "x2"))["multiples"]}
    two = rows[2, "whole_line"]
    assert (two["active"], two["line_khz"], two["lines"], two["nearest"]) == ("720×576", 31.25, 624, "vic:17")
    data = data_of(fifty("720x576@50", "x2"))
    assert data["notice"] == "625 lines, 720×576p50"
    assert data["rate"]["words"] == "LM keeps the machine’s 50.08 Hz; TV takes 720×576p50"


def test_the_multiple_that_is_set_is_marked_and_another_is_planned_with_the_want() -> None:
    data = data_of(s18("ostavar-43p"))
    assert {m["times"] for m in data["multiples"] if m["set"]} == {3}
    assert data["screens"][0]["words"] == "sure 2×; likely 3×; doubtful 4×; no 5×"
    ops = next(m["ops"] for m in data["multiples"] if m["times"] == 2)
    after, _ = apply(s18("ostavar-43p"), ops)
    assert result_of(after).verdict == "fits"
    assert {m["times"] for m in data_of(after)["multiples"] if m["set"]} == {2}


def test_what_the_screen_says_to_the_set_multiple_is_the_runs_verdict() -> None:
    """Sampling matched to the dots is doubtful, hence tight; tried without a picture it is blocked, here and now."""
    sure = s18("ostavar-43p")
    assert result_of(sure).verdict == "fits"
    matched, _ = apply(sure, [setting("lm", "", "sampling", "matched")])
    result = result_of(matched)
    assert (result.verdict, result.limiting.code if result.limiting else "") == ("tight", "multiple")
    row = next(m for m in data_of(matched)["multiples"] if m["set"])
    assert (row["times"], row["sampling"]) == (3, "matched")
    assert [o["key"] for o in row["ops"]] == []
    fact = next(
        a["fact"] for m, a in zip(data_of(sure)["multiples"], data_of(sure)["screens"][0]["answers"], strict=True)
        if (m["times"], m["sampling"]) == (3, "matched")
    )  # fmt: skip
    tried, _ = apply(matched, [{"op": "set_fact", **fact, "value": False}])
    data = run_data(Layer(tried), result_of(tried))
    assert data["headline"] == "TV, HDMI 1 takes no 3× matched to the dots: tried here: no picture."
    assert data["limiting"]["provenance"] == "measured here"
    ways = find_fixes(tried, tried.runs["main"]).ways
    assert ways[0].label == "LM: Sampling → whole lines"
    assert result_of(apply(tried, ways[0].ops)[0]).verdict == "fits"


def test_an_output_nobody_has_looked_at_leaves_the_run_unknown() -> None:
    r = s01()
    data = run_data(Layer(r, "found"), run_result(Layer(r, "found"), r.runs["main"]))
    assert data["verdict"] == "unknown"
    assert data["headline"] == "Nobody knows yet whether CONV, HDMI out handles 1080p60."
    seen, _ = apply(r, [{**setting("conv", "", "output", "fhd"), "layer": "found"}])
    assert run_result(Layer(seen, "found"), seen.runs["main"]).verdict == "fits"
