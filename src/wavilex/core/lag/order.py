"""In which order cells are measured: what is slow to change is changed seldom.

Exact for a few cells (Held and Karp's programme over subsets); beyond, the best of several starts, each mended until
no cell and no stretch is better elsewhere. Cells are shuffled first, so among orders alike chance decides.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import pairwise
from typing import TypeVar

T = TypeVar("T")
_EXACT = 9
_STARTS = 6
_LONGEST_MOVED = 3


def blocked(items: Sequence[T], between: Callable[[T | None, T], int], shuffle: Callable[[list[int]], None]) -> list[T]:
    """The items in an order that takes little time between them.

    between: seconds from one item (None: from how it is now) to the next. shuffle: puts numbers in random order.
    """
    places = list(range(len(items)))
    shuffle(places)
    mixed = [items[n] for n in places]
    if len(mixed) < 2:
        return mixed
    first = [between(None, x) for x in mixed]
    cost = [[between(a, b) for b in mixed] for a in mixed]
    order = _exact(first, cost) if len(mixed) <= _EXACT else _mended(first, cost, shuffle)
    return [mixed[n] for n in order]


def seconds_of(order: Sequence[T], between: Callable[[T | None, T], int]) -> int:
    """What an order takes between its items, from how it is now on."""
    before: T | None = None
    total = 0
    for x in order:
        total += between(before, x)
        before = x
    return total


def _exact(first: Sequence[int], cost: Sequence[Sequence[int]]) -> list[int]:
    n = len(first)
    best: dict[tuple[int, int], tuple[int, int]] = {(1 << k, k): (first[k], -1) for k in range(n)}
    for taken in range(1, 1 << n):
        for last in range(n):
            held = best.get((taken, last))
            if held is None:
                continue
            for after in range(n):
                if taken >> after & 1:
                    continue
                key, value = (taken | 1 << after, after), held[0] + cost[last][after]
                if key not in best or value < best[key][0]:
                    best[key] = value, last
    taken = (1 << n) - 1
    last = min(range(n), key=lambda k: best[taken, k][0])
    order: list[int] = []
    while last >= 0:
        order.append(last)
        taken, last = taken & ~(1 << last), best[taken, last][1]
    return order[::-1]


def _mended(first: Sequence[int], cost: Sequence[Sequence[int]], shuffle: Callable[[list[int]], None]) -> list[int]:
    best: list[int] = []
    for _ in range(_STARTS):
        order = _nearest(first, cost, shuffle)
        while (better := _one_better(order, first, cost)) is not None:
            order = better
        if not best or _total(order, first, cost) < _total(best, first, cost):
            best = order
    return best


def _total(order: Sequence[int], first: Sequence[int], cost: Sequence[Sequence[int]]) -> int:
    return first[order[0]] + sum(cost[a][b] for a, b in pairwise(order))


def _nearest(first: Sequence[int], cost: Sequence[Sequence[int]], shuffle: Callable[[list[int]], None]) -> list[int]:
    left = list(range(len(first)))
    shuffle(left)
    order = [left.pop()]
    while left:
        here = min(left, key=lambda k: cost[order[-1]][k])
        left.remove(here)
        order.append(here)
    return order


def _one_better(order: list[int], first: Sequence[int], cost: Sequence[Sequence[int]]) -> list[int] | None:
    """The order with one stretch turned about, or one of up to three moved, where that is quicker; what a change takes
    is the same both ways.
    """
    n = len(order)

    def step(a: int | None, b: int | None) -> int:
        return 0 if b is None else first[b] if a is None else cost[a][b]

    for a in range(n):
        before = order[a - 1] if a else None
        for b in range(a + 1, n + 1):
            after = order[b] if b < n else None
            head, tail = order[a], order[b - 1]
            now = step(before, head) + step(tail, after)
            if step(before, tail) + step(head, after) < now:
                return order[:a] + order[a:b][::-1] + order[b:]
            if b - a > _LONGEST_MOVED:
                continue
            gained = now - step(before, after)
            rest = order[:a] + order[b:]
            for at in range(len(rest) + 1):
                left, right = rest[at - 1] if at else None, rest[at] if at < len(rest) else None
                if step(left, head) + step(tail, right) - step(left, right) < gained:
                    return [*rest[:at], *order[a:b], *rest[at:]]
    return None
