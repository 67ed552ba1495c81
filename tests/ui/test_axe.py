"""Every sheet for everybody: no serious fault by axe in either theme, nothing sideways at 800 pixels."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest

from tests.ui.conftest import Person, set_viewport

AXE = Path(__file__).resolve().parents[2] / "frontend" / "node_modules" / "axe-core" / "axe.min.js"
SHEETS = (
    "brief", "gear", "wiring", "signal", "settings", "runsheet", "prove", "fault", "light", "lag", "handover", "visits",
)  # fmt: skip


def faults(person: Person) -> list[str]:
    """Serious and critical findings of axe-core on the page as it stands."""
    person.driver.execute_script(AXE.read_text(encoding="utf-8"))
    result: dict[str, Any] = person.driver.execute_async_script(
        "axe.run(document, {resultTypes: ['violations']}).then(arguments[0])"
    )
    return [
        f"{v['id']}: {v['nodes'][0]['html'][:160]}"
        for v in result["violations"]
        if v["impact"] in ("serious", "critical")
    ]


@pytest.mark.parametrize("theme", ["light", "dark"])
@pytest.mark.parametrize("sheet", SHEETS)
def test_axe_finds_no_serious_fault(person: Person, sheet: str, theme: str) -> None:
    person.theme(theme)
    person.sheet(sheet)
    if sheet not in ("handover", "visits"):
        person.run("Den console")
    if sheet in ("wiring", "signal"):
        person.find("aside .fix")
    if sheet == "fault":
        person.click("The screen stays black", ".picks button")
        person.find(".next ol button")
        person.gone("still trying", "main")
    if sheet == "wiring":
        person.click("HDMI out", "article[aria-label='Den console'] .sock")
        person.find(".pick .option")
    assert faults(person) == []


@pytest.mark.parametrize("part", ["values", "style", "titles", "refresh", "coverage"])
def test_axe_on_the_parts_of_settings(person: Person, part: str) -> None:
    person.theme("light")
    person.part("settings", part)
    person.run("Den console")
    person.find("main section")
    assert faults(person) == []


@pytest.mark.parametrize("part", ["update", "changed", "kept", "log"])
def test_axe_on_the_parts_of_visits(person: Person, part: str) -> None:
    person.theme("dark")
    person.part("visits", part)
    person.find("main p")
    assert faults(person) == []


@pytest.mark.parametrize("part", ["hdr", "shade", "scale", "panel", "readings"])
def test_axe_on_the_parts_of_light(person: Person, part: str) -> None:
    person.part("light", part)
    person.run("Den console")
    person.find("main section")
    assert faults(person) == []


@pytest.mark.parametrize("part", ["film", "cost", "beside", "light", "chain", "readings"])
def test_axe_on_the_parts_of_the_bench(person: Person, part: str) -> None:
    person.part("lag", part)
    person.run("Den console")
    person.find("main section")
    assert faults(person) == []


def test_axe_on_a_plan_of_the_bench(person: Person) -> None:
    person.sheet("lag")
    person.run("Den console")
    person.click("Plan the session", "main button")
    person.find("[aria-label='Baseline and what is tried'] input")
    assert faults(person) == []
    person.click("Make the plan", "main form button")
    person.see("Set this for", "[data-test=to-set]")
    assert faults(person) == []


def test_axe_on_the_door_the_jobs_and_the_dialogs(person: Person) -> None:
    person.theme("light")
    person.go("/")
    person.see("Pierhead Game Library")
    assert faults(person) == []
    person.go("/link")
    person.see("Try from the top", "aside")
    assert faults(person) == []
    person.go("/practice")
    person.click("It feels late", ".pick ol button")
    person.see("“It lags”", ".said")
    assert faults(person) == []
    person.sheet("gear")
    person.click("Add a box")
    signs = {"From the shelf": "Yarrowby 65-S", "By its class": "tube monitor", "A whole set-up": "receiver",
             "Written by hand": "profile file"}  # fmt: skip
    for way, sign in signs.items():
        person.click(way, "[role=dialog] button")
        person.see(sign, "[role=dialog]")
        assert faults(person) == []
    person.sheet("gear")
    person.box("Den screen")
    person.find("article[aria-label='Den screen'] button", "What it is").click()
    person.see("Complete", "[role=dialog]")
    assert faults(person) == []
    person.sheet("gear")
    person.box("Den screen")
    person.find("article[aria-label='Den screen'] button", "Find a setting").click()
    person.click("lowest lag", "[role=dialog] button")
    person.see("Where to look", "[role=dialog]")
    assert faults(person) == []
    person.sheet("wiring")
    person.press("m")
    person.see("places judged", "[role=dialog]")
    assert faults(person) == []
    person.sheet("wiring")
    person.press("?")
    person.see("Keys and display", "[role=dialog]")
    assert faults(person) == []


@pytest.mark.parametrize("width", [390, 800])
def test_no_run_of_the_demo_spills_its_table(person: Person, width: int) -> None:
    """Each of the runs in the header, as many columns as it offers."""
    spilled = "const m = document.querySelector('main'); return m.scrollWidth - m.clientWidth"
    set_viewport(person.driver, width, 844)
    try:
        person.sheet("signal")
        for key in "1234":
            person.press(key)
            person.find("table.carry")
            person.wait(lambda d: d.execute_script(spilled) <= 1, f"run {key} within {width} px")
    finally:
        set_viewport(person.driver, 1280, 800)


@pytest.mark.parametrize("width", [390, 800])
@pytest.mark.parametrize("sheet", SHEETS)
def test_nothing_spills_sideways(person: Person, sheet: str, width: int) -> None:
    """On a phone and on a narrow window: the page fits, and the chips of the runs lie beside each other."""
    set_viewport(person.driver, width, 844)
    try:
        person.sheet(sheet)
        wide = person.driver.execute_script(
            "const m = document.querySelector('main');"
            "return [document.documentElement.scrollWidth, m.scrollWidth - m.clientWidth]"
        )
        assert wide[0] <= width
        assert wide[1] <= 1
        boxes = person.driver.execute_script(
            "return [...document.querySelectorAll('header a, header button')].map(e => e.getBoundingClientRect())"
            ".filter(r => r.width).map(r => [r.left, r.right, r.top, r.bottom])"
        )
        for n, (left, right, top, bottom) in enumerate(boxes):
            for other in boxes[n + 1 :]:
                apart = other[0] >= right - 1 or other[1] <= left + 1 or other[2] >= bottom - 1 or other[3] <= top + 1
                assert apart, f"{boxes[n]} lies over {other}"
    finally:
        set_viewport(person.driver, 1280, 800)
