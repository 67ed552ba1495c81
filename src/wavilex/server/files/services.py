"""A whole job as a file, and a file stored as a whole job."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.db import transaction

from wavilex.core.errors import WavilexError
from wavilex.core.rig.jobfile import Job as CoreJob
from wavilex.core.rig.jobfile import job_data
from wavilex.core.rig.model import Rig
from wavilex.server.bench.selectors import session_rows
from wavilex.server.bench.services import import_sessions
from wavilex.server.jobs import photographs
from wavilex.server.jobs.cache import rig_of
from wavilex.server.jobs.models import Job
from wavilex.server.jobs.observing import with_photographs
from wavilex.server.jobs.repair import rows_as_file
from wavilex.server.jobs.services import create_job, new_uid, summary_of, within_limits
from wavilex.server.jobs.steps import import_ticks, tick_rows
from wavilex.server.jobs.store import save_rig


def file_of(job: Job) -> dict[str, Any]:
    """A job as a job file holds it; of one that cannot be read, its rows as they are stored."""
    try:
        rows = session_rows(job), tick_rows(job)
        return job_data(CoreJob(job.uid, job.title, job.time_zone, rig_of(job), *rows, photographs.as_text(job)))
    except WavilexError:
        return rows_as_file(job)


@transaction.atomic
def import_job(*, job: CoreJob, fresh_uid: bool = True) -> Job:
    """Store a whole job read from a file, as a new job; all or nothing."""
    row = create_job(title=job.title, time_zone=job.time_zone, uid=new_uid() if fresh_uid else job.uid)
    within_limits(job.rig)
    names = photographs.bring_in(row, dict(job.photographs))
    rig = replace(job.rig, observations=with_photographs(job.rig, names))
    save_rig(row, Rig(), rig)
    row.summary = summary_of(row, rig)
    row.save()
    import_sessions(row, job.lag, names)
    import_ticks(row, job.ticks)
    return row
