"""The gear language: every kind of quirk and condition, firmware, and settings followed to a fixed point."""

from __future__ import annotations

import itertools
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.rigs import device, lead, rig, run, setting
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.control import addresses
from wavilex.core.chain.offer import advertise
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.reasons import render
from wavilex.core.errors import ChangeError, ProfileError
from wavilex.core.fields import version_key
from wavilex.core.gear.conditions import Condition, Firmware, SignalFacts, Surroundings, holds
from wavilex.core.gear.profile import Profile, parse_profile, profile_from_data
from wavilex.core.gear.stand import stand
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig, Socket
from wavilex.core.video.mode import Mode
from wavilex.library import starter_profiles

ON_OFF = [{"id": "off", "label": "off"}, {"id": "on", "label": "on"}]


def made(*quirks: dict[str, Any], settings: str = "abc") -> Profile:
    """A screen with on-off settings and these quirks."""
    return profile_from_data({
        "wavilex_profile": 1, "id": "made", "maker": "Kelpine", "model": "Made", "role": "screen", "kind": "monitor",
        "ports": [{"id": "hdmi1", "label": "HDMI 1", "direction": "in"}],
        "settings": [{"id": s, "label": s, "options": ON_OFF, "default": "off"} for s in settings],
        "quirks": [{"id": f"q{n}", "because": "it does", **q} for n, q in enumerate(quirks)],
    })  # fmt: skip


def standing(profile: Profile, around: Surroundings | None = None, **chosen: str) -> dict[str, Any]:
    found = stand(profile, lambda _, key: chosen.get(key, "off"), around or Surroundings())
    return {key: s for (_, key), s in found.items()}


def test_requires_greys_out_and_says_what_frees() -> None:
    p = made({"kind": "requires", "setting": "a", "when": {"setting": "b", "is": "on"}})
    closed, opened = standing(p, a="on"), standing(p, a="on", b="on")
    assert (closed["a"].value, closed["a"].greyed.id) == ("off", "q0")
    assert (opened["a"].value, opened["a"].greyed) == ("on", None)


def test_excludes_bars_an_option_and_reads_another() -> None:
    p = made({"kind": "excludes", "setting": "a", "options": ["on"], "when": {"setting": "b", "is": "on"}})
    both = standing(p, a="on", b="on")["a"]
    assert (both.chosen, both.value) == ("on", "off")
    assert [o for o, _ in both.barred] == ["on"]


def test_forces_follow_to_a_fixed_point() -> None:
    chain = made(
        {"kind": "forces", "setting": "b", "to": "on", "when": {"setting": "a", "is": "on"}},
        {"kind": "forces", "setting": "c", "to": "on", "when": {"setting": "b", "is": "on"}, "returns": True},
    )
    found = standing(chain, a="on")
    assert (found["b"].value, found["c"].value, found["c"].forced.returns) == ("on", "on", True)


def test_a_cycle_is_found_and_left_unknown() -> None:
    p = made(
        {"kind": "forces", "setting": "b", "to": "on", "when": {"setting": "a", "is": "off"}},
        {"kind": "forces", "setting": "a", "to": "on", "when": {"setting": "b", "is": "on"}},
    )
    found = standing(p)
    assert found["a"].cycle
    assert found["a"].value is None


def test_inert_can_be_chosen_and_does_nothing() -> None:
    p = made({"kind": "inert", "setting": "a", "options": ["on"], "when": {"setting": "b", "is": "on"}})
    assert standing(p, a="on", b="on")["a"].inert.id == "q0"
    assert standing(p, a="off", b="on")["a"].inert is None


@given(st.lists(st.tuples(st.sampled_from("abc"), st.sampled_from("abc"), st.sampled_from(["on", "off"])), max_size=5))
def test_where_forces_settle_nothing_is_left_to_force(rules: list[tuple[str, str, str]]) -> None:
    """Oracle: what `stand` settles on satisfies every rule at once; a state without that is called a cycle."""
    quirks = [
        {"kind": "forces", "setting": target, "to": to, "when": {"setting": asked, "is": "on"}}
        for asked, target, to in rules
    ]
    p = made(*quirks)
    for values in itertools.product(("off", "on"), repeat=3):
        found = standing(p, **dict(zip("abc", values, strict=True)))
        if any(s.cycle for s in found.values()):
            continue
        for key, s in found.items():
            acting = [to for asked, target, to in rules if target == key and found[asked].value == "on"]
            assert s.value == (acting[-1] if acting else s.chosen)


@pytest.mark.parametrize(
    ("when", "facts", "expected"),
    [
        ({"signal": {"min_hz": 61}}, SignalFacts(Mode(3840, 2160, 120)), True),
        ({"signal": {"max_hz": 60}}, SignalFacts(Mode(3840, 2160, 120)), False),
        ({"signal": {"min_lines": 2160, "hdr": True}}, SignalFacts(Mode(3840, 2160, 60), "static"), True),
        ({"signal": {"hdr": "dynamic"}}, SignalFacts(Mode(3840, 2160, 60), "static"), False),
        ({"signal": {"modes": ["1920x1080@60"]}}, SignalFacts(Mode(1920, 1080, 60)), True),
        ({"signal": {"vrr": True}}, SignalFacts(Mode(1920, 1080, 60)), False),
        ({"signal": {"min_hz": 61}}, None, None),
    ],
)
def test_conditions_on_the_signal(when: dict[str, Any], facts: SignalFacts | None, expected: bool | None) -> None:
    assert holds(Condition.model_validate(when), lambda _: None, Surroundings(signal=facts)) is expected


def test_conditions_on_what_is_plugged_in_and_shown() -> None:
    plugged = Condition.model_validate({"connected": {"kind": ["console"]}})
    nothing = Condition.model_validate({"connected": {"port": "hdmi2", "kind": ["nothing"]}})
    shown = Condition.model_validate({"input": "hdmi1"})
    around = Surroundings(plugged={"hdmi1": "console", "hdmi2": ""}, shown_input="hdmi2")
    assert holds(plugged, lambda _: None, around, "hdmi1") is True
    assert holds(nothing, lambda _: None, around, "hdmi1") is True
    assert holds(shown, lambda _: None, around) is False
    assert holds(shown, lambda _: None, Surroundings()) is None


@pytest.mark.parametrize(
    ("version", "expected"), [("2.4", True), ("2.4.0", True), ("2.10", True), ("3", False), ("", None), ("beta", None)]
)
def test_firmware_ranges_compare_numbers(version: str, expected: bool | None) -> None:
    assert Firmware.model_validate({"from": "2.4", "below": "3.0"}).holds(version) is expected


def test_versions_are_numbers_not_text() -> None:
    assert (version_key("2.10") or ()) > (version_key("2.9") or ())


@pytest.mark.parametrize(
    ("quirk", "word"),
    [
        ("{kind: forces, setting: game, to: maybe, when: {setting: game, is: 'on'}}", "maybe"),
        ("{kind: requires, setting: gone, when: {setting: game, is: 'on'}}", "gone"),
        ("{kind: limits, limits: {frl: none}, firmware: {}}", "firmware"),
        ("{kind: limits, limits: {frl: none}, when: {signal: {}}}", "signal"),
        ("{kind: shows, place: banner}", "says"),
        ("{kind: dances}", "kind"),
        ("{kind: excludes, setting: game, options: [half], when: {setting: game, is: 'on'}}", "half"),
        ("{kind: limits, limits: {frl: none}, when: {input: hdmi9}}", "hdmi9"),
    ],
)
def test_a_fault_in_a_quirk_names_line_and_reason(quirk: str, word: str) -> None:
    text = f"""wavilex_profile: 1
id: x
maker: Kelpine
model: X
role: screen
kind: monitor
ports: [{{id: hdmi1, label: HDMI 1, direction: in}}]
settings:
  - {{id: game, label: Game, options: [{{id: 'off', label: 'off'}}, {{id: 'on', label: 'on'}}], default: 'off'}}
quirks:
  - {quirk.replace("{kind", "{id: q, because: so, kind", 1)}
"""
    with pytest.raises(ProfileError) as caught:
        parse_profile(text)
    assert word in str(caught.value)
    assert caught.value.line is not None
    assert caught.value.line >= 10


def test_a_limit_on_the_signal_stops_only_that_signal() -> None:
    """The capture box passes 4K60, and above 60 Hz only 1080p and 1440p."""

    def with_mode(mode: str) -> Rig:
        return rig(
            device("pc", "tindrel-r3"), device("cap", "kelpine-c4"), device("tv", "yarrowby-65s"),
            lead("A1", "pc/hdmi", "cap/in"), lead("A2", "cap/out", "tv/hdmi3"), run("main", "pc", "tv", mode=mode),
        )  # fmt: skip

    verdicts = {}
    for mode in ("3840x2160@60", "3840x2160@120", "1920x1080@120"):
        r = with_mode(mode)
        verdicts[mode] = run_result(Layer(r), r.runs["main"]).verdict
    assert verdicts == {"3840x2160@60": "fits", "3840x2160@120": "blocked", "1920x1080@120": "fits"}


def split(offer: str = "merge") -> Rig:
    """One console on a splitter, a 4K television and a 1080p monitor behind it."""
    return rig(
        device("console", "kelpine-k1"), device("d", "brindlo-d2"), device("tv", "yarrowby-50w"),
        device("desk", "brindlo-24b"), lead("A1", "console/hdmi", "d/in"), lead("A2", "d/out1", "tv/hdmi1"),
        lead("A3", "d/out2", "desk/hdmi1"), setting("tv", "hdmi1", "format", "wide"),
        setting("d", "", "offer", offer), run("main", "console", "tv", mode="3840x2160@60"),
        run("desk", "console", "desk", mode="1920x1080@60"),
    )  # fmt: skip


def test_a_splitter_offers_what_its_screens_share() -> None:
    r = split()
    result = run_result(Layer(r), r.runs["main"])
    assert result.verdict == "blocked"
    said = [render(x, r) for x in result.reasons]
    assert any("DESK" in text and "its screen reads the same offer" in text for text in said)
    assert run_result(Layer(r), r.runs["desk"]).good


def test_a_fixed_offer_frees_one_screen_and_leaves_the_other_dark() -> None:
    r, _ = apply(split("fixed"), [{"op": "set_want", "run": "desk", "key": "mode", "value": "3840x2160@60"}])
    layer = Layer(r)
    assert run_result(layer, r.runs["main"]).good
    dark = run_result(layer, r.runs["desk"])
    assert any(x.socket == Socket("desk", "hdmi1") and x.code == "mode_not_taken" for x in dark.reasons)


def test_what_the_source_reads_is_the_fixed_list() -> None:
    r = split("fixed")
    layer = Layer(r)
    path = layer.paths(r.runs["main"])[0]
    seen = advertise(layer, layer.stations(path), layer.beside(path))
    assert seen.modes == r.devices["d"].profile.video.modes


def test_a_matrix_chooses_for_each_output() -> None:
    r = rig(
        device("a", "kelpine-k0"), device("b", "brindlo-base"), device("m", "brindlo-m42"),
        device("tv", "yarrowby-50w"), device("desk", "brindlo-24b"),
        lead("A1", "a/hdmi", "m/in1"), lead("A2", "b/hdmi", "m/in2"),
        lead("A3", "m/out1", "tv/hdmi1"), lead("A4", "m/out2", "desk/hdmi1"),
        run("x", "a", "desk", mode="1920x1080@60"),
    )  # fmt: skip
    chosen, back = apply(r, [{"op": "select_input", "device": "m", "output": "out2", "value": "in1"}])
    assert chosen.selected_input("plan", "m", "out2") == "in1"
    assert apply(chosen, back)[0] == r
    with pytest.raises(ChangeError, match="no output"):
        apply(r, [{"op": "select_input", "device": "tv", "output": "out2", "value": "hdmi1"}])


def test_control_addresses_by_level_and_clash() -> None:
    """Device control, HDMI 1.4b: input n of the display is n.0.0.0, each repeater fills the next zero."""
    r = rig(
        device("pc", "tindrel-r3"), device("k", "kelpine-k0"), device("s", "brindlo-s4"), device("av", "ostavar-av940"),
        device("tv", "yarrowby-65s"), lead("A1", "pc/hdmi", "s/in2"), lead("A4", "k/hdmi", "s/in4"),
        lead("A2", "s/out", "av/disc"), lead("A3", "av/out", "tv/hdmi3"),
    )  # fmt: skip
    assert {a.device: a.address for a in addresses(Layer(r), "tv")} == {
        "tv": "0.0.0.0", "av": "3.0.0.0", "s": "3.2.0.0", "pc": "3.2.2.0", "k": "3.2.4.0",
    }  # fmt: skip
    matrix = rig(
        device("a", "kelpine-k0"), device("b", "brindlo-base"), device("m", "brindlo-m42"),
        device("tv", "yarrowby-50w"),
        lead("A1", "a/hdmi", "m/in1"), lead("A2", "b/hdmi", "m/in2"), lead("A3", "m/out1", "tv/hdmi2"),
    )  # fmt: skip
    assert [a.device for a in addresses(Layer(matrix), "tv") if a.fault] == ["a", "b"]


def test_more_than_four_levels_have_no_address() -> None:
    boxes = [device(f"s{n}", "brindlo-s4") for n in range(4)]
    leads = [lead(f"L{n}", f"s{n + 1}/out", f"s{n}/in1") for n in range(3)]
    r = rig(
        device("tv", "yarrowby-50w"), *boxes, device("pc", "tindrel-r3"), lead("T", "s0/out", "tv/hdmi1"), *leads,
        lead("P", "pc/hdmi", "s3/in1"),
    )  # fmt: skip
    last = addresses(Layer(r), "tv")[-1]
    assert (last.device, last.address) == ("pc", "F.F.F.F")


@pytest.mark.parametrize(
    ("a", "b", "kind", "word"),
    [
        ("pc/hdmi", "old/scart", "hdmi", "takes an analogue video lead"),
        ("c16/scart", "old/cvbs", "analogue", "does not go into"),
        ("pc/usb", "mx/optical", "audio", "does not go into"),
        ("pc/hdmi", "pc/usb", "hdmi", "goes to an input"),
    ],
)
def test_impossible_plugs_are_refused_with_the_reason(a: str, b: str, kind: str, word: str) -> None:
    r = rig(device("pc", "tindrel-r7"), device("old", "ostavar-43p"), device("c16", "brindlo-c16"),
            device("mx", "tindrel-mx"))  # fmt: skip
    change = lead("A1", a, b)
    change["lead"]["kind"] = kind
    with pytest.raises(ChangeError, match=word):
        apply(r, [change])


def test_a_bars_socket_is_no_loop_of_the_picture() -> None:
    """The bar hangs at the screen by its output plug and receives sound there."""
    r = rig(device("tv", "yarrowby-65s"), device("bar", "yarrowby-bar5"), lead("A1", "bar/out", "tv/hdmi3"))
    assert Layer(r).lead_at(Socket("bar", "out")) is not None


def test_the_library_covers_every_role_and_kind_with_sound_facts() -> None:
    profiles = starter_profiles().values()
    assert len(profiles) >= 40
    assert {p.role for p in profiles} == {"source", "repeater", "screen", "sound"}
    assert {q.kind for p in profiles for q in p.quirks} == {
        "limits", "requires", "excludes", "forces", "inert", "remembers", "shows", "lag", "dims",
    }  # fmt: skip
    assert all(p.plays is not None for p in profiles if p.role in ("screen", "repeater", "sound"))
