"""The settings sheet at the screen: what to set, house style, titles, refresh, coverage, and why it lags."""

from __future__ import annotations

from typing import Any

from tests.core.test_settings_plan import s17
from tests.rigs import s04, s07, s09, s10, s14, s16, s20, setting
from tests.ui.conftest import Person
from wavilex.core.rig.changes import apply


def part(person: Person, name: str) -> None:
    person.click(name, "main nav button")


def test_what_does_47_look_like(person: Person) -> None:
    person.sheet("settings")
    person.run("Den console")
    part(person, "Refresh")
    person.type("#what-rate", "47")
    person.see("each frame shown 2 times, evenly. Shown at 94 Hz", "figure")
    person.type("#what-rate", "60")
    person.see("in the window: each frame once, evenly. Shown at 60 Hz; a frame stays 16.7 ms", "figure")
    person.see("Lantern Keep", "main .titles")
    person.see("HDMI VRR", "main .stages")
    person.see("taken", "main .odd")
    person.click("as if the source repeated no frames", "main label")
    person.type("#what-rate", "35")
    person.see("frames shown 3 or 4 times, unevenly", "figure")
    person.run("Museum stick")
    person.see("No window", "main")


def test_the_plan_is_taken_over_and_undone(person: Person) -> None:
    person.sheet("settings")
    person.see("Input format: wide → widest", "main section[aria-label='Den receiver'] li")
    person.see("Goes back to on by itself", "main section[aria-label='Den screen'] li")
    person.see("copy to a sister unit: yes", "main li")
    person.click("Plan all of these", "main button")
    person.see("The plan has every setting as it should be.", "main")
    person.sheet("runsheet")
    person.see("Den receiver, Game: Input format → widest", "main li")
    person.see("Den screen: look at Room light adaption again", "main li")
    person.press("u")
    person.gone("Den receiver, Game: Input format → widest", "main li")


def test_a_house_style_is_chosen_for_the_job_and_for_a_title(person: Person) -> None:
    person.sheet("settings")
    person.run("Den console")
    part(person, "House style")
    person.choose("#style-look", "vivid")
    part(person, "What to set")
    person.see("Colour temperature: cool → middle", "main li")
    part(person, "House style")
    person.choose("#style-of", "Tide Racer, title")
    person.choose("#style-look", "accurate: warm, about D65")
    part(person, "Title by title")
    person.see("flips between titles", "main tr.flips")
    person.press("u")
    person.press("u")


def test_s04_adaptive_sync_first_in_the_monitor(person: Person, bring: Any) -> None:
    off, _ = apply(s04(), [setting("monitor", "", "adaptive_sync", "off")])
    job = bring(off, "S04 corner")
    person.sheet("settings", job)
    person.see("4K output: allowed → not allowed", "main li")
    person.click("Plan all of these", "main button")
    person.sheet("runsheet", job)
    person.see("MONITOR: Adaptive sync → on", "main section[aria-label='Open the ports'] li")
    person.see("CONSOLE: 4K output → not allowed", "main section[aria-label='Set the sources'] li")


def test_s06_what_greys_game_mode_out_goes_off_with_it(person: Person, bring: Any) -> None:
    sports, _ = apply(
        s20(), [{"op": "select_input", "device": "tv", "value": "hdmi1"}, setting("tv", "", "special", "sports")]
    )
    job = bring(sports, "S06 parlour")
    person.sheet("settings", job)
    person.see("Special mode: sports → none", "main section[aria-label='TV'] li")
    person.see("As it is it stands in the way of Game mode", "main li")
    person.see("Game mode", "main section[aria-label='TV'] li")


def test_s07_coverage_and_black_frames(person: Person, bring: Any) -> None:
    job = bring(s07(through=True), "S07 lounge")
    person.sheet("settings", job)
    part(person, "Coverage")
    person.see("k1 and one share one set of settings", "main article")
    person.see("not visited", "main td")
    part(person, "House style")
    person.choose("#style-motion", "black frames, though they darken and flicker")
    part(person, "What to set")
    person.see("360 cd/m²", "main .way")
    person.see("darker: 45 % of its light is left", "main .way")


def test_s09_the_step_by_hand_and_the_choice_of_format(person: Person, bring: Any) -> None:
    job = bring(s09("ostavar-one", hdr="dynamic"), "S09 attic")
    person.sheet("settings", job)
    person.see("Game mode: automatic → on", "main li")
    person.see("a step by hand", "main li")
    person.see("120 Hz instead of 60: a frame every 8.3 ms, not 16.7", "main .way.on")
    person.see("dynamic metadata instead of static metadata", "main .way:not(.on)")
    part(person, "House style")
    person.choose("#style-rate_or_detail", "4K60, quality mode")
    part(person, "What to set")
    person.see("wide with dynamic HDR at 2160p60", "main .way.on")
    person.see("picked by house style", "main .way.on")


def test_s10_firmware_then_the_format(person: Person, bring: Any) -> None:
    updated, _ = apply(s10(), [{"op": "set_device", "device": "tv", "firmware_plan": "3.4"}])
    job = bring(updated, "S10 hall")
    person.sheet("settings", job)
    person.see("Input format: wide → widest", "main li")
    person.click("Plan all of these", "main button")
    person.sheet("runsheet", job)
    person.see("Update TV from 2.9 to 3.4", "main section[aria-label^=Firmware] li")
    person.see("TV, HDMI 3: Input format → widest", "main section[aria-label='Open the ports'] li")


def test_s14_what_a_copy_to_every_input_does(person: Person, bring: Any) -> None:
    job = bring(s14(), "S14 salon")
    person.sheet("settings", job)
    person.click("Plan all of these", "main button")
    person.see("The plan has every setting as it should be.", "main")
    part(person, "Coverage")
    person.see("Input format, Game mode: kept by the socket", "main .copy")
    person.see("HDMI 3: Game mode off, not automatic", "main .copy")


def test_s16_the_school_that_leaves_hdr_off(person: Person, bring: Any) -> None:
    job = bring(s16(), "S16 bedroom")
    person.sheet("settings", job)
    person.see("350 cd/m² at most", "main .way.on")
    part(person, "House style")
    person.choose("#style-weak_hdr", "off, for a cleaner standard-range picture")
    part(person, "What to set")
    person.see("HDR left off by house style: k1, one.", "main")
    person.see("HDR: automatic → off", "main li")
    person.click("Plan all of these", "main button")
    person.see("The plan has every setting as it should be.", "main")
    person.sheet("signal", job)
    person.see("the home screen runs at 60 Hz, titles at 120", ".notes")


def test_s17_settings_flip_between_titles(person: Person, bring: Any) -> None:
    job = bring(s17(), "S17 lounge")
    person.sheet("settings", job)
    part(person, "House style")
    person.choose("#style-motion", "interpolate, though it costs lag")
    part(person, "Title by title")
    person.see("25 ms", "section[aria-label=Titles]")
    person.see("given up: Interpolation in games counts more here", "section[aria-label=Titles]")
    person.click("Plan these for Lantern Keep", "section[aria-label=Titles] button")
    person.see("found not seen, plan on", "tr.flips")
    person.sheet("runsheet", job)
    person.see("TV: Interpolation in games → on", "main li")
    person.see("TV, HDMI 1: Game mode → on", "main li")
