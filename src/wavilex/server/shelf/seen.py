"""What a job's lag sessions, run sheet and closed searches say of its boxes, for the shelf."""

from __future__ import annotations

from collections.abc import Sequence

from wavilex.core.fault.confirmed import confirmed_faults
from wavilex.core.lag.seen import seen_lag
from wavilex.core.rig.learned import Seen
from wavilex.core.rig.model import Rig
from wavilex.core.runsheet.came_back import came_back
from wavilex.server.bench.selectors import report_of
from wavilex.server.jobs.models import Job
from wavilex.server.jobs.steps import events_of


def seen_in(job: Job, rig: Rig) -> dict[str, Sequence[Seen]]:
    """By box: what was measured there, what it put back, which faults were confirmed."""
    out: dict[str, list[Seen]] = {}
    for session in job.lag_sessions.all():
        out.setdefault(session.device, []).extend(seen_lag(report_of(session)))
    for device, seen in (*came_back(rig, events_of(job)), *confirmed_faults(rig)):
        out.setdefault(device, []).append(seen)
    return dict(out)
