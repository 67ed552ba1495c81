"""The wiring as a whole: the best assignment, drawings, the cable schedule."""

from __future__ import annotations

from typing import Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router

from wavilex.core.advise.assign import assign
from wavilex.core.advise.shapes import AssignmentOut
from wavilex.core.rig.exchange import insertable
from wavilex.core.rig.ops import LayerName
from wavilex.core.rig.shapes import InsertOut
from wavilex.core.tell.assignment import assignment_data
from wavilex.core.tell.drawing import dot, schedule, schedule_csv, svg
from wavilex.core.tell.shapes import ScheduleRow
from wavilex.server.config import limits
from wavilex.server.jobs import models
from wavilex.server.jobs.api import READ
from wavilex.server.jobs.cache import ANSWER_BYTES, layer_of, remembered, rig_of, states_of
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.jobs.turns import search_for
from wavilex.server.problems import ProblemError

router = Router()
_DRAWINGS = {
    "svg": (svg, "image/svg+xml"),
    "dot": (dot, "text/vnd.graphviz"),
    "csv": (schedule_csv, "text/csv; charset=utf-8"),
}


@router.get("/jobs/{job_uid}/leads/{lead_uid}/insertable", operation_id="insertable",
            response={200: list[InsertOut], **READ})  # fmt: skip
def boxes_for_a_lead(
    request: HttpRequest, job_uid: str, lead_uid: str, layer: Query[LayerName] = "plan"
) -> list[InsertOut]:
    """Boxes of the job that could go into a lead, each with the changes that put it there."""
    rig = rig_of(job_by_uid(job_uid))
    if lead_uid not in rig.leads:
        raise ProblemError(404, "no_such_lead", "There is no such lead in this job.", lead_uid[:40])
    return insertable(rig, layer, lead_uid)


@router.get("/jobs/{job_uid}/assignment", operation_id="assignment", response={200: AssignmentOut, **READ})
def assignment(request: HttpRequest, job_uid: str, layer: Query[LayerName] = "plan") -> AssignmentOut:
    """Which output best goes to which input, proved, with the runner-up. Nothing is written."""
    job = job_by_uid(job_uid)

    def answer() -> AssignmentOut:
        found = assign(rig_of(job), layer, states=states_of(job), go_on=search_for(limits.ASSIGN_SECONDS))
        return assignment_data(rig_of(job), found)

    return remembered(job, ("assignment", layer), answer, ANSWER_BYTES)


@router.get("/jobs/{job_uid}/schedule", operation_id="cableSchedule", response={200: list[ScheduleRow], **READ})
def cable_schedule(request: HttpRequest, job_uid: str, layer: Query[LayerName] = "plan") -> list[ScheduleRow]:
    """Every lead with the label for each end, its class and length."""
    return schedule(layer_of(job_by_uid(job_uid), layer))


@router.get("/jobs/{job_uid}/wiring.{form}", operation_id="drawWiring", response={200: Any, **READ})
def draw(
    request: HttpRequest, job_uid: str, form: Literal["svg", "dot", "csv"], layer: Query[LayerName] = "plan"
) -> HttpResponse:
    """The whole rig as an SVG drawing, as Graphviz DOT, or its cable schedule as CSV, to keep."""
    job: models.Job = job_by_uid(job_uid)
    make, kind = _DRAWINGS[form]
    response = HttpResponse(make(layer_of(job, layer)), content_type=kind)
    what = "cables" if form == "csv" else "wiring"
    response["Content-Disposition"] = f'attachment; filename="{job.uid[:40]}-{what}.{form}"'
    return response
