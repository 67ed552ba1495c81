"""Who sees a job; jobs removed for good out of what is put away."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.db import transaction

from wavilex.server.accounts.services import account, accounts
from wavilex.server.jobs import models
from wavilex.server.jobs.photographs import remove_all
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.jobs.shapes import AccessOut
from wavilex.server.problems import ProblemError


def access_of(job: models.Job) -> AccessOut:
    """Every account, and whether it sees the job."""
    named = set(job.readers.values_list("username", flat=True))
    return {
        "kept": job.kept,
        "accounts": [
            {"name": a["name"], "role": a["role"], "sees": not job.kept or a["name"] in named} for a in accounts()
        ],
    }  # fmt: skip


@transaction.atomic
def set_access(*, job_uid: str, kept: bool, names: Sequence[str], asker: Any) -> AccessOut:
    """Keep a job to the accounts named and whoever asks; or show it to all."""
    job = job_by_uid(job_uid, lock=True)
    job.readers.set([asker, *map(account, names)] if kept else [])
    job.kept = kept
    job.save(update_fields=["kept"])
    return access_of(job)


@transaction.atomic
def remove_job(*, job_uid: str) -> None:
    """Remove a job with all that hangs on it. Only one that is put away: that is the waiting bin."""
    job = job_by_uid(job_uid, lock=True)
    if not job.archived:
        raise ProblemError(409, "put_away_first", "Put the job away first; what is put away can be removed.")
    job.steps.all().delete()  # they hold on to the changes they recorded
    remove_all(job)
    job.delete()
