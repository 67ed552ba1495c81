"""Changes: each has an exact inverse, refuses plainly, and clashes only where it overlaps."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.rigs import device, lead, rig, run, s03, s05, setting
from wavilex.core.errors import ChangeError
from wavilex.core.gear.profile import profile_data
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig
from wavilex.core.rig.ops import KINDS
from wavilex.core.rig.touched import overlapping, touched
from wavilex.library import starter_profiles

SEEN: dict[str, Any] = {
    "run": "base", "device": "tv", "line": "tv/hdmi1/banner/mode", "place": "TV, the banner of the input",
    "label": "signal", "answer": "differs", "predicted": "1080p60", "observed": "720p60", "at": "2026-11-29T10:00:00Z",
    "by": "someone", "firmware": "1.0", "grounds": {"lead/A1": "base:hdmi to tv:hdmi2"},
}  # fmt: skip

LIT: dict[str, Any] = {
    "kind": "patch", "device": "tv", "scope": "hdmi1;range=hdr", "value": "40", "method": "meter",
    "figures": {"luminance_ucd_m2": 151_300_000, "window_percent": 10, "signal_e4": 10_000, "error_e4": 90},
    "at": "2026-11-30T10:00:00Z", "by": "someone", "grounds": {"setting/tv/hdmi1/game": "on"},
}  # fmt: skip


def start() -> Rig:
    title = {"op": "add_title", "title": {"uid": "t1", "name": "Tide Racer", "render_rates": [60, 120]}}
    seen = {"op": "observe", "observation": {**SEEN, "uid": "o1"}}
    lit = {"op": "note_light", "note": {**LIT, "uid": "l1"}}
    return apply(s03(), [title, seen, lit, {"op": "set_survey", "key": "light", "value": "north window"}])[0]


TO = {"device": "tv", "port": "hdmi3"}
EVERY: list[dict[str, Any]] = [
    setting("tv", "hdmi1", "format", "basic"),
    {"op": "select_input", "device": "tv", "value": "hdmi2"},
    {"op": "move_lead", "lead": "A1", "end": "b", "to": TO},
    {"op": "move_lead", "lead": "A2", "end": "b", "to": None},
    {"op": "swap_leads", "end": "b", "leads": ["A1", "A2"], "select": [{"device": "tv", "value": "hdmi1"}]},
    {"op": "replace_lead", "lead": "A1", "grade": "ultra", "length_mm": 5000, "label": "in the wall"},
    {"op": "add_lead", "lead": {"uid": "A3", "label": "A3", "plan": [None, TO]}},
    {"op": "remove_lead", "lead": "A2"},
    {"op": "found_as_planned", "lead": "A2"},
    device("pc", "tindrel-r7"),
    {"op": "remove_device", "device": "tv"},
    {"op": "set_device", "device": "tv", "label": "Den screen", "room": "Den"},
    {"op": "set_fact", "device": "tv", "path": "ports.hdmi2.tmds_mhz", "value": 600},
    {"op": "set_profile", "device": "base", "profile": profile_data(starter_profiles()["kelpine-k0"])},
    {"op": "set_want", "run": "base", "key": "vrr", "value": True},
    run("third", "stick", "tv", mode="3840x2160@60"),
    {"op": "remove_run", "run": "base"},
    {"op": "add_title", "title": {"uid": "t2", "name": "Lantern Keep", "competitive": True}},
    {"op": "remove_title", "title": "t1"},
    {"op": "set_survey", "key": "sound", "value": "bar under the screen"},
    {"op": "set_run", "run": "base", "label": "Base, picture", "way": ["A1"]},
    {"op": "set_distance", "rooms": ["Den", "Attic"], "value": 9000},
    {"op": "set_title", "value": "Pier"},
    {"op": "observe", "observation": {**SEEN, "uid": "o2", "answer": "as_predicted"}},
    {"op": "take_back", "observation": "o1"},
    {"op": "note_light", "note": {**LIT, "uid": "l2", "ref": "77:5"}},
    {"op": "drop_light", "note": "l1"},
    {"op": "set_style", "level": "job", "key": "motion", "value": "interpolate"},
    {"op": "set_style", "level": "run", "uid": "base", "key": "look", "value": "vivid"},
    {"op": "set_style", "level": "title", "uid": "t1", "key": "motion", "value": "leave"},
]


def test_every_kind_of_change_is_tried() -> None:
    assert {c["op"] for c in EVERY} == set(KINDS)


def same(a: Rig, b: Rig) -> bool:
    """Equal in content; the order things were added in may differ."""
    return a == b


@given(st.lists(st.sampled_from(EVERY), max_size=8))
def test_the_inverse_takes_any_sequence_back(changes: list[dict[str, Any]]) -> None:
    now, done = start(), []
    for change in changes:
        try:
            now, back = apply(now, [change])
        except ChangeError:
            continue  # not possible after what came before
        done.append(back)
    for back in reversed(done):
        now, _ = apply(now, back)
    assert same(now, start())


@pytest.mark.parametrize(
    ("change", "word"),
    [
        ({"op": "explode"}, "no change"),
        ({"op": "set_setting"}, "lacks"),
        (setting("tv", "hdmi2", "format", "wide"), "is not kept for"),
        (setting("tv", "hdmi1", "format", "huge"), "basic, wide"),
        (setting("none", "", "format", "wide"), "no device"),
        ({"op": "move_lead", "lead": "A1", "end": "b", "to": {"device": "tv", "port": "hdmi1"}}, "swap"),
        ({"op": "move_lead", "lead": "A1", "end": "b", "to": {"device": "stick", "port": "hdmi"}}, "input"),
        ({"op": "move_lead", "lead": "A1", "end": "b", "to": {"device": "tv", "port": "x"}}, "no socket"),
        ({"op": "replace_lead", "lead": "A1", "length_mm": -5}, "mm"),
        ({"op": "replace_lead", "lead": "A1", "length_mm": True}, "mm"),
        ({"op": "set_want", "run": "base", "key": "mode", "value": "big"}, "no mode"),
        ({"op": "set_want", "run": "base", "key": "bits", "value": 9}, "bits"),
        ({"op": "set_fact", "device": "tv", "path": "ports.hdmi1.tmds_mhz", "value": "fast"}, "tmds_mhz"),
        (run("x", "tv", "tv"), "source"),
        (device("tv", "yarrowby-50w"), "already"),
    ],
)
def test_an_impossible_change_is_refused_with_the_reason(change: dict[str, Any], word: str) -> None:
    with pytest.raises(ChangeError) as caught:
        apply(start(), [change])
    assert word in caught.value.message
    assert caught.value.where.startswith("ops.0")


def test_all_or_none() -> None:
    before = start()
    with pytest.raises(ChangeError) as caught:
        apply(before, [EVERY[0], {"op": "explode"}])
    assert caught.value.where == "ops.1.op"
    assert before == start()


def test_a_loop_of_boxes_is_refused() -> None:
    two = rig(device("a", "brindlo-s4"), device("b", "brindlo-s4"), lead("L1", "a/out", "b/in1"))
    with pytest.raises(ChangeError, match="loop"):
        apply(two, [lead("L2", "b/out", "a/in1")])


def test_edits_clash_only_where_they_overlap() -> None:
    one = touched(setting("tv", "hdmi1", "format", "wide"))
    assert overlapping(one, touched(setting("tv", "hdmi1", "format", "basic")))
    assert not overlapping(one, touched(setting("tv", "hdmi1", "format", "basic", layer="found")))
    assert not overlapping(one, touched(EVERY[2]))
    assert overlapping(touched(EVERY[2]), touched(EVERY[4]))
    assert overlapping(
        touched({"op": "set_want", "run": "base", "key": "vrr"}), touched({"op": "remove_run", "run": "base"})
    )
    assert not overlapping(
        touched({"op": "set_want", "run": "base", "key": "vrr"}), touched(run("third", "stick", "tv"))
    )


def test_removing_a_box_and_undoing_brings_all_back() -> None:
    whole = apply(s05(), [{"op": "select_input", "device": "tv", "value": "hdmi3"}])[0]
    without, back = apply(whole, [{"op": "remove_device", "device": "av"}])
    assert "av" not in without.devices
    assert without.leads["A1"].plan[1] is None
    assert apply(without, back)[0] == whole
