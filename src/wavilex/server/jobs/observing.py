"""Observations: what was seen is written as a change of the job, with whom, when, and what it rests on."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from typing import Any

from django.db import transaction

from wavilex.core import bounds
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.prove.arrival import arrival
from wavilex.core.prove.belief import proofs_of
from wavilex.core.prove.differ import same
from wavilex.core.prove.grounds import grounds_of
from wavilex.core.prove.line import HELD, NO, YES, line_key, photo_line
from wavilex.core.prove.probe import Measured, what_can_cause
from wavilex.core.prove.rate import HELD as HELD_AT
from wavilex.core.prove.rate import OUTCOMES, failed_ops, line_of, proved_ops, rate_proof, rate_tests
from wavilex.core.prove.readouts import readouts
from wavilex.core.prove.told import proof_data
from wavilex.core.rig.model import Device, Observation, Rig, Run
from wavilex.core.rig.ops import Answer, Change, ObservationData
from wavilex.core.rig.touched import overlapping, touched
from wavilex.server.jobs import models
from wavilex.server.jobs.cache import layer_of, rig_of
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.jobs.services import change_job
from wavilex.server.jobs.views import run_of
from wavilex.server.problems import ProblemError

_OTHER = {YES: NO, NO: YES}
_LOOKED_BACK = 2000  # changes: older ones are not asked when something changed


@dataclass(frozen=True, slots=True)
class Described:
    """What an answer is about that stands on no read-out: the box, where, and the question."""

    device: str
    place: str
    label: str


@dataclass(frozen=True, slots=True)
class SeenAt:
    """What somebody says of one line. observed: the words seen there, where they are not as predicted.

    about: of an answer that is no line of a read-out.
    """

    line: str
    answer: Answer
    observed: str = ""
    photo: str = ""
    about: Described | None = None


@transaction.atomic
def observe(
    *, job_uid: str, uid: str, run_uid: str, seen: Sequence[SeenAt], said_at: datetime, actor: Any, by: str = ""
) -> models.Job:
    """Keep what was seen at lines of a run, with what it proves: one change. The same uid twice is kept once; no
    revision is asked for, so it may come late. by: how, where nobody looked in person.
    """
    job = job_by_uid(job_uid, lock=True)
    if job.changes.filter(uid=_change_of(uid)).exists():
        return job
    photos = {x.photo for x in seen} - {""}
    if len(photos) > job.photographs.filter(name__in=photos).count():
        raise ProblemError(422, "no_such_photograph", "Send the photograph before what it shows.", "photo")
    run, layer = run_of(job, run_uid), layer_of(job, "found")
    told = _Told(layer, run, run_result(layer, run), uid, said_at, _name(actor, by))
    ops: list[Change] = []
    for n, x in enumerate(seen):
        data, proved = _of_rate(told, n, x) if x.line.startswith("rate/") else _of_line(told, n, x)
        ops += [{"op": "observe", "observation": data}, *proved]
        label = f"seen: {data['place']}, {data['label']}"
    if len(seen) > 1:
        label = f"seen: {len(seen)} lines of {run.label}"
    return change_job(job_uid=job.uid, base=job.revision, uid=_change_of(uid), ops=ops, actor=actor, label=label).job


def _name(actor: Any, how: str) -> str:
    name: str = actor.get_username()
    return f"{name}, {how}" if how else name


def _change_of(uid: str) -> str:
    """The change that an observation came by: several of one change differ in their last part."""
    return f"seen-{uid.partition('.')[0]}"


@dataclass(frozen=True, slots=True)
class _Told:
    """What somebody says to have seen, on a run as it stands."""

    layer: Layer
    run: Run
    result: RunResult
    uid: str
    said_at: datetime
    by: str

    def observation(
        self, n: int, seen: SeenAt, device: Device, place: str, label: str, predicted: str | None, observed: str | None
    ) -> ObservationData:
        """With whom, when, and what it rests on."""
        return {
            "uid": f"{self.uid}.{n}", "run": self.run.uid, "device": device.uid, "line": seen.line, "place": place,
            "label": label, "answer": seen.answer if predicted is not None else "seen", "predicted": predicted,
            "observed": observed, "at": self.said_at.astimezone(UTC).isoformat(), "by": self.by,
            "firmware": device.firmware, "photo": seen.photo,
            "grounds": grounds_of(self.layer, self.run, self.result.path),
        }  # fmt: skip


def _of_line(told: _Told, n: int, x: SeenAt) -> tuple[ObservationData, list[Change]]:
    """The observation of a read-out's line, and what a title that held proves of its leads."""
    if x.about is not None:
        box, label = told.layer.rig.devices[x.about.device], x.about.label[: bounds.OBSERVED_LETTERS]
        return told.observation(n, x, box, x.about.place, label, None, x.observed), []
    cards = readouts(told.layer, told.run, told.result)
    card = next((c for c in cards if x.line.startswith(f"{c.key}/")), None)
    if card is None:
        raise _no_line(x.line)
    device = told.layer.rig.devices[card.device]
    place = f"{device.label}, {card.place}"
    if x.line == photo_line(card):
        if not x.photo:
            raise ProblemError(422, "no_photograph", "A photograph without a photograph says nothing.", "photo")
        return told.observation(n, x, device, place, "photograph", None, None), []
    line = next((y for y in card.lines if line_key(card, y) == x.line), None)
    if line is None:
        raise _no_line(x.line)
    seen: str | None = x.observed.strip() or None
    if x.answer == "as_predicted":
        if line.says is None:
            words = "Nothing is predicted there: write down what is seen."
            raise ProblemError(422, "not_predicted", words, x.line[:80])
        seen = line.says
    elif seen is None and line.says in _OTHER:
        seen = _OTHER[line.says]  # listed where it should not be, or the other way round
    elif same(seen, line.says):
        x = replace(x, answer="as_predicted")
    data = told.observation(n, x, device, place, line.label, line.says, seen)
    if card.kind == "title" and line.key == HELD and seen == YES:
        return data, list(proofs_of(told.layer, told.result, arrival(told.layer, told.result)))
    return data, []


def _no_line(line: str) -> ProblemError:
    return ProblemError(404, "no_such_line", "There is no such line on this run any more: look again.", line[:80])


def _of_rate(told: _Told, n: int, x: SeenAt) -> tuple[ObservationData, list[Change]]:
    """The outcome of a rate test, and what all outcomes together prove."""
    test = next((t for t in rate_tests(told.layer, told.result) if line_of(t.over) == x.line), None)
    if test is None:
        raise _no_line(x.line)
    if x.observed not in OUTCOMES:
        raise ProblemError(422, "no_outcome", f"A test of a rate {' or '.join(OUTCOMES)}.", "observed")
    data = told.observation(
        n, x, told.layer.rig.devices[told.run.source], "Rate test", test.signal.name, None, x.observed
    )
    before = {t["over"]: t["outcome"] for t in proof_data(told.layer, told.run)["tests"] if t["outcome"]}
    proof = rate_proof(told.layer, told.result, {**before, test.over: x.observed})
    ops = proved_ops(told.layer.rig, told.result, proof)
    if x.observed == HELD_AT:
        ops += failed_ops(told.layer.rig, told.run.uid, test, data.get("grounds", {}))
    return data, ops


@dataclass(frozen=True, slots=True)
class Measurement:
    """A measured line as it was kept. cause: which stage can make it differ, "" where it does not."""

    label: str
    observed: str
    predicted: str | None
    cause: str


@transaction.atomic
def keep_measured(
    *, job: models.Job, run_uid: str, uid: str, found: Sequence[Measured], at: datetime, actor: Any
) -> list[Measurement]:
    """Keep what a page on the source measured of a run, in the name of whoever opened it."""
    job = models.Job.objects.select_for_update().get(pk=job.pk)
    run, layer = run_of(job, run_uid), layer_of(job, "found")
    result = run_result(layer, run)
    cards = [c for c in readouts(layer, run, result, probed=True) if c.kind == "probe"]
    if not cards:
        raise ProblemError(409, "not_joined", "This run is not joined: what arrives cannot be told.")
    card, source = cards[0], layer.rig.devices[run.source]
    says = {x.key: x.says for x in card.lines}
    told = _Told(layer, run, result, uid, at, _name(actor, "by the probe"))
    ops, kept = [], []
    for n, x in enumerate(found):
        predicted = says.get(x.key) or x.should
        same = predicted is not None and predicted == x.observed
        at_line = SeenAt(f"{card.key}/{x.key}", "as_predicted" if same else "differs")
        place = f"{source.label}, {card.place}"
        data = told.observation(n, at_line, source, place, x.label, predicted, x.words)
        ops.append({"op": "observe", "observation": data})
        cause = what_can_cause(x.observed, predicted) if x.key == "rate" else ""
        kept.append(Measurement(x.label, x.words, predicted, cause))
    label = f"measured by the source: {found[0].observed}"
    change_job(job_uid=job.uid, base=job.revision, uid=_change_of(uid), ops=ops, actor=actor, label=label)
    return kept


@transaction.atomic
def take_back(*, job_uid: str, uid: str, seen_uid: str, actor: Any) -> models.Job:
    """An observation was a slip: it goes, with what it proved where nothing else has changed that since."""
    job = job_by_uid(job_uid, lock=True)
    if job.changes.filter(uid=uid).exists():
        return job
    if seen_uid not in rig_of(job).observations:
        raise ProblemError(404, "no_such_observation", "There is no such observation in this job.", seen_uid[:40])
    made = job.changes.filter(uid=_change_of(seen_uid)).first()
    ops: list[Any] = [{"op": "take_back", "observation": seen_uid}]
    if made is not None and sum(op["op"] == "observe" for op in made.ops) == 1:
        paths = {p for op in made.ops[1:] for p in touched(op)}
        since = job.changes.filter(revision__gt=made.revision)
        if not any(overlapping(paths, touched(op)) for change in since for op in change.ops):
            ops = made.inverse
    return change_job(
        job_uid=job.uid, base=job.revision, uid=uid, ops=ops, actor=actor, label="observation taken back"
    ).job


class SinceWhen:
    """Asks a job's history when something that an observation rests on was changed; reads it at most once."""

    def __init__(self, job: models.Job) -> None:
        self.job = job
        self._changes: list[tuple[str, list[set[str]]]] | None = None

    def __call__(self, seen: Observation, paths: tuple[str, ...]) -> str | None:
        if self._changes is None:
            rows = self.job.changes.order_by("-revision").values_list("at", "ops")[:_LOOKED_BACK]
            self._changes = [
                (at.astimezone(UTC).isoformat(), [touched(op) for op in ops]) for at, ops in reversed(rows)
            ]
        for at, touches in self._changes:
            if at > seen.at and any(overlapping(set(paths), t) for t in touches):
                return at
        return None


def with_photographs(rig: Rig, names: Mapping[str, str]) -> dict[str, Observation]:
    """The observations of a rig with their photographs by the names they have here; one that is not there: none."""
    return {u: replace(o, photo=names.get(o.photo, "")) for u, o in rig.observations.items()}
