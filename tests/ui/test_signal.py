"""The Signal side by browser: leads known on site, two sides compared, an EDID at a connector, sums with working."""

from __future__ import annotations

from selenium.webdriver.common.keys import Keys

from tests.ui.conftest import Person


def test_what_failed_here_blocks_the_run_and_undo_takes_it_back(person: Person) -> None:
    person.sheet("wiring")
    person.run("Match PC")
    person.click("A1", ".leads button")
    person.choose("#lead-failed", "18 Gb/s (600 MHz)")
    person.see("as it failed here", "aside .verdict")
    person.choose("#lead-proved", "18 Gb/s (600 MHz)")
    person.see("keep one of the two", "body")
    person.choose("#lead-failed", "nothing failed")
    person.see("fits", "aside .verdict")
    person.choose("#lead-build", "optical")
    person.click("wrong way round", ".panel .tick")
    person.see("Nothing passes lead A1", "aside .verdict")
    person.see("Turn lead A1 round", "aside .fix")
    person.press("u")
    person.see("fits", "aside .verdict")


def test_a_run_is_held_beside_another_setting(person: Person) -> None:
    person.sheet("signal")
    person.run("Den console")
    person.choose("#beside", "Den receiver · Game: Input format widest")
    person.see("Den console, as planned", ".beside thead")
    person.see("blocked", ".beside tbody tr:first-child")
    person.see("fits", ".beside tbody tr:first-child")
    person.see("2160p120 RGB, 4:4:4 10-bit", ".beside .cells")
    person.see("alike", ".beside summary")


def test_a_link_is_set_aside_and_its_address_keeps_both(person: Person) -> None:
    person.go("/link?inp=frl:4x12")
    person.see("Fits", "main .verdict")
    person.click("Set this link aside", "header button")
    person.choose("#inp", "32 Gb/s (4 × 8)")
    person.see("receiving end", ".held tbody")
    person.see("48 Gb/s (4 × 12)", ".held tbody")
    person.driver.refresh()
    person.see("32 Gb/s (4 × 8)", ".held tbody")
    person.click("Let it go", ".held button")
    person.gone("Beside the link set aside", "main")


def test_sums_show_their_working_and_stay_so(person: Person) -> None:
    person.go("/link")
    person.click("Show the working", "aside button")
    person.see("4400 ÷ (1188 MHz × 1.005)", "aside .sum")
    person.driver.refresh()
    person.see("= 4400 × 2250 × 120 Hz", "aside .sum")


def test_sound_without_room_and_a_slow_clock_are_said(person: Person) -> None:
    person.go("/link?timing=vic:3&bits=8&audio=8ch&inp=tmds:340")
    person.see("8 channels at 48 kHz would pass", "main .verdict")
    person.type("#timing", "modeline:13.5 720 739 801 858 240 244 247 262" + Keys.ENTER)
    person.see("each pixel sent 2 times", "main .verdict")


def test_what_is_assumed_of_compression_is_chosen_and_said(person: Person) -> None:
    person.go("/link?timing=cvt:3840x2160@240:rb2&inp=frl:4x12")
    person.see("Does not fit: it would use", "main .verdict")
    person.choose("#dsc", "8 slices, 340 MHz each")
    person.see("Fits compressed to 12 bits a pixel", "main .verdict")
    person.see("Compression, as assumed: 8 slices a line at most", "aside")
    person.choose("#dsc", "4 slices, 340 MHz each")
    person.see("too few for this clock", "main .verdict")
    person.go("/link?m=12&build=passive")
    person.see("Unlikely: 12 m of passive copper", "main .verdict")
    person.see("unlikely", "main table")
    person.choose("#build", "optical")
    person.see("Fits", "main .verdict")


def test_a_screen_is_read_at_a_connector_and_joins_the_job(person: Person) -> None:
    person.sheet("gear")
    person.click("Add a box")
    person.click("A screen, from its EDID", "[role=dialog] button")
    person.click("X32", "[role=dialog] .source button")
    person.see("WVX X32: 1 in, 0 out. Nothing in it contradicts itself.", "[role=dialog]")
    person.click("Add", "[role=dialog] .pane button.go")
    person.see("WVX X32", "main")


def test_an_edid_read_at_the_wrong_input_names_the_right_one(person: Person) -> None:
    person.sheet("gear")
    person.box("Den screen")
    person.find("article[aria-label='Den screen'] button", "Read an EDID").click()
    person.click("65-S", "[role=dialog] .source button")
    person.see("Its address is that of HDMI 3", "[role=dialog]")
    person.click("Read it there", "[role=dialog] button")
    person.see("TMDS ceiling", "[role=dialog] tbody")


def test_the_page_says_how_long_its_answer_took(person: Person) -> None:
    person.sheet("signal")
    person.run("Match PC")
    person.choose("[id^=bits-]", "10-bit")
    person.see("answered in", "footer")
    measures = person.driver.execute_script("return performance.getEntriesByName('repaint').map(e => e.duration)")
    assert measures
    assert 0 < measures[-1] < 60_000
