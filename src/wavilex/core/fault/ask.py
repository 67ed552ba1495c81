"""The next best check: the most expected information for its time, looking two steps ahead.

A cure that helps ends the search, so it counts as all the information that is left: acting is chosen as soon as it is
cheaper than knowing. Halving the path falls out of it.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from wavilex.core.fault.checks import Check, Outcome, Tables, seconds_of
from wavilex.core.fault.rank import Bench, Hypothesis, Ranking
from wavilex.core.fault.world import World

Floats = npt.NDArray[np.float64]
_LEAST_SHARE, _MOST_WORLDS = 2e-4, 120
_LOOKED_AHEAD = 6
_LEAST_BITS = 1e-3
_DISTURBED = 1.25  # what the client sees counts a quarter more


@dataclass(frozen=True)
class Leaves:
    """What an outcome would leave. probable: of the outcome; first, share: the likeliest cause then."""

    outcome: Outcome
    probable: float
    first: Hypothesis | None
    share: float


@dataclass(frozen=True)
class Asked:
    """A check weighed. bits: expected information, of so many still open; seconds: as one stands now; rate: bits a
    minute, two steps on.
    """

    check: Check
    bits: float
    open_bits: float
    seconds: int
    rate: float
    leaves: tuple[Leaves, ...]


def thing(hypothesis: Hypothesis) -> tuple[str, ...]:
    """What it comes down to for who has to mend it: the same setting, lead or box, however far it is off."""
    if hypothesis.world is None:
        return ("unknown",)
    return tuple(sorted(f.thing for f in hypothesis.faults))


@dataclass(frozen=True)
class _Belief:
    """worlds with their shares, and the class each belongs to (classes × worlds)."""

    worlds: Sequence[World]
    kept: Sequence[Hypothesis]
    shares: Floats
    classes: Floats


def _belief(ranking: Ranking) -> _Belief:
    known = [h for h in ranking.hypotheses if h.world is not None and h.share >= _LEAST_SHARE][:_MOST_WORLDS]
    shares = np.array([h.share for h in known])
    names = list(dict.fromkeys(thing(h) for h in known))
    classes = np.zeros((len(names), len(known)))
    for n, h in enumerate(known):
        classes[names.index(thing(h)), n] = 1.0
    return _Belief([h.world for h in known if h.world], known, shares / shares.sum(), classes)


def ask(
    bench: Bench,
    checks: Sequence[Check],
    tables: Tables,
    ranking: Ranking,
    *,
    done: Collection[str] = (),
    near: str = "",
    room: str = "",
) -> list[Asked]:
    """Checks worth making now, the best first. done: what was answered or cannot be done; near: the card one stands
    at; room: the room one is in.
    """  # fmt: skip
    belief = _belief(ranking)
    if len(belief.kept) < 2:
        return []
    open_ = [c for c in checks if c.key not in done]
    rows = {c.key: tables.of(c, belief.worlds) for c in open_}
    cost = {c.key: seconds_of(bench, c, near, room) * (_DISTURBED if c.disturbs else 1.0) for c in open_}
    now = {c.key: _bits(belief, belief.shares, rows[c.key], c.kind == "cure") for c in open_}
    first = sorted((c for c in open_ if now[c.key] > _LEAST_BITS), key=lambda c: (-now[c.key] / cost[c.key], c.key))
    rates = {c.key: now[c.key] / cost[c.key] for c in first}
    for c in first[:_LOOKED_AHEAD]:
        rates[c.key] = max(rates[c.key], _two_steps(belief, c, first, rows, cost, now[c.key]))
    left = float(_entropy(belief.classes @ belief.shares))
    best = sorted(first, key=lambda c: (-rates[c.key], c.key))
    return [
        Asked(c, now[c.key], left, seconds_of(bench, c, near, room), rates[c.key] * 60, _leaves(belief, c, rows[c.key]))
        for c in best
    ]


def _entropy(shares: Floats) -> Floats:
    """Bits, along the first axis; a share of nothing is nothing."""
    safe = np.where(shares > 0, shares, 1.0)
    entropy: Floats = -(shares * np.log2(safe)).sum(axis=0)
    return entropy


def _bits(belief: _Belief, shares: Floats, rows: Floats, cure: bool) -> float:
    """Expected information about the classes by a check; a cure that helps leaves nothing to ask."""
    joint = belief.classes @ (shares[:, None] * rows)  # classes × outcomes
    probable = joint.sum(axis=0)
    left = _entropy(joint / np.maximum(probable, 1e-12))
    if cure:
        left = left * np.array([0.0, 1.0])
    return float(_entropy(belief.classes @ shares) - (probable * left).sum())


def _two_steps(
    belief: _Belief, check: Check, others: Sequence[Check], rows: dict[str, Floats], cost: dict[str, float],
    bits: float,
) -> float:  # fmt: skip
    """Information a second over this check and the best after it."""
    own = rows[check.key]
    gained, spent = bits, cost[check.key]
    for n in range(own.shape[1]):
        if check.kind == "cure" and n == 0:
            continue
        joint = belief.shares * own[:, n]
        probable = float(joint.sum())
        if probable < 1e-6:
            continue
        after = joint / probable
        best = max(
            ((_bits(belief, after, rows[c.key], c.kind == "cure"), cost[c.key]) for c in others[:12] if c is not check),
            key=lambda x: x[0] / x[1], default=(0.0, 0.0),
        )  # fmt: skip
        gained += probable * best[0]
        spent += probable * best[1]
    return gained / spent


def _leaves(belief: _Belief, check: Check, rows: Floats) -> tuple[Leaves, ...]:
    found = []
    for n, outcome in enumerate(check.outcomes):
        joint = belief.shares * rows[:, n]
        probable = float(joint.sum())
        of_class = belief.classes @ joint
        best = int(np.argmax(of_class))
        member = int(np.argmax(joint * belief.classes[best]))
        share = float(of_class[best]) / probable if probable else 0.0
        found.append(Leaves(outcome, probable, belief.kept[member], share))
    return tuple(found)
