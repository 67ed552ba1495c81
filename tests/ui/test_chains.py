"""S04, S08 to S12, S14 at the screen: a job file brought in, then looked at and mended by clicking."""

from __future__ import annotations

from typing import Any

from tests.rigs import device, rig, run, s04, s08, s09, s10, s12, s14, setting
from tests.ui.conftest import Keys, Person
from wavilex.core.rig.changes import apply


def test_s04_the_title_starts_in_4k60_until_4k_is_forbidden(person: Person, bring: Any) -> None:
    job = bring(s04(), "S04 desk")
    person.sheet("signal", job)
    person.see("When a title starts, CONSOLE sends 2160p60: it prefers that to 1440p120", "aside")
    person.see("scales 2160p60 down to its 2560×1440 panel", ".notes")
    person.see("do not trust it", ".notes")
    person.see("CONSOLE: 4K output → not allowed", "aside .fix.best")
    person.press("a")
    person.see("1440p120 RGB 8-bit fits", "aside")
    person.see("the home screen runs at 60 Hz, titles at 120", ".notes")


def test_s08_the_inputs_generation_and_the_receiver_by_sound_return(person: Person, bring: Any) -> None:
    job = bring(s08(), "S08 parlour")
    person.sheet("signal", job)
    person.see("TV, HDMI 1: HDMI generation → the newer", "aside .fix.best")
    person.see("OLD plays it, at best as lossy with object sound, by ARC; TV must be on.", ".notes")
    person.press("a")
    person.see("fits", "footer")
    person.choose("select[id^=mode-]", "2160p120")
    person.see("Another television needs at least 2160p120", "aside")


def test_s09_the_format_gives_4k120_or_the_dynamic_hdr(person: Person, bring: Any) -> None:
    job = bring(s09(), "S09 loft")
    person.sheet("signal", job)
    person.see("fits", "footer")
    person.choose("select[id^=hdr-]", "dynamic HDR")
    person.see("No dynamic-metadata HDR", "aside")
    person.sheet("gear", job)
    person.choose("select[aria-label='TV HDMI 4 Input format plan']", "wide with dynamic HDR")
    person.sheet("signal", job)
    person.see("Links carry it no", ".items li")


def test_s10_firmware_first(person: Person, bring: Any) -> None:
    opened, _ = apply(s10(), [setting("tv", "hdmi3", "format", "full")])
    job = bring(opened, "S10 studio")
    person.sheet("signal", job)
    person.see("firmware before 3.1", "aside")
    person.see("Update TV to firmware 3.1", "aside .fix.best")
    person.see("1 update", "aside .fix.best")
    person.press("t")
    person.see("Nothing is changed yet", "main")
    person.press("a")
    person.see("2160p120 RGB 10-bit fits", "aside")
    person.sheet("gear", job)
    person.wait(lambda d: d.find_element("css selector", "#fwp-tv").get_property("value") == "3.1")


def test_s11_each_lead_allows_something_else(person: Person, bring: Any) -> None:
    job = bring(s09(fmt="full"), "S11 hall")
    person.sheet("wiring", job)
    for grade, best in (("High Speed", "1080p120"), ("Premium High Speed", "1440p120")):
        person.click("A1", ".leads button")
        person.choose("#lead-grade", grade)
        person.see("stops at lead A1", "aside")
        person.press(Keys.ESCAPE)
        person.sheet("signal", job)
        person.see(best, ".best")
        person.sheet("wiring", job)


def test_s12_a_lead_gives_the_silent_console_its_sound(person: Person, bring: Any) -> None:
    job = bring(s12(), "S12 desk")
    person.sheet("signal", job)
    person.run("new")
    person.see("BAR plays it, at best as lossy with object sound, by ARC; MONITOR must be on.", ".notes")
    person.run("oldest")
    person.see("optical lead from OLDEST · optical out to BAR · optical in: lossy 5.1", ".notes")
    person.click("Add", ".notes button")
    person.see("BAR plays it, at best as lossy 5.1, by optical.", ".notes")
    person.sheet("wiring", job)
    person.find("svg g.audio")


def test_s14_best_places_tried_then_applied(person: Person, bring: Any) -> None:
    job = bring(s14(), "S14 lounge")
    person.sheet("wiring", job)
    person.press("m")
    person.see("All 4 runs get what they want after moving", "[role=dialog]")
    person.see("Proved: no change of this job gives more", "[role=dialog]")
    person.see("Input format → widest", "[role=dialog]")
    person.see("The runner-up", "[role=dialog]")
    person.click("Try", "[role=dialog] button")
    person.see("The best places", "main .bar")
    person.see("Nothing is changed yet", "main .bar")
    person.click("Apply", "main .bar button")
    person.gone("Nothing is changed yet", "main")
    person.wait(lambda d: len(d.find_elements("css selector", ".runs .state.fits")) == 4)
    person.press("u")
    person.wait(lambda d: len(d.find_elements("css selector", ".runs .state.fits")) < 4)


def test_a_profile_is_corrected_by_choices_and_checked_on_the_way(person: Person, bring: Any) -> None:
    job = bring(s08(), "Editor")
    person.sheet("gear", job)
    person.find("article[aria-label='TV'] button", "What it is").click()
    person.see("Complete: 3 picture inputs", "[role=dialog]")
    person.type("#box-vrr", "120-48" + Keys.TAB)
    person.see("the window's lower end must be under its upper end", "[role=dialog]")
    person.type("#box-vrr", "48-60" + Keys.TAB)
    person.see("Complete", "[role=dialog]")
    person.click("+ input", "[role=dialog] button")
    person.see("Complete: 4 picture inputs", "[role=dialog]")
    person.click("Keep", "[role=dialog] button.go")
    person.gone("What TV is")
    person.see("HDMI 4", "article[aria-label='TV']")
    person.press("u")
    person.gone("HDMI 4", "article[aria-label='TV']")


def test_a_few_answers_make_a_box_of_its_class(person: Person, bring: Any) -> None:
    job = bring(s08(), "Class")
    person.sheet("gear", job)
    person.click("Add a box")
    person.click("By its class", "[role=dialog] button")
    person.click("back-lit 4K120 television", "[role=dialog] button")
    for answer in ("three", "3", "eARC"):
        person.click(answer, "[role=dialog] fieldset button")
    person.type("#class-model", "Foyer")
    person.click("Add", "[role=dialog] form button.go")
    person.see("Foyer is in the job.", "[role=dialog]")
    person.click("Undo", "[role=dialog] button")
    person.gone("Foyer", "main")


def test_the_wiring_is_kept_as_drawing_graph_and_schedule(person: Person) -> None:
    person.sheet("wiring")
    person.press("k")
    links = [a.get_attribute("href") for a in person.driver.find_elements("css selector", ".keep a")]
    assert [x.rsplit(".", 1)[1] for x in links if x] == ["svg", "dot", "csv"]
    for form, start in (("svg", "<svg"), ("dot", "digraph"), ("csv", "lead,code,kind")):
        read = f"return fetch('/api/v1/jobs/{person.job}/wiring.{form}').then((r) => r.text())"
        assert str(person.driver.execute_script(read)).startswith(start)


def test_a_setting_looked_for_by_its_effect_becomes_part_of_the_profile(person: Person, bring: Any) -> None:
    job = bring(s08(), "Finder")
    person.sheet("gear", job)
    person.find("article[aria-label='TV'] button", "Find a setting").click()
    person.click("lowest lag", "[role=dialog] button")
    person.see("Where to look, likeliest first", "[role=dialog]")
    person.type("#find-where", "picture presets, third line")
    person.click("Found", "[role=dialog] button.go")
    person.see("lowest lag noted on TV.")
    person.press(Keys.ESCAPE)
    person.sheet("gear", job)
    person.see("lowest lag, HDMI 1", "article[aria-label='TV'] td")


def test_a_source_has_settings_to_look_for_too_in_as_many_steps_as_its_menu(person: Person, bring: Any) -> None:
    job = bring(s08(), "Finder of sources")
    person.sheet("gear", job)
    person.find("article[aria-label='CONSOLE'] button", "Find a setting").click()
    person.click("bits of a colour", "[role=dialog] button")
    person.type("#find-steps", "8 bits, 10 bits, 12 bits" + Keys.TAB)
    person.choose("#find-stands", "10 bits")
    person.click("Found", "[role=dialog] button.go")
    person.see("bits of a colour noted on CONSOLE.")
    person.press(Keys.ESCAPE)
    person.sheet("gear", job)
    person.see("factory: 10 bits", "article[aria-label='CONSOLE'] option")


def test_a_lead_planned_before_anybody_looked_is_noted_as_hanging_so(person: Person, bring: Any) -> None:
    ends = [{"device": "console", "port": "hdmi"}, {"device": "tv", "port": "hdmi1"}]
    job = bring(
        rig(device("console", "kelpine-k1"), device("tv", "yarrowby-65s"),
            {"op": "add_lead", "lead": {"uid": "A1", "label": "A1", "plan": ends}}, run("main", "console", "tv")),
        "As found",
    )  # fmt: skip
    person.sheet("runsheet", job)
    person.see("nobody noted whether it hangs there already", "main li")
    person.gone("New lead", "main")
    person.sheet("wiring", job)
    person.see("nobody noted it as found", ".leads li")
    person.click("hangs so", ".leads button")
    person.gone("nobody noted it as found", ".leads li")
    person.sheet("runsheet", job)
    person.gone("Lead A1", "main li .title")
