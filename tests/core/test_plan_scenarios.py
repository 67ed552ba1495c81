"""The settings plan, its choices and its steps, scenario by scenario."""

from __future__ import annotations

import itertools
import random
from typing import Any

import pytest

from tests.rigs import device, lead, rig, run, s03, s04, s07, s09, s10, s14, s16, s20, setting
from wavilex.core.advise.settings_plan import settings_plan, settings_plan_data
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import proof_key
from wavilex.core.modes.cells import cells
from wavilex.core.modes.choices import choices_data
from wavilex.core.modes.coverage import coverage_data
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig
from wavilex.core.runsheet.plan import plan_steps


def rows(r: Rig) -> dict[tuple[str, str, str], dict[str, Any]]:
    """The plan's rows by box, socket and setting."""
    data = settings_plan_data(Layer(r))
    return {(b["device"], x["scope"], x["key"]): x for b in data["boxes"] for x in b["rows"]}


def planned(r: Rig) -> Rig:
    """The rig with its whole settings plan taken over."""
    return apply(r, settings_plan_data(Layer(r))["ops"])[0]


def ways(r: Rig, question: str, run_uid: str = "main") -> dict[str, dict[str, Any]]:
    """The ways of a run's choice on a question, by label."""
    layer = Layer(r)
    found = [c for c in choices_data(layer, run_result(layer, r.runs[run_uid])) if c["question"] == question]
    return {w["label"]: w for w in found[0]["ways"]} if found else {}


def style(r: Rig, key: str, value: str, level: str = "job", uid: str = "") -> Rig:
    return apply(r, [{"op": "set_style", "level": level, "uid": uid, "key": key, "value": value}])[0]


def test_s03_a_swap_makes_both_sockets_stale_and_their_checks_come_back() -> None:
    r, _ = apply(s03(), [{"op": "set_profile", "device": "tv", "profile": _storing(s03())}])
    done = {c.key: "done" for c in cells(Layer(r), "tv")}
    assert {c["state"] for c in coverage_data(Layer(r), done)[0]["cells"]} == {"set"}
    swapped, _ = apply(r, [{"op": "swap_leads", "end": "b", "leads": ["A1", "A2"], "select": []}])
    after = coverage_data(Layer(swapped), done)[0]["cells"]
    assert {(c["at"][0], c["state"]) for c in after} == {("HDMI 1", "stale"), ("HDMI 2", "stale")}
    keys = {s.key for s in plan_steps(swapped)}
    assert {c["key"] for c in after} <= keys


def _storing(r: Rig) -> dict[str, Any]:
    """The screen of a rig, storing its picture for each input."""
    from wavilex.core.gear.profile import profile_data

    data = profile_data(r.devices["tv"].profile)
    stored = {"id": "stored", "kind": "remembers", "by": ["input", "range"], "because": "kept for each input"}
    return {**data, "quirks": [*data["quirks"], stored]}


def test_s04_forbidding_4k_gives_1440p120_and_adaptive_sync_comes_first_in_the_monitor() -> None:
    r, _ = apply(s04(), [setting("monitor", "", "adaptive_sync", "off", "found"),
                         setting("monitor", "", "adaptive_sync", "off")])  # fmt: skip
    plan = rows(r)
    assert plan["console", "", "uhd"]["to"] == "not allowed"
    assert "sends 2160p60: it prefers that to 1440p120" in plan["console", "", "uhd"]["why"]
    assert plan["monitor", "", "adaptive_sync"]["to"] == "on"
    after = planned(r)
    assert run_result(Layer(after), after.runs["main"]).good
    settings = [s for s in plan_steps(after) if s.phase in ("ports", "source", "screen")]
    titles = [s.title for s in settings]
    assert any("4K output → not allowed" in t for t in titles)
    assert titles.index("MONITOR: Adaptive sync → on") < titles.index("CONSOLE: 4K output → not allowed")


def test_s06_why_game_mode_is_greyed_out_and_what_frees_it() -> None:
    """The old screen's game mode: greyed while another input is shown, and while another special mode is on."""
    r = s20()
    other, _ = apply(r, [{"op": "select_input", "device": "tv", "value": "hdmi2"}])
    standing = Layer(other).standing(other.devices["tv"])
    assert standing["hdmi1", "game"].greyed is not None
    assert standing["hdmi1", "game"].greyed.because.startswith("game mode can be chosen only while the console")
    shown, _ = apply(r, [{"op": "select_input", "device": "tv", "value": "hdmi1"}])
    sports, _ = apply(shown, [setting("tv", "", "special", "sports")])
    stands = Layer(sports).standing(sports.devices["tv"])["hdmi1", "game"]
    assert stands.greyed is not None
    assert stands.greyed.because == "another special mode is on"
    frees = rows(sports)["tv", "", "special"]
    assert (frees["to"], frees["why"]) == ("none", "as it is it stands in the way of Game mode")
    free = rows(shown)["tv", "hdmi1", "game"]
    assert (free["to"], free["standing"]) == ("on", "")


def test_s07_black_frames_cost_light_and_lag_and_variable_refresh() -> None:
    r = rig(
        device("k2", "kelpine-k2"), device("tv", "yarrowby-77e"), lead("A1", "k2/hdmi", "tv/hdmi1"),
        run("main", "k2", "tv", mode="3840x2160@60"),
    )  # fmt: skip
    found = ways(style(r, "motion", "black_frames"), "motion")
    dark = next(w for w in found.values() if w["picked"])
    bright = next(w for w in found.values() if not w["picked"])
    assert (dark["figures"]["lag"], dark["figures"]["light"]) == ("+8.0 ms", "360 cd/m²")  # 45 % of 800
    assert (bright["figures"]["lag"], bright["figures"]["light"]) == ("nothing added", "800 cd/m²")
    assert (dark["figures"]["refresh"], bright["figures"]["refresh"]) == ("fixed 60 Hz", "40 to 60 Hz")
    assert "moving edges stay clear" in dark["gains"]
    assert any("45 % of its light" in loss for loss in dark["losses"])


def test_s07_consoles_that_share_a_socket_name_their_conflicts() -> None:
    r = style(s07(through=True), "look", "vivid", "run", "one")
    said = " ".join(coverage_data(Layer(r), {})[0]["shared"])
    assert "Conflict: look differs by house style" in said


def test_s09_the_manual_step_only_for_the_console_that_does_not_call() -> None:
    calls, silent = rows(s09("kelpine-k1")), rows(s09("ostavar-one"))
    assert (calls["tv", "hdmi4", "game"]["to"], calls["tv", "hdmi4", "game"]["changes"]) == ("automatic", False)
    assert (silent["tv", "hdmi4", "game"]["to"], silent["tv", "hdmi4", "game"]["changes"]) == ("on", True)
    assert "a step by hand" in silent["tv", "hdmi4", "game"]["why"]
    titles = [s.title for s in plan_steps(planned(s09("ostavar-one")))]
    assert "TV, HDMI 4: Game mode → on" in titles
    assert not [s.title for s in plan_steps(planned(s09("kelpine-k1"))) if "Game mode →" in s.title]


def test_s09_4k120_and_the_dynamic_format_exclude_each_other_and_the_style_picks() -> None:
    r = s09("ostavar-one", hdr="dynamic")
    found = ways(r, "rate_or_detail")
    fine = "wide with dynamic HDR at 2160p60"
    assert set(found) == {"widest", fine, "wide with dynamic HDR at 1080p120"}
    assert "120 Hz instead of 60: a frame every 8.3 ms, not 16.7" in found["widest"]["gains"]
    assert found["widest"]["losses"] == ["dynamic metadata"]
    assert "dynamic metadata instead of static metadata" in found[fine]["gains"]
    assert found[fine]["losses"] == ["120 Hz"]
    assert {op["key"] for op in found[fine]["ops"]} == {"format", "fast_refresh"}
    assert [w for w, d in found.items() if d["picked"]] == ["widest"]
    other = ways(style(r, "rate_or_detail", "detail", "run", "main"), "rate_or_detail")
    assert [w for w, d in other.items() if d["picked"]] == [fine]


def test_s10_firmware_then_format_then_120_and_what_an_18_gbps_port_offers() -> None:
    found = ways(s10(), "rate_or_detail")
    assert found["allowed"]["figures"]["signal"] == "1440p120"
    r, _ = apply(s10(), [{"op": "set_device", "device": "tv", "firmware_plan": "3.4"}])
    after = planned(r)
    assert run_result(Layer(after), after.runs["main"]).good
    titles = [s.title for s in plan_steps(after)]
    update = titles.index("Update TV from 2.9 to 3.4")
    assert update < titles.index("TV, HDMI 3: Input format → widest")


def test_s14_settings_by_input_and_what_a_copy_misses_and_overwrites() -> None:
    """Films on two inputs, games on two: game mode differs on purpose, and the input's format is the socket's own."""
    r = planned(s14())
    assert [rows(s14())["tv", f"hdmi{n}", "game"]["to"] for n in (1, 2, 3, 4)] == ["automatic", "on", "off", "off"]
    copying = coverage_data(Layer(r), {})[0]["copying"]
    assert any(m.startswith("Input format, Game mode: kept by the socket") for m in copying["misses"])
    assert any("White balance" in m for m in copying["misses"])
    said = {o.partition(":")[0]: o for o in copying["overwrites"]}
    assert said["HDMI 3"] == "HDMI 3: Picture preset film dark, not game"
    assert "HDMI 3: Game mode off, not automatic" in copying["overwrites"]
    assert set(said) == {"HDMI 2", "HDMI 3", "HDMI 4"}


def test_s16_home_screens_at_60_and_120_share_one_set_of_settings() -> None:
    r = planned(s16())
    layer = Layer(r)
    from wavilex.core.chain.notes import notes

    homes = {u: [n.data["home"] for n in notes(layer, run_result(layer, x)) if n.code.startswith("home")]
             for u, x in r.runs.items()}  # fmt: skip
    assert homes == {"k1": [60], "one": [120]}
    assert rows(s16())["monitor", "", "adaptive_sync"]["runs"] == ["k1", "one"]


def test_s16_the_school_that_leaves_hdr_off_is_respected() -> None:
    off = style(s16(), "weak_hdr", "off")
    data = settings_plan_data(Layer(off))
    assert data["hdr_left_off"] == ["k1", "one"]
    assert rows(off)["monitor", "", "hdr"]["to"] == "off"
    after = apply(off, data["ops"])[0]
    assert all(run_result(Layer(after), x).good and x.want.hdr == "off" for x in after.runs.values())
    kept = settings_plan_data(Layer(s16()))
    assert kept["hdr_left_off"] == []
    light = {w["figures"]["HDR white"] for w in ways(s16(), "weak_hdr", "k1").values()}
    assert light == {"350 cd/m² at most", "standard range"}


def test_a_cell_is_checked_once_its_runs_are_proved() -> None:
    r = s14()
    layer = Layer(r)
    own = [c for c in cells(layer, "tv") if c.runs == ("stick",)]
    done = {c.key: "done" for c in own}
    states = {c["key"]: c["state"] for c in coverage_data(layer, done)[0]["cells"]}
    assert {states[c.key] for c in own} == {"set"}
    done[proof_key(run_result(layer, r.runs["stick"]))] = "done"
    states = {c["key"]: c["state"] for c in coverage_data(layer, done)[0]["cells"]}
    assert {states[c.key] for c in own} == {"checked"}


def test_what_comes_back_by_itself_is_a_step_and_is_said() -> None:
    r = rig(
        device("pc", "tindrel-r7"), device("tv", "yarrowby-65s"), lead("A1", "pc/hdmi", "tv/hdmi3"),
        run("main", "pc", "tv", mode="3840x2160@60", low_lag=True),
    )  # fmt: skip
    row = rows(r)["tv", "", "room_light"]
    assert (row["to"], row["changes"]) == ("off", True)
    assert row["returns"] == "goes back to on by itself with Game mode at on or automatic: look at it again"
    assert any("look at Room light adaption again" in s.title for s in plan_steps(r))
    newer, _ = apply(r, [{"op": "set_device", "device": "tv", "firmware": "2.5"}])
    assert rows(newer)["tv", "", "room_light"]["returns"] == ""


def test_what_nobody_has_seen_is_a_step_that_notes_it() -> None:
    step = next(s for s in plan_steps(s14()) if s.title.startswith("K1: see that") or "TV, HDMI 1: see" in s.title)
    after, _ = apply(s14(), step.ops)
    assert step.key not in {s.key for s in plan_steps(after)}
    assert all(v.found is not None for v in after.settings.values() if v.plan is None)


def test_what_may_be_copied_to_a_sister_unit() -> None:
    profile = s14().devices["tv"].profile
    assert {s.id: s.copies for s in profile.settings} == {
        "format": "yes",
        "game": "yes",
        "noise": "yes",
        "white_balance": "unit",
        "preset": "yes",
        "light": "room",
        "contrast": "yes",
        "black_level": "yes",
        "sharpness": "yes",
        "warmth": "yes",
    }


def random_port_screen(seed: int) -> dict[str, Any]:
    """A screen of which two or three settings each narrow what its one input takes."""
    from wavilex.core.gear.profile import profile_data
    from wavilex.library import starter_profiles

    rnd = random.Random(seed)
    data = profile_data(starter_profiles()["yarrowby-65s"])
    limits = ({"tmds_mhz": 300, "frl": "none"}, {"frl": "none"}, {"hdr": []}, {"vrr": False}, {"frl": "4x6"},
              {"modes": ["vic:97", "vic:16"]})  # fmt: skip
    settings, quirks = [], []
    for n in range(rnd.randint(2, 3)):
        options = [f"o{k}" for k in range(rnd.randint(2, 3))]
        settings.append({"id": f"s{n}", "label": f"S{n}", "options": [{"id": o, "label": o} for o in options],
                         "default": rnd.choice(options)})  # fmt: skip
        for option in options:
            if rnd.random() < 0.6:
                quirks.append({"id": f"q{n}{option}", "kind": "limits", "when": {"setting": f"s{n}", "is": option},
                               "limits": rnd.choice(limits), "because": "so"})  # fmt: skip
    return {**data, "settings": settings, "quirks": quirks}


@pytest.mark.parametrize("seed", range(40))
def test_link_settings_against_brute_force_over_all_options(seed: int) -> None:
    """The plan reaches the want where any combination does, with as few changes as any does."""
    profile = random_port_screen(seed)
    r = rig(
        device("pc", "tindrel-r7"),
        {"op": "add_device", "device": {"uid": "tv", "label": "TV", "profile": profile}},
        lead("A1", "pc/hdmi", "tv/hdmi3"),
        run("main", "pc", "tv", mode="3840x2160@120", hdr="static", vrr=True, bits=10, chroma="422"),
    )  # fmt: skip
    best: int | None = None
    for combination in itertools.product(*([o["id"] for o in s["options"]] for s in profile["settings"])):
        ops = [setting("tv", "", s["id"], v) for s, v in zip(profile["settings"], combination, strict=True)]
        tried, _ = apply(r, ops)
        if run_result(Layer(tried), tried.runs["main"]).good:
            changed = sum(s["default"] != v for s, v in zip(profile["settings"], combination, strict=True))
            best = changed if best is None else min(best, changed)
    plan = settings_plan(Layer(r))
    after = run_result(Layer(plan.after), plan.after.runs["main"])
    assert after.good == (best is not None)
    if best is not None:
        assert len(plan.ops) == best
