"""The cheapest ways to give a run what it wants, what each does to everything, and what was proved of them.

Where there is none, the best that can be had instead. Another box is asked for only where that is proved (`relaxed`).
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Collection
from dataclasses import dataclass, replace
from math import ceil

from wavilex.core.advise.effects import Effect, Standing, effects
from wavilex.core.advise.lesser import Lesser, lesser_wants
from wavilex.core.advise.moves_settings import COST_NAMES, Move
from wavilex.core.advise.relaxed import Barred, barred
from wavilex.core.advise.search import Asked, Searched, Way, search
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer, States
from wavilex.core.chain.reasons import Reason, render
from wavilex.core.chain.results import RunResult
from wavilex.core.link.frl import frl_fits
from wavilex.core.link.rates import FRL_RATES, TMDS_MAX_MHZ
from wavilex.core.rig.model import Rig, Run, Want
from wavilex.core.rig.ops import Change, LayerName
from wavilex.core.video.signal import demand

MOST_WAYS = 5
_SPARE_WAYS = 24  # looked at beyond the shown ones: ties are broken by disturbance, likenesses dropped
_LESSER_BUDGET = 300  # rigs looked at for each lesser want
_EVERY_KIND = frozenset(COST_NAMES)


@dataclass(frozen=True, slots=True)
class Fix:
    """One way: its moves, the sum of their costs, what it gives, and all that it does to sound and to other runs."""

    moves: tuple[Move, ...]
    cost: int
    result: RunResult
    effects: tuple[Effect, ...] = ()

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

    @property
    def disturbs(self) -> tuple[str, ...]:
        """Runs beside this one that it does something to."""
        return tuple(dict.fromkeys(e.run for e in self.effects if e.run != self.result.run.uid))

    @property
    def loses(self) -> bool:
        """Does anything have less by it?"""
        return any(e.worse for e in self.effects)


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
    """

    ways: tuple[Fix, ...]
    proved: bool
    needs: str
    tried: int
    barred: Barred | None = None
    instead: tuple[Instead, ...] = ()


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
    if first.good:
        return Fixes((), True, "", 1)
    asked = Asked(run, run.want, layer, frozenset(kinds), max_moves, budget, go_on, _SPARE_WAYS)
    every = asked.kinds == _EVERY_KIND
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
    needs = _needs(start, first, out_of_reach, found)
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
    return Fix(way.moves, way.cost, result, effects(before, Standing(way.after), ops, but_for=run.uid))


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


def _needs(start: Layer, result: RunResult, out_of_reach: Barred | None, found: Searched) -> str:
    """What is said where there is no way: of another box only where no change of this job does it."""
    if out_of_reach is not None:
        bar = out_of_reach.reasons[0]
        said = render(bar, out_of_reach.rig)
        more = "" if len(out_of_reach.reasons) == 1 else f" (and {len(out_of_reach.reasons) - 1} more like it)"
        even = "with every setting, socket, lead and update of this job at its best"
        return f"Not to be had {even}: {said}{more} {_another(start.rig, bar, result)}"
    reason = result.limiting
    if reason is None:
        return ""
    said = render(reason, start.rig)
    if reason.verdict == "unknown":
        return f"Find out first: {said}"
    if reason.code == "not_connected":
        return f"{said} No input is free that leads there: one more input is needed, as a switch gives."
    if not found.whole:
        return f"No way found among {found.tried} rigs looked at, and not all were: {said}"
    return f"Nothing known here does it, not even at the cost of another run: {said}"


def _another(rig: Rig, reason: Reason, result: RunResult) -> str:
    """What another box in the place of the one that stops it would have to take."""
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
            parts.append(f"a link of {ceil(need.tmds_rate_hz / 1_000_000)} MHz")
        elif lowest is not None:
            parts.append(f"a link of {lowest.name}")
    uid = reason.socket.device if reason.socket else result.run.sink
    return f"Another {rig.devices[uid].profile.kind} needs at least {', '.join(parts)}."
