"""The acceptance scenarios by browser, from their state on arrival: the first way pressed, and where it ends."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest

from tests.arrivals import (
    at_found,
    s02_arrival,
    s04_arrival,
    s05_arrival,
    s06_arrival,
    s08_arrival,
    s08_bypassed,
    s09_arrival,
    s10_arrival,
    s14_arrival,
    s16_arrival,
    s17_arrival,
)
from tests.rigs import setting
from tests.ui.conftest import Person
from wavilex.core.rig.model import Rig


def s08_found_old() -> Rig:
    return at_found(s08_arrival(), setting("tv", "hdmi1", "generation", "old", "found"))


@pytest.mark.parametrize(
    ("title", "found", "way", "end"),
    [
        ("S04 study", s04_arrival, "Adaptive sync → on", "1440p120"),
        ("S05 studio", s05_arrival, "Input format → widest", "2160p120"),
        ("S08 parlour", s08_found_old, "HDMI generation → the newer", "2160p60"),
        ("S10 lounge", s10_arrival, "Update TV to firmware 3.1", "2160p120"),
    ],
)
def test_the_first_way_leads_to_the_end(
    person: Person, bring: Any, title: str, found: Callable[[], Rig], way: str, end: str
) -> None:
    job = bring(found(), title)
    person.sheet("signal", job)
    person.see(way, "aside .fix.best b")
    person.see("Cheapest, proved, and nothing is lost by it", "aside")
    person.press("a")
    person.see("fits", "aside .verdict")
    person.see(end, "aside .verdict")
    person.see("had now", "aside .parts")


def test_s02_part_by_part_and_settled_for_what_can_be_had(person: Person, bring: Any) -> None:
    job = bring(s02_arrival(), "S02 den")
    person.sheet("signal", job)
    for part in ("120 Hz", "variable refresh", "automatic low latency"):
        person.see(part, "aside .parts li.never")
    person.see("2160p60, HDR", "aside .fix b")
    person.click("Settle for it", "aside .fix button")
    person.gone("Settle for it", "aside")
    person.see("2160p60", "aside .verdict")
    person.see("had now", "aside .parts li.had:nth-child(3)")  # size, rate and HDR; the rest is no longer wanted
    person.see("automatic low latency", "aside .parts li.never:nth-child(4)")  # but this still is, and is not to be had
    person.press("u")
    person.see("variable refresh", "aside .parts li.never")


def test_s06_one_press_plans_the_cure_and_all_else(person: Person, bring: Any) -> None:
    job = bring(s06_arrival(), "S06 parlour")
    person.sheet("settings", job)
    person.see("Special mode: sports → none", "main li")
    person.click("Plan all of these", "main button")
    person.gone("Plan all of these", "main")
    person.sheet("runsheet", job)
    person.see("Special mode", "main")
    person.see("call it up: select TV · HDMI 1", "main")


def test_s08_the_receiver_gets_its_socket_back(person: Person, bring: Any) -> None:
    job = bring(s08_bypassed(), "S08 after a bypass")
    person.sheet("signal", job)
    person.see("OLD could as lossy with object sound", "aside .parts")
    person.click("Apply", "aside .parts li:last-child button")
    person.see("fits", "aside .verdict")
    person.see("OLD plays it as lossy with object sound", "aside .parts")
    person.press("u")
    person.see("TV plays it as 2-channel PCM", "aside .parts")


def test_s09_both_compromises_are_offered(person: Person, bring: Any) -> None:
    job = bring(s09_arrival(), "S09 den")
    person.sheet("signal", job)
    person.see("Each part is to be had by itself; no way to all of them together is known here.", "aside .needs")
    person.see("2160p120, HDR", "aside .fix b")
    person.see("2160p60, dynamic HDR", "aside .fix b")


def test_s14_places_and_settings_together(person: Person, bring: Any) -> None:
    job = bring(s14_arrival(), "S14 lounge")
    person.sheet("wiring", job)
    person.press("m")
    person.see("All 4 runs get what they want after moving", "[role=dialog]")
    person.see("Proved: no change of this job gives more", "[role=dialog]")
    person.click("Apply", "[role=dialog] button")
    person.wait(lambda d: len(d.find_elements("css selector", ".runs .state.fits")) == 4)


def test_s16_the_rate_by_one_setting_and_why_not_the_rest(person: Person, bring: Any) -> None:
    job = bring(s16_arrival(), "S16 office")
    person.sheet("signal", job)
    person.see("variable refresh", "aside .parts li.never")
    person.see("2160p120, HDR", "aside .fix b")
    person.see("120 Hz output → allowed", "aside .fix")


def test_s17_the_list_flips_between_titles(person: Person, bring: Any) -> None:
    job = bring(s17_arrival(), "S17 den")
    person.sheet("settings", job)
    person.click("Title by title", "main a, main button")
    person.see("Lantern Keep", "main")
    person.see("Tide Racer", "main")
