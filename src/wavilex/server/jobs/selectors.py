"""Reads of jobs. Never writes."""

from __future__ import annotations

from datetime import datetime

from django.db.models import Count, Q, QuerySet
from django.utils import timezone

from wavilex.server.accounts.asking import who
from wavilex.server.config import limits
from wavilex.server.jobs import models
from wavilex.server.jobs.shapes import JobRow, JobsOut, Summary
from wavilex.server.problems import ProblemError


def seen_jobs() -> QuerySet[models.Job]:
    """The jobs that whoever asks may see: those kept to nobody, and those kept to them among others."""
    user, every = who(), models.Job.objects.all()
    return every if user is None else every.filter(Q(kept=False) | Q(pk__in=user.jobs_seen.values("pk")))


def job_by_uid(uid: str, *, lock: bool = False) -> models.Job:
    """The job, or a 404 problem. `lock` inside a transaction: nobody else writes it meanwhile."""
    rows = seen_jobs().select_for_update() if lock else seen_jobs()
    try:
        return rows.get(uid=uid)
    except models.Job.DoesNotExist:
        raise ProblemError(404, "no_such_job", "There is no such job.", uid[:40]) from None


def due_in(due: datetime | None) -> int | None:
    """Whole days until then, below 0: so many days ago."""
    return None if due is None else (due.date() - timezone.now().date()).days


def jobs_page(*, archived: bool = False, page: int = 1) -> JobsOut:
    """A page of the jobs, the latest changed first. Works nothing out: verdicts stand in each job's summary."""
    rows = seen_jobs().filter(archived=archived)
    total = rows.count()
    pages = max(1, -(-total // limits.JOBS_PER_PAGE))
    first = (min(page, pages) - 1) * limits.JOBS_PER_PAGE
    found: list[JobRow] = []
    for job in rows[first : first + limits.JOBS_PER_PAGE]:
        kept: Summary | None = job.summary
        found.append({
            "uid": job.uid, "title": job.title, "revision": job.revision, "archived": job.archived, "kept": job.kept,
            "changed_at": job.changed_at.isoformat(), "boxes": kept["boxes"] if kept else 0,
            "runs": kept["runs"] if kept else None, "broken": kept.get("broken", "") if kept else "",
            "due_in_days": due_in(job.due),
        })  # fmt: skip
    return {"jobs": found, "page": min(page, pages), "pages": pages, "total": total}


def reading_count(job: models.Job) -> int:
    """Lag readings of a job that count. The bench's tables hang on the job; nothing of the bench is imported here."""
    return int(job.lag_sessions.filter(readings__discard="").aggregate(n=Count("readings"))["n"])
