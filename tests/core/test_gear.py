"""Profiles: the schema, errors with lines, conditions in three values, narrowing in any order."""

from __future__ import annotations

import itertools
from importlib.resources import files

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.rigs import rig, s02, setting
from wavilex.core.chain.paths import Layer
from wavilex.core.errors import ProfileError
from wavilex.core.gear.conditions import Condition, holds
from wavilex.core.gear.profile import Profile, parse_profile, profile_data, profile_digest
from wavilex.core.gear.state import narrowed, resolve
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Socket
from wavilex.library import starter_profiles

GOOD = files("wavilex.library").joinpath("yarrowby-50w.yaml").read_text(encoding="utf-8")


def test_the_starter_library_holds_what_a_first_job_needs() -> None:
    kinds = {p.kind for p in starter_profiles().values()}
    assert {"console", "computer", "receiver", "switch", "television", "monitor"} <= kinds
    assert len(starter_profiles()) >= 8


@pytest.mark.parametrize("profile", starter_profiles().values(), ids=lambda p: p.id)
def test_a_profile_survives_its_own_data(profile: Profile) -> None:
    again = Profile.model_validate(profile_data(profile))
    assert profile_digest(again) == profile_digest(profile)


@pytest.mark.parametrize(
    ("old", "new", "line", "word"),
    [
        ("role: screen", "role: hammer", 5, "role"),
        ("  tmds_mhz: 600", "  tmds_mhz: 6000", 24, "tmds_mhz"),
        ('"vic:97", "vic:96", "vic:95"', '"vic:9997", "vic:96", "vic:95"', 26, "vic:9997"),
        ("    default: basic", "    default: widest", None, "default"),
        ("  frl: none", "  frl: none\n  speed: 9", 26, "speed"),
        ("wavilex_profile: 1", "wavilex_profile: 2", 1, "wavilex_profile"),
        ("when: {setting: format, is: basic}", "when: {setting: colour, is: basic}", None, "colour"),
    ],
)
def test_an_error_names_line_and_reason(old: str, new: str, line: int | None, word: str) -> None:
    assert old in GOOD
    with pytest.raises(ProfileError) as caught:
        parse_profile(GOOD.replace(old, new, 1))
    assert word in str(caught.value)
    if line is not None:
        assert caught.value.line == line


@given(st.text(max_size=200))
def test_any_text_is_a_profile_or_a_profile_error(text: str) -> None:
    with pytest.raises(ProfileError):
        parse_profile(text)


def test_conditions_are_three_valued() -> None:
    is_a = {"setting": "s", "is": "a"}
    either = Condition.model_validate({"any": [is_a, {"setting": "t", "is": "b"}]})
    both = Condition.model_validate({"all": [is_a, {"not": {"setting": "t", "is": "b"}}]})
    assert holds(either, {"s": "a", "t": None}.get) is True
    assert holds(either, {"s": "x", "t": None}.get) is None
    assert holds(both, {"s": "x", "t": None}.get) is False
    assert holds(both, {"s": "a", "t": None}.get) is None
    assert holds(both, {"s": "a", "t": "c"}.get) is True


def test_a_limit_that_only_may_hold_leaves_the_figure_unknown() -> None:
    """In the found layer nobody has looked at the format yet: the rate is unknown, not zero."""
    found = Layer(s02(), "found").state(Socket("tv", "hdmi1"))
    assert found.tmds_hz is None
    seen, _ = apply(s02(), [setting("tv", "hdmi1", "format", "wide", layer="found")])
    assert Layer(seen, "found").state(Socket("tv", "hdmi1")).tmds_hz == 600_000_000


def test_a_fact_learned_here_overlays_the_profile() -> None:
    fact = {"op": "set_fact", "device": "tv", "path": "ports.hdmi2.tmds_mhz", "value": 600}
    after, _ = apply(s02(), [fact])
    state = Layer(after).state(Socket("tv", "hdmi2"))
    assert (state.tmds_hz, state.origins["tmds"].provenance) == (600_000_000, "measured_here")
    assert after.devices["tv"].profile == s02().devices["tv"].profile


def test_limits_only_narrow_so_their_order_does_not_matter() -> None:
    profile = starter_profiles()["ostavar-av940"]
    for order in itertools.permutations(profile.quirks):
        shuffled = profile.model_copy(update={"quirks": order})
        assert resolve(shuffled, {}, lambda scope, key: "basic") == resolve(profile, {}, lambda scope, key: "basic")
    assert narrowed("vrr", (48, 120), (100, 144)) == (100, 120)
    assert narrowed("vrr", True, (48, 120)) == (48, 120)
    assert narrowed("hdr", ("static", "hlg"), ("static",)) == ("static",)


def test_an_empty_rig_has_no_devices() -> None:
    assert not rig().devices
