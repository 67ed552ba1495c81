"""Storing a whole job read from a file."""

from __future__ import annotations

from django.db import transaction

from wavilex.core.rig.jobfile import Job as CoreJob
from wavilex.core.rig.model import Rig
from wavilex.server.bench.services import import_sessions
from wavilex.server.jobs.models import Job
from wavilex.server.jobs.services import create_job, new_uid, summary_of, within_limits
from wavilex.server.jobs.steps import import_ticks
from wavilex.server.jobs.store import save_rig


@transaction.atomic
def import_job(*, job: CoreJob, fresh_uid: bool = True) -> Job:
    """Store a whole job read from a file, as a new job; all or nothing."""
    row = create_job(title=job.title, time_zone=job.time_zone, uid=new_uid() if fresh_uid else job.uid)
    within_limits(job.rig)
    save_rig(row, Rig(), job.rig)
    row.summary = summary_of(row, job.rig)
    row.save()
    import_sessions(row, job.lag)
    import_ticks(row, job.ticks)
    return row
