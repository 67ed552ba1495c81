"""What was seen, as likelihoods: how probable each world makes every answer that was given.

An answer is never taken for certain: a tired eye, a read-out that lies, a client who means something else. Shares of
wrong answers by kind are common practice, our own figures. What was not looked at says nothing.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import cast

from wavilex.core.fault.complaints import COMPLAINTS
from wavilex.core.fault.world import World
from wavilex.core.gear.own_faults import Complaint
from wavilex.core.prove.differ import same
from wavilex.core.prove.line import NO, YES, Card, Trust, line_key
from wavilex.core.rig.model import Observation

COMPLAINT, CHECK, CURE, RATE = "complaint/", "check/", "check/cure/", "rate/"
YES_NO = (YES, NO)
WRONG: Mapping[Trust, float] = {
    "reads": 0.06, "promises": 0.06, "measures": 0.03, "proves": 0.05, "renders": 0.2, "lies": 0.35,
}  # fmt: skip
WRONG_LOOK, WRONG_CURE, WRONG_COMPLAINT = 0.08, 0.06, 0.08
_PHOTOGRAPHED = 0.5  # with a photograph a reading is wrong half as often
_NOT_SURE = 0.2  # a prediction that rests on something not known may be off
_NOT_TOLD = 0.5  # of a line that nobody can predict


@dataclass(frozen=True, slots=True)
class Answer:
    """One answer. key: the line, look, complaint or act; value: what was seen; None: otherwise than `not_value`.

    wrong: the share of such answers that are wrong. among: how many different answers there are, at least two.
    symptom: it may be what has to be explained; a look, or what nobody could tell before, only tells how things stand.
    """

    key: str
    value: str | None
    wrong: float
    not_value: str | None = None
    among: int = 2
    symptom: bool = True


def likelihood(answer: Answer, world: World) -> float:
    """How probable a world makes an answer, in (0, 1)."""
    if answer.key.startswith(COMPLAINT):
        return of_complaint(cast(Complaint, answer.key[len(COMPLAINT) :]), answer.value != NO, world)
    if answer.key.startswith(CURE):
        helped = helps(answer.key[len(CURE) :], world) * (1 - 2 * WRONG_CURE) + WRONG_CURE
        return helped if answer.value == HELPED else 1 - helped
    says = predicted(answer.key, world)
    if says is None:
        return _NOT_TOLD
    agrees = not same(says, answer.not_value) if answer.value is None else same(says, answer.value)
    right = 1 - answer.wrong
    if answer.key in world.unsure:
        right = right * (1 - _NOT_SURE) + _NOT_SURE / answer.among
    return right if agrees else (1 - right) / max(1, answer.among - 1)


def of_complaint(code: Complaint, there: bool, world: World) -> float:
    """A complaint that is there, or expressly is not."""
    likely = world.felt[code].likely
    likely = likely * (1 - WRONG_COMPLAINT) + WRONG_COMPLAINT / 32
    return likely if there else 1 - likely


def predicted(key: str, world: World) -> str | None:
    """What a world shows at a line, or at a look; a look shows what was noted where no fault says otherwise."""
    if key.startswith(CHECK):
        return world.looks.get(key[len(CHECK) :], AS_NOTED)
    return world.lines.get(key)


AS_NOTED = "as noted"


def answers_of(seen: Mapping[str, Observation], cards: Sequence[Card]) -> list[Answer]:
    """The answers that count, of what was seen on a run by line; cures and looks by their names."""
    trust = {line_key(c, x): c.trust for c in cards for x in c.lines}
    found = []
    for key, o in seen.items():
        if key.startswith(COMPLAINT):
            if key[len(COMPLAINT) :] in COMPLAINTS:
                found.append(Answer(key, o.observed or YES, WRONG_COMPLAINT))
        elif key.startswith(CHECK):
            if o.observed and o.observed != CANNOT:
                found.append(Answer(key, o.observed, WRONG_LOOK, symptom=key.startswith(CURE)))
        elif key.startswith(RATE):
            if o.observed:
                found.append(Answer(key, o.observed, WRONG["proves"]))
        elif key in trust:
            wrong = WRONG[trust[key]] * (_PHOTOGRAPHED if o.photo else 1)
            if o.observed is not None:
                found.append(Answer(key, o.observed, wrong, symptom=o.predicted is not None))
            elif o.answer == "differs":
                found.append(Answer(key, None, wrong, not_value=o.predicted))
    return found


CANNOT = "cannot"


HELPED, STAYED = "helped", "stayed"
_BY_CHANCE = 0.04  # a complaint that goes away by itself
_OTHER_STAYS = 0.6  # another fault of the same world keeps the complaint up


def helps(act: str, world: World) -> float:
    """How likely an act mends what is wrong in a world."""
    left = 1.0
    if not world.faults:
        return _BY_CHANCE
    for fault in world.faults:
        cured = next((p for name, p in fault.cures if name == act), 0.0)
        left *= cured if cured else (_BY_CHANCE if len(world.faults) == 1 else 1 - _OTHER_STAYS)
    if not any(name == act for f in world.faults for name, _ in f.cures):
        return _BY_CHANCE
    return left
