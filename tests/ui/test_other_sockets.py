"""The other socket of the card by clicking; what a lead may be certified as; a link of lanes without a job."""

from __future__ import annotations

from typing import Any

from tests.ui.conftest import Person


def test_the_other_socket_of_the_card_lifts_three_runs(person: Person) -> None:
    person.sheet("signal")
    person.run("Side PC")
    person.see("Side monitor, HDMI takes no 144 Hz", ".reason, aside, main")
    person.see("A DisplayPort lead from Side PC · DisplayPort 1 to Side monitor · DisplayPort", ".fix")
    person.click("Apply", ".fix.best button")
    person.see("compressed", "footer")
    person.see("25.92 Gb/s (4 lanes, HBR3)", "footer")
    person.run("Score screen")
    person.see("2 × HBR3", "footer")
    person.sheet("runsheet")
    person.see("New lead N1 (DP8K, 2 m): Side PC · DisplayPort 1 to Side monitor · DisplayPort", "main")


def test_a_lead_is_certified_by_its_own_kind(person: Person) -> None:
    person.sheet("wiring")
    person.click("A4 USB-C", "main button")
    options = person.find("#lead-grade").text
    assert "USB-C to 20 Gb/s" in options
    assert "Ultra High Speed" not in options
    person.choose("#lead-grade", "USB-C for USB 2 and charging")
    person.run("Score screen")
    person.see("No picture passes lead A4", "aside, main")


def test_a_link_of_lanes_without_a_job(person: Person) -> None:
    person.go("/link?out=dp:4xhbr3&inp=dp:4xhbr3&grade=dp8k&timing=cvt:3840x2160@144:rb2&dsc=8x340")
    person.see("4 lanes × HBR3 has room for 19.3 bits a pixel", ".verdict")
    person.choose("#dsc", "not allowed")
    person.see("it would use 151.2 % of 4 lanes × HBR3", ".verdict")
    person.choose("#out", "USB-C, 12.96 Gb/s (2 lanes, HBR3)")
    person.see("2 lanes × HBR3", ".verdict")
    grades: Any = person.find("#grade").text
    assert "USB-C to 40 Gb/s" in grades
