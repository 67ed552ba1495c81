"""Ranking: how probable each fault, pair and triple is by what was seen. Bayes over the worlds of the model.

Every single fault is run through the model. Of pairs and triples those are run that explain best by what their parts
do alone; how many were left out is told. Beside them stand that nothing is wrong, and that it is something this model
knows nothing of.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from itertools import combinations

import numpy as np
import numpy.typing as npt

from wavilex.core.fault.acts import acts_for
from wavilex.core.fault.complaints import COMPLAINTS, HALF
from wavilex.core.fault.evidence import CHECK, COMPLAINT, CURE, Answer, likelihood
from wavilex.core.fault.fault import Act, Fault
from wavilex.core.fault.generate import faults_of
from wavilex.core.fault.kinds import NOTHING_CONFIRMED, UNKNOWN_ODDS, Confirmed
from wavilex.core.fault.scene import Scene
from wavilex.core.fault.world import Asked, World, asked_of, cards_of, world_of
from wavilex.core.prove.line import NO, Card

PAIRS_TRIED, TRIPLES_TRIED = 24, 12
_EXPLAINED = 0.02  # a best pair under this share of a perfect one leaves something to triples
_NEEDED = 0.8  # a fault without which what was seen is nearly as probable is none
_UNKNOWN_SAYS = 0.35  # how well what this model does not know explains an answer that differs
Floats = npt.NDArray[np.float64]


@dataclass
class Bench:
    """A scene with its worlds, worked out once for a state of the rig and kept: answers do not change them."""

    scene: Scene
    cards: list[Card]
    asked: Asked
    faults: list[Fault]
    acts: Mapping[str, Act]
    base: World
    singles: list[World]
    groups: dict[frozenset[str], World | None] = field(default_factory=dict)

    def together(self, faults: Sequence[Fault]) -> World | None:
        """The world of several faults, remembered."""
        key = frozenset(f.id for f in faults)
        if key not in self.groups:
            self.groups[key] = world_of(self.scene, self.asked, faults)
        return self.groups[key]


def bench_of(scene: Scene, confirmed: Confirmed = NOTHING_CONFIRMED) -> Bench | None:
    """None where the run is not joined: nothing can be read, and the lead is what to look for."""
    cards = cards_of(scene)
    asked = asked_of(scene, cards)
    base = world_of(scene, asked, ())
    if not scene.path or base is None:
        return None
    faults, singles = [], []
    for fault in faults_of(scene, cards, confirmed):
        world = world_of(scene, asked, (fault,))
        if world is not None:
            faults.append(fault)
            singles.append(world)
    return Bench(scene, cards, asked, faults, acts_for(scene, faults), base, singles)


@dataclass(frozen=True)
class Hypothesis:
    """What may be the matter: faults of one world; none: nothing is wrong. world None: unknown to this model."""

    faults: tuple[Fault, ...]
    world: World | None
    share: float


@dataclass(frozen=True)
class Ranking:
    """hypotheses: likeliest first, shares sum to one. tried, of_pairs: pairs run through the model, and there are.

    whole: pairs were not cut short for want of time.
    """

    hypotheses: tuple[Hypothesis, ...]
    tried: int
    of_pairs: int
    whole: bool


def rank(bench: Bench, answers: Sequence[Answer], go_on: Callable[[], bool] = lambda: True) -> Ranking:
    """The posterior by the answers given."""
    odds = np.array([f.odds for f in bench.faults])
    base = _says(bench.base, answers)
    alone = np.array([_says(w, answers) for w in bench.singles]).reshape(len(bench.faults), len(answers))
    worlds: list[World] = [bench.base, *bench.singles]
    weights = [float(np.prod(base)), *(odds * alone.prod(axis=1)).tolist()]
    pairs = _pairs(bench, base, alone, odds) if len(bench.faults) > 1 and answers else []
    tried = 0
    for i, j in pairs[:PAIRS_TRIED]:
        if not go_on():
            break
        _add(bench, (i, j), answers, odds, worlds, weights)
        tried += 1
    if answers and max(weights) and go_on() and _unexplained(worlds, weights, answers):
        for group in _triples(bench, base, alone, odds, pairs)[:TRIPLES_TRIED]:
            if not go_on():
                break
            _add(bench, group, answers, odds, worlds, weights)
    unknown = UNKNOWN_ODDS * float(np.prod([max(b, _UNKNOWN_SAYS) if b < 0.5 else b * 0.8 for b in base]))
    total = sum(weights) + unknown
    shares = (
        _needed(bench, worlds, weights, answers) if answers else dict(zip(range(len(worlds)), weights, strict=True))
    )
    found = [Hypothesis(worlds[n].faults, worlds[n], x / total) for n, x in shares.items()]
    found.append(Hypothesis((), None, unknown / total))
    found.sort(key=lambda h: (-h.share, len(h.faults), [f.id for f in h.faults]))
    of_pairs = len(bench.faults) * (len(bench.faults) - 1) // 2
    return Ranking(tuple(found), tried, of_pairs, tried >= min(len(pairs), PAIRS_TRIED))


def _needed(
    bench: Bench, worlds: Sequence[World], weights: Sequence[float], answers: Sequence[Answer]
) -> dict[int, float]:
    """Faults that add nothing to what is complained of and read go: their share belongs to the same without them.

    That something stands otherwise than noted, and was looked at, does not make it the cause.
    """
    at = {frozenset(f.id for f in w.faults): n for n, w in enumerate(worlds)}
    symptoms = [a for a in answers if a.symptom and (not a.key.startswith(CHECK) or a.key.startswith(CURE))]
    says = [float(np.prod(_says(w, symptoms))) for w in worlds]
    enough = _bringing(bench, answers)
    found: dict[int, float] = {}
    for n, world in enumerate(worlds):
        least = n
        for fault in world.faults:
            if fault.id in enough and len(world.faults) > 1:
                continue
            left = frozenset(f.id for f in worlds[least].faults) - {fault.id}
            without = at.get(left)
            if without is not None and says[without] >= _NEEDED * says[least]:
                least = without
        found[least] = found.get(least, 0.0) + weights[n]
    return found


def _bringing(bench: Bench, answers: Sequence[Answer]) -> frozenset[str]:
    """Faults that would bring by themselves what is complained of: two of them may well be there."""
    codes = [c for c in COMPLAINTS if any(a.key == f"{COMPLAINT}{c}" and a.value != NO for a in answers)]
    return frozenset(
        f.id for f, w in zip(bench.faults, bench.singles, strict=True)
        if any(w.felt[c].likely >= HALF and w.felt[c].likely > bench.base.felt[c].likely for c in codes)
    )  # fmt: skip


def _says(world: World, answers: Sequence[Answer]) -> Floats:
    return np.array([likelihood(a, world) for a in answers], dtype=np.float64)


def _add(
    bench: Bench, group: Sequence[int], answers: Sequence[Answer], odds: Floats, worlds: list[World],
    weights: list[float],
) -> None:  # fmt: skip
    world = bench.together([bench.faults[i] for i in group])
    if world is not None:
        worlds.append(world)
        weights.append(float(np.prod(odds[list(group)]) * np.prod(_says(world, answers))))


def _composed(base: Floats, alone: Floats, group: Sequence[int]) -> Floats:
    """What faults together would say, by what each changes alone; the more favourable where several change it."""
    rows = alone[list(group)]
    moved = np.abs(rows - base) > 1e-12
    best = np.where(moved, rows, -1.0).max(axis=0)
    return np.where(moved.any(axis=0), best, base)


def _pairs(bench: Bench, base: Floats, alone: Floats, odds: Floats) -> list[tuple[int, int]]:
    """Pairs, the most promising first: those whose parts explain more together than either does alone."""
    n = len(bench.faults)
    moved = np.abs(alone - base) > 1e-12
    first, second = alone[:, None, :], alone[None, :, :]
    m1, m2 = moved[:, None, :], moved[None, :, :]
    both = np.where(m1 & m2, np.maximum(first, second), np.where(m1, first, np.where(m2, second, base)))
    score = np.log(np.maximum(both, 1e-12)).sum(axis=2) + np.log(odds)[:, None] + np.log(odds)[None, :]
    upper = np.triu_indices(n, 1)
    order = np.argsort(-score[upper], kind="stable")[: 4 * PAIRS_TRIED]
    found = [(int(upper[0][k]), int(upper[1][k])) for k in order]
    return [(i, j) for i, j in found if not _same_thing(bench.faults[i], bench.faults[j])]


def _same_thing(a: Fault, b: Fault) -> bool:
    """Two states of one thing cannot be together."""
    return a.thing == b.thing


def _unexplained(worlds: Sequence[World], weights: Sequence[float], answers: Sequence[Answer]) -> bool:
    """Does even the best world say of some answer that it is most unlikely?"""
    best = worlds[int(np.argmax(weights))]
    return any(likelihood(a, best) < max(_EXPLAINED, 1.5 * a.wrong) for a in answers)


def _triples(
    bench: Bench, base: Floats, alone: Floats, odds: Floats, pairs: Sequence[tuple[int, int]]
) -> list[tuple[int, ...]]:
    single = np.log(np.maximum(alone, 1e-12)).sum(axis=1) + np.log(odds)
    likely = {int(i) for i in np.argsort(-single)[:10]} | {i for p in pairs[:4] for i in p}
    scored = []
    for group in combinations(sorted(likely), 3):
        faults = [bench.faults[i] for i in group]
        if any(_same_thing(a, b) for a, b in combinations(faults, 2)):
            continue
        says = _composed(base, alone, group)
        scored.append((-float(np.log(np.maximum(says, 1e-12)).sum() + np.log(odds[list(group)]).sum()), group))
    return [group for _, group in sorted(scored)]
