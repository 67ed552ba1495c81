"""Films by day and by night: two presets, each with numbers of its own, where the house style asks for two."""

from __future__ import annotations

import pytest

from tests.rigs import device, lead, rig, run
from wavilex.core.advise.settings_plan import settings_plan, settings_plan_data
from wavilex.core.chain.paths import Layer
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig
from wavilex.core.runsheet.plan import plan_steps


def cinema(*more: dict[str, object]) -> Rig:
    return rig(device("stick", "tindrel-stick"), device("tv", "yarrowby-77e"), lead("L", "stick/hdmi", "tv/hdmi1"),
               run("films", "stick", "tv", mode="3840x2160@60"), *more)  # fmt: skip


TWO = {"op": "set_style", "level": "job", "uid": "", "key": "daylight", "value": "two"}


def numbers(r: Rig) -> dict[str, set[str]]:
    """By preset, the values planned of settings kept by it."""
    found: dict[str, set[str]] = {}
    for (uid, scope, key), value in settings_plan(Layer(r)).after.settings.items():
        if uid == "tv" and "mode=" in scope and value.plan is not None:
            preset = scope.split("mode=")[1].split(";")[0]
            found.setdefault(preset, set()).add(key)
    return found


def test_one_preset_serves_unless_two_are_asked_for() -> None:
    assert set(numbers(cinema())) == {"film_dark"}
    r = cinema(TWO)
    by_preset = numbers(r)
    assert set(by_preset) == {"film_dark", "film_bright"}
    assert by_preset["film_dark"] == by_preset["film_bright"]


def test_the_day_is_brighter_and_both_are_said() -> None:
    r = cinema(TWO)
    plan = settings_plan(Layer(r))
    tv = r.devices["tv"].profile
    light = next(s for s in tv.settings if s.effect == "panel_light")
    values = {scope: int(v.plan or 0) for (_, scope, key), v in plan.after.settings.items() if key == light.id}
    day = max(v for scope, v in values.items() if "film_bright" in scope)
    dark = [v for scope, v in values.items() if "film_dark" in scope and "range=hdr" not in scope]
    assert dark
    assert max(dark) < day
    box = next(b for b in settings_plan_data(Layer(r))["boxes"] if b["device"] == "tv")
    preset = next(x for x in box["rows"] if tv.preset is not None and x["key"] == tv.preset.id)
    assert preset["signals"] == ["in the dark: film dark", "by day: film bright"]
    planned = apply(r, list(plan.ops))[0]
    shown = [s for s in plan_steps(planned) if "by day" in s.title]
    assert [s.phase for s in shown] == ["hand"]
    assert any("film bright" in s.title and s.phase == "range" for s in plan_steps(planned))


@pytest.mark.parametrize("source", ["kelpine-k1"])
def test_games_have_one_preset_by_day_and_by_night(source: str) -> None:
    r = rig(device("k", source), device("tv", "yarrowby-77e"), lead("L", "k/hdmi", "tv/hdmi1"),
            run("game", "k", "tv", mode="3840x2160@60", low_lag=True), TWO)  # fmt: skip
    assert set(numbers(r)) == {"game"}
