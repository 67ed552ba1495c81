"""Multiples held against what a screen lists, by clock and line rate; the link behind; adapters to a tube."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from typing import Any

import pytest

from tests.core.retro_rigs import data_of
from tests.rigs import analogue_lead, device, lead, rig, run, s18, s21, setting
from wavilex.core.chain.analogue import meetings
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.reasons import render
from wavilex.core.chain.results import RunResult
from wavilex.core.gear.profile import profile_data
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig
from wavilex.core.scan.described import Scan
from wavilex.core.scan.multiples import Multiple, multiple, offered, sent_timing, taken_by, times_of
from wavilex.core.scan.signals import AnalogueVideo, analogue
from wavilex.core.scan.typed import typed
from wavilex.core.video.codes import parse_timing
from wavilex.library import starter_profiles

CONSOLE = analogue(Scan(dot_clock_hz="59062500/11", dots="341.25", lines=262, active="256x224"))
TELEVISION = ("vic:16", "vic:31", "vic:4", "vic:19", "vic:2", "vic:17")


@dataclass(frozen=True)
class Lists:
    """An input of our own, for the rule alone."""

    modes: tuple[str, ...] | str | None
    vrr: tuple[int, int] | bool | None = False
    tmds_hz: int | None = 340_000_000


def of(name: str) -> AnalogueVideo:
    return analogue(typed(name).scan)


def made(times: int, signal: AnalogueVideo = CONSOLE, sampling: Any = "whole_line") -> Multiple:
    return multiple(signal, times, sampling)


@pytest.mark.parametrize(
    ("times", "mhz", "lines", "listed_mhz", "listed_lines", "answer"),
    [(2, 27.0, 524, 27.0, 525, "sure"), (3, 77.88, 786, 74.25, 750, "likely"),
     (5, 173.08, 1310, 148.5, 1125, "doubtful")],
)  # fmt: skip
def test_a_multiple_is_held_against_clock_and_line_rate(
    times: int, mhz: float, lines: int, listed_mhz: float, listed_lines: int, answer: str
) -> None:
    """By hand, from 15.7343 kHz × times × the listed timing's dots a line (CTA-861): frames a second are 0.09 to 0.19 %
    off in each, and say nothing.
    """
    m = made(times)
    assert float(m.pixel_clock_hz) / 1e6 == pytest.approx(mhz, abs=0.01)
    assert m.lines == lines
    near = next(t for t in map(parse_timing, TELEVISION) if (t.h_active, t.frame_height) == m.raster)
    assert (near.pixel_clock_hz / 1e6, near.v_total) == (pytest.approx(listed_mhz), listed_lines)
    assert abs(m.vertical_hz / near.refresh - 1) < Fraction(1, 500)
    assert taken_by(m, Lists(TELEVISION)).answer == answer
    with_window = taken_by(m, Lists(TELEVISION, vrr=(40, 120))).answer  # it stretches blanking, neither clock nor line
    assert with_window == answer


@pytest.mark.parametrize(
    ("per_cent", "answer"),
    [("0.4", "sure"), ("-0.4", "sure"), ("0.6", "likely"), ("2.5", "likely"), ("3.5", "no"), ("-0.6", "likely")],
)
def test_half_a_percent_of_the_clock(per_cent: str, answer: str) -> None:
    """CTA-861: an input takes ±0.5 % about a listed clock; value from memory. Lines follow, so frames stay at 59.94."""
    factor = 1 + Fraction(per_cent) / 100
    line = Fraction(4_500_000, 286) * factor
    dots = Fraction("341.25")
    signal = AnalogueVideo(
        "525", line, line / 262, Fraction(262), dots, line * dots, (256, 224), False, None, Fraction(4, 3)
    )
    assert taken_by(made(2, signal), Lists(TELEVISION)).answer == answer


def test_what_an_input_does_not_list_and_what_is_past_a_ceiling() -> None:
    assert taken_by(made(4), Lists(TELEVISION)).answer == "doubtful"
    assert "does not list 1280×960" in taken_by(made(4), Lists(TELEVISION)).why
    assert taken_by(made(2), Lists(None)).answer == "doubtful"
    assert taken_by(made(5), Lists(TELEVISION, tmds_hz=165_000_000)).answer == "no"
    own = taken_by(made(5), Lists(TELEVISION), None, 165_000_000)
    assert own.answer == "no"
    assert own.why == "173.1 MHz is over the multiplier’s own 165 MHz"
    assert taken_by(made(5), Lists(TELEVISION), True, 165_000_000).answer == "sure"  # tried here wins
    assert taken_by(made(2, sampling="matched"), Lists(TELEVISION)).answer == "doubtful"


def test_fifty_hertz_is_held_against_what_is_listed_at_fifty() -> None:
    pal = of("288p")
    twice = made(2, pal)
    assert taken_by(twice, Lists(TELEVISION)).answer == "sure"  # 27 MHz, 31.25 kHz: 576p
    assert taken_by(twice, Lists(("vic:2", "vic:4", "vic:16"))).answer == "doubtful"  # no 576 lines
    five = made(5, pal)
    assert float(five.pixel_clock_hz) / 1e6 == pytest.approx(2640 * 5 * 15.625 / 1000)  # dots of 1080p50's line
    only_60 = taken_by(five, Lists(("vic:16", "vic:4")))
    assert only_60.answer == "no"
    assert "16.5 % off" in only_60.why


def test_480p_passes_once_or_twice_and_480i_field_by_field() -> None:
    """480p has the lines a doubled 240p has; half lines of two fields make 525 when doubled, as fields are frames."""
    assert offered((2, 3, 4, 5), of("480p")) == [1, 2]
    assert offered((2, 3, 4, 5), CONSOLE) == [2, 3, 4, 5]
    once = made(1, of("480p"))
    assert (once.raster, once.lines, float(once.pixel_clock_hz)) == ((720, 480), 525, 27_000_000)
    assert taken_by(once, Lists(TELEVISION)).answer == "sure"
    assert made(2, of("480p")).raster == (1280, 960)
    assert times_of(1280, 720, of("480p")) is None  # one and a half times is none
    bobbed = made(2, of("480i"))
    assert (bobbed.lines, bobbed.raster) == (525, (720, 480))
    assert taken_by(bobbed, Lists(TELEVISION)).answer == "sure"
    assert made(3, of("480i")).lines == Fraction(1575, 2)


def with_signal(text: str, multiple_set: str, mode: str) -> Rig:
    """The multiplier fed with a signal of the machine's that is typed."""
    data = profile_data(starter_profiles()["brindlo-c16"])
    scan = typed(text).scan.model_dump(mode="json", exclude_defaults=True)
    data["ports"] = [{**p, "sends": [scan]} if p.get("kind") == "analogue" else p for p in data["ports"]]
    own = {"op": "add_device", "device": {"uid": "odd", "label": "ODD", "profile": {**data, "id": "odd-machine"}}}
    return rig(
        own, device("lm", "yarrowby-lm5"), device("tv", "ostavar-43p"), analogue_lead("V1", "odd/scart", "lm/scart"),
        lead("C1", "lm/out", "tv/hdmi1", "high_speed"), setting("lm", "", "multiple", multiple_set),
        run("main", "odd", "tv", mode=mode),
    )  # fmt: skip


def test_no_lines_of_an_interlaced_machine_are_said_to_be_cut_off() -> None:
    data = data_of(with_signal("480i", "x2", "720x480@60"))
    assert [m["times"] for m in data["multiples"] if m["set"]] == [2]
    assert "cut off" not in data["scale"]
    scales = {m["times"]: a["scale"] for m, a in zip(data["multiples"], data["screens"][0]["answers"], strict=True)}
    assert not any("of 480 lines are cut off" in s for s in scales.values())
    ways = {m["times"]: m["way"] for m in data["multiples"]}
    assert ways[2].startswith("bobbed: every field a frame;")
    assert "787 and 788 lines by turns" in ways[3]


def test_a_progressive_480_line_machine_has_two_multiples() -> None:
    data = data_of(with_signal("480p", "x2", "720x480@60"))
    assert {m["times"] for m in data["multiples"]} == {1, 2}
    assert [m["times"] for m in data["multiples"] if m["set"]] == [1]
    assert "cut off" not in data["scale"]


def judged(r: Rig) -> RunResult:
    return run_result(Layer(r), r.runs["main"])


def test_the_link_behind_carries_the_multiples_own_clock() -> None:
    """5 × 15.7343 kHz × 2200 dots, to the Hz; not the 148.5 MHz of the size's usual timing."""
    r = s18("yarrowby-65s")
    five = apply(r, [setting("lm", "", "multiple", "x5"), {"op": "set_want", "run": "main", "key": "mode",
                                                           "value": "1920x1080@60"}])[0]  # fmt: skip
    assert judged(five).verdict == "blocked"  # the LM5 makes 165 MHz at most
    codes = {x.code: render(x, five) for x in judged(five).reasons}
    assert "over the multiplier’s own 165 MHz" in codes["multiple"]
    assert "4.95 Gb/s (165 MHz)" in codes["link_rate"]
    faster = five.devices["lm"].profile
    bigger = faster.model_copy(update={"video": faster.video.model_copy(update={"tmds_mhz": 340})})
    data = [{"op": "set_profile", "device": "lm", "profile": {**profile_data(bigger), "id": "lm-fast"}}]
    link = judged(apply(five, data)[0]).links[0]
    assert link.signal.timing.pixel_clock_hz == round(Fraction(4_500_000, 286) * 5 * 2200)
    assert (link.signal.timing.h_total, link.signal.timing.v_total) == (2200, 1310)
    assert parse_timing(link.signal.timing.code) == link.signal.timing  # it has an address of its own


@pytest.mark.parametrize("times", [2, 3, 4, 5, 6])
@pytest.mark.parametrize("sampling", ["whole_line", "matched"])
def test_every_multiple_is_a_timing_that_can_be_addressed(times: int, sampling: str) -> None:
    for signal in (CONSOLE, of("288p"), of("480i")):
        m = made(times, signal, sampling)
        t = sent_timing(m)
        assert parse_timing(t.code) == t
        assert abs(t.pixel_clock_hz - m.pixel_clock_hz) <= 1
        assert (t.h_active, t.v_active) == m.raster
        assert abs(t.h_total - m.dots) <= max(1, Fraction(t.h_front + t.h_sync + 1 + m.raster[0]) - m.dots)


# --- behind an adapter: VESA DMT 0x04, 0x10, 0x23


@pytest.mark.parametrize(
    ("mode", "khz"), [("640x480@60", 31.469), ("1024x768@60", 48.363), ("1280x1024@60", 63.981), ("1280x720@60", 45.0)]
)
def test_an_adapter_sends_the_timing_that_reaches_it(mode: str, khz: float) -> None:
    r = rig(device("pc", "tindrel-r3"), device("a2", "brindlo-a2"), device("tube", "brindlo-t17"),
            lead("C1", "pc/hdmi", "a2/in", "high_speed"), analogue_lead("V1", "a2/vga", "tube/vga"),
            run("main", "pc", "tube", mode=mode))  # fmt: skip
    result = judged(r)
    (met,) = meetings(Layer(r), result.path, sent=result.asked_timing)
    assert met.signal is not None
    assert float(met.signal.line_hz) / 1000 == pytest.approx(khz, abs=0.001)
    assert met.treats == "correct"
    slow = profile_data(starter_profiles()["brindlo-t17"])
    slow["ports"][0]["takes"] = [{"line_khz": [30, 50], "hz": [50, 120]}]
    tube = apply(r, [{"op": "set_profile", "device": "tube", "profile": {**slow, "id": "slow-tube"}}])[0]
    codes = [x.code for x in judged(tube).reasons]
    assert ("scan_refused" in codes) is (khz > 50)


def test_s21_a_scalers_raster_reaches_the_tube_at_its_monitor_timing() -> None:
    r = s21("sxga")
    result = judged(r)
    (met,) = meetings(Layer(r), result.path, sent=result.asked_timing)
    assert met.signal is not None
    assert met.signal.name == "1066 lines, 63.98 kHz, 60.02 Hz"
