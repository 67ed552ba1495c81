"""Light by clicking, with the simulated meter: from the brief to the hand-over. S07, S09, S16."""

from __future__ import annotations

from typing import Any

import pytest
from selenium.common.exceptions import TimeoutException

from tests.arrivals import s09_arrival, s16_arrival
from tests.rigs import s07, setting
from tests.ui.conftest import Person
from wavilex.core.rig.changes import apply


def keep(person: Person, count: str) -> None:
    """Wait for the mark, keep the reading, and see it counted; what is to be set may change just then."""
    for _ in range(3):
        person.see("✓ settled", ".meter .state")
        person.click("Keep this", ".meter button.go:not(:disabled)")
        try:
            person.see(f"{count} reading", "nav[aria-label=Sheets] a.on small")
        except TimeoutException:
            continue
        return
    raise AssertionError(f"reading {count} was not kept")


def part(person: Person, name: str) -> None:
    person.click(name, "main nav button")


def cell(person: Person, name: str) -> None:
    person.click(name, ".cells button")


def window(person: Person, size: str) -> None:
    person.choose(".meter select[aria-label=Window]", size)


def test_s07_from_the_room_to_the_hand_over(person: Person, bring: Any) -> None:
    """Arrival: nothing noted of the room, no reading, every panel light as somebody left it."""
    game = [setting("tv", f"hdmi{n}", "game", "on") for n in (1, 3, 4)]
    job = bring(apply(s07(), game)[0], "S07 lounge by light")
    person.sheet("brief", job)
    person.type("#survey-light", "A garden window beside the sofa")
    person.press("Tab")
    person.sheet("light", job)
    person.see("taken for bright by day", "section[aria-label='The room']")
    person.choose("#room-night", "dark")
    person.see("dark, as noted of this room", "section[aria-label='The room']")
    cell(person, "HDMI 1, standard range, game")
    person.see("nothing was read yet", "main .answers")
    for count in ("1", "2", "3", "4"):
        keep(person, count)
    person.see("95 %), 150 asked", "main .answers")
    person.find("figure, .figure")
    person.click("Plan", "main .answers button.go")
    person.see("✓ planned", "main .answers")
    cell(person, "HDMI 1, HDR, game")
    window(person, "2 %")
    keep(person, "5")
    window(person, "100 %")
    keep(person, "6")
    part(person, "HDR")
    page = "section[aria-label='HDR pages of K1'] .page"
    person.see("cd/m² measured", page)
    person.type("section[aria-label='HDR pages of K1'] input", "40")
    person.click("Note", f"{page} button")
    person.see("40 found means", page)
    part(person, "Panel")
    person.see("burn in for good", "section[aria-label='Care of a self-lit screen']")
    person.see("photosensitive epilepsy", "section[aria-label=Overdrive]")
    person.sheet("runsheet", job)
    person.see("cd/m² (", "main")
    person.see("bright patch", "main")
    person.sheet("handover", job)
    person.see("by meter", "main")
    person.see("40 clicks", "main")


def test_s09_peaks_measured_give_clicks_for_both_consoles(person: Person, bring: Any) -> None:
    job = bring(s09_arrival(), "S09 loft by light")
    person.sheet("light", job)
    part(person, "HDR")
    person.see("not said: the peak was not measured", "main .page")
    window(person, "10 %")
    keep(person, "1")
    person.see("cd/m² measured", "main .page")
    person.see("Tones mapped", "main table")
    person.see("taken for now: nobody knows", "main table")
    person.sheet("handover", job)
    person.see("window 10 %", "main")


def test_s16_weak_hdr_black_and_overdrive(person: Person, bring: Any) -> None:
    job = bring(s16_arrival(), "S16 office by light")
    person.sheet("light", job)
    for count in ("1", "2", "3", "4"):
        keep(person, count)
    person.see("Brightness", "main .answers")
    part(person, "HDR")
    person.see("Weak at HDR: what it would cost", "section[aria-label='Weak HDR']")
    person.see("✕ worse", "section[aria-label='Weak HDR']")
    part(person, "Black and colour")
    person.click("8", "[aria-label='First step seen'] button")
    person.see("Steps below 8 drown", "section[aria-label='Near black']")
    person.see("white balance up a little", "section[aria-label='Near black']")
    part(person, "Panel")
    for option, trail in (("fast", "none"), ("normal", "clear")):
        person.choose("section[aria-label=Overdrive] select[aria-label=Response]", option)
        person.choose("section[aria-label=Overdrive] select[aria-label='Dark trail']", trail)
        person.click("Note", "section[aria-label=Overdrive] button")
        person.see("clean" if trail == "none" else "clear trail", "section[aria-label=Overdrive] table")
    person.see("Response fast suits", "section[aria-label=Overdrive]")
    person.sheet("handover", job)
    person.see("by meter", "main")


def test_a_reading_taken_out_comes_back_and_keys_keep(person: Person) -> None:
    person.sheet("light")
    person.run("Den console")
    person.see("✓ settled", ".meter .state")
    person.press("k")
    person.see("1 reading", "nav[aria-label=Sheets] a.on small")
    person.click("Take out", "main table button")
    person.see("nothing measured", "nav[aria-label=Sheets] a.on small")
    person.press("u")
    person.see("1 reading", "nav[aria-label=Sheets] a.on small")


@pytest.mark.parametrize("document", ["PQ (ST 2084)", "HLG (BT.2100)", "BT.1886"])
def test_a_transfer_function_is_drawn_with_its_levels(person: Person, document: str) -> None:
    person.sheet("light")
    person.run("Den console")
    part(person, "Curve")
    person.choose("main select[aria-label=Curve]", document)
    person.see("limited runs from 64 to 940", "section[aria-label=Levels]")
    person.see("crushed", "section[aria-label=Levels]")


def test_a_screen_without_a_run_is_read_too(person: Person) -> None:
    person.sheet("light")
    person.choose("main .head select", "Tube monitor, Museum corner")
    person.see("Light: Tube monitor", "h1")
