"""A job that cannot be worked out: what is wrong, what was done last, and its rows as a file, read without judging."""

from __future__ import annotations

import logging
from typing import Any

from django.http import HttpResponse

from wavilex.core.errors import WavilexError
from wavilex.core.rig.jobfile import JOB_VERSION
from wavilex.core.rig.ops import LayerName
from wavilex.server.jobs import models
from wavilex.server.jobs.history import history_of
from wavilex.server.jobs.views import whole
from wavilex.server.problems import ProblemError

log = logging.getLogger("wavilex.repair")
_SHOWN = 20
_LEAD = ("uid", "label", "kind", "grade", "length_mm", "build", "power", "turned", "proved", "failed", "found", "plan",
         "mark")  # fmt: skip
_WANT = ("mode", "hdr", "chroma", "bits", "vrr", "low_lag", "audio", "protected", "weight")


def cannot(job: models.Job, error: Exception) -> ProblemError:
    """What is told of a job that cannot be worked out, with what its repair view shows."""
    if not isinstance(error, WavilexError):
        log.exception("job %s cannot be worked out", job.uid, exc_info=error)
    why = error.message if isinstance(error, WavilexError) else "the log says more"
    past = history_of(job)
    latest = job.changes.select_related("actor").order_by("-revision")[:_SHOWN]
    return ProblemError(
        422, "cannot_work_out", f"This job cannot be worked out: {why}.", error.where if isinstance(error, WavilexError)
        else "", job_title=job.title, revision=job.revision, line=job.line,
        can_undo=(past.undo[-1].label or "the last change") if past.undo else None,
        history=[
            {"revision": c.revision, "label": c.label or c.kind, "by": c.actor.get_username() if c.actor else "",
             "at": c.at.isoformat()} for c in latest
        ],
    )  # fmt: skip


def whole_or_repair(job: models.Job, layer: LayerName) -> HttpResponse:
    """The job as the sheets show it, or the problem that opens its repair view."""
    try:
        return whole(job, layer)
    except ProblemError:
        raise
    except Exception as error:  # whatever it is, the person must get at history and file
        raise cannot(job, error) from error


def rows_as_file(job: models.Job) -> dict[str, Any]:
    """The stored rows in the shape of a job file, for mending by hand. Nothing is read into the core."""
    devices = list(job.devices.select_related("room"))
    settings = models.Setting.objects.filter(device__job=job)
    facts = models.Fact.objects.filter(device__job=job)
    return {
        "wavilex_job": JOB_VERSION, "uid": job.uid, "title": job.title, "time_zone": job.time_zone,
        "house_style": job.style, "survey": job.survey, "rooms": list(job.rooms.values_list("name", flat=True)),
        "distances": [{"rooms": [a, b], "mm": mm} for a, b, mm in job.distances],
        "titles": list(job.titles.values("uid", "name", "modes", "competitive", "hdr", "style")),
        "profiles": {d.digest: d.profile for d in devices},
        "devices": [
            {"uid": d.uid, "label": d.label, "room": d.room.name if d.room else "", "firmware": d.firmware,
             "firmware_plan": d.firmware_plan, "mark": d.mark, "profile": d.digest} for d in devices
        ],
        "leads": list(job.leads.values(*_LEAD)),
        "settings": [
            {"device": device, "scope": scope, "key": key, "found": found, "plan": plan}
            for device, scope, key, found, plan in settings.values_list("device__uid", "scope", "key", "found", "plan")
        ],
        "facts": [
            {"device": device, "path": path, "value": value, "provenance": provenance}
            for device, path, value, provenance in facts.values_list("device__uid", "path", "value", "provenance")
        ],
        "runs": [
            {"uid": r.uid, "label": r.label, "source": r.source.uid, "sink": r.sink.uid,
             "want": {key: getattr(r.want, key) for key in _WANT}, "style": r.style, "way": r.way}
            for r in job.runs.select_related("source", "sink", "want")
        ],
        "observations": list(job.observations.values_list("data", flat=True)),
        "light": list(job.light_notes.values_list("data", flat=True)),
    }  # fmt: skip
