"""Conditions as states of the box: what is tried, what bars it, in which order, what it costs, and who reads that."""

from __future__ import annotations

import random
from dataclasses import replace
from fractions import Fraction
from itertools import pairwise, permutations
from typing import Any

import numpy as np
import pytest
from scipy.stats import mannwhitneyu

from tests.rigs import device as box
from tests.rigs import rig, s20
from wavilex.core.advise.lag_cost import added_lag, added_ms, measured_costs, no_change, told_costs
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.errors import ChangeError
from wavilex.core.fault.complaints import felt
from wavilex.core.gear.conditions import NOWHERE, Surroundings
from wavilex.core.gear.profile import Profile
from wavilex.core.lag.at_run import Screen, as_it_stands
from wavilex.core.lag.beside import Measured, beside
from wavilex.core.lag.groups import Group
from wavilex.core.lag.order import blocked, seconds_of
from wavilex.core.lag.plan import Bench, Cell, cells, ordered, steps_back, steps_before
from wavilex.core.lag.readings import Way
from wavilex.core.lag.regression import Epoch
from wavilex.core.lag.report import Asked, lag_report
from wavilex.core.lag.setting_cost import fact_of
from wavilex.core.lag.state import StateError, apart, barred, checked, lag_settings, name_of, of_names, quickest
from wavilex.core.modes.titles import title_plans
from wavilex.core.prove.arrival import arrival
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig
from wavilex.core.rig.ops import to_set
from wavilex.library import starter_profiles

TV = starter_profiles()["yarrowby-65s"]
PORT = "hdmi4"
FAST = {"game": "on", "noise": "off", "motion": "off"}
SLOW = {**FAST, "game": "off"}


# --- states


def test_what_may_cost_time_is_offered_and_only_that() -> None:
    offered = {s.id for s in lag_settings(TV, PORT)}
    assert {"game", "noise", "motion", "preset", "tone"} == offered  # warmth, light and white balance cost no time
    assert {s.id: quickest(s) for s in lag_settings(TV, PORT)} == {
        "game": "on", "noise": "off", "motion": "off", "preset": "game", "tone": "source",
    }  # fmt: skip


@pytest.mark.parametrize("profile", starter_profiles().values(), ids=lambda p: p.id)
def test_no_setting_that_a_claim_hangs_on_is_left_out(profile: Profile) -> None:
    for port in ("", *(p.id for p in profile.inputs())):
        offered = {s.id for s in lag_settings(profile, port)}
        for quirk in profile.quirks:
            if quirk.kind == "lag" and quirk.when is not None:
                here = {
                    n for n in quirk.when.settings() if not (ps := profile.setting(n).ports) or not port or port in ps
                }
                assert here <= offered


def test_what_the_baseline_bars_is_said_with_the_rule() -> None:
    assert barred(TV, PORT, {**SLOW, "motion": "on"}, NOWHERE) == ""
    why = barred(TV, PORT, {**FAST, "motion": "on"}, NOWHERE)
    assert why == "Interpolation on cannot be had so: game mode shuts interpolation off"
    with pytest.raises(StateError, match="game mode shuts interpolation off"):
        checked(TV, PORT, {**FAST, "motion": "on"}, NOWHERE)
    with pytest.raises(StateError, match="no setting 'colours'"):
        checked(TV, PORT, {"colours": "on"}, NOWHERE)
    with pytest.raises(StateError, match="Game mode is off, on, auto, not 'perhaps'"):
        checked(TV, PORT, {"game": "perhaps"}, NOWHERE)


def test_names_that_were_only_words_mean_what_the_box_calls_them() -> None:
    assert of_names(TV, ["game", "standard", "sports"]) == {
        "game": {"preset": "game"},
        "standard": {"preset": "standard"},
    }
    plain = starter_profiles()["yarrowby-50i"]  # without a preset of its own
    assert of_names(plain, ["game", "standard"]) == {"game": {"game": "on"}, "standard": {"game": "off"}}
    assert name_of(TV, FAST, {**FAST, "noise": "high"}) == "Noise reduction strong"
    assert name_of(TV, FAST, FAST) == "baseline"


def test_states_that_do_not_speak_of_the_same_are_never_compared() -> None:
    assert apart(FAST, SLOW) == ("game",)
    assert apart(FAST, FAST) == ()
    assert apart(FAST, {"game": "on"}) is None
    assert apart({}, FAST) is None


def test_what_stands_in_the_way_of_game_mode_is_in_the_baseline_too() -> None:
    """S06 and S20: another special mode is on."""
    old = starter_profiles()["yarrowby-55h"]
    assert [s.id for s in lag_settings(old, "hdmi1")] == ["game", "special", "noise"]
    shown = Surroundings(shown_input="hdmi1")
    why = barred(old, "hdmi1", {"game": "on", "special": "sports", "noise": "off"}, shown)
    assert why == "Game mode on cannot be had so: another special mode is on"
    assert barred(old, "hdmi1", {"game": "on", "special": "none", "noise": "off"}, shown) == ""


# --- order


def test_the_order_is_the_quickest_of_all_orders() -> None:
    """Against every order written out (itertools), over random costs that are no metric."""
    rnd = random.Random(5)
    for n in (1, 2, 3, 5, 6, 7):
        first = [rnd.randrange(60) for _ in range(n)]
        cost = [[rnd.randrange(60) for _ in range(n)] for _ in range(n)]

        def between(a: int | None, b: int) -> int:
            return first[b] if a is None else cost[a][b]  # noqa: B023

        found = blocked(range(n), between, rnd.shuffle)
        assert sorted(found) == list(range(n))
        assert seconds_of(found, between) == min(seconds_of(o, between) for o in permutations(range(n)))


def test_a_full_table_changes_the_slow_things_least() -> None:
    """Two inputs, three signals, three modes, by hand: inputs change once, signals five times at the most."""
    states = {"a": FAST, "b": {**FAST, "noise": "high"}, "c": {**FAST, "noise": "auto"}}
    wanted = cells(list(states), ["1920x1080@60", "1280x720@60", "720x480@60"], ["HDMI 1", "HDMI 4"])
    bench = Bench(TV, states, {})
    order = ordered(wanted, "grouped", random.Random(1).shuffle, bench)
    assert sorted(order) == sorted(wanted)
    assert sum(a.input != b.input for a, b in pairwise(order)) == 1
    assert sum(a.signal != b.signal for a, b in pairwise(order)) <= 5
    mixed = ordered(wanted, "random", random.Random(1).shuffle, bench)
    assert seconds_of(order, bench.between) < seconds_of(mixed, bench.between) / 2


def test_before_a_cell_exactly_what_changes_is_set_and_afterwards_put_back() -> None:
    found = {"game": "off", "noise": "auto", "motion": "on"}
    bench = Bench(TV, {"baseline": SLOW, "Interpolation on": {**SLOW, "motion": "on"}}, found)
    first, then = Cell("1920x1080@60", "HDMI 4", "baseline"), Cell("1920x1080@60", "HDMI 4", "Interpolation on")
    words = [s.words for s in steps_before(bench, None, first, sent=True)]
    assert words == ["Plug the meter into HDMI 4 and show that input", "Signal 1080p60: the meter sends it",
                     "Noise reduction: off", "Interpolation: off"]  # fmt: skip
    assert [(s.words, s.where) for s in steps_before(bench, first, then)] == [
        ("Interpolation: on", "picture page, motion")
    ]
    assert [s.words for s in steps_back(bench, then, {})] == ["Noise reduction: automatic"]
    (unsaid,) = steps_back(bench, Cell(condition="a word"), {})  # of a mode of which only the name is known
    assert unsaid.words == "Nobody noted what was set for these modes"
    unseen = replace(bench, now={})  # what nobody saw is put as it is planned, and else that is said
    assert [s.words for s in steps_back(unseen, then, {"motion": "off"})] == [
        "Interpolation: off", "Nobody noted how it stood before: Game mode, Noise reduction",
    ]  # fmt: skip
    assert steps_before(bench, first, replace(first, position="top"))[0].words == "Sensor on the patch at the top"


# --- costs


def group(condition: str, middle_us: int, n: int = 12, spread: int = 300, firmware: str = "2.6", **cell: str) -> Group:
    values = tuple(int(v) for v in np.random.default_rng(middle_us + n).normal(middle_us, spread, n))
    at = Cell(cell.get("signal", "1920x1080@60"), cell.get("input", "HDMI 4"), condition, "middle")
    return Group(at, values, (), ("meter",), (Epoch("2026-11-30", firmware, values),), Way("meter", None))


STATES = {
    "baseline": SLOW, "Interpolation on": {**SLOW, "motion": "on"}, "Noise reduction strong": {**SLOW, "noise": "high"},
    "both": {**SLOW, "motion": "on", "noise": "high"}, "Game mode on": FAST,
}  # fmt: skip
GROUPS = [group("baseline", 60_000), group("Interpolation on", 95_000), group("Noise reduction strong", 60_100),
          group("both", 95_000), group("Game mode on", 12_000), group("a word", 50_000)]  # fmt: skip


def costs(groups: list[Group], **more: Any) -> dict[str, Any]:
    asked = Asked(baseline="baseline", states=STATES, profile=TV, firmware="2.6", **more)
    return {c["words"]: c for c in lag_report(groups, asked)["setting_costs"]}


def test_a_cost_is_of_one_setting_alone_and_proved_or_not() -> None:
    found = costs(GROUPS)
    assert set(found) == {"Interpolation on instead of off", "Noise reduction strong instead of off",
                          "Game mode on instead of off"}  # fmt: skip
    motion, noise = found["Interpolation on instead of off"], found["Noise reduction strong instead of off"]
    assert motion["decision"] == "changed"
    assert motion["ms"] == pytest.approx(35, abs=0.5)
    assert noise["decision"] == "same"
    assert found["Game mode on instead of off"]["ms"] < -47
    # scipy's own test agrees that one differs and the other is not told apart
    values = {g.cell.condition: g.values for g in GROUPS}
    assert mannwhitneyu(values["baseline"], values["Interpolation on"]).pvalue < 0.001
    assert mannwhitneyu(values["baseline"], values["Noise reduction strong"]).pvalue > 0.05
    assert all(c["proved"] for c in found.values())


def test_few_readings_and_two_firmwares_prove_nothing() -> None:
    few = costs([group("baseline", 60_000, 3), group("Interpolation on", 95_000, 3)])
    assert [c["proved"] for c in few.values()] == [False]
    two = costs([group("baseline", 60_000, firmware="2.4"), group("Interpolation on", 95_000)])
    assert [(c["proved"], c["firmware"]) for c in two.values()] == [(False, "")]
    other = costs([group("baseline", 60_000), group("Interpolation on", 95_000, signal="1280x720@60")])
    assert other == {}  # another signal is another difference


def test_a_cell_says_what_it_was_set_to_and_when_it_is_older_than_the_firmware() -> None:
    told = lag_report([group("baseline", 60_000, firmware="2.4")], Asked(states=STATES, profile=TV, firmware="2.6"))
    (cell,) = told["conditions"]
    assert cell["set_to"] == "Game mode off, Noise reduction off, Interpolation off"
    assert cell["older"] == "taken on firmware 2.4; 2.6 runs now: measure again"


# --- who reads them


def kept(groups: list[Group], firmware: str = "2.6") -> Rig:
    """The museum of S20 with a screen whose costs were measured, as found: game mode off, interpolation on."""
    r = rig(box("tv", "yarrowby-65s"), {"op": "set_device", "device": "tv", "firmware": firmware})
    ops = [
        {"op": "set_fact", "device": "tv", "path": c["path"], "value": fact_of(c).model_dump(exclude_defaults=True)}
        for c in costs(groups).values() if c["proved"]
    ]  # fmt: skip
    return apply(r, ops)[0]


def standing_in(r: Rig, state: dict[str, str]) -> tuple[Any, ...]:
    from wavilex.core.lag.state import standing

    around = Surroundings(r.devices["tv"].firmware, shown_input=PORT)
    return added_lag(r, r.devices["tv"], PORT, standing(TV, PORT, state, around), around)


def test_measured_costs_replace_claims_and_nothing_is_counted_twice() -> None:
    claimed = standing_in(rig(box("tv", "yarrowby-65s")), {**SLOW, "motion": "on"})
    assert added_ms(claimed) == 38 + 48  # the profile's own two claims
    assert not any(a.measured for a in claimed)
    own = standing_in(kept(GROUPS), {**SLOW, "motion": "on"})
    assert {a.setting for a in own} == {"motion", "game"}
    assert all(a.measured for a in own)
    assert added_ms(own) == pytest.approx(35 + 48, abs=1)  # game mode off costs what game mode on saved
    assert (
        "measured here: Interpolation on costs 34.9 ms (34.6 to 35.2) against off"
        in next(a for a in own if a.setting == "motion").why
    )
    assert standing_in(kept(GROUPS), FAST) == ()
    # of a value nobody measured the claim still stands, and what was proved to be nothing adds nothing
    assert [a.setting for a in standing_in(kept(GROUPS), {**FAST, "noise": "high"})] == []


def test_a_value_measured_only_against_another_than_the_nearest_keeps_its_claim() -> None:
    """Two sessions with different baselines: what the newer did not measure is not counted as nothing."""
    r = kept(GROUPS)
    newer = {"setting": "noise", "option": "auto", "against": "high", "input": "HDMI 4", "cost_us": -6000,
             "low_us": -6300, "high_us": -5700, "readings": 12, "changed": True, "firmware": "2.6",
             "day": "2026-12-01"}  # fmt: skip
    r = apply(r, [{"op": "set_fact", "device": "tv", "path": "setting_lag.newer", "value": newer}])[0]
    added = {a.setting: float(a.ms) for a in standing_in(r, {**FAST, "noise": "high"})}
    assert added == {"noise": 6.0}  # of the newer one, against the quickest it measured
    assert [a.setting for a in standing_in(r, {**FAST, "noise": "off"})] == []


def test_new_firmware_makes_them_stale_and_the_claims_stand_again() -> None:
    r = kept(GROUPS, firmware="2.7")
    assert measured_costs(r, r.devices["tv"], r.devices["tv"].firmware).by_setting == {}
    said = [s for of in told_costs(r, r.devices["tv"], "2.7").values() for s in of]
    assert len(said) == 3
    assert all(s.stale and s.why.endswith("with 2.7 measure again") for s in said)
    assert "on +34.9 ms against off, on 2.6: measure again" in [s.words for s in said]
    assert added_ms(standing_in(r, {**SLOW, "motion": "on"})) == 38 + 48
    unknown = kept(GROUPS, firmware="")
    assert measured_costs(unknown, unknown.devices["tv"], unknown.devices["tv"].firmware).stale == ()


def test_a_cost_outside_its_interval_or_of_no_setting_is_refused() -> None:
    good = fact_of(costs(GROUPS)["Interpolation on instead of off"]).model_dump(exclude_defaults=True)
    r = rig(box("tv", "yarrowby-65s"))
    for bad in ({"cost_us": 99_000}, {"setting": "none"}, {"option": "none"}, {"readings": 0}, {"day": "today"}):
        with pytest.raises(ChangeError):
            apply(r, [{"op": "set_fact", "device": "tv", "path": "setting_lag.x", "value": {**good, **bad}}])


def test_the_chain_takes_the_nearest_state_and_brings_it_to_how_the_screen_stands() -> None:
    r = kept(GROUPS)
    by = {"baseline": Screen(Fraction(60_000), "baseline", "1920x1080@60"), "word": Screen(Fraction(9000), "word")}
    told = measured_costs(r, r.devices["tv"], r.devices["tv"].firmware)
    as_measured = as_it_stands(by, STATES, SLOW, told, TV)
    assert as_measured is not None
    assert (as_measured.lag_us, as_measured.beside) == (60_000, "")
    more = as_it_stands(by, STATES, {**SLOW, "motion": "on", "noise": "auto"}, told, TV)
    assert more is not None
    assert float(more.lag_us or 0) == pytest.approx(95_000, abs=500)
    assert more.beside.startswith("Noise reduction automatic not measured with it; Interpolation on +3")
    assert as_it_stands({"word": by["word"]}, STATES, SLOW, told, TV) is None  # nobody noted what it means


def s20_measured(same: bool) -> tuple[Rig, float]:
    """S20 on arrival: game mode off; what was measured of it, and how likely the lag is then held to be."""
    r = s20()
    screen = next(x.sink for x in r.runs.values())
    device = r.devices[screen]
    game = next(s for s in device.profile.settings if s.effect == "game_mode")
    us = 100 if same else 50_000
    value = {"setting": game.id, "option": "off", "against": "on", "cost_us": us, "low_us": us - 300,
             "high_us": us + 300, "readings": 12, "changed": not same, "day": "2026-11-30"}  # fmt: skip
    port = run_result(Layer(r, "found"), next(iter(r.runs.values()))).path[-1].inp.port
    found = [to_set((screen, port, game.id), "off", "found"), to_set((screen, "", "special"), "none", "found"),
             {"op": "select_input", "layer": "found", "device": screen, "value": port}]  # fmt: skip
    r = apply(r, [*found, {"op": "set_fact", "device": screen, "path": "setting_lag.x", "value": value}])[0]
    layer = Layer(r, "found")
    result = run_result(layer, next(iter(r.runs.values())))
    return r, felt(layer, result, arrival(layer, result))["lags"].likely


def test_s20_a_measured_cost_moves_the_complaint() -> None:
    r, costly = s20_measured(same=False)
    _, none = s20_measured(same=True)
    assert costly >= 0.85 > none
    screen = next(iter(r.runs.values())).sink
    game = next(s for s in r.devices[screen].profile.settings if s.effect == "game_mode")
    assert no_change(r, r.devices[screen], "", game.id, "off") is None


def test_titles_show_what_was_measured_of_a_setting() -> None:
    r, _ = s20_measured(same=False)
    layer = Layer(r, "plan")
    plans = title_plans(layer, run_result(layer, next(iter(r.runs.values()))))
    assert plans is not None
    told = [c for row in plans["rows"] for c in row["costs"]]
    assert len(told) == 1
    assert told[0]["words"] == "off +50.0 ms against on"
    assert told[0]["why"].startswith("measured here: Game mode off costs 50.0 ms (49.7 to 50.3) against on")


# --- side by side


def test_screens_side_by_side_against_one_baseline() -> None:
    a = Measured("a", "Den screen", "television", [group("game", 12_000), group("film", 90_000)], 2000)
    b = Measured(
        "b", "Desk screen", "monitor", [group("game", 4_000), group("game", 4_000, signal="1280x720@60")], 2000
    )
    told = beside([a, b], "b/game, 1080p60")
    rows = {r["key"]: r for r in told["rows"]}
    assert told["baseline"] == "b/game, 1080p60"
    assert rows["b/game, 1080p60"]["against_ms"] is None
    assert rows["a/game"]["against_ms"] == pytest.approx(8, abs=0.3)
    assert rows["a/game"]["decided"] == "changed"
    assert rows["a/game"]["ratio"] == pytest.approx(3, abs=0.2)
    assert rows["b/game, 720p60"]["not_alike"] == "another signal"
    assert rows["b/game, 720p60"]["decided"] == "no practical change"
    assert beside([a], "gone")["baseline"] == "a/game"
    assert beside([])["rows"] == []
