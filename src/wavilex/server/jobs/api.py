"""Jobs: list, make, read, change, try, undo."""

from __future__ import annotations

from typing import Annotated

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from ninja import Field, Query, Router, Schema, Status
from pydantic import field_validator

from wavilex.core.chain.paths import Layer
from wavilex.core.moment import known_zone
from wavilex.core.rig.changes import apply
from wavilex.core.rig.ops import LayerName
from wavilex.server.accounts.roles import editor
from wavilex.server.config import limits
from wavilex.server.jobs import access, services
from wavilex.server.jobs.cache import rig_of, states_of
from wavilex.server.jobs.repair import whole_or_repair
from wavilex.server.jobs.selectors import job_by_uid, jobs_page
from wavilex.server.jobs.sent import SentUid, once
from wavilex.server.jobs.shapes import ChangedView, JobsOut, ViewOut
from wavilex.server.jobs.turns import change_first
from wavilex.server.jobs.views import changed, whole
from wavilex.server.schemas import OpIn, ProblemOut

router = Router()
Mark = Annotated[str, Field(max_length=16)]
PageNumber = Annotated[int, Field(ge=1, le=10_000)]
READ = {401: ProblemOut, 404: ProblemOut, 422: ProblemOut}
WRITE = {**READ, 400: ProblemOut, 403: ProblemOut, 409: ProblemOut, 413: ProblemOut}


@router.get("/jobs", operation_id="listJobs", response={200: JobsOut, 401: ProblemOut, 422: ProblemOut})
def list_jobs(request: HttpRequest, archived: bool = False, page: PageNumber = 1) -> JobsOut:
    """A page of the jobs, the latest changed first, each with its runs' verdicts as kept with it."""
    return jobs_page(archived=archived, page=page)


class NewJob(Schema):
    """`uid` makes it safe to send twice."""

    uid: SentUid
    title: str = Field(min_length=1, max_length=120)
    time_zone: str = Field(default="UTC", max_length=60)

    _known = field_validator("time_zone")(known_zone)


@router.post("/jobs", auth=editor, operation_id="createJob", response={201: ViewOut, **WRITE})
def create_job(request: HttpRequest, payload: NewJob) -> HttpResponse:
    """An empty job."""
    with transaction.atomic():
        made = once(payload.uid, lambda: services.create_job(title=payload.title, time_zone=payload.time_zone).uid)
        return whole(job_by_uid(made), status=201)


@router.get("/jobs/{job_uid}", operation_id="readJob", response={200: ViewOut, **READ})
def read_job(request: HttpRequest, job_uid: str, layer: Query[LayerName] = "plan") -> HttpResponse:
    """A job as the sheets show it; where it cannot be worked out, a problem with its history."""
    return whole_or_repair(job_by_uid(job_uid), layer)


@router.delete("/jobs/{job_uid}", auth=editor, operation_id="removeJob", response={204: None, **WRITE})
def remove_job(request: HttpRequest, job_uid: str) -> Status[None]:
    """Remove a job that is put away, with its history and readings, for good."""
    access.remove_job(job_uid=job_uid)
    return Status(204, None)


class Changes(Schema):
    """`uid` makes it safe to send twice; `label` is what undo calls it; `line` whose revision the base is."""

    base_revision: int = Field(ge=0, strict=True, lt=2**31)
    line: str = Field(default="", max_length=16)
    uid: str = Field(min_length=8, max_length=64, pattern=r"^[A-Za-z0-9-]+$")
    ops: list[OpIn] = Field(min_length=1, max_length=limits.OPS_PER_CHANGE)
    label: str = Field(default="", max_length=200)


@router.post("/jobs/{job_uid}/changes", auth=editor, operation_id="changeJob", response={200: ChangedView, **WRITE})
def change_job(
    request: HttpRequest, job_uid: str, payload: Changes, layer: Query[LayerName] = "plan", known: Mark = ""
) -> HttpResponse:
    """Apply changes; answers what of the job now differs from the content marked `known`. Sent twice, done once."""
    with change_first(), transaction.atomic():  # what cannot be worked out is not kept
        done = services.change_job(
            job_uid=job_uid, base=payload.base_revision, line=payload.line, uid=payload.uid,
            ops=services.stamped(payload.ops, request.user), actor=request.user, label=payload.label,
        )  # fmt: skip
        return changed(done.job, layer, known)


class Step(Schema):
    """revision, line: what the person saw when asking; left out, whatever is latest. others: also if not one's own."""

    uid: str = Field(min_length=8, max_length=64, pattern=r"^[A-Za-z0-9-]+$")
    revision: int | None = Field(default=None, ge=0, strict=True, lt=2**31)
    line: str = Field(default="", max_length=16)
    others: bool = False


@router.post("/jobs/{job_uid}/undo", auth=editor, operation_id="undo", response={200: ChangedView, **WRITE})
def undo(
    request: HttpRequest, job_uid: str, payload: Step, layer: Query[LayerName] = "plan", known: Mark = ""
) -> HttpResponse:
    """Take back the latest change."""
    return _step(request, job_uid, payload, "undo", layer, known)


@router.post("/jobs/{job_uid}/redo", auth=editor, operation_id="redo", response={200: ChangedView, **WRITE})
def redo(
    request: HttpRequest, job_uid: str, payload: Step, layer: Query[LayerName] = "plan", known: Mark = ""
) -> HttpResponse:
    """Do again what was last undone."""
    return _step(request, job_uid, payload, "redo", layer, known)


def _step(
    request: HttpRequest, job_uid: str, payload: Step, kind: services.StepKind, layer: LayerName, known: str
) -> HttpResponse:
    with change_first(), transaction.atomic():
        done = services.step_history(
            job_uid=job_uid, uid=payload.uid, actor=request.user, kind=kind, seen=payload.revision, line=payload.line,
            others=payload.others,
        )  # fmt: skip
        return changed(done.job, layer, known)


class Tried(Schema):
    ops: list[OpIn] = Field(max_length=limits.OPS_PER_CHANGE)


@router.post("/jobs/{job_uid}/try", operation_id="tryChanges", response={200: ViewOut, **WRITE})
def try_changes(request: HttpRequest, job_uid: str, payload: Tried, layer: Query[LayerName] = "plan") -> HttpResponse:
    """The job as it would be. Nothing is written, so viewers may try too."""
    job = job_by_uid(job_uid)
    after, _ = apply(rig_of(job), payload.ops)
    return whole(job, layer, Layer(after, layer, states_of(job)))


class Archive(Schema):
    archived: bool


@router.post("/jobs/{job_uid}/archive", auth=editor, operation_id="archiveJob", response={200: ViewOut, **WRITE})
def archive_job(request: HttpRequest, job_uid: str, payload: Archive) -> HttpResponse:
    """Put a job away, or bring it back."""
    return whole(services.archive_job(job_uid=job_uid, archived=payload.archived))
