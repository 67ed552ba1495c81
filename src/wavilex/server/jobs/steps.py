"""Ticks of the run sheet: each event is kept once, and a tick records as found what its step says."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime
from typing import Any

from django.db import transaction

from wavilex.core.errors import ChangeError
from wavilex.core.rig.jobfile import TickRow
from wavilex.core.rig.ops import Observe
from wavilex.core.runsheet.sheet import Event, step_grounds, steps_now
from wavilex.core.runsheet.step import Step
from wavilex.core.ticks import DONE, REVERTED, TICK_STATES, UNDONE
from wavilex.core.visits.said import boxes_of
from wavilex.server.jobs import models
from wavilex.server.jobs.cache import rig_of
from wavilex.server.jobs.log import write
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.jobs.services import change_job
from wavilex.server.problems import ProblemError


def events_of(job: models.Job) -> list[Event]:
    """Every step event of a job, oldest first."""
    states = {str(s): s for s in TICK_STATES}
    return [
        Event(r.key, states[r.state], r.title, r.phase, r.said_at.isoformat(),
              r.actor.get_username() if r.actor else "", tuple(r.grounds.items()))
        for r in job.steps.select_related("actor")
    ]  # fmt: skip


def tick_rows(job: models.Job) -> tuple[TickRow, ...]:
    """A job's step events as a job file holds them."""
    return tuple(
        TickRow(
            key=r.key,
            state=r.state,
            title=r.title,
            phase=r.phase,
            at=r.said_at.astimezone(UTC).isoformat(),
            grounds=r.grounds,
        )
        for r in job.steps.all()
    )


def import_ticks(job: models.Job, rows: Sequence[TickRow]) -> None:
    """Store the ticks of a job file. What they recorded is in the file’s found state already."""
    job.steps.bulk_create(
        models.StepEvent(
            job=job, uid=f"file-{n:06}", key=r.key, state=r.state, title=r.title, phase=r.phase or "hand",
            said_at=datetime.fromisoformat(r.at), grounds=r.grounds,
        )
        for n, r in enumerate(rows)
    )  # fmt: skip


@transaction.atomic
def tick(*, job_uid: str, uid: str, key: str, state: str, said_at: datetime, actor: Any) -> models.Job:
    """Keep an event. The same uid twice is kept once; no revision is asked for, so it may come late.

    A tick of a step that is not on the sheet any more (done elsewhere meanwhile) is kept where the step is known.
    """
    job = job_by_uid(job_uid, lock=True)
    if job.steps.filter(uid=uid).exists():
        return job
    earlier = job.steps.filter(key=key).last()
    if state == UNDONE:
        return _take_back(job, earlier, uid, key, said_at, actor)
    step = next((s for s in steps_now(rig_of(job), events_of(job)) if s.key == key), None)
    if step is None and earlier is None:
        raise ProblemError(404, "no_such_step", "There is no such step on this run sheet any more.", key)
    title, phase = (step.title, step.phase) if step else (earlier.title, earlier.phase)  # type: ignore[union-attr]
    change = None
    if step is not None and step.ops and state == DONE:
        done = change_job(
            job_uid=job.uid, base=job.revision, uid=f"tick-{uid}"[:64], ops=step.ops, actor=actor,
            label=f"ticked: {title}",
        )  # fmt: skip
        job, change = done.job, done.change
    seen = reverted_op(job.uid, uid, step, said_at, actor) if step is not None and state == REVERTED else None
    if seen is not None:
        done = change_job(
            job_uid=job.uid, base=job.revision, uid=f"tick-{uid}"[:64], ops=[seen], actor=actor,
            label=f"reverted: {title}",
        )  # fmt: skip
        job, change = done.job, done.change
    rig = rig_of(job)
    job.steps.create(
        uid=uid, key=key, state=state, title=title[:240], phase=phase, change=change, actor=actor, said_at=said_at,
        grounds=step_grounds(rig, step) if step is not None and state == DONE else {},
    )  # fmt: skip
    boxes = boxes_of(step.ops) if step is not None else ()
    write(job, "tick", f"{state}: {title}", by=actor.get_username(), at=said_at, ref=key, boxes=boxes, rig=rig)
    return job


def reverted_op(job_uid: str, uid: str, step: Step, said_at: datetime, actor: Any) -> Observe | None:
    """A setting that did not stay, as an observation of its box; None where a page set several: nobody saw which."""
    sets = [op for op in step.ops if op["op"] == "set_setting"]
    if len(sets) != 1 or sets[0]["value"] is None:
        return None
    op, kept = sets[0], str(sets[0]["value"])
    device = rig_of(job_by_uid(job_uid)).devices[op["device"]]
    setting = device.profile.setting(op["key"])
    value = setting.option_label(kept) if setting else kept
    name = setting.label if setting else op["key"]
    return {"op": "observe", "observation": {
        "uid": f"rev-{uid}"[:40], "run": "", "device": device.uid,
        "line": f"reverted/{op.get('scope', '')}/{op['key']}/{op['value']}", "answer": "differs",
        "place": device.place(op.get("scope", "")), "label": name, "predicted": f"{value} stays",
        "observed": f"{value} reverted, by the box itself or by its path", "by": actor.get_username(),
        "at": said_at.astimezone(UTC).isoformat(), "firmware": device.firmware,
    }}  # fmt: skip


def _take_back(
    job: models.Job, earlier: models.StepEvent | None, uid: str, key: str, said_at: datetime, actor: Any
) -> models.Job:
    if earlier is None:
        raise ProblemError(404, "no_such_step", "This step was never ticked.", key)
    if earlier.change is not None and earlier.change.inverse and earlier.state != UNDONE:
        try:
            done = change_job(
                job_uid=job.uid, base=job.revision, uid=f"back-{uid}"[:64], ops=earlier.change.inverse, actor=actor,
                label=f"tick taken back: {earlier.title}",
            )  # fmt: skip
            job = done.job
        except ChangeError:
            pass  # what it recorded was changed since: only the tick goes
    job.steps.create(
        uid=uid, key=key, state=UNDONE, title=earlier.title, phase=earlier.phase, actor=actor, said_at=said_at
    )
    write(job, "tick", f"tick taken back: {earlier.title}", by=actor.get_username(), at=said_at, ref=key)
    return job
