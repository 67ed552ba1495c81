"""Settings of source and screen solved as one: variable refresh switched at the console, smoothing at the screen.

That variable refresh nearly always excludes interpolation and black frames: common practice.
"""

from __future__ import annotations

import itertools
from typing import Any

import pytest

from tests.rigs import device, lead, rig, run, setting
from wavilex.core.advise.settings_plan import settings_plan_data
from wavilex.core.advise.solve import places
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.gear.profile import profile_data
from wavilex.core.modes.titles import title_plans
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig
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
