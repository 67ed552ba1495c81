"""What a look after an update showed, and what a client keeps by his own hand: written as changes of the job."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, datetime
from typing import Any, Literal

from django.db import transaction

from wavilex.core.rig.ops import Change
from wavilex.core.rig.visit_facts import keep_ops
from wavilex.core.visits.recheck import came_back, differs, recheck, stays
from wavilex.server.jobs.cache import rig_of, states_of
from wavilex.server.jobs.models import Job
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.jobs.services import change_job
from wavilex.server.problems import ProblemError
from wavilex.server.shelf.selectors import after_updates_of

Outcome = Literal["stays", "differs", "came_back"]


@transaction.atomic
def answer(
    *, job_uid: str, uid: str, device: str, version: str, key: str, outcome: Outcome,
    back: Mapping[tuple[str, str], str], said_at: datetime, actor: Any,
) -> Job:  # fmt: skip
    """Keep what a look of the list showed, as one change. The same uid twice is kept once."""
    job = job_by_uid(job_uid, lock=True)
    if job.changes.filter(uid=_uid(uid)).exists():
        return job
    rig = rig_of(job)
    found = recheck(rig, device, version, states_of(job), after_updates_of(rig).get(device, ()))
    if found.device.firmware != version:
        words = f"{found.device.label} does not run {version} any more: say which version it has now."
        raise ProblemError(409, "other_version", words, "version")
    look = next((s.look for s in found.steps if s.look.key == key), None)
    if look is None:
        raise ProblemError(409, "no_such_look", "The list is another by now: look at it again.", "key")
    if outcome != "stays" and outcome != {"card": "differs", "page": "came_back"}[look.kind]:
        words = "Of a read-out one says that it differs, of a menu page what came back."
        raise ProblemError(422, "not_there", words, "outcome")
    if outcome == "came_back" and not back:
        raise ProblemError(422, "nothing_came_back", "Say which setting came back, and to what.", "back")
    day = said_at.astimezone(UTC).date().isoformat()
    ops: list[Change] = (
        came_back(rig, found, look, back, day) if outcome == "came_back"
        else differs(rig, found, look, day) if outcome == "differs" else stays(rig, found, look, day)
    )  # fmt: skip
    said = {"stays": "as before", "differs": "says something else", "came_back": "came back"}[outcome]
    label = f"after {found.device.label} {version}: {look.title} {said}"
    return change_job(job_uid=job.uid, base=job.revision, uid=_uid(uid), ops=ops, actor=actor, label=label).job


def _uid(uid: str) -> str:
    return f"look-{uid}"


@transaction.atomic
def keep_by_hand(
    *, job_uid: str, uid: str, device: str, scope: str, key: str, value: str, because: str, by: str,
    said_at: datetime, actor: Any,
) -> Job:  # fmt: skip
    """Note that a client set something himself and wants it so; because "": no longer. Kept once by uid."""
    job = job_by_uid(job_uid, lock=True)
    if job.changes.filter(uid=f"kept-{uid}").exists():
        return job
    day = said_at.astimezone(UTC).date().isoformat()
    ops = keep_ops(rig_of(job), (device, scope, key), value, because.strip(), by.strip(), day)
    label = "kept by the client’s hand" if because else "no longer kept by the client’s hand"
    return change_job(job_uid=job.uid, base=job.revision, uid=f"kept-{uid}", ops=ops, actor=actor, label=label).job
