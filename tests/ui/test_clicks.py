"""Set-ups rebuilt from nothing by clicking, the clicks counted: a press is one, a typed field one.

Bounds: what a technician stands before it is quicker to leave the thing out.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import pytest

from tests.ui.conftest import Person


class Counted:
    """A person whose every press is counted by the page itself, and typing as one each."""

    def __init__(self, person: Person) -> None:
        self.person, self.typed = person, 0
        person.driver.execute_script(
            "if (!window.pressed) { window.pressed = {n: 0};"
            " document.addEventListener('click', (e) => { if (e.isTrusted) window.pressed.n++ }, true) }"
            " window.pressed.n = 0"
        )

    @property
    def clicks(self) -> int:
        return self.typed + int(self.person.driver.execute_script("return window.pressed.n"))

    def click(self, text: str, css: str = "button, a") -> None:
        self.person.click(text, css)

    def type(self, css: str, text: str) -> None:
        self.person.type(css, text)
        self.typed += 1

    def sheet(self, name: str) -> None:
        self.person.find(f"nav[aria-label=Sheets] a[href$='/{name}']").click()

    def job(self, title: str) -> None:
        self.type("#title", title)
        self.click("New job")
        self.person.see(title, ".job")

    def box(self, kind: str, *answers: tuple[str, str], model: str = "") -> None:
        """A box by its class; answers: question and what is pressed there."""
        self.click(kind, "[role=dialog] .class")
        for ask, label in answers:
            row = self.person.find("[role=dialog] fieldset", ask)
            next(b for b in row.find_elements("css selector", "button") if b.text == label).click()
        if model:
            self.type("#class-model", model)
        self.click("Add", "[role=dialog] form button.go")
        self.person.see("is in the job.", "[role=dialog]")
        self.person.find("[role=dialog] .class")

    def plug(self, box: str, output: str, target: str) -> None:
        self.person.click(output, f"article[aria-label='{box}'] .sock")
        self.person.find(".pick .option")
        for more in self.person.driver.find_elements("css selector", ".pick .row button"):
            if more.text.startswith("All "):
                more.click()
        self.person.click(target, ".pick .option")
        self.person.wait(lambda d: not d.find_elements("css selector", ".pick"))

    def plan(self) -> None:
        self.sheet("settings")
        self.click("Plan all of these")
        self.person.see("The plan has every setting as it should be.", "main")


@pytest.fixture
def counted(person: Person) -> Iterator[Counted]:
    person.go("/")
    person.find("#title")
    return Counted(person)


def verdict(person: Person) -> Any:
    return person.driver.execute_script("return document.querySelector('footer').textContent")


def test_a_console_and_a_television_planned_in_15(counted: Counted) -> None:
    counted.job("Two boxes")
    counted.click("start from a typical set-up")
    counted.click("a console and a television", "[role=dialog] button")
    counted.click("3", "[role=dialog] fieldset button")
    counted.click("Put it in the job", "[role=dialog] button")
    counted.person.see("Television", "main")
    counted.plan()
    counted.person.see("fits", "footer")
    assert counted.clicks <= 15, counted.clicks


def test_a_pc_a_receiver_and_a_screen_with_permissions_and_formats_in_45(counted: Counted) -> None:
    counted.job("Three boxes")
    counted.sheet("gear")
    counted.click("Add a box")
    counted.click("By its class", "[role=dialog] button")
    counted.box("gaming PC", model="Tower")
    formats = ("format setting", "basic, wide, widest")
    counted.box("receiver", ("inputs pass", "40 Gb/s"), ("Are only some", "no"), formats)
    counted.box("back-lit 4K120 television", ("Which inputs", "3"), formats)
    counted.click("Done", "[role=dialog] button")
    counted.sheet("wiring")
    counted.plug("Tower", "HDMI out", "receiver · HDMI 1")
    counted.plug("receiver", "To screen", "HDMI 3")
    counted.plan()
    counted.person.see("fits", "footer")
    assert counted.clicks <= 45, counted.clicks


def test_an_old_computer_a_converter_and_a_monitor_without_yaml_in_40(counted: Counted) -> None:
    counted.job("Old one")
    counted.click("start from a typical set-up")
    counted.click("an old machine through a converter", "[role=dialog] button")
    counted.click("Put it in the job", "[role=dialog] button")
    counted.person.see("Converter", "main")
    counted.sheet("signal")
    counted.person.see("15.62 kHz", "main")
    counted.person.see("Shape", "main")
    assert counted.clicks <= 40, counted.clicks


def test_a_clone_a_scaler_an_adapter_and_a_tube_in_45(counted: Counted) -> None:
    counted.job("Tube")
    counted.sheet("gear")
    counted.click("Add a box")
    counted.click("By its class", "[role=dialog] button")
    counted.box("HDMI-only clone of old consoles")
    counted.box("scaler, HDMI to HDMI")
    counted.box("adapter, HDMI to VGA")
    counted.box("tube monitor")
    counted.click("Done", "[role=dialog] button")
    counted.sheet("wiring")
    counted.plug("HDMI-only clone of old consoles", "HDMI out", "HDMI in")
    counted.plug("scaler, HDMI to HDMI", "HDMI out", "HDMI plug")
    counted.plug("adapter, HDMI to VGA", "VGA out", "VGA")
    counted.sheet("signal")
    counted.person.see("true shape", "main")
    assert counted.clicks <= 45, counted.clicks


def test_four_sources_on_a_four_input_set_in_60(counted: Counted) -> None:
    counted.job("Four")
    counted.sheet("gear")
    counted.click("Add a box")
    counted.click("By its class", "[role=dialog] button")
    counted.box("self-lit 4K120 television", ("Which inputs", "3"), ("Which inputs", "4"))
    for kind, model in (
        ("newest console", "A"),
        ("newer console", "B"),
        ("streaming stick", "C"),
        ("disc player", "D"),
    ):
        counted.box(kind, model=model)
    counted.click("Done", "[role=dialog] button")
    counted.sheet("wiring")
    for model, target in (("A", "HDMI 3"), ("B", "HDMI 4"), ("C", "HDMI 1"), ("D", "HDMI 2")):
        counted.plug(f"{model}", "HDMI out", target)
    counted.plan()
    assert counted.clicks <= 60, counted.clicks


def test_a_box_from_the_shelf_in_2(counted: Counted) -> None:
    counted.job("Again")
    counted.sheet("gear")
    before = counted.clicks
    counted.click("Add a box")
    row = counted.person.find("[role=dialog] li", "Kelpine K1")
    row.find_element("css selector", "button").click()
    counted.person.see("Kelpine K1 is in the job.", "[role=dialog]")
    assert counted.clicks - before == 2
