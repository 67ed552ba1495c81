"""The run sheet at the screen: ticked, reloaded, ticked without a server, on a phone."""

from __future__ import annotations

from tests.ui.conftest import App, Person, set_viewport

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
    person.sent()
    # the server goes: the next tick stays in the browser and is sent when it is back
    app.stop()
    try:
        row = person.find("main li.next")
        title = row.find_element("css selector", ".title").text
        person.press("x")
        person.see("1 tick is kept in this browser", "main")
        person.see("kept here, not sent yet", "main li")
    finally:
        app.start()  # the tests after this one want it
    person.gone("kept in this browser", "main")
    person.sheet("runsheet")
    person.see("2 done", "main")
    assert box(person, title).is_selected()  # type: ignore[attr-defined]


def test_a_tick_is_taken_back(person: Person) -> None:
    plan_it(person)
    box(person, STEP).click()  # type: ignore[attr-defined]
    person.see(STEP, "main li.done")
    box(person, STEP).click()  # type: ignore[attr-defined]
    person.wait(lambda _: not box(person, STEP).is_selected())  # type: ignore[attr-defined]
    person.see(STEP, "main li:not(.done)")


def test_keep_only_with_a_picture(person: Person) -> None:
    person.sheet("gear")
    person.box("Den console")
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


def test_the_visit_has_a_clock_and_a_sheet_of_paper(person: Person) -> None:
    person.sheet("runsheet")
    person.click("Begin the visit")
    person.see("0:00:0", "main .tools")
    person.see("End the visit", "main .tools")
    link = person.find("main .tools a", "PDF").get_attribute("href")
    kind = person.driver.execute_async_script(
        "fetch(arguments[0]).then(r => arguments[1](r.headers.get('content-type')))", link
    )
    assert kind == "application/pdf"


def test_one_step_at_a_time_is_large_and_lights_the_socket(person: Person) -> None:
    person.sheet("gear")
    person.box("Den screen")
    person.choose("select[aria-label='Den screen HDMI 3 Game mode plan']", "on")
    person.sheet("runsheet")
    person.click("One at a time")
    try:
        person.see("step 1 of", "main")
        for _ in range(60):
            if "Game mode → on" in person.find("main h2").text:
                break
            person.click("Next", "main .acts button")
        person.see("here", "main figure .lit")
        assert person.find("main figure").get_attribute("aria-label") == "Back of Den screen: HDMI 3"
        person.click("Done", "main .acts button")
        person.click("Back", "main .acts button")
    finally:
        person.click("The whole list")
    person.gone("Game mode → on", "main li:not(.done)")
