"""The finder: what it knows of every effect, and how an answer writes the profile."""

from __future__ import annotations

import pytest

from wavilex.core.errors import ChangeError
from wavilex.core.gear.profile import EFFECT_OPTIONS, profile_from_data
from wavilex.core.gear.stand import stand
from wavilex.core.modes.finder import SOUGHT, learn, sought_data
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
