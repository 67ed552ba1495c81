"""Old machines at the screen: S01, the plug-in adapter of S12, the multiples of S18, S21."""

from __future__ import annotations

from typing import Any

from tests.rigs import analogue_lead, device, lead, rig, run, s01, s18, s21
from tests.ui.conftest import Person


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
    person.see("Check supply voltage", "main .scan")
    person.sheet("gear", job)
    person.choose("select[aria-label='CONV  Output plan']", "1080p")
    person.sheet("signal", job)
    person.see("625 lines to 1080p60", "main .scan")
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
    job = bring(s18(), "S18 tower")
    person.sheet("signal", job)
    person.see("LM keeps the machine’s 60.05 Hz", "main .scan")
    row = person.find("main table tr", "3× whole lines")
    assert "sure" in row.text
    assert "1280×720, 60.054 Hz" in row.text
    person.choose("select[aria-label='5× whole lines tried here']", "no picture")
    person.see("tried here: no picture", "main table")
    person.find("main h1").click()
    person.press("u")
    person.gone("tried here: no picture", "main table")


def test_s21_the_shape_through_every_stage(person: Person, bring: Any) -> None:
    job = bring(s21("sxga", "window"), "S21 cellar")
    person.sheet("signal", job)
    person.see("Shape: 6.7 % too wide", "main figure")
    person.see("33.3 % too wide", "main figure text")
    person.click("Plan it", "main figure button")
    person.see("Shape: true shape", "main figure")
    person.sheet("handover", job)
    person.see("dangerous voltages stay inside", ".page")
