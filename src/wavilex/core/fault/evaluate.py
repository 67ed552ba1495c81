"""How well diagnosis does: over planted faults, with full, few and wrong answers, and against other orders of asking.

The truth answers as this model says it would, so these figures tell how well faults are told apart, not how true the
model is of real boxes: that is tried on boxes simulated otherwise (tests/core/test_fault.py).
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from itertools import combinations
from typing import Any, Literal

import numpy as np
from scipy.stats import bootstrap

from wavilex.core.draw import Draw
from wavilex.core.fault.ask import ask, thing
from wavilex.core.fault.checks import Check, Tables, seconds_of
from wavilex.core.fault.evidence import HELPED, Answer
from wavilex.core.fault.rank import Bench, Hypothesis, Ranking, rank
from wavilex.core.fault.trials import alike, complaints_of, honest, not_so, visible
from wavilex.core.fault.world import World

Order = Literal["next best", "fixed list", "random"]
ORDERS: tuple[Order, ...] = ("next best", "fixed list", "random")
SURE = 0.9
_bootstrap: Any = bootstrap  # it has no types
MOST_CHECKS = 40
_WRONG = 0.1
# a list as technicians keep it: what is shown and plugged, sockets and leads, formats, permissions, modes, what runs
_LIST = (
    "check/input", "check/awake", "check/plug", "check/whole", "check/setting", "check/firmware", "check/supply",
    "check/sync", "check/sound", "check/title", "check/other_title", "check/cure/replug", "check/cure/power",
    "check/cure/lead", "check/cure",
)  # fmt: skip


@dataclass
class Tally:
    """Places of the truth over trials: how often first, in the top three; shares given and whether they came true."""

    trials: int = 0
    first: int = 0
    three: int = 0
    brier: float = 0.0
    said: list[tuple[float, bool]] = field(default_factory=list)

    def add(self, ranking: Ranking, truth: World) -> None:
        """The truth counts as named by any world that nothing tells from it."""
        self.trials += 1
        known = [h for h in ranking.hypotheses if h.world is not None]
        place = next((n for n, h in enumerate(_told_once(known)) if is_truth(h, truth)), 99)
        self.first += place == 0
        self.three += place < 3
        shares: dict[tuple[str, ...], list[float | bool]] = {}
        for h in known:
            entry = shares.setdefault(thing(h), [0.0, False])
            entry[0] += h.share
            entry[1] = entry[1] or is_truth(h, truth)
        self.said += [(float(p), bool(t)) for p, t in shares.values()]
        named = sum(float(p) for p, t in shares.values() if t)  # what cannot be told apart counts as one
        self.brier += (1 - named) ** 2 + sum(float(p) ** 2 for p, t in shares.values() if not t)


def _told_once(known: Sequence[Hypothesis]) -> Iterator[Hypothesis]:
    """As shown: what comes down to the same thing stands once."""
    seen = set[tuple[str, ...]]()
    for h in known:
        if thing(h) not in seen:
            seen.add(thing(h))
            yield h


def is_truth(h: Hypothesis, truth: World) -> bool:
    """Does a hypothesis name the truth, or what cannot be told from it?"""
    if h.world is None:
        return False
    own = {f.thing for f in truth.faults}
    return own == {f.thing for f in h.faults} or alike(h.world, truth)


def full_answers(bench: Bench, checks: Sequence[Check], truth: World) -> list[tuple[Check | None, Answer]]:
    """Every read-out, look, cure and complaint of a world, honestly told."""
    found: list[tuple[Check | None, Answer]] = [(None, a) for a in complaints_of(bench, truth)]
    return found + [(c, a) for c in checks if (a := honest(c, truth)) is not None]


def few_answers(bench: Bench, checks: Sequence[Check], truth: World, tables: Tables, count: int = 3) -> list[Answer]:
    """What is complained of, and so many observations: those that tell most, whatever they take."""
    answers = complaints_of(bench, truth)
    count += len(answers)
    done = {a.key for a in answers}
    for _ in range(3 * count):
        if len(answers) >= count:
            break
        asked = [x for x in ask(bench, checks, tables, rank(bench, answers), done=done) if x.check.kind != "cure"]
        if not asked:
            break
        best = max(asked, key=lambda x: x.bits).check
        done.add(best.key)
        answer = honest(best, truth)
        if answer is not None:
            answers.append(answer)
    return answers


def spoiled(given: Sequence[tuple[Check | None, Answer]], rnd: Draw) -> list[Answer]:
    """A tenth of the answers wrong; what the client says stays."""
    return [not_so(c, a, rnd) if c is not None and rnd.chance(_WRONG) else a for c, a in given]


def worlds_of(bench: Bench) -> list[World]:
    """The single faults somebody would notice."""
    return [w for w in bench.singles if visible(bench, w) and not alike(w, bench.base)]


def pairs_of(bench: Bench, count: int, rnd: Draw) -> list[World]:
    """Random pairs of noticed faults, of which neither hides the other."""
    singles = worlds_of(bench)
    every = [
        (a, b) for a, b in combinations(singles, 2)
        if a.faults[0].thing != b.faults[0].thing
    ]  # fmt: skip
    found = []
    for a, b in rnd.sample(every, 6 * count):
        both = bench.together((*a.faults, *b.faults))
        if both is not None and not any(alike(both, w) for w in (a, b)):
            found.append(both)
        if len(found) >= count:
            break
    return found


@dataclass(frozen=True, slots=True)
class Search:
    """One search: checks made, minutes, and whether the truth was found."""

    checks: int
    minutes: float
    found: bool


def search(bench: Bench, checks: Sequence[Check], tables: Tables, truth: World, order: Order, seed: int) -> Search:
    """From the complaint to the truth, by an order of asking: ended when the truth is sure, or a cure helped."""
    rnd = Draw(f"search {seed}")
    answers, done = complaints_of(bench, truth), set[str]()
    todo = _listed(bench, checks) if order == "fixed list" else list(checks)
    if order == "random":
        todo = rnd.shuffled(todo)
    seconds, near, room, made = 0, "", "", 0
    while made < MOST_CHECKS:
        ranking = rank(bench, answers)
        first = next(h for h in ranking.hypotheses if h.world is not None)
        if made and class_share(ranking, first) >= SURE and is_truth(first, truth):
            return Search(made, seconds / 60, True)
        check = _chosen(bench, checks, tables, ranking, todo, done, near, room, order)
        if check is None:
            break
        done.add(check.key)
        made += 1
        seconds += seconds_of(bench, check, near, room)
        near, room = check.near, bench.scene.layer.rig.devices[check.device].room
        answer = honest(check, truth)
        if answer is None:
            continue
        answers.append(answer)
        if check.kind == "cure" and answer.value == HELPED:
            return Search(made, seconds / 60, True)
    return Search(made, seconds / 60, False)


def class_share(ranking: Ranking, first: Hypothesis) -> float:
    """The share of everything that comes down to the same thing."""
    return sum(h.share for h in ranking.hypotheses if thing(h) == thing(first))


def _chosen(
    bench: Bench, checks: Sequence[Check], tables: Tables, ranking: Ranking, todo: Sequence[Check], done: set[str],
    near: str, room: str, order: Order,
) -> Check | None:  # fmt: skip
    if order == "next best":
        asked = ask(bench, checks, tables, ranking, done=done, near=near, room=room)
        return asked[0].check if asked else None
    return next((c for c in todo if c.key not in done), None)


def _listed(bench: Bench, checks: Sequence[Check]) -> list[Check]:
    """In the order of a list, and within it in walking order."""
    place = {uid: n for n, uid in enumerate(bench.scene.boxes)}
    at = lambda c: next((n for n, start in enumerate(_LIST) if c.key.startswith(start)), len(_LIST))  # noqa: E731
    return sorted((c for c in checks if c.kind != "read"), key=lambda c: (at(c), place.get(c.device, 99), c.key))  # type: ignore[no-untyped-call]  # numpy’s ufuncs are typed, scipy is not


def mean_within(values: Sequence[float], seed: int = 1) -> tuple[float, float, float]:
    """Mean with its 95 % interval (bootstrap, scipy). Raises ValueError for fewer than two values."""
    data = np.array(values)
    result = _bootstrap((data,), np.mean, n_resamples=999, random_state=seed, method="percentile")
    found = result.confidence_interval
    return float(data.mean()), float(found.low), float(found.high)


def reliability(said: Sequence[tuple[float, bool]], bins: int = 5) -> list[tuple[float, float, int]]:
    """By bins of the share given: mean share, how often it came true, how many."""
    found = []
    for n in range(bins):
        within = [(p, t) for p, t in said if n / bins <= p < (n + 1) / bins or (n == bins - 1 and p == 1)]
        if within:
            share, true = (float(np.mean([x[k] for x in within])) for k in (0, 1))
            found.append((share, true, len(within)))
    return found
