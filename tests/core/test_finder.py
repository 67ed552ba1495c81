"""The finder: what it knows of every effect, and how an answer writes the profile."""

from __future__ import annotations

from typing import get_args

import pytest

from tests.rigs import device, lead, rig, run, setting
from wavilex.core.advise.fixes import find_fixes
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.errors import ChangeError
from wavilex.core.gear.profile import Role, profile_data, profile_from_data
from wavilex.core.gear.setting import EFFECT_OPTIONS
from wavilex.core.gear.stand import stand
from wavilex.core.modes.finder import SOUGHT, learn, sought_data
from wavilex.core.rig.changes import apply
from wavilex.library import starter_profiles


def test_every_effect_has_places_words_and_what_to_see() -> None:
    for row in sought_data():
        assert row["hideouts"]
        assert row["see"]
        assert row["if_absent"]
    assert {s.effect for s in SOUGHT if s.effect} <= set(EFFECT_OPTIONS)


@pytest.mark.parametrize("sought", SOUGHT, ids=lambda s: s.id)
@pytest.mark.parametrize("screen", ["brindlo-24b", "tindrel-b9"])
def test_found_writes_a_setting_that_the_profile_takes(sought: object, screen: str) -> None:
    profile = starter_profiles()[screen]
    made = profile_from_data(learn(profile, sought.id, "found", "Their word, ours", "page two"))  # type: ignore[attr-defined]
    setting = made.setting(sought.id)  # type: ignore[attr-defined]
    assert setting is not None
    assert (setting.label, setting.where) == ("Their word, ours", "page two")


def test_inert_is_a_setting_that_does_nothing() -> None:
    made = profile_from_data(learn(starter_profiles()["brindlo-24b"], "black_frames", "inert", "", ""))
    standing = stand(made, lambda _, key: "on")
    assert standing["", "black_frames"].inert is not None


def test_absent_leaves_the_profile_and_twice_found_is_one_setting() -> None:
    profile = starter_profiles()["brindlo-24b"]
    assert profile_from_data(learn(profile, "game_mode", "absent", "", "")) == profile
    once = profile_from_data(learn(profile, "game_mode", "found", "A", ""))
    twice = profile_from_data(learn(once, "game_mode", "found", "B", ""))
    assert [s.label for s in twice.settings if s.effect == "game_mode"] == ["B"]


def test_strange_answers_are_refused() -> None:
    with pytest.raises(ChangeError, match="finder takes"):
        learn(starter_profiles()["brindlo-24b"], "warp", "found", "", "")


def test_a_found_setting_carries_its_limit() -> None:
    """Variable refresh off is no variable refresh; a basic format is no 4K60 HDR (common practice)."""
    plain = profile_from_data({
        "wavilex_profile": 1, "id": "w", "maker": "Brindlo", "model": "W", "role": "screen", "kind": "television",
        "ports": [{"id": "hdmi1", "label": "HDMI 1", "direction": "in"}],
        "video": {"tmds_mhz": 600, "frl": "4x12", "modes": ["vic:97", "vic:118", "vic:16"], "hdr": ["static"],
                  "vrr": [48, 120], "dsc": False,
                  "encodings": {"rgb": [8, 10], "444": [8, 10], "422": [8, 10], "420": [8, 10]}},
    })  # fmt: skip
    data = profile_data(plain)
    for sought in ("variable_refresh", "full_rate"):
        data = learn(profile_from_data(data), sought, "found", "", "")
    r = rig(
        device("console", "kelpine-k1"), device("tv", "yarrowby-50w"), {"op": "set_profile", "device": "tv",
                                                                       "profile": data},
        lead("A1", "console/hdmi", "tv/hdmi1"), setting("console", "", "fast_refresh", "on"),
        run("main", "console", "tv", mode="3840x2160@120", hdr="static", bits=10, vrr=True),
    )  # fmt: skip
    assert not run_result(Layer(r), r.runs["main"]).good
    way = find_fixes(r, r.runs["main"]).ways[0]
    assert {(op["key"], op["value"]) for op in way.ops} == {("variable_refresh", "on"), ("full_rate", "wide")}
    after, _ = apply(r, way.ops)
    assert run_result(Layer(after), after.runs["main"]).good


def test_steps_are_as_the_menu_has_them_and_stand_where_it_left_the_factory() -> None:
    """Three steps of a depth, of its own words; of a known effect only the effect's."""
    console = starter_profiles()["kelpine-k1"]
    made = profile_from_data(learn(console, "depth", "found", "Depth", "", ("8 bits", "10 bits", "12 bits"), "10 bits"))
    found = made.setting("depth")
    assert found is not None
    assert [o.label for o in found.options] == ["8 bits", "10 bits", "12 bits"]
    assert (found.option_label(found.default), found.ports) == ("10 bits", ())
    with pytest.raises(ChangeError, match="auto, limited, full"):
        learn(console, "quantisation", "found", "", "", ("normal", "low"))
    with pytest.raises(ChangeError, match="two steps"):
        learn(console, "depth", "found", "", "", ("8 bits", "8 bits"))
    with pytest.raises(ChangeError, match="stands at one of"):
        learn(console, "depth", "found", "", "", ("8 bits", "10 bits"), "14 bits")


def test_every_role_has_something_to_look_for_and_an_input_opened_in_three_steps_stops_at_the_first() -> None:
    assert all(len(sought_data(role)) >= 4 for role in get_args(Role))
    receiver = starter_profiles()["ostavar-av610"]
    made = profile_from_data(learn(receiver, "full_rate", "found", "", "", ("plain", "wide", "widest")))
    limit = next(q for q in made.limits if q.id == "full_rate-shut")
    assert limit.when is not None
    assert limit.when.is_ == "plain"


def test_a_source_mostly_leaves_the_factory_with_4k_and_hdr_allowed() -> None:
    """Common practice, as the classes have it; what somebody saw goes over it."""
    console = starter_profiles()["kelpine-k1"]
    for effect in ("uhd_output", "hdr"):
        made = profile_from_data(learn(console, effect, "found", "", "")).setting(effect)
        assert made is not None
        assert made.default == "on"
    seen = profile_from_data(learn(console, "hdr", "found", "", "", (), "off")).setting("hdr")
    assert seen is not None
    assert seen.default == "off"
