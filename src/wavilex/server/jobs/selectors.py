"""Reads of jobs. Never writes."""

from __future__ import annotations

from django.db.models import Count

from wavilex.server.jobs import models
from wavilex.server.problems import ProblemError


def job_by_uid(uid: str, *, lock: bool = False) -> models.Job:
    """The job, or a 404 problem. `lock` inside a transaction: nobody else writes it meanwhile."""
    rows = models.Job.objects.select_for_update() if lock else models.Job.objects
    try:
        return rows.get(uid=uid)
    except models.Job.DoesNotExist:
        raise ProblemError(404, "no_such_job", "There is no such job.", uid[:40]) from None


def jobs(*, archived: bool = False) -> list[models.Job]:
    return list(models.Job.objects.filter(archived=archived))


def reading_count(job: models.Job) -> int:
    """Lag readings of a job that count. The bench's tables hang on the job; nothing of the bench is imported here."""
    return int(job.lag_sessions.filter(readings__discard="").aggregate(n=Count("readings"))["n"])
