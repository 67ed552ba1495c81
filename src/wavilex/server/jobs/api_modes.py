"""Settings over time: what each render rate looks like on a run, what screens store apart."""

from __future__ import annotations

from typing import Literal

from django.http import HttpRequest
from ninja import Query, Router

from wavilex.core.chain.carry import run_result
from wavilex.core.modes.coverage import coverage_data
from wavilex.core.modes.run_refresh import refresh_data
from wavilex.core.modes.shapes import CoverageOut, RefreshOut
from wavilex.core.rig.ops import LayerName
from wavilex.server.jobs.api import READ
from wavilex.server.jobs.cache import ANSWER_BYTES, layer_of, remembered
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.jobs.steps import events_of
from wavilex.server.jobs.views import at_run
from wavilex.server.problems import ProblemError

router = Router()
State = Literal["window", "repeated", "once", "even", "uneven", "over"]


@router.get("/jobs/{job_uid}/runs/{run_uid}/refresh", operation_id="refresh", response={200: RefreshOut, **READ})
def refresh(
    request: HttpRequest, job_uid: str, run_uid: str, layer: Query[LayerName] = "plan", repeats: bool | None = None
) -> RefreshOut:
    """What each render rate, and each title of the job, looks like on a run. repeats: left out, as the source does."""
    job, view, run = at_run(job_uid, run_uid, layer)
    key = ("refresh", run_uid, layer, repeats)
    data = remembered(job, key, lambda: refresh_data(view, run_result(view, run), repeats), ANSWER_BYTES)
    if data is None:
        raise ProblemError(404, "no_digital_path", "This run has no digital path yet: plug it in first.", run_uid[:40])
    return data


@router.get("/jobs/{job_uid}/coverage", operation_id="coverage", response={200: list[CoverageOut], **READ})
def coverage(request: HttpRequest, job_uid: str) -> list[CoverageOut]:
    """What every screen stores apart, as far as the job needs it, and how each part stands."""
    job = job_by_uid(job_uid)
    return coverage_data(layer_of(job, "plan"), {e.key: e.state for e in events_of(job)})
