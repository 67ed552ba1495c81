"""A whole job as a file, and a file stored as a whole job."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.db import transaction
from django.utils import timezone

from wavilex.core.chain.paths import Layer
from wavilex.core.errors import WavilexError
from wavilex.core.rig.jobfile import Job as CoreJob
from wavilex.core.rig.jobfile import job_data
from wavilex.core.rig.model import Rig
from wavilex.core.tell.hand_shapes import HandoverOut
from wavilex.core.tell.handover import handover
from wavilex.core.visits.compare import compare
from wavilex.core.visits.shapes import StateDiff
from wavilex.server.bench.selectors import lag_rows, session_rows
from wavilex.server.bench.services import import_sessions
from wavilex.server.jobs import photographs
from wavilex.server.jobs.cache import ANSWER_BYTES, remembered, rig_of, states_of
from wavilex.server.jobs.models import Job
from wavilex.server.jobs.observing import with_photographs
from wavilex.server.jobs.repair import rows_as_file
from wavilex.server.jobs.services import create_job, new_uid, summary_of, within_limits
from wavilex.server.jobs.steps import events_of, import_ticks, tick_rows
from wavilex.server.jobs.store import save_rig
from wavilex.server.visits.states import kept_state, state_of


def file_of(job: Job) -> dict[str, Any]:
    """A job as a job file holds it; of one that cannot be read, its rows as they are stored."""
    try:
        rows = session_rows(job), tick_rows(job)
        return job_data(CoreJob(job.uid, job.title, job.time_zone, rig_of(job), *rows, photographs.as_text(job)))
    except WavilexError:
        return rows_as_file(job)


def hand_over(job: Job) -> HandoverOut:
    """The hand-over: of the plan, of what was measured, and of what stands better than at the first visit."""
    events = events_of(job)
    body = remembered(job, ("handover", len(events)), lambda: handover(rig_of(job), events), ANSWER_BYTES)
    since, improved = _improved(job)
    return {
        **body, "lag": lag_rows(job), "made_at": timezone.now().isoformat(), "since": since, "improved": improved,
    }  # fmt: skip


_BETTERED = ("verdict", "lag", "light")


def _improved(job: Job) -> tuple[str, list[StateDiff]]:
    """When the first visit found the job, and what of its runs, lag and light stands otherwise since."""
    first = job.visits.filter(state_open__isnull=False).select_related("state_open").order_by("opened_at").first()
    if first is None or first.state_open is None or first.opened_at is None:
        return "", []
    told = compare(kept_state(first.state_open), state_of(job), ("first", "now"))
    return first.opened_at.isoformat(), [r for r in told["rows"] if r["kind"] in _BETTERED]


@transaction.atomic
def import_job(*, job: CoreJob, fresh_uid: bool = True) -> Job:
    """Store a whole job read from a file, as a new job; all or nothing."""
    row = create_job(title=job.title, time_zone=job.time_zone, uid=new_uid() if fresh_uid else job.uid)
    within_limits(job.rig)
    names = photographs.bring_in(row, dict(job.photographs))
    rig = replace(job.rig, observations=with_photographs(job.rig, names))
    save_rig(row, Rig(), rig)
    row.summary = summary_of(Layer(rig, "plan", states_of(row)))
    row.save()
    import_sessions(row, job.lag, names)
    import_ticks(row, job.ticks)
    return row
