"""What the best places alone do not give a run: looked for among all moves."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from wavilex.core.advise.effects import Standing, sound_lost
from wavilex.core.advise.moves_settings import COST_NAMES
from wavilex.core.advise.relaxed import barred
from wavilex.core.advise.search import Asked, Way, search
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer, States
from wavilex.core.rig.model import Rig, Run
from wavilex.core.rig.ops import LayerName

_WAYS = 3  # of which the one is taken that costs least sound
_MORE_BUDGET = 300  # rigs looked at for a run that its place does not satisfy


def more_ways(
    rig: Rig, layer: LayerName, states: States, go_on: Callable[[], bool]
) -> tuple[Rig, tuple[tuple[str, Way], ...]]:
    """Ways for runs that their places do not satisfy, the weightiest first; none at another’s cost, sound spared."""
    more = []
    for uid in sorted(rig.runs, key=lambda u: -rig.runs[u].want.weight):
        run = rig.runs[uid]
        if run_result(Layer(rig, layer, states), run).good or not go_on() or barred(rig, run, None, states):
            continue
        asked = Asked(run, run.want, layer, frozenset(COST_NAMES), None, _MORE_BUDGET, go_on, _WAYS)
        found = search(rig, asked, states)
        if found.ways:
            way = min(found.ways, key=partial(_sound_lost, Standing(Layer(rig, layer, states))))
            more.append((uid, way))
            rig = way.after.rig
    return rig, tuple(more)


def _sound_lost(now: Standing, way: Way) -> int:
    then = Standing(way.after)
    return sum(sound_lost(now, then, uid) for uid in now.layer.rig.runs)


def at_others_cost_only(after: Layer, run: Run, go_on: Callable[[], bool]) -> bool:
    """Does no set of the moves known give a run its want while the others keep theirs? All of them looked at."""
    if barred(after.rig, run, None, after.states) is not None:
        return True
    asked = Asked(run, run.want, after.name, frozenset(COST_NAMES), None, _MORE_BUDGET, go_on, 1)
    found = search(after.rig, asked, after.states)
    return found.whole and not found.ways
