"""Writes to jobs. Each function owns its transaction; all edits go through the core's changes."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from django.db import transaction
from django.db.models import Max

from wavilex import __version__
from wavilex.core import bounds
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.errors import ChangeError, WavilexError
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig
from wavilex.core.rig.ops import read_change
from wavilex.core.rig.touched import asked, overlapping, touched
from wavilex.server.config import limits
from wavilex.server.jobs import models
from wavilex.server.jobs.cache import keep_rig, layer_of, rig_of
from wavilex.server.jobs.history import history_of, keep_history
from wavilex.server.jobs.log import write_change
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.jobs.shapes import RunVerdict, Summary
from wavilex.server.jobs.store import save_rig
from wavilex.server.problems import ProblemError

StepKind = Literal["undo", "redo"]


@dataclass(frozen=True, slots=True)
class Done:
    """What a change led to. `repeated`: this uid had been applied before, nothing was done again."""

    job: models.Job
    change: models.ChangeSet
    repeated: bool = False


@transaction.atomic
def create_job(*, title: str, time_zone: str = "UTC", uid: str | None = None) -> models.Job:
    """A new, empty job."""
    if models.Job.objects.count() >= limits.JOBS:
        raise ProblemError(422, "too_many_jobs", f"There are {limits.JOBS} jobs: remove some that are put away.")
    nothing: Summary = {"version": __version__, "boxes": 0, "runs": [], "broken": ""}
    return models.Job.objects.create(uid=uid or new_uid(), title=title, time_zone=time_zone, summary=nothing)


def new_uid() -> str:
    return uuid.uuid4().hex[:16]


@transaction.atomic
def change_job(
    *,
    job_uid: str,
    base: int,
    line: str = "",
    uid: str,
    ops: Sequence[Mapping[str, Any]],
    actor: Any,
    kind: str = "edit",
    label: str = "",
) -> Done:
    """Apply changes on top of revision `base` of a line of history. The same uid twice is done once.

    Later edits by others are no obstacle unless they touched the same paths; then ProblemError 409
    carries both versions and nothing is written.
    """
    job = job_by_uid(job_uid, lock=True)
    earlier = job.changes.filter(uid=uid).first()
    if earlier is not None:
        return Done(job, earlier, repeated=True)
    same_line(job, line)
    if base > job.revision:
        raise ProblemError(409, "revision_unknown", "This page knows a later state than the server. Load it again.")
    if base < job.folded_to:
        words = "This page is from before the last visit: load it again, then look whether this is still wanted."
        raise ProblemError(409, "before_the_visit", words)
    if base < job.revision:
        _refuse_clash(job, base, ops)
    before, past = rig_of(job), history_of(job)
    after, inverse = apply(before, ops)
    within_limits(after)
    save_rig(job, before, after)
    job.revision += 1
    job.mark = models.new_mark()
    keep_rig(job, after)  # should the transaction fail after all, nobody asks by this mark
    job.summary = summary_of(layer_of(job, "plan"))
    job.save()
    change = job.changes.create(
        uid=uid, kind=kind, base=base, revision=job.revision, actor=actor, ops=list(ops), inverse=inverse,
        label=label[:200],
    )  # fmt: skip
    keep_history(job, past, change)
    by = actor.get_username() if actor is not None else ""
    write_change(job, before, after, [read_change(op) for op in ops], label=label, kind=kind, by=by, ref=uid)
    return Done(job, change)


def stamped(ops: Sequence[Any], actor: Any) -> list[Any]:
    """Changes as somebody sent them, with who really saw what they say was seen."""
    name = actor.get_username()
    held = {"observe": "observation", "note_light": "note"}
    out = []
    for op in ops:
        key = held.get(str(op.get("op"))) if isinstance(op, dict) else None
        mine = key is not None and isinstance(op.get(key), dict)
        out.append({**op, key: {**op[key], "by": name}} if mine else op)
    return out


def same_line(job: models.Job, line: str) -> None:
    """Refuse what was made on a history that a restore has replaced. Raises ProblemError 409."""
    if line and line != job.line:
        raise ProblemError(
            409, "put_back", "The data was put back to an earlier state. The page has read it again; "
            "look whether this is still wanted.",
        )  # fmt: skip


def summary_of(layer: Layer) -> Summary:
    """What the list shows of a job, by its plan."""
    rig = layer.rig
    runs: list[RunVerdict] = [{"label": r.label, "verdict": run_result(layer, r).verdict} for r in rig.runs.values()]
    return {"version": __version__, "boxes": len(rig.devices), "runs": runs, "broken": ""}


def fill_summaries() -> int:
    """Work out what the list shows of jobs that another version wrote. Answers how many."""
    stale = models.Job.objects.exclude(summary__version=__version__)
    for job in stale:
        models.Job.objects.filter(pk=job.pk, revision=job.revision).update(summary=_told(job))
    return len(stale)


def _told(job: models.Job) -> Summary:
    """The summary of a job as it is stored; of one that cannot be worked out, why."""
    try:
        return summary_of(layer_of(job, "plan"))
    except Exception as error:  # one bad job is one bad row
        why = error.message if isinstance(error, WavilexError) else type(error).__name__
        return {"version": __version__, "boxes": job.devices.count(), "runs": [], "broken": why}


def _refuse_clash(job: models.Job, base: int, ops: Sequence[Mapping[str, Any]]) -> None:
    mine = {path: op for op in map(read_change, ops) for path in touched(op)}
    clashes = []
    for change in job.changes.filter(revision__gt=base).select_related("actor"):
        for op in change.ops:
            for path in sorted(overlapping(set(mine), touched(op))):
                name = change.actor.get_username() if change.actor else "somebody"
                clashes.append({
                    "path": path, "yours": mine[path], "theirs": op, "by": name, "at": change.at.isoformat(),
                    "yours_words": asked(mine[path]), "theirs_words": asked(op),
                })  # fmt: skip
    if clashes:
        raise ProblemError(
            409, "clash", "Somebody changed the same thing meanwhile. Choose which version stays.",
            clashes[0]["path"], clashes=clashes, revision=job.revision,
        )  # fmt: skip


def within_limits(rig: Rig) -> None:
    """Raises ChangeError for a job larger than a job may be."""
    for held, most, name in (
        (rig.devices, bounds.DEVICES, "boxes"), (rig.runs, bounds.RUNS, "runs"), (rig.rooms, bounds.ROOMS, "rooms"),
        (rig.leads, bounds.LEADS, "leads"), (rig.titles, bounds.TITLES, "titles"),
        (rig.settings, bounds.SETTINGS, "settings"), (rig.facts, bounds.FACTS, "facts"),
        (rig.observations, bounds.OBSERVATIONS, "observations"),
        (rig.light, bounds.LIGHT_NOTES, "light notes"),
    ):  # fmt: skip
        if len(held) > most:
            raise ChangeError(f"a job holds at most {most} {name}")


@transaction.atomic
def step_history(
    *, job_uid: str, uid: str, actor: Any, kind: StepKind, seen: int | None = None, line: str = "", others: bool = False
) -> Done:
    """Undo or redo: apply the stored inverse of the latest change (or of the latest undo).

    seen: the revision the person looked at, of `line`; after another one nothing is done. others: also where
    somebody else made that change; else ProblemError 409 asks first.
    """
    job = job_by_uid(job_uid, lock=True)
    earlier = job.changes.filter(uid=uid).first()
    if earlier is not None:
        return Done(job, earlier, repeated=True)
    same_line(job, line)
    past = history_of(job)
    stack = past.undo if kind == "undo" else past.redo
    if not stack:
        raise ProblemError(409, f"nothing_to_{kind}", f"There is nothing to {kind}.")
    if seen is not None and seen != job.revision:
        raise ProblemError(409, "moved_on", "The job was changed meanwhile: look at it again first.")
    target = job.changes.select_related("actor").get(pk=stack[-1].pk)
    if target.actor is not None and target.actor != actor and not others:
        name, what = target.actor.get_username(), target.label or "a change"
        raise ProblemError(409, "of_another", f"The latest change is {name}’s: {what}.", by=name, label=what)
    return change_job(
        job_uid=job_uid, base=job.revision, uid=uid, ops=target.inverse, actor=actor, kind=kind, label=target.label
    )


@transaction.atomic
def archive_job(*, job_uid: str, archived: bool) -> models.Job:
    """Put a job away or bring it back. Nothing is lost."""
    job = job_by_uid(job_uid, lock=True)
    job.archived = archived
    job.save()
    return job


def latest_revision() -> int:
    """The highest revision of any job: what a backup is named by."""
    return models.Job.objects.aggregate(top=Max("revision"))["top"] or 0
