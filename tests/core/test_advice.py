"""Advice on rigs as found on arrival, each claim held against another method than the one that makes it."""

from __future__ import annotations

import random
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import replace
from itertools import product
from typing import Any

import pytest

from tests.arrival_rigs import arrival, modes_of
from tests.rigs import analogue_lead, device, lead, rig, run, setting
from wavilex.core.advise.connect import rank_inputs
from wavilex.core.advise.fixes import Fixes, find_fixes
from wavilex.core.advise.relaxed import barred
from wavilex.core.advise.settings_plan import settings_plan_data
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer, States
from wavilex.core.chain.results import RunResult
from wavilex.core.chain.sound import sound_of
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Device, Rig, Run, Socket, Want
from wavilex.core.tell.ways import fixes_data
from wavilex.core.video.mode import parse_mode

# --- another box is asked for only where nothing of this job does it ----------------------------------


def settings_of(box: Device, ports: set[str], rnd: random.Random, most: int) -> Iterator[list[dict[str, Any]]]:
    """Every combination of what may be set on a box; of very many, some drawn at random."""
    own = [s for s in box.profile.settings if not s.in_cells and s.options]  # no other decides what a link carries
    places = [(s, scope) for s in own for scope in (s.ports or ("",)) if not scope or scope in ports]
    every = [[(s, scope, o.id) for o in s.options] for s, scope in places]
    count = 1
    for options in every:
        count *= len(options)
    chosen = product(*every) if count <= most else ([rnd.choice(o) for o in every] for _ in range(most))
    for combination in chosen:
        yield [setting(box.uid, scope, s.id, value) for s, scope, value in combination]


def had_somehow(r: Rig, asked: Run, seed: int, met: Callable[[RunResult], bool] = lambda x: x.good) -> bool:
    """Is the want met with the ends joined directly, at some pair of sockets, some way set? By trying it."""
    rnd = random.Random(seed)
    source, sink = r.devices[asked.source], r.devices[asked.sink]
    for out in (p for p in source.profile.outputs() if p.kind == "hdmi"):
        for inp in (p for p in sink.profile.inputs() if p.kind == "hdmi"):
            ends = device("s", source.profile.id), device("t", sink.profile.id)
            bare = rig(*ends, lead("L", f"s/{out.id}", f"t/{inp.id}"))
            joined = replace(asked, uid="r", source="s", sink="t")
            states = States()
            for there in settings_of(bare.devices["t"], {inp.id}, rnd, 24):
                for here in settings_of(bare.devices["s"], {out.id}, rnd, 12):
                    after, _ = apply(bare, [*there, *here])
                    after = replace(after, runs={"r": joined})
                    if met(run_result(Layer(after, "plan", states), joined)):
                        return True
    return False


def never_false(seeds: range) -> int:
    """How many claims were looked at; each holds."""
    claims = 0
    for seed in seeds:
        r = arrival(seed)
        for asked in r.runs.values():
            if run_result(Layer(r), asked).good or barred(r, asked) is None:
                continue
            claims += 1
            assert not had_somehow(r, asked, seed), f"{seed} {asked.uid}: it can be had"
    return claims


def test_another_box_is_never_asked_for_where_one_of_the_job_would_do() -> None:
    assert never_false(range(12)) > 2


@pytest.mark.soak
@pytest.mark.parametrize("part", range(10))
def test_another_box_is_never_asked_for_where_one_of_the_job_would_do_for_long(part: int) -> None:
    assert never_false(range(50 * part, 50 * part + 50)) > 10


# --- the want part by part ----------------------------------------------------------------------------


def alone(asked: Run, key: str, mode: str) -> Run:
    """The run with one part of its want only, written out here."""
    want = Want(mode=parse_mode(mode))
    own = {
        "hdr": {"hdr": asked.want.hdr, "bits": 10}, "vrr": {"vrr": True}, "low_lag": {"low_lag": True},
        "colour": {"chroma": asked.want.chroma}, "protection": {"protected": True},
    }.get(key, {})  # fmt: skip
    return replace(asked, want=replace(want, **own))


def kept_by(key: str) -> Callable[[RunResult], bool]:
    return lambda x: x.good and all(i.verdict == "fits" for i in x.items if key == "low_lag" == i.key)


def below(r: Rig, asked: Run, key: str) -> list[str]:
    """Modes both ends list that a part may be had at: of the wanted size, of the wanted rate, or any."""
    ends = [modes_of(r.devices[uid].profile) for uid in (asked.source, asked.sink)]
    every = [parse_mode(m) for m in {*ends[0]} & {*ends[1]} | {str(asked.want.mode)}]
    most = asked.want.mode
    return [
        m for m in every
        if (key != "size" or m.size == most.size) and (key != "rate" or m.hz == most.hz)
        and m.hz <= most.hz and m.width * m.height <= most.width * most.height
    ]  # fmt: skip


def parts_hold(seeds: range) -> Counter[str]:
    """Each part's answer held against trying it; how often each answer came."""
    seen: Counter[str] = Counter()
    for seed in seeds:
        r = arrival(seed)
        for asked in r.runs.values():
            for part, way in find_fixes(r, asked, budget=600).parts:
                seen[part.answer] += 1
                if part.key == "sound":
                    continue
                mode = str(part.mode or asked.want.mode)
                met = kept_by(part.key)
                if part.answer == "had":
                    assert met(run_result(Layer(r), alone(asked, part.key, mode))), (seed, part)
                elif way is not None:
                    after, _ = apply(r, way.ops)
                    assert met(run_result(Layer(after), alone(asked, part.key, mode))), (seed, part)
                elif part.answer == "never":
                    assert part.why
                    for m in below(r, asked, part.key)[:3]:
                        assert not had_somehow(r, alone(asked, part.key, m), seed, met), (seed, part, m)
    return seen


def test_each_part_of_a_want_is_answered_as_trying_it_answers() -> None:
    seen = parts_hold(range(8))
    assert {"had", "never", "by_steps"} <= set(seen)


@pytest.mark.soak
@pytest.mark.parametrize("part", range(10))
def test_each_part_of_a_want_is_answered_as_trying_it_answers_for_long(part: int) -> None:
    assert parts_hold(range(50 * part, 50 * part + 50))["never"] > 10


# --- every way does what it says, and says all it does ------------------------------------------------


def heard(layer: Layer, asked: Run) -> tuple[str, str] | None:
    found = sound_of(layer, run_result(layer, asked))
    return None if found.silent or found.best is None else (found.best.device, found.best.formats[0])


def all_told(r: Rig, asked: Run, fixes: Fixes) -> None:
    """Every run's verdict and sound before and after, against what the way says it touches."""
    before = Layer(r)
    for way in fixes.ways:
        changed, back = apply(r, way.ops)
        after = Layer(changed)
        assert run_result(after, changed.runs[asked.uid]).good, way.label
        assert apply(changed, back)[0] == r
        for uid, other in r.runs.items():
            verdicts = [run_result(view, view.rig.runs[uid]).verdict for view in (before, after)]
            sounds = [heard(before, other), heard(after, changed.runs[uid])]
            if (uid != asked.uid and verdicts[0] != verdicts[1]) or sounds[0] != sounds[1]:
                assert uid in {e.run for e in way.effects}, f"{way.label}: {uid} {verdicts} {sounds}"
            if sounds[0] is not None and sounds[1] is None:
                assert any(e.silent and e.run == uid for e in way.effects)
        good = [{u for u in r.runs if run_result(v, v.rig.runs[u]).good} for v in (before, after)]
        worse = good[0] - good[1]
        assert not worse or way.loses, f"{way.label} spoils {worse}"
    quiet = [w.loses for w in fixes.ways]
    assert quiet == sorted(quiet), "what takes nothing comes first"


def each_way(seeds: range) -> int:
    ways = 0
    for seed in seeds:
        r = arrival(seed)
        for asked in r.runs.values():
            if not run_result(Layer(r), asked).good:
                found = find_fixes(r, asked, budget=600)
                all_told(r, asked, found)
                ways += len(found.ways)
    return ways


def test_every_way_does_what_it_says_and_says_all_it_does() -> None:
    assert each_way(range(40)) > 10


@pytest.mark.soak
@pytest.mark.parametrize("part", range(10))
def test_every_way_does_what_it_says_for_long(part: int) -> None:
    assert each_way(range(50 * part, 50 * part + 50)) > 10


# --- the usual state on arrival -----------------------------------------------------------------------


def closed() -> Rig:
    """Wrong socket, closed port, 120 Hz not allowed, an update not made: four small acts away."""
    wanted: dict[str, Any] = {"mode": "3840x2160@120", "hdr": "static", "bits": 10, "vrr": True, "low_lag": True}
    return rig(
        device("console", "kelpine-k1"), device("tv", "ostavar-75g"), lead("A1", "console/hdmi", "tv/hdmi1"),
        run("main", "console", "tv", **wanted),
    )  # fmt: skip


def test_four_small_acts_are_found_where_three_do_not_do() -> None:
    r = closed()
    found = find_fixes(r, r.runs["main"])
    assert found.ways
    assert found.proved
    assert sorted(m.kind for m in found.ways[0].moves) == ["firmware", "input", "setting", "setting"]
    after, _ = apply(r, found.ways[0].ops)
    assert run_result(Layer(after), after.runs["main"]).good


def test_one_part_that_cannot_be_had_does_not_turn_the_whole_want_into_another_box() -> None:
    """A screen that takes 60 Hz at most: 4K120 is not to be had, and what can be is offered with its steps."""
    r = rig(
        device("console", "kelpine-k1"), device("tv", "yarrowby-50w"),
        lead("A1", "console/hdmi", "tv/hdmi1", "premium"),
        run("main", "console", "tv", mode="3840x2160@120", hdr="static", bits=10),
    )  # fmt: skip
    found = find_fixes(r, r.runs["main"])
    assert found.ways == ()
    assert found.barred is not None
    assert "Another television needs" in found.needs
    best = found.instead[0]
    assert best.lesser.want.mode in ("3840x2160@60", "1920x1080@120")
    assert best.lesser.goes_without
    told = fixes_data(found, r, r.runs["main"])
    assert told["said"].startswith("Proved")
    for instead in found.instead:
        if instead.way is not None:
            after, _ = apply(r, instead.way.ops)
            assert run_result(Layer(after), after.runs["main"], instead.lesser.want).good


def test_a_full_screen_asks_for_one_more_input_and_no_other_screen() -> None:
    inputs = ("hdmi1", "hdmi2", "hdmi3", "hdmi4")
    boxes = [device(f"s{n}", "kelpine-k2") for n in range(5)]
    leads = [lead(f"L{n}", f"s{n}/hdmi", f"tv/{i}") for n, i in enumerate(inputs)]
    runs = [run(f"r{n}", f"s{n}", "tv", mode="1920x1080@60") for n in range(5)]
    r = rig(*boxes, device("tv", "yarrowby-65s"), *leads, *runs)
    found = find_fixes(r, r.runs["r4"])
    assert found.ways == ()
    assert "a switch with 2 inputs at TV · HDMI 1, where r0 hangs, which asks least" in found.needs
    assert "Another" not in found.needs


def test_an_input_held_by_what_no_run_needs_is_taken() -> None:
    inputs = ("hdmi1", "hdmi2", "hdmi3", "hdmi4")
    boxes = [device(f"s{n}", "kelpine-k2") for n in range(5)]
    leads = [lead(f"L{n}", f"s{n}/hdmi", f"tv/{i}") for n, i in enumerate(inputs)]
    ends = [{"device": "s4", "port": "hdmi"}, None]
    row = {"uid": "L9", "label": "L9", "grade": "ultra", "length_mm": 2000, "found": ends, "plan": ends}
    loose = {"op": "add_lead", "lead": row}
    runs = [run(f"r{n}", f"s{n}", "tv", mode="1920x1080@60") for n in (0, 1, 2, 4)]
    r = rig(*boxes, device("tv", "yarrowby-65s"), *leads, loose, *runs)
    found = find_fixes(r, r.runs["r4"])
    assert "in place of L3, which no run needs" in found.ways[0].label


def roomed(length: int | None) -> Rig:
    far = {"op": "set_device", "device": "tv", "room": "Den"}
    near = [{"op": "set_device", "device": d, "room": "Office"} for d in ("console", "monitor")]
    return rig(
        device("console", "kelpine-k2"), device("tv", "yarrowby-65s"), device("monitor", "kelpine-m27"),
        lead("A1", "console/hdmi", "monitor/hdmi1", "ultra", length), far, *near,
        run("main", "console", "tv", mode="1920x1080@60"),
    )  # fmt: skip


@pytest.mark.parametrize(("length", "goes"), [(1500, False), (None, False), (4999, False), (5000, True), (8000, True)])
def test_a_short_lead_is_not_sent_to_another_room(length: int | None, goes: bool) -> None:
    found = find_fixes(roomed(length), roomed(length).runs["main"])
    assert any("lead A1" in w.label for w in found.ways) is goes


def test_what_a_reason_names_is_never_told_to_be_as_it_should_be() -> None:
    """Where no setting does it, the setting that stops the run is left out of what is well."""
    for seed in range(60):
        r = arrival(seed)
        layer = Layer(r)
        named = {
            (reason.socket.device, scope, key)
            for asked in r.runs.values()
            for reason in run_result(layer, asked).reasons if reason.socket and reason.origin
            for scope, key, _ in reason.origin.settings
        }  # fmt: skip
        plan = settings_plan_data(layer)
        taken = {(op["device"], op.get("scope", ""), op["key"]) for op in plan["ops"] if op["op"] == "set_setting"}
        well = {
            (box["device"], row["scope"], row["key"])
            for box in plan["boxes"] for row in box["rows"] if not row["changes"]
        }  # fmt: skip
        after, _ = apply(r, plan["ops"])
        still = {u for u, a in after.runs.items() if not run_result(Layer(after), a).good}
        named = {n for n in named if n not in taken} if still else set()
        assert not named & well, f"{seed}: {named & well}"


# --- what must stay, and what is apart ------------------------------------------------------------------


def behind_an_old_box(*marks: dict[str, Any]) -> Rig:
    """A receiver that caps everything at 1080p stands in the path; the screen's other inputs are free."""
    return rig(
        device("console", "kelpine-k1"), device("old", "ostavar-av610"), device("tv", "yarrowby-65s"),
        lead("A1", "console/hdmi", "old/in1"), lead("A2", "old/out", "tv/hdmi3"),
        run("main", "console", "tv", mode="3840x2160@60"), *marks,
    )  # fmt: skip


@pytest.mark.parametrize("mark", [{"op": "set_device", "device": "old", "mark": "stays"},
                                  {"op": "replace_lead", "lead": "A1", "mark": "stays"}])  # fmt: skip
def test_what_must_stay_is_never_left_out_or_moved(mark: dict[str, Any]) -> None:
    free = behind_an_old_box()
    assert any("past OLD" in w.label for w in find_fixes(free, free.runs["main"]).ways)
    kept = behind_an_old_box(mark)
    found = find_fixes(kept, kept.runs["main"])
    assert all("past" not in w.label for w in found.ways)
    ends = {uid: x.plan[1] and x.plan[1].device for uid, x in kept.leads.items()}
    for way in found.ways:
        after, _ = apply(kept, way.ops)
        assert after.leads["A1"].plan[1] is not None
        assert after.leads["A1"].plan[1].device == ends["A1"]


def test_a_lead_goes_to_another_room_where_it_is_as_long_as_the_job_says() -> None:
    far = {"op": "set_distance", "rooms": ["Office", "Den"], "value": 9000}
    for length, goes in ((8000, False), (9000, True)):
        r, _ = apply(roomed(length), [far])
        assert any("lead A1" in w.label for w in find_fixes(r, r.runs["main"]).ways) is goes
    r, _ = apply(roomed(1500), [far, {"op": "remove_lead", "lead": "A1"}])
    way = find_fixes(r, r.runs["main"]).ways[0]
    assert "at least 9 m" in way.moves[0].note
    assert next(op for op in way.ops if op["op"] == "add_lead")["lead"]["length_mm"] == 9000


def test_a_machine_with_two_outputs_to_one_screen_is_two_runs_and_neither_is_re_routed() -> None:
    """S18 on arrival: RGB by SCART stands; the composite lead plugged beside it makes a run of its own."""
    first = analogue_lead("V1", "machine/scart", "tv/scart")
    r = rig(device("machine", "brindlo-c16"), device("tv", "ostavar-43p"), first,
            run("main", "machine", "tv", mode="720x480@60"))  # fmt: skip
    option = next(o for o in rank_inputs(r, Socket("machine", "cvbs")) if o.socket == Socket("tv", "cvbs"))
    after, back = apply(r, option.ops)
    ways = {x.label: [h.out.port for h in run_result(Layer(after), x).path] for x in after.runs.values()}
    assert ways == {"main": ["scart"], "MACHINE, composite out": ["cvbs"]}
    assert after.runs["main"].way == ("V1",)
    assert apply(after, back)[0] == r
    for shown in ("cvbs", "scart", None):  # whatever the screen is found showing
        seen, _ = apply(after, [{"op": "select_input", "device": "tv", "value": shown}])
        assert [h.out.port for h in run_result(Layer(seen), seen.runs["main"]).path] == ["scart"]


def test_an_unchosen_way_stays_when_a_newer_lead_comes() -> None:
    newer = analogue_lead("V2", "machine/cvbs", "tv/cvbs")
    r = rig(
        device("machine", "brindlo-c16"), device("tv", "ostavar-43p"),
        run("main", "machine", "tv", mode="720x480@60"), analogue_lead("V1", "machine/scart", "tv/scart"), newer,
    )  # fmt: skip
    assert [h.out.port for h in run_result(Layer(r), r.runs["main"]).path] == ["scart"]
    chosen, _ = apply(r, [{"op": "set_run", "run": "main", "way": ["V2"]}])
    assert [h.out.port for h in run_result(Layer(chosen), chosen.runs["main"]).path] == ["cvbs"]
