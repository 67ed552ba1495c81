"""The home screen's rate: fixed, following a setting, or not known; what is said of it when a title starts."""

from __future__ import annotations

from typing import Any

import pytest

from tests.rigs import device, lead, rig, run, setting
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.notes import notes
from wavilex.core.chain.paths import Layer
from wavilex.core.errors import ProfileError
from wavilex.core.gear.profile import profile_data, profile_from_data
from wavilex.library import starter_profiles

FOLLOWS = {"setting": "fast_refresh", "hz": {"off": 60, "on": 120}}


def console(home: Any) -> dict[str, Any]:
    return {**profile_data(starter_profiles()["kelpine-k1"]), "home_hz": home}


@pytest.mark.parametrize(
    ("home", "fast", "mode", "said"),
    [
        (60, "on", "3840x2160@120", ("home_rate", 60)),
        (FOLLOWS, "on", "3840x2160@120", ("home_same", 120)),
        (FOLLOWS, "off", "3840x2160@60", ("home_same", 60)),
        ({**FOLLOWS, "hz": {"off": 50, "on": 120}}, "off", "3840x2160@60", ("home_rate", 50)),
        ({"setting": "fast_refresh", "hz": {"off": 60}}, "on", "3840x2160@60", None),  # not said is not known
    ],
)
def test_the_home_screen_follows_its_setting(home: Any, fast: str, mode: str, said: tuple[str, int] | None) -> None:
    r = rig(
        device("k", "kelpine-k1"), {"op": "set_profile", "device": "k", "profile": console(home)},
        device("tv", "yarrowby-65s"), lead("L", "k/hdmi", "tv/hdmi1"), setting("k", "", "fast_refresh", fast),
        run("m", "k", "tv", mode=mode),
    )  # fmt: skip
    layer = Layer(r)
    found = [
        (n.code, n.data["home"]) for n in notes(layer, run_result(layer, r.runs["m"])) if n.code.startswith("home_")
    ]
    assert found == ([said] if said else [])


def test_a_rate_by_a_setting_that_is_not_there_is_refused() -> None:
    for home in ({"setting": "colour_of_box", "hz": {"on": 60}}, {"setting": "fast_refresh", "hz": {"green": 60}}):
        with pytest.raises(ProfileError, match="home_hz"):
            profile_from_data(console(home))


def test_a_whole_frame_is_no_brighter_than_the_brightest_white() -> None:
    screen = profile_data(starter_profiles()["yarrowby-65s"])
    assert profile_from_data({**screen, "peak_cd_m2": 800, "average_cd_m2": 250}).average_cd_m2 == 250
    with pytest.raises(ProfileError, match="average_cd_m2"):
        profile_from_data({**screen, "peak_cd_m2": 200, "average_cd_m2": 250})
