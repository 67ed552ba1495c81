"""What holds on every sheet: keys, undo, two tabs, a server that comes back, files out and in."""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.ui.conftest import App, Person, entered


def test_keys_reach_sheets_and_runs_but_not_while_typing(person: Person) -> None:
    person.sheet("wiring")
    person.press("3")
    person.find(".runs .run.on", "Museum console")
    person.press("b")
    person.see("Brief", "main h1")
    person.type("#survey-annoys", "g w s u 1")
    person.see("Brief", "main h1")
    person.press("\ue007")
    person.sheet("signal")
    person.press("?")
    person.click("single keys work", "[role=dialog] label")
    person.driver.refresh()
    person.see("Signal", "main h1")
    person.press("w")
    person.see("Signal", "main h1")
    person.driver.execute_script("localStorage.removeItem('wavilex.keys')")
    person.driver.refresh()


def test_lead_certification_changes_the_verdict_and_comes_back(person: Person) -> None:
    person.sheet("wiring")
    person.run("Match PC")
    person.click("A1", ".leads button")
    person.choose("#lead-grade", "High Speed")
    person.see("stops at lead A1", "aside")
    person.see("Replace lead A1 by a Premium High Speed one", "aside .fix")
    person.press("u")
    person.see("1440p144 RGB 8-bit fits", "aside")


@pytest.fixture
def other(app: App, person: Person) -> Iterator[Person]:
    someone = entered(app)
    someone.job = person.job
    yield someone
    someone.driver.quit()


def test_two_tabs_disjoint_edits_stay_and_a_clash_shows_both(person: Person, other: Person) -> None:
    for tab in (person, other):
        tab.sheet("brief")
        # no polling in this test: each tab keeps the state it loaded
        tab.driver.execute_script("Object.defineProperty(document, 'visibilityState', {get: () => 'hidden'})")
    person.choose("#bits-match", "10-bit")
    person.see("1440p144", "aside")
    person.wait(lambda d: "10-bit" in person.find("aside").text)
    other.choose("#bits-museum", "8-bit")
    other.wait(lambda d: d.find_element("css selector", "#bits-match").get_property("value") == "10")
    person.choose("#bits-museum", "12-bit")
    person.see("Somebody changed the same thing", "[role=dialog]")
    person.see("8", "[role=dialog] td")
    person.see("12", "[role=dialog] td")
    person.click("Keep theirs", "[role=dialog] button")
    person.wait(lambda d: d.find_element("css selector", "#bits-museum").get_property("value") == "8")


def test_an_edit_made_while_the_server_is_away_arrives_when_it_is_back(person: Person, app: App) -> None:
    person.sheet("brief")
    app.stop()
    try:
        person.type("#survey-sound", "two speakers")
        person.find("main h1").click()
        person.see("The server is not reached", "main")
    finally:
        app.start()  # the tests after this one want it
    person.gone("The server is not reached", "main")
    person.driver.refresh()
    person.wait(lambda d: person.find("#survey-sound").get_property("value") == "two speakers")


def test_a_viewer_sees_and_tries_but_changes_nothing(app: App, person: Person) -> None:
    words = [sys.executable, "-m", "wavilex.cli", "user", "vera", "--role", "viewer"]
    env = {**os.environ, "WAVILEX_DATA": str(app.data)}
    env.pop("DJANGO_SETTINGS_MODULE", None)
    subprocess.run(words, env=env, input="a long password\n", text=True, check=True, stdout=subprocess.DEVNULL)
    viewer = Person(app)
    viewer.job = person.job
    try:
        viewer.go(f"/jobs/{viewer.job}/wiring")
        viewer.type("#name", "vera")
        viewer.type("#password", "wrong")
        viewer.click("Sign in")
        viewer.see("do not belong together", "[role=alert]")
        viewer.type("#password", "a long password")
        viewer.click("Sign in")
        viewer.see("Wiring", "main h1")
        viewer.run("Den console")
        viewer.click("Try", "aside .fix button")
        viewer.see("Nothing is changed yet", "main")
        apply = viewer.find("aside .fix button", "Apply")
        assert not apply.is_enabled()
        viewer.sheet("brief")
        assert not viewer.find("#survey-sound").is_enabled()
        assert "Take out" not in viewer.find("main").text
    finally:
        viewer.driver.quit()


def test_the_job_file_goes_out_and_comes_in(person: Person, tmp_path: Path) -> None:
    person.sheet("handover")
    person.see("Save the job file", ".tools")
    text = person.driver.execute_async_script(
        "fetch(document.querySelector('.tools a[download]').href).then(r => r.text()).then(arguments[0])"
    )
    file = tmp_path / "job.json"
    file.write_text(text, encoding="utf-8")
    person.go("/")
    person.upload("input[type=file]", file)
    person.wait(lambda d: "/jobs/" in d.current_url and person.job not in d.current_url)
    person.see("Pierhead Game Library", ".job")
    file.write_text(text.replace('"grade": "ultra"', '"grade": "gold"', 1), encoding="utf-8")
    person.go("/")
    person.find("#title")
    person.upload("input[type=file]", file)
    person.see("leads.", "[role=alert]")
    person.see("certification is one of", "[role=alert]")
