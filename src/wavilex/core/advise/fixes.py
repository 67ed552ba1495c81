"""The cheapest ways to give a run what it wants, what each does to everything, and what was proved of them.

Where there is none, the best that can be had instead. Another box is asked for only where that is proved (`relaxed`).
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Collection
from dataclasses import dataclass, replace

from wavilex.core.advise.effects import Effect, Standing, effects
from wavilex.core.advise.lesser import Lesser, lesser_wants
from wavilex.core.advise.looking import by_looking
from wavilex.core.advise.moves_settings import COST_NAMES, Move
from wavilex.core.advise.needs import needs_words
from wavilex.core.advise.parts import Part, parts_of
from wavilex.core.advise.relaxed import Barred, barred
from wavilex.core.advise.search import Asked, Searched, Way, search
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer, States
from wavilex.core.chain.results import RunResult
from wavilex.core.rig.model import Rig, Run, Want
from wavilex.core.rig.ops import Change, LayerName

MOST_WAYS = 5
_SPARE_WAYS = 12  # looked at beyond the shown ones: ties are broken by disturbance, likenesses dropped
_LESSER_BUDGET = 300  # rigs looked at for each lesser want
_SURE_BUDGET = 200  # and for making a tight run sure
_EVERY_KIND = frozenset(COST_NAMES)


@dataclass(frozen=True, slots=True)
class Fix:
    """One way: its moves, the sum of their costs, what it gives, and all that it does to sound and to other runs."""

    moves: tuple[Move, ...]
    cost: int
    result: RunResult
    after: Layer
    effects: tuple[Effect, ...] = ()

    @property
    def ops(self) -> list[Change]:
        return [op for m in self.moves for op in m.ops]

    @property
    def label(self) -> str:
        return "; then ".join(m.label for m in self.moves)

    @property
    def cost_text(self) -> str:
        """How many acts of which kind, in order of cost: `2 settings + 1 plug`."""
        kinds = Counter(sorted((m.kind for m in self.moves), key=list(COST_NAMES).index))
        return " + ".join(_counted(kind, count) for kind, count in kinds.items())

    @property
    def minutes(self) -> int:
        return sum(m.minutes for m in self.moves)

    @property
    def disturbs(self) -> tuple[str, ...]:
        """Runs beside this one that it does something to."""
        return tuple(dict.fromkeys(e.run for e in self.effects if e.run != self.result.run.uid))

    @property
    def loses(self) -> bool:
        """Does anything have less by it?"""
        return any(e.worse for e in self.effects)


def _counted(kind: str, count: int) -> str:
    number, _, name = COST_NAMES[kind].partition(" ")
    if not number.isdigit():
        return COST_NAMES[kind] if count == 1 else f"{count} × {COST_NAMES[kind]}"
    whole = int(number) * count
    return f"{whole} {name}{'s' if whole > 1 and not name.endswith('s') else ''}"


@dataclass(frozen=True, slots=True)
class Instead:
    """A lesser want and how to have it: the cheapest way there is, or nothing to do."""

    lesser: Lesser
    way: Fix | None


@dataclass(frozen=True, slots=True)
class Fixes:
    """Ways in order of cost, those that take something from another run behind the others.

    proved: the first is the cheapest there is of its kind (or there is none at all). needs: in words, where there is
    no way. barred: why no change of this job does it, where that is proved. instead: the best that can be had then.
    parts: the want part by part, each with steps of its own where it has some. proof: what trying or looking settles.
    """

    ways: tuple[Fix, ...]
    proved: bool
    needs: str
    tried: int
    barred: Barred | None = None
    instead: tuple[Instead, ...] = ()
    parts: tuple[tuple[Part, Fix | None], ...] = ()
    proof: str = ""


def find_fixes(
    rig: Rig,
    run: Run,
    layer: LayerName = "plan",
    *,
    max_moves: int | None = None,
    budget: int = 4000,
    states: States | None = None,
    kinds: Collection[str] = tuple(COST_NAMES),
    go_on: Callable[[], bool] = lambda: True,
) -> Fixes:
    """Search. `budget` bounds the rigs looked at; kinds: the kinds of moves allowed (with fewer than all, nothing is
    said beside the ways); `go_on` lets the caller stop it (a deadline).
    """
    states = states or States()
    start = Layer(rig, layer, states)
    first = run_result(start, run)
    asked = Asked(run, run.want, layer, frozenset(kinds), max_moves, budget, go_on, _SPARE_WAYS)
    every = asked.kinds == _EVERY_KIND
    if first.good and not every:
        return Fixes((), True, "", 1)
    if first.good:
        return _made_sure(start, asked, first)
    found = _found(start, asked, first, every)
    if not every:
        return found
    parts = _parts(start, asked, found)
    each = bool(parts) and not found.ways and all(p.answer in ("had", "by_steps") for p, _ in parts)
    apart = "Each part is to be had by itself; no way to all of them together is known here. " if each else ""
    return replace(found, parts=parts, needs=apart + found.needs, proof=by_looking(first, rig))


def _made_sure(start: Layer, asked: Asked, first: RunResult) -> Fixes:
    """Of a run that is well: what makes a tight one sure, and the parts that its want does not hang on."""
    if first.verdict != "tight":
        return Fixes((), True, "", 1, parts=_parts(start, asked, Fixes((), True, "", 1)))
    found = search(start.rig, replace(asked, sure=True, budget=_SURE_BUDGET), start.states)
    ways = _ordered(start, asked.run, found.ways)
    sure = Fixes(ways, found.whole, "", found.tried, proof=by_looking(first, start.rig))
    return replace(sure, parts=_parts(start, asked, sure))


def _parts(start: Layer, asked: Asked, found: Fixes) -> tuple[tuple[Part, Fix | None], ...]:
    standing = Standing(start)
    way = Way(found.ways[0].moves, found.ways[0].cost, found.ways[0].after) if found.ways else None
    parts = parts_of(start, asked, [way] if way else [])
    return tuple((p, _told(standing, asked.run, p.way) if p.way else None) for p in parts)


def _found(start: Layer, asked: Asked, first: RunResult, every: bool) -> Fixes:
    rig, run, states, budget = start.rig, asked.run, start.states, asked.budget
    out_of_reach = barred(rig, run, None, states) if every else None
    found = Searched() if out_of_reach else search(rig, asked, states)
    ways = _ordered(start, run, found.ways)
    if ways or not every:
        cheapest = bool(ways) and ways[0].cost == found.ways[0].cost  # one that loses nothing may have been preferred
        return Fixes(ways, found.whole and (cheapest or not ways), "", found.tried)
    if out_of_reach is None and found.whole:  # at the cost of others, perhaps
        dear = search(rig, replace(asked, protect=False, budget=budget - found.tried), states)
        ways, tried = _ordered(start, run, dear.ways), found.tried + dear.tried
        if ways:
            return Fixes(ways, dear.whole, "", tried)
    needs = needs_words(start, first, out_of_reach, found)
    return Fixes((), found.whole, needs, found.tried, out_of_reach, _instead(start, asked))


def _ordered(start: Layer, run: Run, found: list[Way]) -> tuple[Fix, ...]:
    """The ways to show: those that lose something last; then by cost, and by how much they touch."""
    standing = Standing(start)
    ways = [_told(standing, run, way) for way in found]
    ways.sort(key=lambda w: (w.loses, w.cost, len(w.disturbs), len(w.moves), -_sent_on(w.result)))
    return tuple(_different(ways)[:MOST_WAYS])


def _told(before: Standing, run: Run, way: Way, want: Want | None = None) -> Fix:
    result = run_result(way.after, way.after.rig.runs[run.uid], want)
    ops = [op for m in way.moves for op in m.ops]
    return Fix(way.moves, way.cost, result, way.after, effects(before, Standing(way.after), ops, but_for=run.uid))


def _different(ways: list[Fix]) -> list[Fix]:
    """Ways that differ in kind: none that needs all that a cheaper one needs, and more."""
    kept: list[Fix] = []
    for way in ways:
        kinds = Counter(m.kind for m in way.moves)
        if not any(Counter(m.kind for m in k.moves) <= kinds for k in kept):
            kept.append(way)
    return kept


def _sent_on(result: RunResult) -> int:
    """Pixels a second a scaler on the way sends on: of ways that cost the same, the fuller picture comes first."""
    return round(result.resent.timing.pixel_clock_hz) if result.resent is not None else 0


def _instead(start: Layer, asked: Asked) -> tuple[Instead, ...]:
    """The best for rate and the best for detail that can be had, each with its cheapest way."""
    out: list[Instead] = []
    for wants in lesser_wants(start.rig, asked.run, start.states):
        for lesser in wants:
            if not asked.go_on():
                break
            had = _had(start, asked, lesser)
            if had is not None:
                out += [had] if all(o.lesser != lesser for o in out) else []
                break
    return tuple(out)


def _had(start: Layer, asked: Asked, lesser: Lesser) -> Instead | None:
    """A lesser want with its cheapest way; None where no way is found."""
    if run_result(start, asked.run, lesser.want).good:
        return Instead(lesser, None)
    found = search(start.rig, replace(asked, want=lesser.want, spare_ways=1, budget=_LESSER_BUDGET), start.states)
    return Instead(lesser, _told(Standing(start), asked.run, found.ways[0], lesser.want)) if found.ways else None
