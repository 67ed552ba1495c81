"""Settings of source and screen solved as one: variable refresh switched at the console, smoothing at the screen.

That variable refresh nearly always excludes interpolation and black frames: common practice.
"""

from __future__ import annotations

import itertools
from dataclasses import replace
from typing import Any

import pytest

import tests.rigs as made
from tests.arrivals import s17_arrival
from tests.rigs import device, lead, rig, run, setting
from wavilex.core.advise.settings_plan import settings_plan_data
from wavilex.core.advise.situation import boxes_of
from wavilex.core.advise.solve import places
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.gear.profile import profile_data
from wavilex.core.gear.stand import stand
from wavilex.core.modes.choices import choices_data
from wavilex.core.modes.titles import title_plans
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig
from wavilex.core.video.mode import parse_mode
from wavilex.library import starter_profiles

SWITCH = {"id": "vrr", "effect": "variable_refresh", "label": "Variable refresh", "default": "off",
          "options": [{"id": "off", "label": "off"}, {"id": "on", "label": "on"}], "where": "video page"}  # fmt: skip


def switched_at_the_console(screen_rules: bool = False) -> Rig:
    """A console with the switch; a screen that interpolates, without a switch and without a rule of its own."""
    console = profile_data(starter_profiles()["kelpine-k1"])
    console["settings"] = [*console["settings"], SWITCH]
    off = {"id": "vrr-off", "kind": "limits", "when": {"setting": "vrr", "is": "off"}, "limits": {"vrr": False},
           "because": "it sends a fixed rate while the switch is off"}  # fmt: skip
    console["quirks"] = [*console["quirks"], off]
    screen: dict[str, Any] = profile_data(starter_profiles()["yarrowby-50i"])
    screen["settings"] = [s for s in screen["settings"] if s["id"] != "vrr"]
    screen["quirks"] = [q for q in screen["quirks"] if "vrr" not in q["id"]]
    if screen_rules:
        rule = {"id": "rule", "kind": "excludes", "setting": "interpolation", "options": ["on"],
                "when": {"signal": {"vrr": True}}, "because": "it says so"}  # fmt: skip
        screen["quirks"] = [*screen["quirks"], rule]
    slow = {"op": "add_title", "title": {"uid": "t1", "name": "Lantern Keep", "render_rates": [30]}}
    fast = {"op": "add_title", "title": {"uid": "t2", "name": "Tide Racer", "render_rates": [120], "competitive": True}}
    return rig(
        device("console", "kelpine-k1"), {"op": "set_profile", "device": "console", "profile": console},
        device("tv", "yarrowby-50i"), {"op": "set_profile", "device": "tv", "profile": screen},
        lead("A1", "console/hdmi", "tv/hdmi1"), setting("tv", "hdmi1", "game", "on"),
        run("main", "console", "tv", mode="3840x2160@60", vrr=True), slow, fast,
        {"op": "set_style", "level": "job", "key": "motion", "value": "interpolate"},
    )  # fmt: skip


def cells(r: Rig, title: int) -> dict[str, dict[str, Any]]:
    plans = title_plans(Layer(r), run_result(Layer(r), r.runs["main"]))
    assert plans is not None
    return plans["titles"][title]["cells"]  # type: ignore[return-value]


@pytest.mark.parametrize("screen_rules", [False, True])
def test_smoothing_and_variable_refresh_are_never_both_ordered(screen_rules: bool) -> None:
    r = switched_at_the_console(screen_rules)
    slow, fast = cells(r, 0), cells(r, 1)
    assert (slow["tv/interpolation"]["option"], slow["console/vrr"]["option"]) == ("on", "off")
    assert "given up" in slow["console/vrr"]["why"]
    assert (fast["tv/interpolation"]["option"], fast["console/vrr"]["option"]) == ("off", "on")


def test_a_switch_at_the_screen_stays_where_the_sources_own_does_it() -> None:
    """Both ends have one and the screen knows no rule between it and smoothing: one of the two is enough to be off."""
    r = switched_at_the_console()
    screen = profile_data(r.devices["tv"].profile)
    screen["settings"] = [*screen["settings"], SWITCH]
    r, _ = apply(r, [{"op": "set_profile", "device": "tv", "profile": screen}, setting("tv", "", "vrr", "on", "found")])
    slow, fast = cells(r, 0), cells(r, 1)
    assert (slow["tv/interpolation"]["option"], slow["console/vrr"]["option"], slow["tv/vrr"]["option"]) == (
        "on",
        "off",
        "on",
    )
    assert (fast["console/vrr"]["option"], fast["tv/vrr"]["option"]) == ("on", "on")


def test_a_competitive_title_gets_its_rate_at_the_source() -> None:
    assert cells(switched_at_the_console(), 1)["console/fast_refresh"]["option"] == "on"


def test_the_plan_of_a_run_orders_no_pair_that_excludes_each_other() -> None:
    """Whatever the two switches stand at on arrival."""
    for refresh, smooth in itertools.product(("off", "on"), repeat=2):
        r, _ = apply(switched_at_the_console(), [
            setting("console", "", "vrr", refresh, "found"), setting("tv", "", "interpolation", smooth, "found"),
        ])  # fmt: skip
        after, _ = apply(r, settings_plan_data(Layer(r))["ops"])
        tv, console = after.devices["tv"], after.devices["console"]
        smoothing = next(s for _, s in places(tv.profile, "hdmi1") if s.id == "interpolation")
        switch = console.profile.setting("vrr")
        assert switch is not None
        values = [after.setting_value("plan", "tv", "", smoothing), after.setting_value("plan", "console", "", switch)]
        assert values != ["on", "on"]
        assert settings_plan_data(Layer(after))["ops"] == [], "one press is enough"


def _two_speeds(school: str) -> Rig:
    """A title of two modes, 30 frames in full detail and 60 in less, on the screen that interpolates."""
    title = {"uid": "t", "name": "Lantern Keep", "modes": [{"fps": 30, "lines": 2160}, {"fps": 60, "lines": 1440}]}
    return rig(
        device("console", "kelpine-k1"), device("tv", "yarrowby-50i"), lead("A1", "console/hdmi", "tv/hdmi1"),
        setting("tv", "hdmi1", "game", "on"), run("main", "console", "tv", mode="3840x2160@60"),
        {"op": "add_title", "title": title},
        {"op": "set_style", "level": "job", "key": "motion", "value": "interpolate"},
        {"op": "set_style", "level": "job", "key": "rate_or_detail", "value": school},
    )  # fmt: skip


@pytest.mark.parametrize(("school", "fps", "smooth"), [("detail", 30, "on"), ("rate", 60, "off")])
def test_the_mode_a_title_is_played_in_decides_what_is_wished_between_its_frames(
    school: str, fps: int, smooth: str
) -> None:
    """Interpolation is for 30 frames a second (common practice): a title that is played at 60 does not ask for it."""
    r = _two_speeds(school)
    plans = title_plans(Layer(r), run_result(Layer(r), r.runs["main"]))
    assert plans is not None
    (column,) = plans["titles"]
    assert column["mode"] is not None
    assert column["mode"]["fps"] == fps
    assert column["cells"]["tv/interpolation"]["option"] == smooth


def _small_monitor(found: str) -> Rig:
    """S04: a console that prefers 2160p, a 1440p monitor that also lists 2160p60; two titles."""
    fast = {"uid": "fast", "name": "Tide Racer", "competitive": True, "modes": [{"fps": 120, "lines": 1440}]}
    fine = {"uid": "fine", "name": "Lantern Keep", "modes": [{"fps": 60, "lines": 2160}],
            "style": {"rate_or_detail": "detail"}}  # fmt: skip
    r, _ = apply(made.s04(mode="3840x2160@60"), [
        {"op": "add_title", "title": fast}, {"op": "add_title", "title": fine},
        setting("console", "", "uhd", found, "found"), setting("console", "", "fast_refresh", "off", "found"),
    ])  # fmt: skip
    return r


@pytest.mark.parametrize("found", ["off", "on"])
def test_the_size_a_source_sends_is_part_of_a_titles_solution(found: str) -> None:
    """Held against really setting it: with a title's values the console sends by itself what the title is to have."""
    r = _small_monitor(found)
    for title, size in ((0, "2560x1440@120"), (1, "3840x2160@60")):
        own = cells(r, title)
        ops = [setting("console", "", k.split("/")[1], c["option"]) for k, c in own.items() if k.startswith("console/")]
        after, _ = apply(r, ops)
        asked = replace(after.runs["main"].want, mode=parse_mode(size), vrr=False)
        then = run_result(Layer(after), replace(after.runs["main"], want=asked))
        assert then.chosen is not None
        assert str(then.chosen.timing.mode) == size, (title, own)
    assert cells(r, 0)["console/uhd"]["option"] == "off"


def test_a_choice_says_what_it_costs_another_run_in_lag_and_light() -> None:
    """Figures of the profile: black frames add 8 ms and leave 45 % of the light."""
    r = made.s07(through=True)
    layer = Layer(r)
    data = choices_data(layer, run_result(layer, r.runs["one"]))
    dark = next(w for c in data for w in c["ways"] if "Black-frame insertion on" in w["label"])
    bright = next(w for c in data for w in c["ways"] if "Variable refresh on" in w["label"])
    assert bright["figures"]["refresh"].startswith("fixed"), "the receiver passes no variable refresh"
    assert bright["gains"] == []
    assert any("8.0 ms more lag, 45 % of its light instead of 100 %" in e["words"] for e in dark["elsewhere"])
    after = Layer(apply(r, dark["ops"])[0])
    boxes = boxes_of(after, run_result(after, after.rig.runs["one"]))
    assert stand(boxes[0].device.profile, boxes[0].chosen, boxes[0].around)["", "black_frames"].value == "on"


def test_a_choice_tells_titles_of_another_school() -> None:
    r = s17_arrival()
    as_found = choices_data(Layer(r), run_result(Layer(r), r.runs["main"]))
    plans = title_plans(Layer(r), run_result(Layer(r), r.runs["main"]))
    assert plans is not None
    told_modes = [c["mode"]["shown"] for c in plans["titles"] if c["mode"]]
    assert told_modes[1].startswith("in the window"), "variable refresh is off as found and on for this title"
    assert told_modes[0].startswith("fixed rate")
    assert [w["figures"]["refresh"] for w in as_found[0]["ways"]] == ["48 to 120 Hz", "fixed 120 Hz"], (
        "of the way, not of now"
    )
    r, _ = apply(r, settings_plan_data(Layer(r))["ops"])
    data = choices_data(Layer(r), run_result(Layer(r), r.runs["main"]))
    told = [
        e["words"] for c in data for w in c["ways"] if "Interpolation in games on" in w["label"] for e in w["elsewhere"]
    ]
    assert any(
        t.startswith("Tide Racer would have Interpolation in games at off") and "25.0 ms more lag" in t for t in told
    )
