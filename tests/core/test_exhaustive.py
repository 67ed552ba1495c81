"""Advice on random rigs over the whole library, held against trying everything in order of cost.

The reference lists moves without looking at any reason, follows every rig they lead to (Dijkstra's algorithm, no bound
on moves), and stops only at the cost the search claims, or where a rig is too large to be tried out.
"""

from __future__ import annotations

import heapq
from collections import Counter
from itertools import count

import pytest

from tests.arrival_rigs import wide
from tests.core.test_advice import all_told
from tests.core.test_chain import every_move, points
from wavilex.core.advise.fixes import find_fixes
from wavilex.core.advise.search import move_paths
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer, States
from wavilex.core.errors import ChangeError
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig

MOST_RIGS, QUICKLY = 700, 90  # tried by the reference for one run; a rig that needs more is too large for it


def matters(r: Rig, device: str, key: str) -> bool:
    """Is a setting named by any rule of its box? One that is not changes nothing by itself."""
    profile = r.devices[device].profile
    rules = (getattr(q, "when", None) for q in profile.quirks)
    return any(when is not None and key in when.settings() for when in rules) or key in {
        q.setting for q in profile.setting_quirks
    }


def cheapest(r: Rig, uid: str, until: int, most: int) -> tuple[int | None, bool]:
    """The least cost below `until` at which the run has its want and no other run lost its own; was all tried?"""
    states = States()

    def good(rig: Rig) -> set[str]:
        layer = Layer(rig, "plan", states)
        return {u for u, run in rig.runs.items() if run_result(layer, run).good}

    well = good(r)
    order = count()
    heap: list[tuple[int, int, Rig, frozenset[str]]] = [(0, next(order), r, frozenset())]
    seen: set[str] = set()
    tried = 0
    while heap:
        cost, _, rig, used = heapq.heappop(heap)
        if cost >= until:
            return None, True
        key = repr((sorted((u, x.plan, x.cable) for u, x in rig.leads.items()), sorted(rig.settings.items()),
                    [(d.uid, d.firmware_plan) for d in rig.devices.values()]))  # fmt: skip
        if key in seen:
            continue
        seen.add(key)
        tried += 1
        if tried > most:
            return None, False
        now = good(rig)
        if uid in now and well <= now:
            return cost, True
        for move in every_move(rig):
            op = move.ops[0]
            if op["op"] == "set_setting" and not matters(rig, op["device"], op["key"]):
                continue
            paths = move_paths(move)
            if paths & used or cost + points(move) >= until:
                continue
            try:
                after, _ = apply(rig, move.ops)
            except ChangeError:
                continue
            heapq.heappush(heap, (cost + points(move), next(order), after, used | paths))
    return None, True


NEVER = 7  # a claim of no way at all is tried up to this cost


def tried_out(seeds: range, most: int = MOST_RIGS) -> Counter[str]:
    """Every claim of these rigs tried; how many of each kind."""
    seen: Counter[str] = Counter()
    for seed in seeds:
        r = wide(seed)
        for uid, asked in r.runs.items():
            if run_result(Layer(r), asked).good:
                continue
            found = find_fixes(r, asked, budget=600)
            all_told(r, asked, found)
            kept = [w for w in found.ways if not w.loses]
            until = kept[0].cost if kept and found.proved else NEVER
            if kept and not found.proved:
                seen["not proved"] += 1
                continue
            cost, whole = cheapest(r, uid, until, most)
            if cost is not None:
                assert found.ways or not found.proved, f"{seed} {uid}: a way of {cost} exists, none was found"
                assert not kept, f"{seed} {uid}: {cost} is cheaper than {until}: {kept[0].label if kept else ''}"
            seen["tried" if whole else "too large"] += 1
            seen["with a way" if kept else "with none"] += 1
    return seen


@pytest.mark.parametrize("part", range(4))
def test_the_first_way_is_the_cheapest_and_none_is_missed(part: int) -> None:
    seen = tried_out(range(10 * part, 10 * part + 10), QUICKLY)
    assert seen["tried"]
    assert seen["with a way"]


@pytest.mark.soak
@pytest.mark.parametrize("part", range(23))
def test_the_first_way_is_the_cheapest_and_none_is_missed_for_long(part: int) -> None:
    tried_out(range(40 + 20 * part, 60 + 20 * part))
