"""Settings solved for titles: against brute force, S17, and what excludes what."""

from __future__ import annotations

import itertools
import random
from typing import Any

import pytest

from tests.rigs import device, lead, rig, run, setting
from wavilex.core.advise.solve import _NEAR, solve
from wavilex.core.advise.wishes import DEFAULTS, Where, Wish, wishes_of
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.gear.conditions import Surroundings
from wavilex.core.gear.profile import Profile, profile_from_data
from wavilex.core.gear.setting import EFFECT_OPTIONS as OPTIONS
from wavilex.core.gear.stand import stand
from wavilex.core.modes.titles import title_plans
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig, Title, TitleMode
from wavilex.core.rig.style import QUESTIONS

EFFECTS = ("game_mode", "variable_refresh", "interpolation", "black_frames", "input_speed", "fast_input")
MOTION = tuple(QUESTIONS["motion"].schools)
TITLES = (
    Title("a", "A", (TitleMode(120),), True), Title("b", "B", (TitleMode(30),)), Title("c", "C", (TitleMode(60),)),
    None,
)  # fmt: skip


def random_screen(seed: int) -> Profile:
    """A screen with up to five effects that grey each other out, exclude, force or disarm each other at random."""
    rnd = random.Random(seed)
    effects = rnd.sample(EFFECTS, rnd.randint(2, 5))
    settings = [
        {"id": e, "effect": e, "label": e, "options": [{"id": o, "label": o} for o in OPTIONS[e]],
         "default": rnd.choice(OPTIONS[e])} for e in effects
    ]  # fmt: skip
    quirks = []
    for n in range(rnd.randint(0, 6)):
        kind = rnd.choice(("requires", "excludes", "excludes", "forces", "inert"))
        target, asked = rnd.sample(effects, 2)
        quirk: dict[str, Any] = {
            "id": f"q{n}", "kind": kind, "setting": target, "because": "so",
            "when": {"setting": asked, "is": rnd.choice(OPTIONS[asked])},
        }  # fmt: skip
        if kind == "forces":
            quirk["to"] = rnd.choice(OPTIONS[target])
        elif rnd.random() < 0.7:
            quirk["options"] = [rnd.choice(OPTIONS[target])]
        quirks.append(quirk)
    return profile_from_data({
        "wavilex_profile": 1, "id": "r", "maker": "Kelpine", "model": "R", "role": "screen", "kind": "monitor",
        "ports": [{"id": "hdmi1", "label": "HDMI 1", "direction": "in"}], "settings": settings, "quirks": quirks,
    })  # fmt: skip


def brute(profile: Profile, wishes: list[Wish], now: dict[tuple[str, str], str | None]) -> int:
    """Every combination of every setting, each looked at by itself."""
    by_effect = {w.effect: w for w in wishes}
    own = [s for s in profile.settings if s.effect in by_effect]
    reached = {s.id for s in own}
    for _ in profile.settings:  # whatever a rule on something reached asks for is reached too
        reached |= {name for q in profile.setting_quirks if q.setting in reached for name in q.when.settings()}
    own += [s for s in profile.settings if s.id in reached and s.effect not in by_effect]
    best = -1
    for combination in itertools.product(*([o.id for o in s.options] for s in own)):
        values = {**now, **{("", s.id): v for s, v in zip(own, combination, strict=True)}}
        standing = stand(profile, lambda scope, key, v=values: v.get((scope, key)), Surroundings())  # type: ignore[misc]
        score = 0
        for s in own:
            really = standing["", s.id]
            if really.value is not None and really.inert is None and s.effect in by_effect:
                score += by_effect[s.effect or ""].worth.get(really.value, 0)
            score += _NEAR * (values["", s.id] == now["", s.id])
        best = max(best, score)
    return best


@pytest.mark.parametrize("seed", range(80))
def test_the_solution_is_the_best_over_all_combinations(seed: int) -> None:
    profile = random_screen(seed)
    now: dict[tuple[str, str], str | None] = {("", s.id): s.default for s in profile.settings}
    for title, school in itertools.product(TITLES, MOTION):
        wishes = wishes_of(Where(title), {**DEFAULTS, "motion": school})
        assert solve(profile, "hdmi1", wishes, now, Surroundings()).score == brute(profile, wishes, now)


def s17() -> Rig:
    """Three input speeds and an interpolating game mode; one 30 fps title, one competitive."""
    r = rig(
        device("console", "kelpine-k1"), device("tv", "yarrowby-50i"), lead("A1", "console/hdmi", "tv/hdmi1"),
        setting("console", "", "fast_refresh", "on"), run("main", "console", "tv", mode="3840x2160@120", low_lag=True),
    )  # fmt: skip
    titles = [
        {"op": "add_title", "title": {"uid": "l", "name": "Lantern Keep", "render_rates": [30]}},
        {"op": "add_title", "title": {"uid": "t", "name": "Tide Racer", "render_rates": [120], "competitive": True}},
    ]
    return apply(r, titles)[0]


def plans(r: Rig, motion: str) -> dict[str, Any]:
    """The plans of a rig's titles with one school of motion for the job; cells by setting."""
    r, _ = apply(r, [{"op": "set_style", "level": "job", "key": "motion", "value": motion}])
    layer = Layer(r)
    data = title_plans(layer, run_result(layer, r.runs["main"]))
    assert data is not None
    for column in data["titles"]:
        column["cells"] = {k.partition("/")[2]: c for k, c in column["cells"].items() if k.startswith("tv/")}
    return data


def test_s17_the_list_flips_between_titles_each_with_its_lag_cost() -> None:
    data = plans(s17(), "interpolate")
    slow, fast = ({k: c["option"] for k, c in t["cells"].items()} for t in data["titles"])
    assert slow == {"game": "on", "speed": "middle", "interpolation": "on", "vrr": "off"}
    assert fast == {"game": "on", "speed": "fast", "interpolation": "off", "vrr": "on"}
    assert {r["key"] for r in data["rows"] if r["flips"]} == {"speed", "interpolation", "vrr"}
    assert [t["adds_ms"] for t in data["titles"]] == [25, 0]


def test_s17_another_house_style_leaves_motion_alone() -> None:
    slow = plans(s17(), "leave")["titles"][0]["cells"]
    assert (slow["interpolation"]["option"], slow["vrr"]["option"]) == ("off", "on")


def test_what_is_planned_then_really_holds() -> None:
    """Applied, with its input shown, every setting stands as the plan says."""
    column = plans(s17(), "interpolate")["titles"][0]
    shown = {"op": "select_input", "device": "tv", "value": "hdmi1"}
    applied, _ = apply(s17(), [shown, *column["ops"]])
    standing = Layer(applied).standing(applied.devices["tv"])
    assert {k: standing[s, k].value for s, k in standing if k in column["cells"] and s in ("", "hdmi1")} == {
        k: c["option"] for k, c in column["cells"].items()
    }


def test_s07_black_frames_only_where_the_profile_allows() -> None:
    """At 120 Hz they are barred by the profile: the style that loves them goes without, and says why."""
    r = rig(
        device("console", "kelpine-k1"), device("tv", "yarrowby-77e"), lead("A1", "console/hdmi", "tv/hdmi1"),
        setting("console", "", "fast_refresh", "on"), run("main", "console", "tv", mode="3840x2160@120"),
    )  # fmt: skip
    fast = plans(r, "black_frames")["titles"][0]
    assert fast["cells"]["black_frames"]["option"] == "off"
    assert any("black frames are for 60 Hz only" in m for m in fast["missed"])
    slow, _ = apply(r, [{"op": "set_want", "run": "main", "key": "mode", "value": "3840x2160@60"}])
    at_60 = plans(slow, "black_frames")["titles"][0]
    assert at_60["cells"]["black_frames"]["option"] == "on"
    assert at_60["cells"]["game"]["option"] == "on"  # not automatic: that excludes them
    assert at_60["cells"]["vrr"]["option"] == "off"


def test_nothing_is_changed_for_nothing() -> None:
    """Among equally good values the present one stays."""
    r, _ = apply(s17(), plans(s17(), "interpolate")["titles"][1]["ops"])
    again = plans(r, "interpolate")["titles"][1]
    assert apply(r, again["ops"])[0].settings == r.settings


def test_what_is_given_up_says_for_what() -> None:
    column = plans(s17(), "interpolate")["titles"][0]
    said = "Interpolation in games counts more here, and variable refresh shuts interpolation off"
    assert column["cells"]["vrr"]["why"] == f"given up: {said}"
    assert column["missed"] == [f"Variable refresh: {said}."]
