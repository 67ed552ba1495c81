"""Writes of visits. Opening and closing one keeps the job's state; closing sets when somebody is to look in again."""

from __future__ import annotations

from datetime import datetime, timedelta

from django.db import transaction
from django.utils import timezone

from wavilex.server.accounts.asking import asking_name
from wavilex.server.config import limits
from wavilex.server.jobs.folding import fold
from wavilex.server.jobs.log import write
from wavilex.server.jobs.models import Job, Visit
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.problems import ProblemError
from wavilex.server.visits.selectors import did_on
from wavilex.server.visits.states import keep_state


def _visit(job: Job, uid: str) -> Visit:
    visit = job.visits.filter(uid=uid).first()
    if visit is None:
        raise ProblemError(404, "no_such_visit", "There is no such visit of this job.", uid[:40])
    return visit


@transaction.atomic
def plan_visit(
    *, job_uid: str, uid: str, title: str, who: str, note: str, planned_for: datetime | None
) -> Visit:  # fmt: skip
    """A visit that is to come. The same uid twice is one visit."""
    job = job_by_uid(job_uid, lock=True)
    known = job.visits.filter(uid=uid).first()
    if known is not None:
        return known
    if job.visits.count() >= limits.VISITS:
        raise ProblemError(422, "too_many_visits", f"A job holds {limits.VISITS} visits.")
    visit = job.visits.create(uid=uid, state="planned", title=title, who=who, note=note, planned_for=planned_for)
    write(job, "visit", f"visit planned{_told(visit)}", by=asking_name(), ref=uid)
    return visit


@transaction.atomic
def edit_visit(
    *, job_uid: str, uid: str, title: str, who: str, note: str, planned_for: datetime | None
) -> Visit:  # fmt: skip
    """Its words, whatever its state."""
    visit = _visit(job_by_uid(job_uid, lock=True), uid)
    visit.title, visit.who, visit.note, visit.planned_for = title, who, note, planned_for
    visit.save()
    return visit


@transaction.atomic
def move_visit(*, job_uid: str, uid: str, state: str) -> Visit:
    """Open a planned visit, close the one under way, drop or take up a planned one again. Raises ProblemError 409 for
    any other way.
    """
    job = job_by_uid(job_uid, lock=True)
    visit = _visit(job, uid)
    if visit.state == state:
        return visit
    now, was = timezone.now(), visit.state
    if (was, state) == ("planned", "open"):
        if job.visits.filter(state="open").exists():
            raise ProblemError(409, "visit_open", "Another visit of this job is under way: close it first.")
        visit.opened_at, visit.opened_revision, visit.state_open = now, job.revision, keep_state(job)
    elif (was, state) == ("open", "closed"):
        visit.closed_at, visit.closed_revision, visit.state_close = now, job.revision, keep_state(job)
        visit.did = did_on(visit)
        job.due = _due(job, now)
        job.save(update_fields=["due"])
    elif (was, state) == ("closed", "open"):
        if job.visits.filter(state="open").exists():
            raise ProblemError(409, "visit_open", "Another visit of this job is under way: close it first.")
        visit.closed_at = visit.closed_revision = visit.state_close = visit.did = None
    elif (was, state) not in (("planned", "dropped"), ("dropped", "planned")):
        raise ProblemError(409, "visit_state", f"A visit that is {was} cannot be made {state}.")
    visit.state = state
    visit.save()
    said = {"open": "visit begun", "closed": "visit closed", "dropped": "visit dropped", "planned": "visit planned"}
    if state == "open":
        fold(job_pk=job.pk)
    again = " again" if (was, state) in (("closed", "open"), ("dropped", "planned")) else ""
    write(job, "visit", f"{said[state]}{again}{_told(visit)}", by=asking_name(), ref=uid)
    return visit


def _told(visit: Visit) -> str:
    words = [visit.title, visit.who, f"for {visit.planned_for:%-d %B %Y}" if visit.planned_for else ""]
    said = ", ".join(w for w in words if w)
    return f": {said}" if said else ""


def _due(job: Job, since: datetime) -> datetime | None:
    return since + timedelta(days=job.check_days) if job.check_days else None


@transaction.atomic
def set_regular(*, job_uid: str, days: int | None) -> Job:
    """How often somebody looks in; counted from the last visit that was closed, else from now. None: never."""
    job = job_by_uid(job_uid, lock=True)
    job.check_days = days
    last = job.visits.filter(state="closed").order_by("-closed_at").first()
    job.due = _due(job, last.closed_at if last is not None and last.closed_at is not None else timezone.now())
    job.save(update_fields=["check_days", "due"])
    words = f"looked in every {days} days" if days else "no regular checks any more"
    write(job, "visit", words, by=asking_name())
    return job
