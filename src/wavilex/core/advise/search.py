"""Best-first search for the cheapest moves that give a run what it wants.

A rig that fails the goal has reasons, and whatever mends it holds a move that lifts each of those that stand by
themselves: so a rig is followed along one of them only, the one whose cheapest lift costs most, and no sooner than at
that cost (an admissible bound). The number of moves has no bound; the budget is in rigs looked at, and in patience.
"""

from __future__ import annotations

import heapq
from collections.abc import Callable, Collection, Iterator
from dataclasses import dataclass, field
from itertools import count

from wavilex.core.advise.moves import lifts
from wavilex.core.advise.moves_settings import Move
from wavilex.core.advise.relaxed import chain_could
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer, States
from wavilex.core.chain.reasons import Reason
from wavilex.core.chain.results import RunResult
from wavilex.core.errors import ChangeError
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig, Run, Want
from wavilex.core.rig.ops import INPUT_KEY, Change, LayerName
from wavilex.core.rig.touched import touched

_OTHER_MOVES = 3  # acts of a further way
_AFTER_A_WAY = 120  # rigs looked at for another way once there is one
_BY_ITSELF = ("hdr", "vrr", "protection")  # items judged socket by socket, whatever the signal


@dataclass(frozen=True, slots=True)
class Asked:
    """What is searched: a run's want, by which kinds of moves, and for how long."""

    run: Run
    want: Want
    layer: LayerName
    kinds: frozenset[str]
    most_moves: int | None
    budget: int
    go_on: Callable[[], bool]
    spare_ways: int
    protect: bool = True  # other runs that are well stay well
    must: frozenset[str] = frozenset()  # items that are to be met though a run is well without them
    sure: bool = False  # tight is not enough
    allowed: Callable[[Move], bool] | None = None  # moves that may be made, of those kinds; None: all


@dataclass(frozen=True, slots=True)
class Way:
    """Moves that do it, and the rig they lead to."""

    moves: tuple[Move, ...]
    cost: int
    after: Layer


@dataclass(slots=True)
class Searched:
    """ways in order of cost; whole: everything that could be cheaper, or do it at all, was looked at."""

    ways: list[Way] = field(default_factory=list)
    tried: int = 0
    whole: bool = True


@dataclass(frozen=True, slots=True)
class _Node:
    """A rig on the way. boxes: those its moves changed, or at which they changed a plug."""

    rig: Rig
    moves: tuple[Move, ...]
    cost: int
    boxes: frozenset[str] = frozenset()


def search(rig: Rig, asked: Asked, states: States) -> Searched:
    """The ways there are, cheapest first."""
    start = Layer(rig, asked.layer, states)
    was = {u: run_result(start, r) for u, r in rig.runs.items() if u != asked.run.uid}
    well = {u: _on_the_way(result) for u, result in was.items() if result.good}
    out, order = Searched(), count()
    heap: list[tuple[int, int, int, _Node, list[Move] | None]] = [(0, 0, next(order), _Node(rig, (), 0), None)]
    seen: set[frozenset[str]] = set()
    most = asked.budget
    while heap and len(out.ways) < asked.spare_ways:
        _, _, _, node, onward = heapq.heappop(heap)
        if onward is None:
            if out.tried >= most or not asked.go_on():
                out.whole = bool(out.ways)  # the first way was reached in order of cost: it stays the cheapest
                break
            out.tried += 1
            view = Layer(node.rig, asked.layer, states)
            result = run_result(view, node.rig.runs[asked.run.uid], asked.want)
            if meets(result, asked.must) and not (asked.sure and result.verdict == "tight"):
                asking = (u for u, boxes in well.items() if boxes & node.boxes)
                spoilt = next((x for u in asking if not (x := run_result(view, node.rig.runs[u])).good), None)
                if spoilt is None or not asked.protect:
                    _keep(out.ways, Way(node.moves, node.cost, view))
                    most = min(most, out.tried + _AFTER_A_WAY)
                    continue
                result = spoilt
            if len(node.moves) >= _most_moves(asked, out.ways):
                continue
            onward = _onward(view, result, node, asked)
            if not onward:
                continue
            least = min(m.cost for m in onward)
            heapq.heappush(heap, (node.cost + least, len(node.moves) + 1, next(order), node, onward))
            continue
        for move in onward:
            _push(heap, order, node, move, seen)
    return out


def _on_the_way(result: RunResult) -> set[str]:
    """The boxes a run's answer rests on: nothing done to others alone changes it."""
    passed = {s.device for h in result.path for s in (h.out, h.inp)}
    return passed | {s.socket.device for s in result.beside} | {result.run.source, result.run.sink}


def _boxes_of(op: Change, before: Rig, after: Rig) -> Iterator[str]:
    """The boxes a change is made at: its own, or those at the ends of its leads before and after."""
    if "device" in op:
        yield str(op["device"])  # type: ignore[typeddict-item]
    leads = op["leads"] if op["op"] == "swap_leads" else [op["lead"]] if "lead" in op else []  # type: ignore[typeddict-item]
    for lead in leads:
        uid = lead if isinstance(lead, str) else lead["uid"]
        for rig in (before, after):
            ends = (*rig.leads[uid].found, *rig.leads[uid].plan) if uid in rig.leads else ()
            yield from (s.device for s in ends if s is not None)


def _most_moves(asked: Asked, ways: list[Way]) -> float:
    """No bound until there is a way; others are worth showing only where they ask hardly more acts than it."""
    most = float("inf") if not ways else max(_OTHER_MOVES, len(ways[0].moves))
    return most if asked.most_moves is None else min(most, asked.most_moves)


def meets(result: RunResult, must: Collection[str]) -> bool:
    """Is a run well, and each of these items met too?"""
    return result.good and all(i.verdict == "fits" for i in result.items if i.key in must)


def _onward(view: Layer, result: RunResult, node: _Node, asked: Asked) -> list[Move]:
    """The moves that lift one of the reasons which must be lifted: the dearest to lift. None where one cannot be."""
    used = {p for m in node.moves for op in m.ops for p in touched(op)}
    added = {op["lead"]["uid"] for m in node.moves for op in m.ops if op["op"] == "add_lead"}
    want = asked.want if result.run.uid == asked.run.uid else result.run.want  # it may be another run on the way
    if result.stations and not chain_could(view, result.run, want, result.path, asked.must):
        # no act at these boxes does it: it must go through others
        lifted = {repr(m.ops): m for r in _standing(result, asked.must) for m in lifts(view, result, r)}
        elsewhere = (m for m in lifted.values() if _elsewhere(m) and _open_to(asked, m))
        return [m for m in elsewhere if not move_paths(m) & used and not _undoes(m, added)]
    best: list[Move] | None = None
    for reason in _standing(result, asked.must):
        moves = [m for m in lifts(view, result, reason) if _open_to(asked, m) and not move_paths(m) & used]
        moves = [m for m in moves if not _undoes(m, added)]
        if not moves:
            return []
        if best is None or (min(m.cost for m in moves), -len(moves)) > (min(m.cost for m in best), -len(best)):
            best = moves
    return best or []


def _undoes(move: Move, added: set[str]) -> bool:
    """Does a move take a lead out again that came in on the way?"""
    return any(op["op"] == "move_lead" and op["to"] is None and op["lead"] in added for op in move.ops)


def _open_to(asked: Asked, move: Move) -> bool:
    """Is a move one of those that may be made?"""
    return move.kind in asked.kinds and (asked.allowed is None or asked.allowed(move))


def _elsewhere(move: Move) -> bool:
    """Might a move take a run through other boxes? Swaps at outputs, new leads and leads taken elsewhere do."""
    return move.kind == "reroute" or any(
        op["op"] == "add_lead" or (op["op"] in ("swap_leads", "move_lead") and op["end"] == "a") for op in move.ops
    )


def _standing(result: RunResult, must: Collection[str]) -> list[Reason]:
    """Reasons that no other reason's cure takes away: the one that decides, and those of items judged by themselves."""
    found = [result.limiting] if result.limiting is not None else []
    for item in result.items:
        if (item.blocking and item.key in _BY_ITSELF) or item.key in must:
            found += [r for r in item.reasons if r.verdict in ("blocked", "unknown") and r not in found]
    return found


def _push(heap: list, order: count, node: _Node, move: Move, seen: set[frozenset[str]]) -> None:  # type: ignore[type-arg]
    moves = (*node.moves, move)
    key = frozenset(repr(op) for m in moves for op in m.ops)
    if key in seen:
        return
    seen.add(key)
    try:
        after, _ = apply(node.rig, move.ops)
    except ChangeError:
        return
    cost = node.cost + move.cost
    boxes = node.boxes.union(b for op in move.ops for b in _boxes_of(op, node.rig, after))
    heapq.heappush(heap, (cost, len(moves), next(order), _Node(after, moves, cost, boxes), None))


def _keep(ways: list[Way], way: Way) -> None:
    """Keep a way that does not hold all of a cheaper one."""
    ops = {repr(op) for m in way.moves for op in m.ops}
    if not any({repr(op) for m in w.moves for op in m.ops} <= ops for w in ways):
        ways.append(way)


def move_paths(move: Move) -> set[str]:
    """What a move writes, re-selection left out: two moves may both re-select."""
    return {p for op in move.ops if op["op"] != "select_input" for p in touched(op) if not p.endswith(f"/{INPUT_KEY}")}
