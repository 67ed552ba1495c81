"""Values kept by input, range, preset and resolution: read where the run is, planned one by one, ticked one by one.

References here are written by hand: a plain dictionary keyed by what the screen's profile says it keeps apart.
"""

from __future__ import annotations

import itertools
import json
import random
from collections.abc import Callable
from typing import Any

import pytest

from tests.rigs import device, lead, rig, run, s07, s09, s14, setting
from wavilex.core.advise.settings_plan import settings_plan, settings_plan_data
from wavilex.core.chain.paths import Layer, facts_of_want
from wavilex.core.errors import ChangeError, ProfileError
from wavilex.core.gear.cells import Spot, read_scope
from wavilex.core.gear.profile import Profile, parse_profile, profile_data, profile_from_data
from wavilex.core.gear.setting import Span
from wavilex.core.gear.words import cell_words
from wavilex.core.modes.cells import spots
from wavilex.core.modes.coverage import coverage_data
from wavilex.core.modes.grid import copy_cell, grid_data
from wavilex.core.rig.changes import apply
from wavilex.core.rig.jobfile import Job, job_data, parse_job
from wavilex.core.rig.model import Rig
from wavilex.core.runsheet.plan import plan_steps
from wavilex.core.tell.handover import handover
from wavilex.library import starter_profiles

RANGE_OF = {"off": "sdr", "static": "hdr", "dynamic": "dynamic"}
SCREEN: dict[str, Any] = {
    "wavilex_profile": 1, "id": "tindrel-cells", "maker": "Tindrel", "model": "Cells", "role": "screen",
    "kind": "television", "panel": "3840x2160",
    "ports": [{"id": f"hdmi{n}", "label": f"HDMI {n}", "direction": "in"} for n in (1, 2)],
    "video": {"tmds_mhz": 600, "frl": "none", "modes": ["vic:97", "vic:16"], "hdr": ["static", "dynamic"],
              "encodings": {"rgb": [8, 10], "422": [8, 10, 12]}},
    "settings": [
        {"id": "preset", "label": "Preset", "effect": "preset", "default": "standard", "kept_by": ["input", "range"],
         "options": [{"id": i, "label": i} for i in ("standard", "game", "film_dark")]},
        {"id": "light", "label": "Light", "effect": "panel_light", "default": 40, "number": {"from": 0, "to": 50},
         "kept_by": ["input", "range", "mode"], "where": "picture page", "copies": "room"},
        {"id": "gamma", "label": "Gamma", "default": "2.2", "number": {"from": 1.8, "to": 2.6, "step": 0.1},
         "kept_by": ["input", "range", "mode"], "where": "picture page"},
        {"id": "shape", "label": "Shape", "default": "full", "kept_by": ["resolution"],
         "options": [{"id": "full", "label": "full"}, {"id": "dots", "label": "dot by dot"}]},
    ],
}  # fmt: skip


def screen(**more: Any) -> Profile:
    return profile_from_data({**SCREEN, **more})


def of(profile: Profile, uid: str = "tv") -> dict[str, Any]:
    return {"op": "add_device", "device": {"uid": uid, "label": uid.upper(), "profile": profile_data(profile)}}


def one_run(hdr: str = "off", mode: str = "3840x2160@60") -> Rig:
    return rig(device("k", "kelpine-k1"), of(screen()), lead("L", "k/hdmi", "tv/hdmi1"),
               run("main", "k", "tv", mode=mode, hdr=hdr))  # fmt: skip


# --- what a scope says ---------------------------------------------------------------------------------


def test_a_scope_reads_back_as_it_was_written() -> None:
    parts = (("", "hdmi1"), ("", "3840x2160"), ("", "60"), ("", "sdr", "dynamic"), ("", "film_dark"))
    seen = set()
    for values in itertools.product(*parts):
        spot = Spot(*values)
        scope = spot.kept(("input", "resolution", "rate", "range", "mode"))
        assert read_scope(scope) == spot
        seen.add(scope)
    assert len(seen) == 2 * 2 * 2 * 3 * 2  # no two cells share a scope
    assert Spot("hdmi1", range="hdr").kept(("input",)) == "hdmi1"  # as job files of the first format have it


@pytest.mark.parametrize("scope", ["hdmi1;range", "hdmi1;range=", "hdmi1;hue=3", "hdmi1;range=hdr;range=sdr", ";;"])
def test_a_strange_scope_is_refused(scope: str) -> None:
    with pytest.raises(ChangeError, match="Light on TV"):
        apply(one_run(), [setting("tv", scope, "light", "20")])


@pytest.mark.parametrize(
    ("scope", "key", "value", "said"),
    [
        ("hdmi1", "light", "20", "kept per input, dynamic range, picture preset"),
        ("hdmi1;range=hdr", "light", "20", "kept per input"),
        ("hdmi9;range=hdr;mode=game", "light", "20", "hdmi9"),
        ("hdmi1;range=bright;mode=game", "light", "20", "dynamic range"),
        ("hdmi1;range=hdr;mode=sports", "light", "20", "picture presets"),
        ("hdmi1;range=hdr;mode=game", "light", "51", "0 to 50"),
        ("hdmi1;range=hdr;mode=game", "light", "20.5", "0 to 50"),
        ("hdmi1;range=hdr;mode=game", "light", "bright", "0 to 50"),
        (";resolution=wide", "shape", "dots", "resolution"),
        ("hdmi1;resolution=3840x2160", "shape", "dots", "kept per resolution"),
    ],
)
def test_a_value_out_of_place_is_refused_with_what_is_right(scope: str, key: str, value: str, said: str) -> None:
    with pytest.raises(ChangeError, match=said):
        apply(one_run(), [setting("tv", scope, key, value)])


# --- numbers ------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("span", "typed", "kept"),
    [
        ({"from": 0, "to": 100}, "25", "25"), ({"from": 0, "to": 100}, " 025 ", "25"),
        ({"from": 0, "to": 100}, "100.0", "100"), ({"from": 0, "to": 100}, "101", None),
        ({"from": -30, "to": 30}, "-5", "-5"), ({"from": -30, "to": 30}, "−5", "-5"),
        ({"from": -30, "to": 30}, "-0", "0"), ({"from": 1.8, "to": 2.6, "step": 0.1}, "2,2", "2.2"),
        ({"from": 1.8, "to": 2.6, "step": 0.1}, "2.25", None), ({"from": 0, "to": 50, "step": 5}, "12", None),
        ({"from": 0, "to": 50}, "1e1", "10"), ({"from": 0, "to": 50}, "nan", None), ({"from": 0, "to": 50}, "", None),
    ],
)  # fmt: skip
def test_a_number_is_kept_as_the_menu_shows_it(span: dict[str, Any], typed: str, kept: str | None) -> None:
    """Tenths are tenths: no float stands between what is typed and what is kept."""
    assert Span.model_validate(span).read(typed) == kept


@pytest.mark.parametrize(
    ("row", "said"),
    [
        ({"number": {"from": 5, "to": 5}, "default": "5"}, "from is below to"),
        ({"number": {"from": 0, "to": 9, "step": 0}, "default": "0"}, "more than 0"),
        ({"number": {"from": 0, "to": 9, "neutral": 12}, "default": "0"}, "neutral"),
        ({"number": {"from": 0, "to": 9}, "default": "10"}, "default"),
        ({"number": {"from": 0, "to": 10**6, "step": 0.01}, "default": "0"}, "at most 100000"),
        ({"number": {"from": 0, "to": 9}, "default": "0", "effect": "game_mode"}, "no number"),
        ({"default": "a"}, "options or a number"),
        ({"default": "a", "options": [{"id": "a", "label": "a"}]}, "two or more"),
        ({"default": "a", "options": [{"id": "a", "label": "a"}, {"id": "b", "label": "b"}], "effect": "contrast"},
         "by a number"),
        ({"number": {"from": 0, "to": 9}, "default": "0", "kept_by": ["mode"]}, "preset"),
    ],
)  # fmt: skip
def test_a_setting_half_said_is_refused(row: dict[str, Any], said: str) -> None:
    with pytest.raises(ProfileError, match=said):
        profile_from_data({**SCREEN, "settings": [{"id": "x", "label": "X", **row}]})


def test_kept_by_input_is_every_input_where_none_is_named() -> None:
    assert screen().setting("light").ports == ("hdmi1", "hdmi2")
    rows = [dict(SCREEN["settings"][0], kept_by=["range"])]
    remembers = {"id": "r", "kind": "remembers", "settings": ["preset"], "by": ["input"], "because": "as told"}
    told = screen(settings=rows, quirks=[remembers]).setting("preset")
    assert (told.dimensions, told.ports) == (("input", "range"), ("hdmi1", "hdmi2"))


# --- reading and planning --------------------------------------------------------------------------------


@pytest.mark.parametrize("seed", range(12))
def test_every_run_reads_the_cell_it_is_in(seed: int) -> None:
    """Reference: a dictionary by input, range and preset, as a person would note it."""
    rnd = random.Random(seed)
    kept: dict[tuple[str, str, str], int] = {}
    presets: dict[tuple[str, str], str] = {}
    ops = []
    for port, range_ in itertools.product(("hdmi1", "hdmi2"), ("sdr", "hdr", "dynamic")):
        if rnd.random() < 0.7:
            presets[port, range_] = rnd.choice(["standard", "game", "film_dark"])
            ops.append(setting("tv", f"{port};range={range_}", "preset", presets[port, range_]))
        for mode in ("standard", "game", "film_dark"):
            if rnd.random() < 0.7:
                kept[port, range_, mode] = rnd.randint(0, 50)
                ops.append(setting("tv", f"{port};range={range_};mode={mode}", "light", str(kept[port, range_, mode])))
    rnd.shuffle(ops)
    for port, hdr in itertools.product(("hdmi1", "hdmi2"), ("off", "static", "dynamic")):
        r = rig(device("k", "kelpine-k1"), of(screen()), lead("L", "k/hdmi", f"tv/{port}"),
                run("main", "k", "tv", mode="3840x2160@60", hdr=hdr), *ops)  # fmt: skip
        layer, tv = Layer(r), r.devices["tv"]
        facts = facts_of_want(r.runs["main"].want)
        mode = presets.get((port, RANGE_OF[hdr]), "standard")
        light = tv.profile.setting("light")
        assert layer.value(tv, light, port, facts) == str(kept.get((port, RANGE_OF[hdr], mode), 40))
        standing = layer.standing(tv, facts)
        assert standing[port, "light"].value == layer.value(tv, light, port, facts)
        assert standing[port, "preset"].value == mode


def test_a_preset_the_box_sets_itself_says_which_cell_is_met() -> None:
    force = {"id": "f", "kind": "forces", "setting": "preset", "to": "game", "because": "game mode is a preset here",
             "when": {"setting": "game", "is": "on"}}  # fmt: skip
    switch = {"id": "game", "label": "Game", "effect": "game_mode", "default": "off",
              "options": [{"id": "off", "label": "off"}, {"id": "on", "label": "on"}]}  # fmt: skip
    own = screen(settings=[*SCREEN["settings"], switch], quirks=[force])
    r = rig(device("k", "kelpine-k1"), of(own), lead("L", "k/hdmi", "tv/hdmi1"), run("main", "k", "tv"),
            setting("tv", "hdmi1;range=sdr;mode=standard", "light", "10"),
            setting("tv", "hdmi1;range=sdr;mode=game", "light", "33"))  # fmt: skip
    for value, light in (("off", "10"), ("on", "33")):
        layer = Layer(apply(r, [setting("tv", "", "game", value)])[0])
        assert layer.standing(layer.rig.devices["tv"])["hdmi1", "light"].value == light


def test_planning_one_cell_leaves_the_others_and_a_tick_ticks_one() -> None:
    r = one_run("static")
    plan = settings_plan(Layer(r))
    light = {key[1]: row for key, row in plan.rows.items() if key[2] == "light"}
    assert {s: row.value for s, row in light.items()} == {
        "hdmi1;range=sdr;mode=game": "15", "hdmi1;range=hdr;mode=game": "50",
    }  # fmt: skip
    assert all(row.start for row in light.values())
    assert {row.source for row in light.values()} == {"a guess", "common practice"}
    step = next(s for s in plan_steps(plan.after) if "HDR" in s.title and "Light" in s.title)
    ticked = apply(plan.after, list(step.ops))[0]
    found = {k[1]: v.found for k, v in ticked.settings.items() if k[2] == "light"}
    assert found == {"hdmi1;range=sdr;mode=game": None, "hdmi1;range=hdr;mode=game": "50"}


def test_what_somebody_noted_is_no_longer_only_begun_with() -> None:
    noted = apply(one_run(), [setting("tv", "hdmi1;range=sdr;mode=game", "light", "22", "found")])[0]
    plan = settings_plan(Layer(noted))
    assert not [k for k in plan.rows if k[2] == "light"]
    assert plan.after.settings["tv", "hdmi1;range=sdr;mode=game", "light"].plan is None


def test_a_gamma_nobody_gave_a_neutral_point_is_left_alone() -> None:
    assert not [k for k in settings_plan(Layer(one_run())).rows if k[2] == "gamma"]


@pytest.mark.parametrize(("look", "value"), [("accurate", "15"), ("vivid", "30"), ("bright_room", "50")])
def test_light_begins_by_the_look(look: str, value: str) -> None:
    """Own figures, between 0 and 50: 30, 60 and 100 % of the range."""
    r = apply(one_run(), [{"op": "set_style", "level": "job", "key": "look", "value": look}])[0]
    assert settings_plan(Layer(r)).rows["tv", "hdmi1;range=sdr;mode=game", "light"].value == value


def test_films_get_film_cells_and_no_game_processing() -> None:
    """S14: streaming stick and disc player, common practice."""
    rows = {
        (b["device"], r["scope"], r["key"]): r for b in settings_plan_data(Layer(s14()))["boxes"] for r in b["rows"]
    }
    presets = {at: row["value"] for (uid, at, key), row in rows.items() if (uid, key) == ("tv", "preset")}
    films = {at.partition(";")[0] for at, value in presets.items() if value == "film_dark"}
    games = {at.partition(";")[0] for at, value in presets.items() if value == "game"}
    assert films
    assert games
    assert not films & games
    assert {rows["tv", port, "game"]["value"] for port in films} == {"off"}


# --- the grid and copying ----------------------------------------------------------------------------------


def filled() -> Rig:
    return settings_plan(Layer(s07())).after


def test_the_grid_shows_what_differs_first_and_what_is_alike_once() -> None:
    box = next(b for b in grid_data(Layer(filled())) if b["device"] == "tv")
    marks = [r["alike"] for r in box["rows"]]
    assert marks == sorted(marks)
    by_key = {r["key"]: r for r in box["rows"]}
    assert not by_key["light"]["alike"]
    assert by_key["contrast"]["alike"]
    for row in box["rows"]:
        shown = {(c["value"], c["found"]) for c in row["cells"] if c}
        assert row["alike"] == (len(shown) < 2)
    assert [c["runs"] for c in box["columns"]] == [["k1"], ["k1"], ["one"], ["one"], ["k2"]]


def test_a_value_noted_where_no_run_goes_has_its_column() -> None:
    r = apply(filled(), [setting("tv", "hdmi2;range=hdr;mode=film_dark", "light", "7", "found")])[0]
    box = next(b for b in grid_data(Layer(r)) if b["device"] == "tv")
    column = next(c for c in box["columns"] if c["scope"] == "hdmi2;range=hdr;mode=film_dark")
    assert column["runs"] == []
    cells = next(row for row in box["rows"] if row["key"] == "light")["cells"]
    assert [c["found"] for c in cells if c][-1] == "7"


def test_a_copied_cell_has_every_value_that_may_go_and_says_what_stays() -> None:
    r = apply(filled(), [of(starter_profiles()["yarrowby-77e"], "twin")])[0]
    layer = Layer(r)
    here = "hdmi1;range=hdr;mode=game"
    same = copy_cell(layer, "tv", here, "tv", "hdmi3;range=sdr;mode=game")
    # game mode is at its factory value, which nobody noted; preset and contrast are alike already
    assert [(op["key"], op["value"]) for op in same["ops"]] == [("light", "50")]
    sister = copy_cell(layer, "tv", here, "twin", here)
    assert "light" not in [op["key"] for op in sister["ops"]]
    assert any("Panel light" in words and "room" in words for words in sister["left"])
    after = apply(r, list(sister["ops"]))[0]
    assert after.settings["twin", here, "contrast"].plan == r.settings["tv", here, "contrast"].plan
    with pytest.raises(ChangeError, match="no sister"):
        copy_cell(layer, "tv", here, "k1", here)


# --- order: what resets others goes first ------------------------------------------------------------------


def resetting() -> Profile:
    reset = {"id": "wipes", "kind": "resets", "setting": "chroma", "because": "it puts the picture settings back"}
    chroma = {"id": "chroma", "label": "Sharp text", "default": "off", "where": "inputs page",
              "options": [{"id": "off", "label": "off"}, {"id": "on", "label": "on"}]}  # fmt: skip
    return screen(settings=[*SCREEN["settings"], chroma], quirks=[reset])


def resetting_rig() -> Rig:
    """Light to be set, gamma as found, and sharp text to be switched on, which puts both back."""
    cell = "hdmi1;range=sdr;mode=standard"
    return rig(device("k", "kelpine-k1"), of(resetting()), lead("L", "k/hdmi", "tv/hdmi1"), run("main", "k", "tv"),
               setting("tv", cell, "light", "12"), setting("tv", cell, "gamma", "2.4", "found"),
               setting("tv", "", "chroma", "on"))  # fmt: skip


def test_a_setting_that_resets_others_comes_first_and_what_it_puts_back_is_set_again() -> None:
    """4:4:4 or PC mode comes first: it resets the other picture settings (common practice)."""
    r = resetting_rig()
    titles = [s.title for s in plan_steps(r)]
    first, light, again = (next(n for n, t in enumerate(titles) if words in t)
                           for words in ("Sharp text →", "Light → 12", "Gamma → 2.4"))  # fmt: skip
    assert first < light
    assert first < again
    kept = apply(r, [setting("tv", "", "chroma", "off")])[0]
    back = apply(kept, [setting("tv", "", "chroma", "off", "found")])[0]
    assert not any("Gamma" in s.title for s in plan_steps(back))
    page = next(s for s in plan_steps(r) if "Sharp text" in s.title)
    after = apply(r, list(page.ops))[0]  # the box has put gamma back by now: it is no longer held for found
    gamma = next(v for (_, _, key), v in after.settings.items() if key == "gamma")
    assert (gamma.found, gamma.plan) == (None, "2.4")
    assert any("Gamma → 2.4" in s.title for s in plan_steps(after))


# --- on paper and in files -----------------------------------------------------------------------------------


def test_numbers_per_cell_reach_the_hand_over() -> None:
    rows = handover(filled())["settings"]
    light = {r["socket"]: r["plan"] for r in rows if (r["device"], r["setting"]) == ("TV", "Panel light")}
    assert light == {
        "HDMI 1, standard range, game": "15", "HDMI 1, HDR, game": "50", "HDMI 3, standard range, game": "15",
        "HDMI 3, HDR, game": "50", "HDMI 4, standard range, game": "15",
    }  # fmt: skip


@pytest.mark.parametrize("made", [s09, s14], ids=["S09", "S14"])
def test_every_cell_of_the_scenario_has_its_numbers_on_paper(made: Callable[[], Rig]) -> None:
    """Every input a run meets, in each range it is played in: figures for light, contrast and sharpness."""
    after = settings_plan(Layer(made())).after
    layer = Layer(after)
    rows = handover(after)["settings"]
    for label in ("Panel light", "Contrast", "Sharpness"):
        told = {r["socket"]: r["plan"] for r in rows if r["setting"] == label}
        met = {cell_words(after.devices["tv"].profile, spot.kept(("input", "range"))) for spot, _ in spots(layer, "tv")}
        assert set(told) == met
        assert all(value.isdigit() for value in told.values())


def through_a_file(r: Rig) -> Rig:
    return parse_job(json.dumps(job_data(Job("j1", "test", "UTC", r)))).rig


def test_cells_survive_the_job_file_and_files_of_the_first_format_still_read() -> None:
    r = filled()
    again = through_a_file(r)
    assert dict(again.settings) == dict(r.settings)
    old = profile_data(starter_profiles()["kelpine-m24"])
    old["settings"] = [{"id": "format", "label": "Format", "default": "basic", "ports": ["hdmi1"],
                        "options": [{"id": "basic", "label": "basic"}, {"id": "wide", "label": "wide"}]}]  # fmt: skip
    profile = profile_from_data(old)
    assert profile_data(profile)["settings"] == old["settings"]
    plain = rig(of(profile), setting("tv", "hdmi1", "format", "wide", "found"))
    assert through_a_file(plain).settings["tv", "hdmi1", "format"].found == "wide"


def test_a_profile_with_numbers_reads_from_yaml_and_back() -> None:
    text = (
        "wavilex_profile: 1\nid: t\nmaker: Tindrel\nmodel: T\nrole: screen\nkind: monitor\n"
        "ports: [{id: hdmi1, label: HDMI 1, direction: in}]\n"
        "settings:\n  - {id: g, label: Gamma, number: {from: 1.8, to: 2.6, step: 0.2}, default: 2.2}\n"
    )
    profile = parse_profile(text)
    assert profile.setting("g").default == "2.2"
    assert profile_from_data(profile_data(profile)) == profile


def test_a_menus_copy_overwrites_numbers_of_another_inputs_same_cell_and_says_which() -> None:
    """Two consoles on two inputs, light 20 on one and 35 on the other in standard range: the copy would lose one."""
    r = rig(
        device("k", "kelpine-k1"), device("q", "kelpine-k2"), of(screen()), lead("L", "k/hdmi", "tv/hdmi1"),
        lead("M", "q/hdmi", "tv/hdmi2"), run("one", "k", "tv", mode="3840x2160@60"),
        run("two", "q", "tv", mode="3840x2160@60"),
        *(setting("tv", f"hdmi{n};range=sdr", "preset", "game") for n in (1, 2)),
        *(setting("tv", f"hdmi{n};range=sdr;mode=game", "light", v) for n, v in ((1, "20"), (2, "35"))),
        setting("tv", "hdmi2;range=hdr;mode=game", "light", "50"),
    )  # fmt: skip
    (told,) = coverage_data(Layer(r), {})
    (said,) = [o for o in told["copying"]["overwrites"] if "Light" in o]
    assert said.startswith("HDMI 2, ")
    assert said.endswith("Light 35, not 20")  # that of HDR is another cell: the copy does not reach it
