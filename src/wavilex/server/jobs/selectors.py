"""Reads of jobs. Never writes."""

from __future__ import annotations

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
