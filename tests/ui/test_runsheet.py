"""The run sheet at the screen: ticked, reloaded, ticked without a server, on a phone."""

from __future__ import annotations

import json
from pathlib import Path

from tests.core.test_settings_plan import s17
from tests.ui.conftest import App, Person, set_viewport
from wavilex.core.chain.changes import apply
from wavilex.core.jobfile import Job, job_data

STEP = "Den receiver, Game: Input format → widest"


def plan_it(person: Person) -> None:
    person.sheet("signal")
    person.run("Den console")
    person.see("Den receiver, Game: Input format → widest", "aside .fix.best")
    person.press("a")
    person.see("fits", "aside .verdict, footer")
    person.sheet("runsheet")
    person.see(STEP, "main li")


def box(person: Person, title: str) -> object:
    row = person.find("main li", title)
    return row.find_element("css selector", "input[type=checkbox]")


def test_a_tick_survives_reload_restart_and_a_server_that_is_away(app: App, person: Person) -> None:
    plan_it(person)
    box(person, STEP).click()  # type: ignore[attr-defined]
    person.see("1 done", "main")
    person.sheet("runsheet")
    person.see("1 done", "main")
    # the server goes: the next tick stays in the browser and is sent when it is back
    app.stop()
    row = person.find("main li.next")
    title = row.find_element("css selector", ".title").text
    person.press("x")
    person.see("1 tick is kept in this browser", "main")
    person.see("kept here, not sent yet", "main li")
    app.start()
    person.gone("kept in this browser", "main")
    person.sheet("runsheet")
    person.see("2 done", "main")
    assert box(person, title).is_selected()  # type: ignore[attr-defined]


def test_a_tick_is_taken_back(person: Person) -> None:
    person.sheet("runsheet")
    person.see(STEP, "main li.done")
    box(person, STEP).click()  # type: ignore[attr-defined]
    person.wait(lambda _: not box(person, STEP).is_selected())  # type: ignore[attr-defined]
    person.see(STEP, "main li:not(.done)")


def test_keep_only_with_a_picture(person: Person) -> None:
    person.sheet("gear")
    person.choose("select[aria-label='Den console  120 Hz output plan']", "not allowed")
    person.sheet("runsheet")
    row = person.find("main li", "Den console: 120 Hz output → not allowed")
    row.find_elements("css selector", "button")[-1].click()
    person.see("It reverted", "main li")
    person.see("evidence that the path does not carry it", "main li")
    person.press("u")


def test_the_sheet_fits_a_phone(person: Person) -> None:
    set_viewport(person.driver, 390, 800)
    try:
        person.sheet("runsheet")
        person.see("steps to go", "main")
        wide = person.driver.execute_script("return document.querySelector('main').scrollWidth")
        assert wide <= person.driver.execute_script("return document.querySelector('main').clientWidth") + 1
    finally:
        set_viewport(person.driver, 1280, 800)


def test_what_does_47_look_like(person: Person) -> None:
    person.sheet("settings")
    person.run("Den console")
    person.type("#what-rate", "47")
    person.see("each frame shown 2 times, evenly. Shown at 94 Hz", "figure")
    person.type("#what-rate", "60")
    person.see("in the window: each frame once, evenly. Shown at 60 Hz; a frame stays 16.7 ms", "figure")
    person.see("Lantern Keep", "main .titles")
    person.see("Den screen keeps these apart", "main")
    person.run("Museum stick")
    person.see("No window", "main")


def test_s17_settings_flip_between_titles(person: Person, tmp_path: Path) -> None:
    file = tmp_path / "job.json"
    named, _ = apply(s17(), [{"op": "set_title", "value": "S17 lounge"}])
    file.write_text(json.dumps(job_data(Job("x", "S17 lounge", "UTC", named))))
    person.go("/")
    person.driver.find_element("css selector", "input[type=file]").send_keys(str(file))
    person.see("S17 lounge", ".job")
    job = person.driver.current_url.split("/")[4]
    person.sheet("settings", job)
    person.choose("#style", "30 fps titles interpolated, though it costs lag")
    person.see("25 ms", "section[aria-label=Titles]")
    person.see("given up: Interpolation in games counts more here", "section[aria-label=Titles]")
    person.click("Plan these for Lantern Keep", "section[aria-label=Titles] button")
    person.see("not seen → on", "tr.flips")
    person.sheet("runsheet", job)
    person.see("TV: Interpolation in games → on", "main li")
    person.see("TV, HDMI 1: Game mode → on", "main li")
