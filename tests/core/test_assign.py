"""The best assignment: against brute force on small rigs, S14, the reason and the runner-up."""

from __future__ import annotations

import itertools
import random
from typing import Any

import pytest

from tests.rigs import device, lead, rig, run, s03, s14, setting
from wavilex.core.advise.assign import assign
from wavilex.core.advise.assign_bound import upper_bound
from wavilex.core.advise.effects import Standing
from wavilex.core.advise.fixes import find_fixes
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer, States
from wavilex.core.chain.results import RunResult
from wavilex.core.errors import ChangeError
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig, Socket
from wavilex.core.tell.assignment import assignment_data
from wavilex.library.pierhead import demo_changes

SOURCES = ("kelpine-k1", "kelpine-k2", "tindrel-stick", "brindlo-base", "yarrowby-d4", "ostavar-one")
MODES = ("3840x2160@120", "3840x2160@60", "2560x1440@120", "1920x1080@60")


def random_rig(seed: int) -> Rig:
    """Two or three sources, a screen, perhaps a switch or a receiver between."""
    rnd = random.Random(seed)
    screen = rnd.choice(("yarrowby-65s", "yarrowby-50w", "yarrowby-50i"))
    inputs = ["hdmi1", "hdmi2", "hdmi3"]
    ops = [device("tv", screen)]
    box = rnd.choice((None, "tindrel-s2", "ostavar-av940"))
    free = [f"tv/{i}" for i in inputs]
    rnd.shuffle(free)
    if box:
        ops += [device("box", box), lead("T", "box/out", free.pop())]
        free += ["box/in1", "box/in2"] if box == "tindrel-s2" else ["box/game", "box/disc"]
        rnd.shuffle(free)
    for n in range(rnd.choice((2, 2, 3))):
        source = rnd.choice(SOURCES)
        grade = rnd.choice(("ultra", "premium"))
        ops += [device(f"s{n}", source), lead(f"L{n}", f"s{n}/hdmi", free[n], grade)]
        hdr = rnd.choice(("off", "static"))
        weight = rnd.choice((1, 1, 3))
        ops.append(run(f"r{n}", f"s{n}", "tv", mode=rnd.choice(MODES), hdr=hdr, weight=weight))
    if screen == "yarrowby-50w":
        ops.append(setting("tv", "hdmi1", "format", rnd.choice(("basic", "wide"))))
    return rig(*ops)


# weights of runs that have their want; hundredths of the others' wants met, by weight; plugs moved; settings changed:
# each decides only where all before it are even (the last two as less is better)
Worth = tuple[int, int, int, int]
NOTHING: Worth = (0, 0, 0, 0)


def worth(results: list[RunResult], moved: int, settings: int) -> Worth:
    """What an arrangement is worth, by our own reading: satisfied first, then the share of the rest."""
    satisfied = part = 0
    for x in results:
        weight = x.run.want.weight
        if x.good:
            satisfied += weight
        elif x.path:
            met = sum(i.verdict in ("fits", "tight", "compressed") for i in x.items)
            part += weight * (90 * met // max(1, len(x.items)))
    return satisfied, part, -moved, -settings


def brute(r: Rig) -> Worth:
    """The greatest worth over every way to plug every lead (and set the inputs used), by really doing it."""
    leads = list(r.leads.values())
    inputs = [Socket(d.uid, p.id) for d in r.devices.values() for p in d.profile.inputs()]
    loose = [{"op": "move_lead", "lead": x.uid, "end": "b", "to": None} for x in leads]
    bare, _ = apply(r, loose)
    best: Worth | None = None
    for sockets in itertools.permutations(inputs, len(leads)):
        if any(x.uid == "T" and s.device != "tv" for x, s in zip(leads, sockets, strict=True)):
            continue
        ops = [
            {"op": "move_lead", "lead": x.uid, "end": "b", "to": {"device": s.device, "port": s.port}}
            for x, s in zip(leads, sockets, strict=True)
        ]
        try:
            there, _ = apply(bare, ops)
        except ChangeError:
            continue
        moved = [x.uid for x, s in zip(leads, sockets, strict=True) if x.plan[1] != s]
        here = _best_settings(there, dict(zip((x.uid for x in leads), sockets, strict=True)), moved)
        best = here if best is None else max(best, here)
    assert best is not None
    return best


def _best_settings(r: Rig, at: dict[str, Socket], moved: list[str]) -> Worth:
    """Settings of one input touch only the lead in it: each source's best, summed."""
    total: Worth = (0, 0, -int("T" in moved), 0)
    for uid, socket in at.items():
        if uid == "T":
            continue
        runs = [x for x in r.runs.values() if x.uid == f"r{uid[1:]}"]
        device_ = r.devices[socket.device]
        choices = []
        for s in device_.profile.settings:
            if socket.port in s.ports and not s.in_cells:
                now = r.setting_value("plan", device_.uid, socket.port, s)
                choices.append([None] + [(s.id, o.id) for o in s.options if o.id != now])
        found = [NOTHING]
        for pick in itertools.product(*choices):
            ops = [setting(device_.uid, socket.port, k, v) for k, v in (p for p in pick if p)]
            if len(ops) > 2:
                continue
            there, _ = apply(r, ops)
            results = [run_result(Layer(there), x) for x in runs]
            if any(x.path for x in results):
                found.append(worth(results, int(uid in moved), len(ops)))
        total = tuple(a + b for a, b in zip(total, max(found), strict=True))  # type: ignore[assignment]
    return total


@pytest.mark.parametrize("seed", range(24))
def test_the_assignment_is_the_best_there_is(seed: int) -> None:
    """References: every plugging done one by one with the real changes; and every way the search has for one run."""
    r = random_rig(seed)
    found = assign(r)
    after, back = apply(r, found.ops)
    done = [run_result(Layer(after), x) for x in after.runs.values()]
    assert {x.run.uid for x in done if x.good} == set(found.satisfied)
    assert apply(after, back)[0] == r
    weight = sum(x.run.want.weight for x in done if x.good)
    best = brute(r)
    assert weight >= best[0]
    if not found.more and weight == best[0] and all(found.best.places.values()):
        assert -found.best.moves >= best[2]
    for way in (w for x in r.runs.values() for w in find_fixes(r, x, budget=200).ways):
        there = Layer(apply(r, way.ops)[0])
        given = sum(x.want.weight for x in r.runs.values() if run_result(there, there.rig.runs[x.uid]).good)
        assert given <= weight, f"{way.label} gives more"


def test_what_is_proved_of_places_is_so_by_trying_every_input_opened() -> None:
    """Two 4K120 consoles, one fast input: proved, though not both have theirs; a bound counts inputs, not luck."""
    wanted = {"mode": "3840x2160@120", "hdr": "off"}
    r = rig(
        device("a", "kelpine-k1"), device("b", "kelpine-k1"), device("tv", "yarrowby-50i"),
        lead("A", "a/hdmi", "tv/hdmi1"), lead("B", "b/hdmi", "tv/hdmi2"),
        run("ra", "a", "tv", **wanted), run("rb", "b", "tv", **wanted),
    )  # fmt: skip
    found = assign(r)
    fast = [p.id for p in r.devices["tv"].profile.inputs() if p.video.frl is None or p.video.frl != "none"]
    assert len(found.satisfied) == min(2, len(fast))
    assert found.proved


def test_s03_as_an_assignment_is_the_swap() -> None:
    found = assign(s03())
    said = assignment_data(s03(), found)
    assert sorted(found.satisfied) == ["base", "stick"]
    assert said["moves"] == 2
    assert said["present_satisfied"] == 1
    assert said["headline"] == "Both runs get what they want after moving 2 plugs; as it hangs 1 of 2 does."
    assert said["runner_up"]["loses"]


def test_what_is_already_best_is_said_to_be() -> None:
    r, _ = apply(s03(), assign(s03()).ops)
    said = assignment_data(r, assign(r))
    assert said["ops"] == []
    assert said["headline"] == "It hangs as well as it can: both runs get what they want."


def test_weight_decides_who_gets_the_one_fast_input() -> None:
    def two(weight_a: int, weight_b: int) -> str:
        r = rig(
            device("a", "kelpine-k1"), device("b", "kelpine-k1"), device("tv", "yarrowby-50i"),
            device("c", "kelpine-k1"), lead("A", "a/hdmi", "tv/hdmi3"), lead("B", "b/hdmi", "tv/hdmi1"),
            lead("C", "c/hdmi", "tv/hdmi2"),
            setting("a", "", "fast_refresh", "on"), setting("b", "", "fast_refresh", "on"),
            setting("c", "", "fast_refresh", "on"),
            run("ra", "a", "tv", mode="3840x2160@120", weight=weight_a),
            run("rb", "b", "tv", mode="3840x2160@120", weight=weight_b),
            run("rc", "c", "tv", mode="3840x2160@120", weight=9),
        )  # fmt: skip
        return next(uid for uid in ("ra", "rb") if uid in assign(r).satisfied)

    assert two(2, 1) == "ra"
    assert two(1, 2) == "rb"


def test_s14_best_assignment_proved_with_settings_per_input() -> None:
    r = s14()
    found = assign(r)
    said = assignment_data(r, found)
    assert found.proved
    assert sorted(found.satisfied) == ["disc", "k1", "one", "stick"]
    at = {row["label"]: row["input"] for row in said["places"]}
    assert {at["k1"], at["one"]} == {"TV · HDMI 3", "TV · HDMI 4"}
    assert {s["text"] for row in said["places"] for s in row["settings"]} == {"TV: Input format → widest"}
    after, _ = apply(r, found.ops)
    assert all(run_result(Layer(after), x).good for x in after.runs.values())


def test_no_short_lead_is_sent_to_another_room_and_nothing_that_must_stay_is_moved() -> None:
    def placed(*ops: dict[str, Any]) -> set[str]:
        r = rig(
            device("console", "kelpine-k1"), device("av", "ostavar-av610"), device("tv", "yarrowby-65s"),
            lead("A1", "console/hdmi", "av/in1", length_mm=1500), lead("A2", "av/out", "tv/hdmi4"),
            run("main", "console", "tv", mode="3840x2160@60"), *ops,
        )  # fmt: skip
        return {x.plan[1].device for x in apply(r, assign(r).ops)[0].leads.values() if x.uid == "A1" and x.plan[1]}

    rooms = [{"op": "set_device", "device": d, "room": room} for d, room in
             (("console", "Office"), ("av", "Office"), ("tv", "Den"))]  # fmt: skip
    assert placed() == {"tv"}
    assert placed(*rooms) == {"av"}
    assert placed({"op": "set_device", "device": "av", "mark": "stays"}) == {"av"}
    assert placed({"op": "replace_lead", "lead": "A1", "mark": "stays"}) == {"av"}


def test_places_that_give_the_same_pictures_are_not_paid_for_with_sound() -> None:
    """A disc player in a receiver that decodes everything; every input of the screen would show it as well."""
    r = rig(
        device("disc", "yarrowby-d4"), device("av", "ostavar-av940"), device("tv", "yarrowby-65s"),
        lead("D", "disc/hdmi", "av/disc", "premium"), lead("T", "av/out", "tv/hdmi3"),
        run("disc", "disc", "tv", mode="3840x2160@60", hdr="static", bits=10),
    )  # fmt: skip
    now = Standing(Layer(r))
    assert now.sound("disc") is not None
    found = assign(r)
    then = Standing(Layer(apply(r, found.ops)[0]))
    assert found.satisfied == ["disc"]
    assert then.sound("disc") == now.sound("disc")
    assert not [e for e in found.effects if e.worse]


def test_the_bound_counts_each_wide_input_once() -> None:
    """A screen with one wide input: of two runs that need it the heavier counts, and a plain one beside it."""
    fast: dict[str, Any] = {"mode": "3840x2160@60", "hdr": "static", "bits": 10}
    r = rig(
        device("a", "kelpine-k1"), device("b", "kelpine-k1"), device("tv", "yarrowby-50w"),
        run("ra", "a", "tv", weight=3, **fast), run("rb", "b", "tv", weight=2, **fast),
    )  # fmt: skip
    assert upper_bound(r, States()) == 3
    r, _ = apply(r, [device("c", "kelpine-k1"), run("rc", "c", "tv", mode="1920x1080@60")])
    assert upper_bound(r, States()) == 4


def test_the_demo_keeps_the_disc_players_sound() -> None:
    """As hung the receiver gets it whole; by the return channel of the screen it would be lossy."""
    r, _ = apply(Rig(title="demo"), demo_changes())
    found = assign(r)
    assert len(found.satisfied) == 16
    assert not [e.words for e in found.effects if e.worse]
