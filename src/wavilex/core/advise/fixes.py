"""The cheapest set of changes that gives a run its want, proved over the stated moves and costs.

Uniform-cost search. A rig that fails the goal has a first reason; whatever mends the rig must hold a
move that lifts that reason; so expanding only its lifts loses no answer.
"""

from __future__ import annotations

import heapq
from collections import Counter
from collections.abc import Callable, Collection
from dataclasses import dataclass
from itertools import count
from math import ceil

from wavilex.core.advise.moves import lifts
from wavilex.core.advise.moves_settings import COST_NAMES, Move
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer, States
from wavilex.core.chain.reasons import Reason, render
from wavilex.core.chain.results import RunResult
from wavilex.core.errors import ChangeError
from wavilex.core.link.frl import frl_fits
from wavilex.core.link.rates import FRL_RATES, TMDS_MAX_MHZ
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig, Run
from wavilex.core.rig.ops import INPUT_KEY, Change, LayerName
from wavilex.core.rig.touched import touched
from wavilex.core.video.signal import demand

MOST_MOVES = 3
MOST_WAYS = 5
_SPARE_WAYS = 24  # looked at beyond the shown ones: ties are broken by disturbance, likenesses dropped


@dataclass(frozen=True, slots=True)
class Fix:
    """One way: its moves, the sum of their costs, what it gives, and the other runs it touches."""

    moves: tuple[Move, ...]
    cost: int
    result: RunResult
    disturbs: tuple[str, ...]

    @property
    def ops(self) -> list[Change]:
        return [op for m in self.moves for op in m.ops]

    @property
    def label(self) -> str:
        return "; then ".join(m.label for m in self.moves)

    @property
    def cost_text(self) -> str:
        return " + ".join(COST_NAMES[m.kind] for m in self.moves)

    @property
    def minutes(self) -> int:
        return sum(m.minutes for m in self.moves)


@dataclass(frozen=True, slots=True)
class Fixes:
    """Ways in order of cost. `proved`: the first is the cheapest there is (or there is none at all).

    `needs` says what would be needed when no set of stated moves does it.
    """

    ways: tuple[Fix, ...]
    proved: bool
    needs: str
    tried: int


def find_fixes(
    rig: Rig,
    run: Run,
    layer: LayerName = "plan",
    *,
    max_moves: int = MOST_MOVES,
    budget: int = 4000,
    states: States | None = None,
    kinds: Collection[str] = tuple(COST_NAMES),
    go_on: Callable[[], bool] = lambda: True,
) -> Fixes:
    """Search. `budget` bounds the rigs looked at; kinds: the kinds of moves allowed (with fewer than all,
    `needs` stays empty); `go_on` lets the caller stop it
    (a deadline).
    """
    states = states or States()
    start = Layer(rig, layer, states)
    first = run_result(start, run)
    if first.good:
        return Fixes((), True, "", 1)
    before = {r.uid: run_result(start, r) for r in rig.runs.values() if r.uid != run.uid}
    counter = count()
    heap: list[tuple[int, int, int, tuple[Move, ...], Rig]] = [(0, 0, next(counter), (), rig)]
    seen: set[frozenset[str]] = set()
    ways: list[Fix] = []
    tried = 0
    complete = True
    while heap:
        cost, _, _, moves, now = heapq.heappop(heap)
        if len(ways) >= _SPARE_WAYS:
            break
        if tried >= budget or not go_on():
            complete = bool(ways)  # the first way was popped in cost order: it stays the cheapest
            break
        tried += 1
        view = Layer(now, layer, states)
        result = run_result(view, now.runs[run.uid])
        blocker = result
        if result.good:
            after = {uid: run_result(view, now.runs[uid]) for uid in before}
            broken = next((after[u] for u, old in before.items() if old.good and not after[u].good), None)
            if broken is None:
                ops = {repr(op) for m in moves for op in m.ops}
                if not any({repr(op) for op in w.ops} <= ops for w in ways):
                    touched_runs = tuple(u for u, old in before.items() if _differs(old, after[u]))
                    ways.append(Fix(moves, cost, result, touched_runs))
                continue
            blocker = broken
        if len(moves) == max_moves or blocker.limiting is None:
            continue
        used = {p for m in moves for op in m.ops for p in touched(op)}
        for move in lifts(view, blocker, blocker.limiting):
            if move.kind not in kinds or move_paths(move) & used:
                continue
            key = frozenset(repr(op) for m in (*moves, move) for op in m.ops)
            if key in seen:
                continue
            seen.add(key)
            try:
                following, _ = apply(now, move.ops)
            except ChangeError:
                continue
            heapq.heappush(heap, (cost + move.cost, len(moves) + 1, next(counter), (*moves, move), following))
    ways = _different(sorted(ways, key=lambda w: (w.cost, len(w.disturbs), len(w.moves), -_sent_on(w.result))))
    needs = "" if ways or set(kinds) != set(COST_NAMES) else _needs(start, first)
    return Fixes(tuple(ways[:MOST_WAYS]), complete, needs, tried)


def _different(ways: list[Fix]) -> list[Fix]:
    """Ways that differ in kind: none that needs all that a cheaper one needs, and more."""
    kept: list[Fix] = []
    for way in ways:
        kinds = Counter(m.kind for m in way.moves)
        if not any(Counter(m.kind for m in k.moves) <= kinds for k in kept):
            kept.append(way)
    return kept


def move_paths(move: Move) -> set[str]:
    """What a move writes, re-selection left out: two moves may both re-select."""
    return {p for op in move.ops if op["op"] != "select_input" for p in touched(op) if not p.endswith(f"/{INPUT_KEY}")}


def _differs(before: RunResult, after: RunResult) -> bool:
    first, then = ((r.path, r.verdict, r.asked, r.resent) for r in (before, after))
    return first != then


def _sent_on(result: RunResult) -> int:
    """Pixels a second a scaler on the way sends on: of ways that cost the same, the fuller picture comes first."""
    return round(result.resent.timing.pixel_clock_hz) if result.resent is not None else 0


def _needs(start: Layer, result: RunResult) -> str:
    """What a box would have to be, when nothing cheaper does it: of the first reason no move lifts."""
    blocking = [r for i in result.items if i.blocking for r in i.reasons]
    stubborn = [r for r in blocking if r.verdict == "blocked" and not _liftable(start, result, r)]
    reason = next(iter(stubborn), result.limiting)
    if reason is None:
        return ""
    if reason.verdict == "unknown":
        return f"Find out first: {render(reason, start.rig)}"
    want = result.run.want
    parts = [want.mode.name]
    if want.hdr != "off":
        parts.append("HDR" if want.hdr == "static" else "dynamic-metadata HDR")
    if want.vrr:
        parts.append("variable refresh")
    if result.asked is not None:
        need = demand(result.asked)
        lowest = frl_fits(need, FRL_RATES)
        if need.tmds_rate_hz <= TMDS_MAX_MHZ * 1_000_000:
            parts.append(f"an input of {ceil(need.tmds_rate_hz / 1_000_000)} MHz")
        elif lowest is not None:
            parts.append(f"an input of {lowest.name}")
    subject = _box(start.rig, reason, result)
    said = render(reason, start.rig)
    return f"No setting, socket or lead helps: {said} {subject} needs at least {', '.join(parts)}."


def _liftable(start: Layer, result: RunResult, reason: Reason) -> bool:
    """Does any single move take this reason away from this box?"""
    box = reason.socket.device if reason.socket else reason.lead
    for move in lifts(start, result, reason):
        try:
            after, _ = apply(start.rig, move.ops)
        except ChangeError:
            continue
        left = run_result(Layer(after, start.name, start.states), after.runs[result.run.uid]).reasons
        if not any(r.code == reason.code and (r.socket.device if r.socket else r.lead) == box for r in left):
            return True
    return False


def _box(rig: Rig, reason: Reason, result: RunResult) -> str:
    if reason.lead is not None:
        return "A new lead"
    uid = reason.socket.device if reason.socket else result.run.sink
    return f"Another {rig.devices[uid].profile.kind}"
