"""Old machines at the screen: S01, the plug-in adapter of S12, the multiples of S18, S21."""

from __future__ import annotations

from typing import Any

from tests.rigs import analogue_lead, device, lead, rig, run, s01, s18, s21
from tests.ui.conftest import Person
from wavilex.core.rig.changes import apply


def test_s01_home_computer_by_converter(person: Person, bring: Any) -> None:
    job = bring(s01(), "S01 archive")
    person.sheet("signal", job)
    person.see("CONV · SCART in: takes it as it is.", "main .scan")
    person.see("CONV turns 50.08 Hz into 60.00: 9.9 frames a second are repeated", "main .scan")
    person.see("Shape: 33.3 % too wide", "main figure")
    person.see("MONITOR: 4:3 with borders", "main figure")
    person.click("Plan it", "main figure button")
    person.see("Shape: true shape", "main figure")
    person.see("625 lines to 720p60", "main .scan")
    person.see("MONITOR, then CONV, then H8", "main .scan")
    person.see("check supply voltage", "main .scan")
    person.see("CONV, HDMI out does not send 1080p60 as set (Output at 720p)", "aside")
    person.see("CONV: Output → 1080p", "aside .fix")
    person.click("Apply", "aside .fix button")
    person.see("625 lines to 1080p60", "main .scan")
    person.see("MONITOR takes 1080p60", "main .scan")
    person.see("true shape", "footer")
    person.see("15.62 kHz, 50.08 Hz", "footer")
    person.sheet("wiring", job)
    person.see("15.62 kHz", "main svg .tag")


def test_s12_a_plug_in_adapters_switch_picks_the_shape(person: Person, bring: Any) -> None:
    job = bring(rig(
        device("c32", "brindlo-c32"), device("plug", "brindlo-p1"), device("tv", "ostavar-43p"),
        analogue_lead("V1", "c32/svideo", "plug/svideo"), lead("C1", "plug/out", "tv/hdmi1", "high_speed"),
        run("main", "c32", "tv", mode="1280x720@60"),
    ), "S12 plug")  # fmt: skip
    person.sheet("signal", job)
    person.see("Shape: 33.3 % too wide", "main figure")
    person.sheet("gear", job)
    person.choose("select[aria-label='PLUG  Shape switch plan']", "4:3")
    person.sheet("signal", job)
    person.see("Shape: true shape", "main figure")
    person.see("S-video limits how clean it is", "main .scan")


def test_s18_which_multiples_the_screen_takes(person: Person, bring: Any) -> None:
    r, _ = apply(s18(), [device("old", "ostavar-43p")])
    job = bring(r, "S18 tower")
    person.sheet("signal", job)
    person.see("LM keeps the machine’s 60.05 Hz", "main .scan")
    row = person.find("main table tr", "3× whole lines")
    assert "likely" in row.text  # 77.9 MHz against 74.25
    assert "1280×720, 60.054 Hz" in row.text
    assert "as set" in row.text
    person.choose("select[aria-label='5× whole lines tried here']", "no picture")
    person.see("tried here: no picture", "main table")
    person.find("main h1").click()
    person.press("u")
    person.gone("tried here: no picture", "main table")
    person.find("[aria-label='Plan 3× matched to the dots']").click()
    person.see("as set", "main tr.now")
    person.see("matched to the dots", "main tr.now")
    person.click("OLD", "[aria-label='Screen asked'] button")
    person.see("will OLD · HDMI 1 take it?", "main table")
    assert "no" in person.find("main table tr", "5× whole lines").text
    person.see("8 of 224 lines are cut off", "main table")


def test_edges_that_hide_the_picture_are_opened_by_the_plan(person: Person, bring: Any) -> None:
    job = bring(rig(
        device("c32", "brindlo-c32"), device("tv", "ostavar-43p"), analogue_lead("V1", "c32/cvbs", "tv/cvbs"),
        run("main", "c32", "tv", mode="720x480@60"),
    ), "edges")  # fmt: skip
    person.sheet("signal", job)
    person.see("of the picture lies past the edges", "main figure")
    person.see("It also sends 262 lines, 15.73 kHz, 60.05 Hz. TV · composite: takes it for interlaced", "main .scan")
    person.click("Plan it", "main figure button")
    person.gone("past the edges", "main figure")
    person.see("Shape: true shape", "main figure")


def test_a_machine_of_ones_own_is_typed_as_people_know_it(person: Person, bring: Any) -> None:
    job = bring(s18("ostavar-43p"), "own machine")
    person.sheet("gear", job)
    person.find("article[aria-label='C16'] button", "What it is").click()
    person.see("262 lines, 15.73 kHz, 60.05 Hz", "[role=dialog]")
    field = "[aria-label='A signal, by name or by its figures']"
    person.type(field, "15.6 kHz 312 lines purple")
    person.click("Add signal", "[role=dialog] button")
    person.see("'purple' is not understood", "[role=dialog] [role=alert]")
    person.type(field, "7 MHz 448 dots 312 lines 256x192")
    person.click("Add signal", "[role=dialog] button")
    person.see("312 lines, 15.62 kHz, 50.08 Hz", "[role=dialog]")
    person.see("each dot 59:56", "[role=dialog]")
    person.click("Usual one", "[role=dialog] button")
    person.click("Keep", "[role=dialog] .go")
    person.gone("Complete", "[role=dialog]")
    person.sheet("signal", job)
    person.see("LM, HDMI out does not send 720p60 as it is: it keeps the machine’s 50.08 Hz", "aside")
    person.choose("select[id^=mode-]", "720p50")
    person.see("LM keeps the machine’s 50.08 Hz; TV takes 720p50", "main .scan")


def test_no_colour_says_which_system_each_knows(person: Person, bring: Any) -> None:
    job = bring(rig(
        device("c16", "brindlo-c16"), device("tv", "brindlo-t14"), analogue_lead("V1", "c16/cvbs", "tv/cvbs"),
        run("main", "c16", "tv", mode="640x480@60"),
    ), "grey")  # fmt: skip
    person.sheet("signal", job)
    person.see("shows no colour: it knows PAL", "aside")
    person.see("shows it without colour", "main .scan")


def test_s21_the_shape_through_every_stage(person: Person, bring: Any) -> None:
    job = bring(s21("sxga", "window"), "S21 cellar")
    person.sheet("signal", job)
    person.see("Shape: 6.7 % too wide", "main figure")
    person.see("33.3 % too wide", "main figure text")
    person.see("dangerous voltages stay inside", "main .scan")
    person.see("sends 1280×1024p60", "footer")
    person.see("needs a sound device that takes jack from A2", "main")
    person.click("Plan it", "main figure button")
    person.see("Shape: true shape", "main figure")
    person.sheet("handover", job)
    person.see("dangerous voltages stay inside", ".page")
