"""S02, S03, S05 as a technician does them, by clicking, from an empty job to the answer."""

from __future__ import annotations

from tests.ui.conftest import Keys, Person
from wavilex.core.edid.build import build
from wavilex.core.gear.edid_of_input import factory_settings, spec_of_input
from wavilex.library import starter_profiles


def new_job(person: Person, title: str) -> str:
    person.go("/")
    person.type("#title", title)
    person.click("New job")
    person.see(title, ".job")
    return person.driver.current_url.split("/")[4]


def add_boxes(person: Person, job: str, *names: str) -> None:
    person.sheet("gear", job)
    person.click("Add a box")
    person.click("From the shelf", "[role=dialog] button")
    for name in names:
        person.find("[role=dialog] li", name).find_element("css selector", "button").click()
        person.see(f"{name} is in the job.", "[role=dialog]")
        person.find("[role=dialog] li button:not(:disabled)")  # one press, one box: the next waits a moment
    person.press(Keys.ESCAPE)
    person.wait(lambda d: not d.find_elements("css selector", "[role=dialog]"))


def plug(person: Person, box: str, output: str, target: str) -> None:
    """Pick an output, choose from the ranked list."""
    person.click(output, f"article[aria-label='{box}'] .sock")
    person.see(f"{box}, {output}, to")
    person.find(".pick .option")  # the list is there, and with it the way to all of it
    more = person.driver.find_elements("css selector", ".pick .row button")
    for button in more:
        if button.text.startswith("All "):
            button.click()
    person.click(target, ".pick .option")
    person.wait(lambda d: not d.find_elements("css selector", ".pick"))


def test_s02_format_and_what_fits_how(person: Person) -> None:
    job = new_job(person, "S02 lounge")
    add_boxes(person, job, "Kelpine K1", "Yarrowby 50-W")
    person.sheet("wiring", job)
    plug(person, "Kelpine K1", "HDMI out", "Yarrowby 50-W · HDMI 1")
    person.sheet("signal", job)
    person.choose("select[id^=mode-]", "2160p60")
    person.choose("select[id^=hdr-]", "HDR")
    # the basic format: why 4K60 HDR is missing
    person.see("No HDR at Yarrowby 50-W, HDMI 1 as set (Input format at basic)", "aside")
    person.see("Yarrowby 50-W, HDMI 1: Input format → wide", "aside .fix")
    # try shows the effect without changing anything, apply edits the plan
    person.click("Try", "aside .fix button")
    person.see("Nothing is changed yet", "main")
    person.see("fits", "footer")
    person.click("End trying", "main button")
    person.see("blocked", "footer")
    person.click("Apply", "aside .fix button")
    person.see("2160p60 4:2:2 12-bit fits", "aside")
    person.see("Also fits the want: 2160p60 4:2:0 10-bit", "aside")
    # enough for 4K120 and variable refresh? item by item
    person.choose("select[id^=mode-]", "2160p120")
    person.click("variable refresh", ".want .tick")
    person.click("low latency", ".want .tick")
    for item in ("Links carry it no", "Screen shows it no", "Variable refresh no", "Automatic low latency no"):
        person.see(item, ".items li")
    person.see("takes no 120 Hz at any resolution", "aside")
    person.see("Another television needs at least 2160p120", "aside")


def test_s03_swap_as_the_cheapest_fix_then_undo(person: Person) -> None:
    person.sheet("wiring")
    person.run("Museum console")
    person.see("No HDR at Museum screen, HDMI 2", "aside")
    person.see("Swap leads C1 and C2 at Museum screen and select HDMI 1", "aside .fix.best")
    person.see("re-check both", "aside .fix.best")
    person.press("t")
    person.see("Trying", "main .bar")
    person.press("a")
    person.see("1080p60 RGB 10-bit fits", "aside")
    person.find(".runs .run.on .state.fits")
    person.press("u")
    person.see("No HDR at Museum screen, HDMI 2", "aside")


def test_s05_arithmetic_two_bests_and_change_of_format(person: Person) -> None:
    job = new_job(person, "S05 studio")
    add_boxes(person, job, "Tindrel R7", "Ostavar AV-940", "Yarrowby 65-S")
    person.sheet("wiring", job)
    plug(person, "Ostavar AV-940", "To screen", "Yarrowby 65-S · HDMI 3")
    plug(person, "Tindrel R7", "HDMI out", "Ostavar AV-940 · Game")
    person.sheet("signal", job)
    person.choose("select[id^=mode-]", "2160p120")
    person.choose("select[id^=hdr-]", "HDR")
    person.choose("select[id^=chroma-]", "4:4:4 or RGB")
    person.choose("select[id^=bits-]", "10-bit")
    # on the 18 Gb/s format: the two bests, and the format as the fix
    person.see("takes 18 Gb/s (600 MHz) at most as set (Input format at wide)", "aside")
    person.see("1440p120 RGB 8-bit", ".best")
    person.see("83.0 % used", ".best")
    person.see("2160p60 4:2:2 12-bit", ".best")
    person.see("99.0 % used", ".best")
    person.see("cvt:2560x1440@120:rb1", ".best")
    person.see("re-plug both ends to re-sync", "aside .fix")
    person.click("Apply", "aside .fix.best button")
    # on 40 Gb/s: 10-bit fits with its sums, 12-bit does not
    person.see("2160p120 RGB 10-bit fits", "aside")
    person.see("91.9 %", "aside .sum")
    person.see("7200", "aside .sum")
    person.find("td button[aria-label^='2160p120 RGB, 4:4:4 10-bit: fits']")  # the table of the new format
    cell = "td button[aria-label^='2160p120 RGB, 4:4:4 %s']"
    person.click_for(cell % "12-bit: blocked", "Does not fit: it would use 109.7 % of 4 lanes × 10 Gb/s", "aside")
    person.click_for(cell % "10-bit: fits", "would wrongly refuse it", "aside")
    person.sheet("handover", job)
    person.see("2160p120 RGB 10-bit", ".page")
    person.see("widest", ".page")


def test_s12_240_hz_only_compressed_on_a_link_without_a_job(person: Person) -> None:
    person.go("/")
    person.click("A link without a job")
    person.see("2160p120 RGB 10-bit", "main h1")
    person.choose("#inp", "48 Gb/s (4 × 12)")
    person.type("#timing", "cvt:3840x2160@240:rb2" + Keys.ENTER)
    person.see("Does not fit: it would use 162.0 %", "main")
    person.choose("#dsc", "8 slices, 340 MHz each")
    person.see("Fits compressed to 12 bits a pixel", "main")
    person.see("18.00 bit/px", ".sum")
    # the address holds the question
    address = person.driver.current_url
    person.go("/")
    person.driver.get(address)
    person.see("Fits compressed to 12 bits a pixel", "main")
    # the console at 120 Hz is carried plain, compression or not
    person.find("td button[aria-label^='2160p120 RGB, 4:4:4 10-bit: fits']")


def test_s19_what_proves_the_rate_and_only_without_compression(person: Person) -> None:
    person.go("/link")
    person.see("proves 4 × 12 Gb/s", "aside")
    person.choose("select[aria-label='Outcome of 2160p120 4:4:4 10-bit']", "stuck")
    person.choose("select[aria-label='Outcome of 2160p120 4:4:4 12-bit']", "fell back")
    person.see("Undetermined: a picture may have come compressed", "aside")
    person.click("compression is off at both ends", ".proof .tick")
    person.see("at least 4 × 10 Gb/s and it, or the source, stops under 4 × 12 Gb/s", "aside")


def test_arrow_keys_walk_the_table_and_enter_makes_the_want(person: Person) -> None:
    person.sheet("signal")
    person.run("Match PC")
    person.find("td button[aria-label^='1440p144 RGB, 4:4:4 8-bit']").click()
    person.see("Fits with", "aside .verdict")
    person.press(Keys.ARROW_DOWN)
    person.press(Keys.ENTER)
    person.see("1440p120 RGB 8-bit", "aside h2")
    person.press(Keys.ENTER)
    person.wait(lambda d: d.find_element("css selector", "#mode-match").get_property("value") == "2560x1440@120")
    person.press("u")
    person.wait(lambda d: d.find_element("css selector", "#mode-match").get_property("value") == "2560x1440@144")


def test_an_edid_read_at_an_input_corrects_what_is_known_of_it(person: Person) -> None:
    screen = starter_profiles()["yarrowby-50w"]
    data = build(spec_of_input(screen, "hdmi1", factory_settings(screen, {"format": "wide"})))
    person.sheet("gear")
    person.run("Museum console")
    person.see("No HDR at Museum screen, HDMI 2", "aside")
    person.box("Museum screen")
    person.find("article[aria-label='Museum screen'] button", "Read an EDID").click()
    person.choose("[id^=edid-port-]", "HDMI 2")
    person.type("textarea[aria-label='EDID as hex digits']", "00 11 22")
    person.click("Read", "[role=dialog] button")
    person.see("no EDID header", "[role=dialog]")
    person.type("textarea[aria-label='EDID as hex digits']", data.hex())
    person.click("Read", "[role=dialog] button")
    person.see("TMDS ceiling, MHz", "[role=dialog] td")
    person.see("2160p60", "[role=dialog] td")  # modes by their names
    person.see("preferred timing", "[role=dialog] .report")
    person.see("RGB levels", "[role=dialog] .report")
    person.see("It cannot tell", "[role=dialog]")
    person.click("Take it over", "[role=dialog] button")
    person.see("1080p60 RGB 10-bit fits", "aside")
    person.press("u")
    person.see("No HDR at Museum screen, HDMI 2", "aside")
