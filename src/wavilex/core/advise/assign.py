"""The best assignment: which output goes to which input through which path, so that the most is satisfied.

Each run's source keeps its output and its lead, whose far end may go into any input (of its plug) from which the
run's screen is reached; a lead from a box to a screen may go into any input of that same screen; one lead an input.
Each place is judged as set, and as the input and the source can be set and updated for it. What is then still missing
is looked for run by run among all moves (`search`). Proved: no more can be had by the relaxed bound (`upper_bound`).
Value: weights of satisfied runs first, then that no run sounds worse than now, then the share of wants met on the
others, then fewest plugs moved, then fewest settings. Exact: for every way to plug the boxes, an optimal assignment of
sources to inputs (scipy).
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import product

from wavilex.core.advise.assign_bound import upper_bound
from wavilex.core.advise.assign_rest import at_others_cost_only, more_ways
from wavilex.core.advise.effects import Effect, Standing, effects, sound_lost
from wavilex.core.advise.moves import held_at, spans
from wavilex.core.advise.moves_settings import Move
from wavilex.core.advise.search import Asked, Way, search
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer, States
from wavilex.core.chain.results import RunResult
from wavilex.core.errors import ChangeError
from wavilex.core.rig.changes import apply
from wavilex.core.rig.edit_common import plain
from wavilex.core.rig.model import Lead, Rig, Run, Socket
from wavilex.core.rig.ops import Change, LayerName

# one weight unit of a satisfied run beats all below it
SATISFIED, SOUND, PARTLY, MOVED, SET = 10**9, 5 * 10**6, 10**4, 30, 1
_OPENING = frozenset({"setting", "firmware"})
_MOST_SETTINGS, _OPEN_BUDGET = 6, 60  # acts inside the boxes of one place, and rigs looked at for them
_MOST_PLUGGINGS = 4096


@dataclass(frozen=True, slots=True)
class Place:
    """A source's lead in an input, boxes plugged as they are then: what its runs get there, with which settings."""

    inp: Socket
    results: tuple[RunResult, ...]
    settings: tuple[Change, ...]
    moved: bool
    value: int


@dataclass(frozen=True)
class Plan:
    """One assignment: every source lead's place (None: it finds none), the plugs of the boxes, all as ops."""

    places: dict[str, Place | None]
    trunks: dict[str, Socket]
    value: int
    ops: tuple[Change, ...] = ()
    moves: int = 0

    @property
    def results(self) -> dict[str, RunResult]:
        """Every placed run's answer, by run uid."""
        return {r.run.uid: r for p in self.places.values() if p for r in p.results}

    @property
    def satisfied(self) -> list[str]:
        return [uid for uid, r in self.results.items() if r.good]


@dataclass(frozen=True)
class Assignment:
    """The best plan and the runner-up. more: ways that add what the places alone do not give. present: as it hangs.

    results: every run with all of it. proved: no change of the job gives more weight of satisfied runs. settled: no
    further run has its want by any set of the moves known while the others keep theirs. effects: all that it does to
    runs and sound.
    """

    best: Plan
    runner_up: Plan | None
    present: Plan
    proved: bool
    settled: bool
    looked_at: int
    results: Mapping[str, RunResult]
    more: tuple[tuple[str, Way], ...] = ()
    effects: tuple[Effect, ...] = ()

    @property
    def ops(self) -> tuple[Change, ...]:
        return (*self.best.ops, *(op for _, way in self.more for m in way.moves for op in m.ops))

    @property
    def satisfied(self) -> list[str]:
        return [uid for uid, r in self.results.items() if r.good]


def assign(
    rig: Rig, layer: LayerName = "plan", *, states: States | None = None, go_on: Callable[[], bool] = lambda: True
) -> Assignment:
    """Solve it. `go_on` lets the caller stop the search (a deadline): the best so far is then not proved."""
    task = _Task(rig, layer, states or States())
    plans: list[Plan] = []
    for plugging in task.pluggings[:_MOST_PLUGGINGS]:
        if plans and not go_on():
            break
        plans += task.solve(plugging)
    plans.sort(key=lambda p: (-p.value, p.moves))
    best = plans[0]
    others = [*task.seconds(best), *(p for p in plans[1:] if _differs(p, best))]
    other = max(others, key=lambda p: p.value, default=None)
    best = task.with_ops(best)
    rig, more = more_ways(apply(rig, best.ops)[0], layer, task.states, go_on)
    after = Layer(rig, layer, task.states)
    results = {uid: run_result(after, run) for uid, run in rig.runs.items()}
    had = sum(r.run.want.weight for r in results.values() if r.good)
    proved = had >= upper_bound(task.rig, task.states)
    settled = proved or all(r.good or at_others_cost_only(after, r.run, go_on) for r in results.values())
    found = Assignment(best, task.with_ops(other) if other else None, task.present(), proved, settled, task.looked_at,
                       results, more)  # fmt: skip
    return replace(found, effects=effects(task.now, Standing(after), found.ops))


def _differs(a: Plan, b: Plan) -> bool:
    def inputs(p: Plan) -> list[Socket | None]:
        return [x.inp if x else None for x in p.places.values()]

    return inputs(a) != inputs(b) or a.trunks != b.trunks


class _Plugged:
    """The boxes plugged one way, every assigned source lead loose."""

    def __init__(self, view: Layer, plugging: dict[str, Socket]) -> None:
        self.view, self.plugging = view, plugging
        ends = {uid: view.rig.leads[uid].ends(view.name)[0] for uid in plugging}
        self.starts = {uid: s.device for uid, s in ends.items() if s is not None}
        self._beyond: dict[str, set[str]] = {}

    def beyond(self, device: str) -> set[str]:
        """The boxes behind one, itself included."""
        if device not in self._beyond:
            self._beyond[device] = self.view.reached_from(device)
        return self._beyond[device]


class _Task:
    def __init__(self, rig: Rig, layer: LayerName, states: States) -> None:
        self.rig, self.layer, self.states = rig, layer, states
        self.view = Layer(rig, layer, states)
        self.now = Standing(self.view)
        self.looked_at = 0
        self._kept: dict[object, Place | None] = {}
        self._taking: dict[tuple[str, Socket], bool] = {}
        self.leads: dict[str, Lead] = {}
        self.runs_of: dict[str, list[Run]] = {}
        for run in rig.runs.values():
            lead = self._lead_of(run)
            if lead is not None:
                self.leads[lead.uid] = lead
                self.runs_of.setdefault(lead.uid, []).append(run)
        self.trunks = list(self._trunks())
        self.bare = self._bare()
        self.pluggings = list(self._all_pluggings())

    def _lead_of(self, run: Run) -> Lead | None:
        """The lead whose far end is assigned: the one on the run's path, else the first at its source."""
        paths = self.view.paths(run)
        outs = [h.out for h in paths[0][:1]] if paths else []
        outs += [Socket(run.source, p.id) for p in self.rig.devices[run.source].profile.outputs()]
        return next((x for s in outs for x in (self.view.lead_at(s),) if x is not None), None)

    def _trunks(self) -> Iterator[Lead]:
        """Leads from a box to a screen, whose end there may go into another input."""
        for lead in self.rig.leads.values():
            a, b = lead.ends(self.layer)
            roles = [self.rig.devices[s.device].profile.role if s else "" for s in (a, b)]
            if roles == ["repeater", "screen"] and lead.digital:
                yield lead

    def _bare(self) -> Layer:
        """The rig with every assigned lead loose at its far end."""
        loose = [
            {"op": "move_lead", "layer": self.layer, "lead": uid, "end": "b", "to": None}
            for uid in (*self.leads, *(t.uid for t in self.trunks))
        ]
        return Layer(apply(self.rig, loose)[0], self.layer, self.states)

    def _all_pluggings(self) -> Iterator[dict[str, Socket]]:
        """Every way to plug the boxes into their screens, the present one first."""
        choices = []
        for lead in self.trunks:
            now = lead.ends(self.layer)[1]
            assert now is not None
            others = [
                s for p in self.rig.devices[now.device].profile.inputs()
                for s in (Socket(now.device, p.id),) if s != now and self._takes(lead, s)
            ]  # fmt: skip
            choices.append([now, *others])
        for sockets in product(*choices):
            if len(set(sockets)) == len(sockets):
                yield dict(zip((t.uid for t in self.trunks), sockets, strict=True))

    def _takes(self, lead: Lead, socket: Socket) -> bool:
        """Does an input take this lead: its plug fits, and no lead that is not assigned sits there?"""
        key = (lead.uid, socket)
        if key not in self._taking:
            out = lead.ends(self.layer)[0]
            port = self.rig.devices[socket.device].profile.port(socket.port)
            sender = self.rig.devices[out.device].profile.port(out.port) if out else None
            now = lead.ends(self.layer)[1]
            own = now is None or port is None or self.view.state(now).port.kind == port.kind
            fits = own and port is not None and sender is not None and sender.joins(port)
            self._taking[key] = fits and self.bare.lead_at(socket) is None and self._goes(lead, socket)
        return self._taking[key]

    def _goes(self, lead: Lead, socket: Socket) -> bool:
        """Does a lead reach an input, and may it be taken there: not from a box where it, or the box, must stay?"""
        out, now = lead.ends(self.layer)
        kept = now is not None and now.device != socket.device and held_at(self.rig, lead, now.device)
        return not kept and (out is None or spans(self.view, lead, out, socket))

    def solve(self, plugging: dict[str, Socket]) -> list[Plan]:
        """The best plan for one way to plug the boxes; none when they cannot be plugged so."""
        found = self._matrix(plugging)
        return [] if found is None else [self._plan(_optimum(found), plugging)]

    def seconds(self, best: Plan) -> list[Plan]:
        """The best plans, boxes plugged as in the best, that each leave out one of its places."""
        places = self._matrix(best.trunks) or []
        plans = []
        for row, place in enumerate(best.places.values()):
            if place is None:
                continue
            without = [[None if p is place else p for p in ps] if n == row else ps for n, ps in enumerate(places)]
            plans.append(self._plan(_optimum(without), best.trunks))
        return plans

    def _matrix(self, plugging: dict[str, Socket]) -> list[list[Place | None]] | None:
        rig = self._plugged(plugging)
        if rig is None:
            return None
        plugged = _Plugged(Layer(rig, self.layer, self.states), plugging)
        taken = set(plugging.values())
        inputs = [
            s for d in self.rig.devices.values() for p in d.profile.inputs()
            for s in (Socket(d.uid, p.id),) if s not in taken
        ]  # fmt: skip
        return [[self._place(plugged, lead, s) for s in inputs] for lead in self.leads.values()]

    def _plugged(self, plugging: dict[str, Socket]) -> Rig | None:
        ops = [
            {"op": "move_lead", "layer": self.layer, "lead": uid, "end": "b", "to": plain(s)}
            for uid, s in plugging.items()
        ]
        try:
            return apply(self.bare.rig, ops)[0]
        except ChangeError:
            return None

    def _place(self, plugged: _Plugged, lead: Lead, inp: Socket) -> Place | None:
        """A lead in an input; None when no run gets to its screen from there. Remembered by what it depends on."""
        boxes = plugged.beyond(inp.device)
        if not self._takes(lead, inp) or all(r.sink not in boxes for r in self.runs_of[lead.uid]):
            return None
        key = (lead.uid, inp, tuple(s for uid, s in plugged.plugging.items() if plugged.starts[uid] in boxes))
        if key not in self._kept:
            self._kept[key] = self._judge(plugged, lead, inp)
        return self._kept[key]

    def _judge(self, plugged: _Plugged, lead: Lead, inp: Socket) -> Place | None:
        self.looked_at += 1
        out = lead.ends(self.layer)[0]
        if out is None or out.device in plugged.beyond(inp.device):
            return None  # it would feed itself
        there = _plugged_into(lead, self.layer, inp)
        runs = self.runs_of[lead.uid]
        results = _judged(plugged.view.with_plugged(there), runs)
        if not any(r.path for r in results):
            return None
        sound = Standing(plugged.view.with_plugged(there))
        lost = sum(sound_lost(self.now, sound, r.uid) * r.want.weight for r in runs)
        results, settings = self._opened(plugged.view, there, runs, inp, results)
        moved = lead.ends(self.layer)[1] != inp
        return Place(inp, results, settings, moved, _value(results, moved, len(settings)) - SOUND * lost)

    def _opened(
        self, plugged: Layer, lead: Lead, runs: list[Run], inp: Socket, results: tuple[RunResult, ...]
    ) -> tuple[tuple[RunResult, ...], tuple[Change, ...]]:
        """The best this input gives when it and the source are set and updated for it; none where that gives nothing.

        Only what no other place reads: the input's own settings, the source's, firmware.
        """
        best = results
        ops: tuple[Change, ...] = ()
        rig = replace(plugged.rig, leads={**plugged.rig.leads, lead.uid: lead})
        for run in runs:

            def own(move: Move, run: Run = run) -> bool:
                return all(_of_place(op, run, inp) for op in move.ops)

            if run_result(Layer(rig, self.layer, self.states), run).good:
                continue
            asked = Asked(run, run.want, self.layer, _OPENING, _MOST_SETTINGS, _OPEN_BUDGET, lambda: True, 1,
                          protect=False, allowed=own)  # fmt: skip
            found = search(replace(rig, runs={run.uid: run}), asked, self.states)
            if found.ways:
                own_ops = [op for m in found.ways[0].moves for op in m.ops]
                rig = apply(rig, own_ops)[0]
                ops = (*ops, *own_ops)
        if ops:
            best = _judged(Layer(rig, self.layer, self.states), runs)
        return (best, ops) if _value(best, False, len(ops)) > _value(results, False, 0) else (results, ())

    def _plan(self, chosen: Sequence[Place | None], plugging: dict[str, Socket]) -> Plan:
        trunk_moves = sum(t.ends(self.layer)[1] != plugging[t.uid] for t in self.trunks)
        value = sum(p.value for p in chosen if p) - MOVED * trunk_moves
        moves = sum(p.moved for p in chosen if p) + trunk_moves
        return Plan(dict(zip(self.leads, chosen, strict=True)), plugging, value, (), moves)

    def present(self) -> Plan:
        """How it hangs now, valued the same way, settings as they are."""
        places: dict[str, Place | None] = {}
        for uid, lead in self.leads.items():
            results = _judged(self.view, self.runs_of[uid])
            inp = lead.ends(self.layer)[1]
            joined = inp is not None and any(r.path for r in results)
            places[uid] = Place(inp, results, (), False, _value(results, False, 0)) if joined and inp else None
        now = {t.uid: s for t in self.trunks for s in (t.ends(self.layer)[1],) if s is not None}
        return Plan(places, now, sum(p.value for p in places.values() if p))

    def with_ops(self, plan: Plan) -> Plan:
        """The plan with the changes that make it: pull what moves, plug it, select, set."""
        far = {**{u: p.inp for u, p in plan.places.items() if p}, **plan.trunks}
        moving = {uid: s for uid, s in far.items() if self.rig.leads[uid].ends(self.layer)[1] != s}
        homeless = [u for u, p in plan.places.items() if p is None]
        held = {self.rig.leads[u].ends(self.layer)[1]: u for u in homeless}
        pulled = [u for s, u in held.items() if s in moving.values()]
        ops: list[Change] = [
            {"op": "move_lead", "layer": self.layer, "lead": uid, "end": "b", "to": None}
            for uid in (*pulled, *(u for u in moving if self.rig.leads[u].ends(self.layer)[1] is not None))
        ]
        ops += [
            {"op": "move_lead", "layer": self.layer, "lead": uid, "end": "b", "to": plain(s)}
            for uid, s in moving.items()
        ]
        for place in plan.places.values():
            ops += place.settings if place else ()
        return Plan(plan.places, plan.trunks, plan.value, tuple(ops), plan.moves)


def _of_place(op: Change, run: Run, inp: Socket) -> bool:
    """Is a change one that no other place reads: of firmware, of the source, of the input itself?"""
    if op["op"] != "set_setting":
        return op["op"] == "set_device"
    return op["device"] == run.source or (op["device"], op.get("scope", "")) == (inp.device, inp.port)


def _judged(view: Layer, runs: list[Run]) -> tuple[RunResult, ...]:
    return tuple(run_result(view, r) for r in runs)


def _met(result: RunResult) -> int:
    """How much of the want is met, in thousandths: all of it, or the share of its parts that are."""
    if result.good or not result.path:
        return 1000 if result.good else 0
    parts = [i.verdict not in ("blocked", "unknown") for i in result.items]
    return 900 * sum(parts) // max(len(parts), 1)


def _value(results: Sequence[RunResult], moved: bool, settings: int) -> int:
    total = -MOVED * moved - SET * settings
    for result in results:
        met, weight = _met(result), result.run.want.weight
        total += (SATISFIED * weight if met == 1000 else 0) + PARTLY * weight * met // 10
    return total


def _optimum(places: Sequence[Sequence[Place | None]]) -> list[Place | None]:
    """Sources to inputs, each input once, of the greatest total value; a source may stay without."""
    import numpy as np
    from scipy.optimize import linear_sum_assignment

    rows = len(places)
    if not rows or not places[0]:
        return [None] * rows
    columns = len(places[0])
    values = np.zeros((rows, columns + rows))
    for r, row in enumerate(places):
        for c, place in enumerate(row):
            values[r, c] = place.value if place is not None else -1.0
    where, what = linear_sum_assignment(values, maximize=True)
    chosen: list[Place | None] = [None] * rows
    for r, c in zip(where, what, strict=True):
        chosen[r] = places[r][c] if c < columns else None
    return chosen


def _plugged_into(lead: Lead, layer: LayerName, inp: Socket) -> Lead:
    ends = (lead.ends(layer)[0], inp)
    return replace(lead, plan=ends) if layer == "plan" else replace(lead, found=ends)
