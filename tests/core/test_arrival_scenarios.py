"""The acceptance scenarios from the state in which they are found: factory values, wrong sockets, unread leads.

Each follows the first way and nothing else, and looks at where it ends. Common practice throughout (domain/TRADE).
"""

from __future__ import annotations

from typing import Any

import pytest

from tests.arrivals import (
    at_found,
    s02_arrival,
    s04_arrival,
    s05_arrival,
    s06_arrival,
    s08_arrival,
    s08_bypassed,
    s09_arrival,
    s10_arrival,
    s12_arrival,
    s14_arrival,
    s16_arrival,
    s17_arrival,
)
from tests.rigs import device, lead, rig, run, s05, setting
from wavilex.core.advise.assign import assign
from wavilex.core.advise.fixes import Fix, Fixes, find_fixes
from wavilex.core.advise.settings_plan import settings_plan_data
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.notes import notes
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.chain.sound import sound_of
from wavilex.core.modes.choices import choices_data
from wavilex.core.modes.titles import title_plans
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig, Socket
from wavilex.core.runsheet.plan import plan_steps
from wavilex.core.tell.ways import fixes_data


def first_way(r: Rig, uid: str = "main") -> tuple[Fix, Rig, RunResult]:
    """The first way, the rig after it, and what the run is then."""
    found = find_fixes(r, r.runs[uid])
    assert found.ways, found.needs
    after, _ = apply(r, found.ways[0].ops)
    return found.ways[0], after, run_result(Layer(after), after.runs[uid])


def parts(found: Fixes, r: Rig, uid: str = "main") -> dict[str, dict[str, Any]]:
    return {p["key"]: dict(p) for p in fixes_data(found, r, r.runs[uid])["parts"]}


def kinds(way: Fix) -> list[str]:
    return sorted(m.kind for m in way.moves)


# --- S02: input at basic, want 4K120 --------------------------------------------------------------------


def test_s02_item_by_item_and_the_best_reachable_with_its_step() -> None:
    r = s02_arrival()
    found = find_fixes(r, r.runs["main"])
    said = parts(found, r)
    assert {k: said[k]["answer"] for k in ("rate", "vrr", "low_lag")} == dict.fromkeys(
        ("rate", "vrr", "low_lag"), "never"
    )
    assert all("TV" in said[k]["why"] for k in ("rate", "vrr", "low_lag"))
    assert said["hdr"]["answer"] == "by_steps"
    assert said["size"]["answer"] == "had"
    assert "its print was not read" in said["size"]["why"]  # had, if the lead is what it is taken for
    best = found.instead[0]
    assert (best.lesser.want.mode, best.lesser.want.hdr) == ("3840x2160@60", "static")
    assert best.way is not None
    assert [op["key"] for op in best.way.ops] == ["format"]
    told = fixes_data(found, r, r.runs["main"])["instead"][0]
    settled, _ = apply(r, told["settle"])
    assert run_result(Layer(settled), settled.runs["main"]).good


# --- S04: 120 off at the console, the monitor's sync off, 4K allowed ------------------------------------


def test_s04_the_settings_are_found_as_one_way() -> None:
    r = s04_arrival()
    way, _, result = first_way(r)
    assert result.good
    assert {(op["device"], op["key"]) for op in way.ops} == {
        ("console", "fast_refresh"), ("console", "uhd"), ("monitor", "adaptive_sync"),
    }  # fmt: skip
    assert result.asked is not None
    assert str(result.asked.timing.mode) == "2560x1440@120"


# --- S05: middle format, input closed ---------------------------------------------------------------------


def test_s05_one_way_from_the_middle_format_and_a_closed_input() -> None:
    r = s05_arrival()
    way, _, result = first_way(r)
    assert result.good
    assert {(op["device"], op["scope"], op["value"]) for op in way.ops} == {
        ("av", "game", "widest"), ("tv", "hdmi3", "wide"),
    }  # fmt: skip


# --- S06: sports mode on, the tuner shown -----------------------------------------------------------------


def test_s06_sports_off_comes_with_game_mode_and_before_it() -> None:
    r = s06_arrival()
    plan = settings_plan_data(Layer(r))
    set_to = {op["key"]: op["value"] for op in plan["ops"] if op["op"] == "set_setting"}
    assert (set_to.get("special"), set_to.get("game")) == ("none", "on")
    after, _ = apply(r, plan["ops"])
    titles = [s.title for s in plan_steps(after)]
    sports = next(n for n, t in enumerate(titles) if "Special mode" in t)
    game = next(n for n, t in enumerate(titles) if "Game mode" in t)
    assert sports < game
    step = next(s for s in plan_steps(after) if "Game mode" in s.title)
    assert (
        step.if_not == "Greyed out as found: another special mode is on; not while Special mode at sports or HDR effect"
    )
    assert settings_plan_data(Layer(after))["ops"] == []


# --- S08: the input fell back; the receiver's return-channel socket is taken ------------------------------


def test_s08_the_generation_is_set_explicitly() -> None:
    r = s08_arrival()
    for found in ("old", "auto"):
        way, after, result = first_way(at_found(r, setting("tv", "hdmi1", "generation", found, "found")))
        assert [(op["key"], op["value"]) for op in way.ops] == [("generation", "newer")], found
        assert result.verdict == "fits"
        assert after.setting_value("plan", "tv", "hdmi1", after.devices["tv"].profile.settings[0]) == "newer"


@pytest.mark.parametrize("hangs", ["tv/hdmi1", "tv/hdmi3", ""])
def test_s08_the_receiver_gets_its_socket_back_and_the_generation_is_set_where_the_console_goes(hangs: str) -> None:
    r = s08_bypassed(hangs)
    told = parts(find_fixes(r, r.runs["main"]), r)["sound"]
    assert told["says"] == "had now, better by steps of its own"
    assert "TV plays it as 2-channel PCM; OLD could as lossy with object sound" in told["why"]
    after, back = apply(r, told["way"]["ops"])
    view = Layer(after)
    result = run_result(view, after.runs["main"])
    assert result.verdict == "fits"
    assert after.lead_at("plan", Socket("old", "out")) == after.lead_at("plan", Socket("tv", "hdmi2"))
    best = sound_of(view, result).best
    assert best is not None
    assert (best.device, best.hops[-1].way) == ("old", "arc")
    where = result.path[-1].inp.port
    assert after.setting_value("plan", "tv", where, after.devices["tv"].profile.settings[0]) == "newer"
    assert after.selected_input("plan", "tv") == where
    assert apply(after, back)[0] == r
    assert parts(find_fixes(after, after.runs["main"]), after)["sound"]["way"] is None


# --- S12: two inputs, four sources, a bar on the return channel -------------------------------------------


def test_s12_a_switch_of_four_its_place_and_the_bar_keeps_its_socket() -> None:
    r = s12_arrival()
    way, after, _ = first_way(r, "new")
    assert way.label == "NEW: 120 Hz output → allowed"
    for uid in ("second", "oldest", "stick"):
        found = find_fixes(after, after.runs[uid])
        assert found.ways == ()
        assert "a switch with 4 inputs at MONITOR · HDMI 1" in found.needs
        assert "Their sound goes through it too." in found.needs
    best = sound_of(Layer(after), run_result(Layer(after), after.runs["new"])).best
    assert best is not None
    assert best.device == "bar"
    assert not assign(after).ops, "no place takes the bar's socket"


# --- S09: 4K120 and the dynamic format exclude each other there -------------------------------------------


def test_s09_dynamic_hdr_against_4k120_is_said_and_both_compromises_are_offered() -> None:
    r = s09_arrival()
    found = find_fixes(r, r.runs["main"])
    assert found.ways == ()
    assert found.needs.startswith("Each part is to be had by itself; no way to all of them together is known here.")
    wants = {(str(i.lesser.want.mode), i.lesser.want.hdr) for i in found.instead}
    assert ("3840x2160@120", "static") in wants
    assert any(hdr == "dynamic" for _, hdr in wants)
    for i in found.instead:
        after = apply(r, i.way.ops)[0] if i.way else r
        assert run_result(Layer(after), after.runs["main"], i.lesser.want).good


# --- S10: old firmware, slow socket, closed input, source at 60 Hz ----------------------------------------


def test_s10_firmware_first_then_one_way() -> None:
    r = s10_arrival()
    way, after, result = first_way(r)
    assert result.good
    assert kinds(way) == ["firmware", "input", "setting", "setting"]
    phases = [s.phase for s in plan_steps(after)]
    assert phases.index("firmware") < phases.index("wire") < phases.index("prove")


# --- S11: permissions off, wrong port, port closed, a lead nobody certified -------------------------------


def test_s11_a_lead_nobody_certified_is_tried_or_replaced_never_blocked() -> None:
    r = rig(
        device("console", "kelpine-k1"), device("tv", "yarrowby-50w"),
        lead("A1", "console/hdmi", "tv/hdmi1", "unknown", None), setting("tv", "hdmi1", "format", "wide"),
        run("main", "console", "tv", mode="3840x2160@60", hdr="static", bits=10),
    )  # fmt: skip
    found = find_fixes(r, r.runs["main"])
    assert run_result(Layer(r), r.runs["main"]).verdict == "unknown"
    assert found.ways[0].label == "Replace lead A1 by a Premium High Speed one"
    assert found.proof.startswith("Or try it")


# --- S14: all inputs basic --------------------------------------------------------------------------------


def test_s14_assignment_and_settings_together() -> None:
    r = s14_arrival()
    found = assign(r)
    assert sorted(found.satisfied) == ["disc", "k1", "one", "stick"]
    assert found.proved
    after, _ = apply(r, found.ops)
    assert all(run_result(Layer(after), x).good for x in after.runs.values())
    at = {x.uid: x.plan[1].port for x in after.leads.values() if x.plan[1]}
    assert {at["A1"], at["A2"]} == {"hdmi3", "hdmi4"}


# --- S16: two kinds of variable refresh -------------------------------------------------------------------


def test_s16_120_by_one_setting_and_variable_refresh_not_to_be_had_and_why() -> None:
    r = s16_arrival()
    found = find_fixes(r, r.runs["main"])
    assert found.ways == ()
    said = parts(found, r)
    assert said["vrr"]["answer"] == "never"
    assert "adaptive sync" in said["vrr"]["why"]
    assert said["rate"]["answer"] in ("had", "by_steps")
    best = found.instead[0]
    assert (str(best.lesser.want.mode), best.lesser.want.hdr, best.lesser.want.vrr) == (
        "3840x2160@120",
        "static",
        False,
    )
    assert best.way is not None
    assert [(op["device"], op["key"]) for op in best.way.ops] == [("console", "fast_refresh")]


# --- S17: see test_across_boxes: variable refresh switched at the console ---------------------------------


def test_s17_one_list_flips_between_titles_from_factory_values() -> None:
    r = s17_arrival()
    plans = title_plans(Layer(r), run_result(Layer(r), r.runs["main"]))
    assert plans is not None
    adventure, race = (t["cells"] for t in plans["titles"])
    assert [adventure[f"tv/{k}"]["option"] for k in ("interpolation", "speed", "vrr")] == ["on", "middle", "off"]
    assert [race[f"tv/{k}"]["option"] for k in ("interpolation", "speed", "vrr")] == ["off", "fast", "on"]
    assert race["console/fast_refresh"]["option"] == "on"


def test_what_boxes_will_show_is_said_of_what_arrives() -> None:
    """A console held at 60 Hz: the banner is predicted at 60 Hz, found and plan apart, and not at the wished 120."""
    r = rig(
        device("console", "kelpine-k1"), device("tv", "yarrowby-77e"), lead("A1", "console/hdmi", "tv/hdmi1"),
        setting("console", "", "fast_refresh", "off", "found"), setting("console", "", "fast_refresh", "on", "plan"),
        run("main", "console", "tv", mode="3840x2160@120"),
    )  # fmt: skip
    banners = {}
    for name in ("found", "plan"):
        layer = Layer(r, name)  # type: ignore[arg-type]
        said = notes(layer, run_result(layer, r.runs["main"]))
        banners[name] = [
            n.data["says"] for n in said if n.code == "read_out" and n.data["place"].startswith("the banner")
        ]
    assert banners == {"found": ["2160p60 60 Hz"], "plan": ["2160p120 120 Hz"]}


def test_nothing_is_predicted_where_nobody_knows_what_arrives() -> None:
    """A PC whose signal a closed input stops, and whose order of preference nobody knows."""
    r = at_found(s05("basic"), setting("tv", "hdmi3", "format", "basic", "found"))
    layer = Layer(r)
    assert [n for n in notes(layer, run_result(layer, r.runs["main"])) if n.code in ("read_out", "home_rate")] == []


def test_a_choice_tells_what_another_run_would_keep() -> None:
    """Two consoles at one screen whose smoothing is one setting for all inputs."""
    r = s17_arrival()
    r, _ = apply(r, [
        device("second", "kelpine-k1"), lead("A2", "second/hdmi", "tv/hdmi2"),
        run("other", "second", "tv", mode="3840x2160@60"),
    ])  # fmt: skip
    r, _ = apply(r, settings_plan_data(Layer(r))["ops"])
    layer = Layer(r)
    data = choices_data(layer, run_result(layer, r.runs["main"]))
    told = [e["words"] for c in data for w in c["ways"] for e in w["elsewhere"]]
    before = {u: run_result(layer, x).verdict for u, x in r.runs.items()}
    for choice in data:
        for way in choice["ways"]:
            after = Layer(apply(r, way["ops"])[0])
            changed = {u for u in r.runs if u != "main" and run_result(after, after.rig.runs[u]).verdict != before[u]}
            assert not changed or any(r.runs[u].label in e["words"] for u in changed for e in way["elsewhere"])
    assert any(
        words.startswith("other has") and "would keep them" in words and "25.0 ms more lag" in words for words in told
    )
