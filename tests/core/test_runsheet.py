"""The run sheet: from found to plan, in an order that holds, without losing ticks."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.test_chain import PLAIN, QUIRKY, random_rig
from tests.rigs import device, rig, s03, s05, s10, s14, setting
from wavilex.core.advise.assign import assign
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig
from wavilex.core.runsheet.plan import POWER_OFF, POWER_ON, minutes_of, plan_steps
from wavilex.core.runsheet.sheet import Event, is_off, sheet_data
from wavilex.core.runsheet.step import ORDER, Step, ordered


def titles(r: Rig) -> list[str]:
    return [s.title for s in plan_steps(r)]


def planned(r: Rig) -> Rig:
    """The rig with its best assignment planned and not yet done."""
    return apply(r, assign(r).best.ops)[0]


def test_s14_wiring_with_everything_off_then_formats_then_resync() -> None:
    steps = plan_steps(planned(s14()))
    at = {s.title: n for n, s in enumerate(steps)}
    off, on = at["Everything off at the mains, volume down"], next(n for t, n in at.items() if t.startswith("Power on"))
    leads = [n for t, n in at.items() if t.startswith("Lead A")]
    formats = [n for t, n in at.items() if "Input format → widest" in t]
    resyncs = [n for t, n in at.items() if t.startswith("Re-sync")]
    assert off < min(leads)
    assert max(leads) < on < min(formats)
    assert len(formats) == len(resyncs) == 2
    assert min(formats) < min(resyncs)


def test_the_strongest_link_is_wired_first() -> None:
    leads = [s.title for s in plan_steps(planned(s14())) if s.title.startswith("Lead A")]
    assert leads[0].split()[1] in ("A1:", "A2:")  # the consoles at 4K120 before the 18 Gb/s boxes


def test_s10_firmware_comes_before_anything_is_set() -> None:
    r, _ = apply(s10(), [{"op": "set_device", "device": "tv", "firmware_plan": "3.1"},
                         setting("tv", "hdmi3", "format", "full")])  # fmt: skip
    said = titles(r)
    update = said.index("Update TV from 2.9 to 3.1")
    assert update < said.index("TV, HDMI 3: Input format → widest")


def test_a_setting_waits_for_what_frees_it() -> None:
    """Interpolation is greyed out until game mode is on: game mode first, whatever the order of planning."""
    r = rig(
        device("tv", "yarrowby-50i"), setting("tv", "", "interpolation", "on"), setting("tv", "hdmi1", "game", "on")
    )
    r, _ = apply(r, [setting("tv", "", "speed", "middle")])
    steps = plan_steps(r)
    by_key = {s.key: n for n, s in enumerate(steps)}
    for n, s in enumerate(steps):
        assert all(by_key[k] < n for k in s.needs if k in by_key)


@pytest.mark.parametrize("gear", [PLAIN, QUIRKY], ids=["plain", "quirky"])
@given(seed=st.integers(0, 10_000))
@settings(max_examples=40)
def test_no_step_before_its_prerequisite(gear: tuple[tuple[str | None, ...], ...], seed: int) -> None:
    """On random rigs, planned anew: needs first, and phases in the stated order but for what is needed early."""
    r = random_rig(seed, gear)
    try:
        r = planned(r)
    except IndexError:
        return
    steps = plan_steps(r)
    place = {s.key: n for n, s in enumerate(steps)}
    assert len(place) == len(steps)  # every step once
    for n, s in enumerate(steps):
        assert all(place[k] < n for k in s.needs if k in place)
    leads = [n for n, s in enumerate(steps) if s.phase == "wire" and s.ops]
    if leads:
        assert place[POWER_OFF] < min(leads)
        assert place[POWER_ON] > max(leads)


def test_a_cycle_of_needs_is_refused() -> None:
    with pytest.raises(ValueError, match="needs itself"):
        ordered([Step("a", "wire", "A", needs=("b",)), Step("b", "wire", "B", needs=("a",))])


def test_ticking_all_that_records_something_makes_found_the_plan() -> None:
    """The steps' ops, done in order, leave nothing that records."""
    r = planned(s14())
    for step in plan_steps(r):
        r, _ = apply(r, step.ops)
    assert [s.title for s in plan_steps(r) if s.ops] == []
    assert all(x.found == x.plan for x in r.leads.values())


def event(step: Step, state: str = "done") -> Event:
    return Event(step.key, state, step.title, step.phase, "2026-11-25T10:00:00+00:00", "ana")


def test_a_tick_holds_while_its_step_is_the_same() -> None:
    r = s05()
    prove = next(s for s in plan_steps(r) if s.phase == "prove")
    ticked = sheet_data(r, [event(prove)])
    rows = {row["key"]: row for phase in ticked["phases"] for row in phase["steps"]}
    assert not rows[prove.key]["open"]
    other, _ = apply(r, [{"op": "set_want", "run": "main", "key": "mode", "value": "3840x2160@60"}])
    again = sheet_data(other, [event(prove)])
    rows = {row["key"]: row for phase in again["phases"] for row in phase["steps"]}
    assert not rows[prove.key]["open"]  # what was proved stays proved
    assert any(row["open"] for row in rows.values() if "prove" in row["key"])  # the new signal is not


def test_a_revert_is_evidence_and_the_step_stays_open() -> None:
    r, _ = apply(s10("3.2"), [setting("console", "", "fast_refresh", "off", "found")])
    step = next(s for s in plan_steps(r) if s.keep)
    data = sheet_data(r, [event(step, "reverted")])
    row = next(row for phase in data["phases"] for row in phase["steps"] if row["key"] == step.key)
    assert (row["open"], row["state"]) == (True, "reverted")


def test_off_until_on_again() -> None:
    off, on = Step(POWER_OFF, "wire", "off"), Step(POWER_ON, "select", "on")
    assert is_off([event(off)])
    assert not is_off([event(off), event(on)])
    assert not is_off([event(off), event(off, "undone")])


def test_the_sheet_counts_what_is_left() -> None:
    r = planned(s03())
    data = sheet_data(r, [])
    steps = plan_steps(r)
    assert (data["open"], data["minutes_left"], data["next"]) == (len(steps), minutes_of(steps), steps[0].key)
    assert [p["id"] for p in data["phases"]] == [p for p in ORDER if p in {s.phase for s in steps}]


def test_cautions_stand_at_the_step_they_belong_to() -> None:
    steps = plan_steps(planned(s14()))
    assert "power_off" in next(s for s in steps if s.key == POWER_OFF).cautions
    r, _ = apply(s05(), [{"op": "set_want", "run": "main", "key": "low_lag", "value": True}])
    assert "flashing" in next(s for s in plan_steps(r) if s.phase == "lag").cautions


def test_a_swap_of_two_plugs_takes_minutes() -> None:
    """What a swap adds to a sheet, all off and on again counted: own figures, a few minutes and no hour."""
    r = s03()
    here = minutes_of([s for s in plan_steps(r) if s.phase in ("wire", "select")])
    leads = [x.uid for x in r.leads.values() if x.plan[1] is not None and x.plan[1].device == "tv"][:2]
    swapped = apply(r, [{"op": "swap_leads", "end": "b", "leads": leads}])[0]
    then = minutes_of([s for s in plan_steps(swapped) if s.phase in ("wire", "select")])
    assert 4 <= then - here <= 12
