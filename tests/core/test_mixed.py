"""Rigs of mixed sockets: HDMI, DisplayPort, USB-C, DVI, adapters, docks; fixes, assignment and undo by trying it all.

References: every stated move listed by socket and plug alone, without looking at a reason; every plugging really made.
"""

from __future__ import annotations

import itertools
import random
from collections.abc import Iterator
from typing import Any

import pytest

from tests.core.test_chain import POINTS
from tests.rigs import device, rig, run, scopes_of, setting, values_of
from wavilex.core.advise.assign import assign
from wavilex.core.advise.fixes import find_fixes
from wavilex.core.advise.moves_settings import Move
from wavilex.core.advise.search import move_paths
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer, States
from wavilex.core.errors import ChangeError
from wavilex.core.gear.ports import Port
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig, Socket
from wavilex.core.video.codes import listed_timing

SOURCES = ("tindrel-r9", "tindrel-pc7", "brindlo-lt", "tindrel-r7")
SCREENS = ("kelpine-m28", "kelpine-m26", "kelpine-m22", "kelpine-m27")
BETWEEN = (None, None, "tindrel-pa3", "tindrel-ac40", "brindlo-dk4", "tindrel-hd", "tindrel-pa1", "tindrel-pt")
# which plug goes where, written out here again: sending socket to receiving ones
GOES = {"hdmi": ("hdmi", "dvi"), "dvi": ("dvi", "hdmi"), "dp": ("dp",), "usbc": ("usbc", "dp")}
GRADES = {
    "hdmi": ("high_speed", "premium", "ultra"), "dp": ("dp54g", "dp8k", "dp40"), "usbc": ("c_usb2", "c_5", "c_20"),
    "dvi": ("dvi_single", "dvi_dual"),
}  # fmt: skip
RISE = {
    "hdmi": ("standard", "high_speed", "premium", "ultra", "ultra96"), "dvi": ("dvi_single", "dvi_dual"),
    "dp": ("dp54g", "dp8k", "dp40", "dp54", "dp80"), "usbc": ("c_usb2", "c_5", "c_20", "c_40", "c_80"),
}  # fmt: skip


def picture(r: Rig, uid: str, direction: str) -> list[Port]:
    return [p for p in r.devices[uid].profile.ports if p.direction == direction and p.kind in GOES]


def mixed(seed: int) -> Rig:
    """One or two sources, a screen, perhaps a box between; leads between any sockets that they join; odd settings."""
    tries = (_tried(random.Random(f"mixed {seed} {n}")) for n in itertools.count())
    return next(r for r in tries if Layer(r).paths(r.runs["r0"]))


def _tried(rnd: random.Random) -> Rig:
    sources = rnd.sample(SOURCES, rnd.choice((1, 2)))
    r = rig(device("tv", rnd.choice(SCREENS)), *(device(f"s{n}", uid) for n, uid in enumerate(sources)))
    between = rnd.choice(BETWEEN)
    if between:
        r, _ = apply(r, [device("mid", between)])
    taken: set[tuple[str, str]] = set()
    count = itertools.count(1)

    def plug(start: str, end: str) -> bool:
        nonlocal r
        pairs = [(o, i) for o in picture(r, start, "out") for i in picture(r, end, "in")
                 if i.kind in GOES[o.kind] and (start, o.id) not in taken and (end, i.id) not in taken]  # fmt: skip
        if not pairs:
            return False
        out, inp = rnd.choice(pairs)
        taken.update({(start, out.id), (end, inp.id)})
        ends = [{"device": start, "port": out.id}, {"device": end, "port": inp.id}]
        row = {"uid": f"L{next(count)}", "label": "L", "kind": out.kind, "grade": rnd.choice(GRADES[out.kind]),
               "length_mm": rnd.choice((1000, 2000)), "found": ends, "plan": ends}  # fmt: skip
        r, _ = apply(r, [{"op": "add_lead", "lead": row}])
        return True

    if between:
        plug("mid", "tv")
        plug("s0", "mid")
    else:
        plug("s0", "tv")
    if len(sources) > 1:
        plug("s1", "tv")
    for d in list(r.devices.values()):
        for s in d.profile.settings:
            for scope in scopes_of(d.profile, s):
                if rnd.random() < 0.4:
                    r, _ = apply(r, [setting(d.uid, scope, s.id, rnd.choice(values_of(s)))])
    lists = [p.video.modes or r.devices["tv"].profile.video.modes for p in picture(r, "tv", "in")]
    modes = sorted({str(listed_timing(m).mode) for x in lists if isinstance(x, tuple) for m in x})
    for n in range(len(sources)):
        want = {"mode": rnd.choice(modes), "hdr": rnd.choice(("off", "off", "static")), "vrr": rnd.random() < 0.25,
                "chroma": rnd.choice(("any", "444"))}  # fmt: skip
        r, _ = apply(r, [run(f"r{n}", f"s{n}", "tv", **want)])
    return r


def every_move(r: Rig) -> Iterator[Move]:
    """The stated moves, by socket and plug alone."""
    for d in r.devices.values():
        for s in d.profile.settings:
            for scope in scopes_of(d.profile, s):
                now = r.setting_value("plan", d.uid, scope, s)
                for value in values_of(s):
                    if value != now and not s.in_cells:
                        yield Move("setting", (setting(d.uid, scope, s.id, value),), "")
    kind_at = {Socket(d.uid, p.id): p.kind for d in r.devices.values() for p in d.profile.ports}
    inputs = [Socket(d, p.id) for d in r.devices for p in picture(r, d, "in")]
    outputs = [Socket(d, p.id) for d in r.devices for p in picture(r, d, "out")]
    for x in r.leads.values():
        a, b = x.plan
        order = RISE[x.kind]
        for grade in order[order.index(x.cable.grade) + 1 :] if x.cable.grade in order else order:
            yield Move("lead", ({"op": "replace_lead", "lead": x.uid, "grade": grade},), "")
        if a is None or b is None:
            continue
        for end, here, sockets in (("b", b, inputs), ("a", a, outputs)):
            for socket in sockets:
                if socket == here or kind_at[socket] != kind_at[here] or (end == "a" and socket.device != here.device):
                    continue
                other, to = r.lead_at("plan", socket), {"device": socket.device, "port": socket.port}
                if other is None:
                    kind = "input" if socket.device == here.device else "reroute"
                    yield Move(kind, ({"op": "move_lead", "lead": x.uid, "end": end, "to": to},), "")
                elif socket.device == here.device and x.uid < other.uid:
                    yield Move("swap", ({"op": "swap_leads", "end": end, "leads": [x.uid, other.uid]},), "")
        yield from _new(r, [x.uid], a.device, b.device, {a, b}, (kind_at[a], kind_at[b]))
    for x, y in itertools.permutations(r.leads.values(), 2):
        if not (x.plan[0] and x.plan[1] and y.plan[0] and y.plan[1] and x.plan[1].device == y.plan[0].device):
            continue
        if x.kind == y.kind and kind_at[x.plan[1]] == kind_at[y.plan[1]]:
            to = {"device": y.plan[1].device, "port": y.plan[1].port}
            yield Move("reroute", ({"op": "move_lead", "lead": y.uid, "end": "b", "to": None},
                                   {"op": "move_lead", "lead": x.uid, "end": "b", "to": to}), "")  # fmt: skip
        if r.devices[x.plan[1].device].profile.adapts:
            given = {x.plan[0], y.plan[1]}
            yield from _new(r, [x.uid, y.uid], x.plan[0].device, y.plan[1].device, given, None)


def _new(
    r: Rig, out: list[str], start: str, end: str, given: set[Socket], kinds: tuple[str, str] | None
) -> Iterator[Move]:
    """A new lead in place of others, between sockets that are free or are given up."""
    loose = [{"op": "move_lead", "lead": uid, "end": e, "to": None} for uid in out for e in ("a", "b")]
    for o, i in itertools.product(picture(r, start, "out"), picture(r, end, "in")):
        a, b = Socket(start, o.id), Socket(end, i.id)
        free = all(s in given or r.lead_at("plan", s) is None for s in (a, b))
        if free and i.kind in GOES[o.kind] and (o.kind, i.kind) != kinds:
            row = {"uid": "new", "label": "new", "kind": o.kind, "length_mm": 2000,
                   "grade": {"hdmi": "ultra", "dp": "dp8k", "usbc": "c_20", "dvi": "dvi_dual"}[o.kind],
                   "plan": [{"device": start, "port": o.id}, {"device": end, "port": i.id}]}  # fmt: skip
            yield Move("lead", (*loose, {"op": "add_lead", "lead": row}), "")


def points(move: Move) -> int:
    """What a move costs by the decision (docs/decisions/0001): a better lead a point more a step, a new one 20."""
    op = move.ops[0]
    rise = next((order.index(op["grade"]) for order in RISE.values() if op.get("grade") in order), 0)
    return POINTS[move.kind] + (rise if op["op"] == "replace_lead" else 0)


def cheapest(r: Rig, uid: str) -> int | None:
    """The least cost over all sets of up to two moves in any order, no other run losing what it had."""
    states = States()

    def good(x: Rig) -> set[str]:
        return {u for u, asked in x.runs.items() if run_result(Layer(x, "plan", states), asked).good}

    had, best = good(r), None
    moves = list(every_move(r))
    for chosen in (*((m,) for m in moves), *itertools.permutations(moves, 2)):
        cost = sum(map(points, chosen))
        paths = [p for m in chosen for p in move_paths(m)]
        if (best is not None and cost >= best) or len(paths) != len(set(paths)):
            continue
        try:
            now = good(apply(r, [op for m in chosen for op in m.ops])[0])
        except ChangeError:
            continue
        if uid in now and had <= now:
            best = cost
    return best


@pytest.mark.parametrize("seed", range(36))
def test_fix_search_agrees_with_trying_everything(seed: int) -> None:
    r = mixed(seed)
    asked = r.runs["r0"]
    if run_result(Layer(r), asked).good:
        return
    found = find_fixes(r, asked, max_moves=2)
    assert found.proved
    assert (found.ways[0].cost if found.ways else None) == cheapest(r, "r0")
    for way in found.ways:
        after, back = apply(r, way.ops)
        assert run_result(Layer(after), after.runs["r0"]).good
        assert apply(after, back)[0] == r


@pytest.mark.parametrize("seed", range(24))
def test_the_assignment_is_never_less_than_any_plugging(seed: int) -> None:
    """Every way to plug every lead into inputs of its plug, really made, and its undo."""
    r = mixed(seed)
    found = assign(r)
    after, back = apply(r, found.ops)
    assert apply(after, back)[0] == r
    states = States()

    def weight(x: Rig) -> int:
        return sum(a.want.weight for a in x.runs.values() if run_result(Layer(x, "plan", states), a).good)

    kind_at = {Socket(d.uid, p.id): p.kind for d in r.devices.values() for p in d.profile.ports}
    leads = [x for x in r.leads.values() if x.plan[1] is not None]
    choices = [[s for s, kind in kind_at.items() if kind == kind_at[x.plan[1]] and s in _inputs(r)] for x in leads]
    bare, _ = apply(r, [{"op": "move_lead", "lead": x.uid, "end": "b", "to": None} for x in leads])
    for sockets in itertools.product(*choices):
        ops: list[dict[str, Any]] = [
            {"op": "move_lead", "lead": x.uid, "end": "b", "to": {"device": s.device, "port": s.port}}
            for x, s in zip(leads, sockets, strict=True)
        ]
        try:
            there, _ = apply(bare, ops)
        except ChangeError:
            continue
        assert weight(after) >= weight(there)


def _inputs(r: Rig) -> set[Socket]:
    return {Socket(d, p.id) for d in r.devices for p in picture(r, d, "in")}


@pytest.mark.parametrize("seed", range(40))
def test_any_row_of_moves_is_taken_back(seed: int) -> None:
    """Moves at random, some refused, all undone in turn."""
    rnd = random.Random(f"undo {seed}")
    start = mixed(seed)
    now, done = start, []
    for _ in range(8):
        moves = list(every_move(now))
        if not moves:
            break
        move = rnd.choice(moves)
        try:
            now, back = apply(now, move.ops)
        except ChangeError:
            continue
        done.append(back)
    for back in reversed(done):
        now, _ = apply(now, back)
    assert now == start


def test_these_rigs_hold_every_kind_of_socket_and_are_not_all_well() -> None:
    rigs = [mixed(seed) for seed in range(36)]
    assert {x.kind for r in rigs for x in r.leads.values()} == set(GOES)
    assert any(list(every_move(r)) for r in rigs)
    verdicts = {run_result(Layer(r), r.runs["r0"]).verdict for r in rigs}
    assert {"fits", "blocked"} <= verdicts
