"""Jobs: list, make, read, change, try, undo."""

from __future__ import annotations

import json
from typing import Any, Literal
from zoneinfo import available_timezones

from django.http import HttpRequest, HttpResponse
from ninja import Field, Query, Router, Schema
from pydantic import field_validator

from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer, States
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Run
from wavilex.core.tell.view import job_view
from wavilex.server.accounts.roles import editor
from wavilex.server.config import limits
from wavilex.server.jobs import models, services
from wavilex.server.jobs.cache import remembered, rig_of, states_of
from wavilex.server.jobs.history import history_of
from wavilex.server.jobs.selectors import job_by_uid, jobs, reading_count
from wavilex.server.jobs.shapes import JobRow, ViewOut
from wavilex.server.problems import ProblemError
from wavilex.server.schemas import OpIn, ProblemOut

router = Router()
LayerName = Literal["plan", "found"]
READ = {401: ProblemOut, 404: ProblemOut, 422: ProblemOut}
WRITE = {**READ, 400: ProblemOut, 403: ProblemOut, 409: ProblemOut, 413: ProblemOut}


def layer_of(job: models.Job, name: str) -> Layer:
    """The job's rig compiled for a layer, remembered by revision."""
    layer: Layer = remembered(job, ("layer", name), lambda: Layer(rig_of(job), name, states_of(job)))
    return layer


def at_run(job_uid: str, run_uid: str, name: str) -> tuple[models.Job, Layer, Run]:
    """A job, a layer of it and one of its runs. Raises ProblemError 404."""
    job = job_by_uid(job_uid)
    return job, layer_of(job, name), run_of(job, run_uid)


def run_of(job: models.Job, uid: str) -> Run:
    """A run of the job. Raises ProblemError 404."""
    run = rig_of(job).runs.get(uid)
    if run is None:
        raise ProblemError(404, "no_such_run", "There is no such run in this job.", uid[:40])
    return run


def view(job: models.Job, name: str = "plan", layer: Layer | None = None, status: int = 200) -> HttpResponse:
    """The sheets' data as JSON text, written once a revision; with `layer` given, of a rig that is only tried.

    A test holds it against ViewOut: validating it again at each answer would cost more than working it out.
    """
    states = states_of(job)
    if layer is not None:
        text = _text(_body(job, name, layer), states)
    else:
        count = reading_count(job)
        text = remembered(
            job, ("text", name, count, job.archived), lambda: _text(_body(job, name, None, count), states)
        )
    return HttpResponse(text, content_type="application/json", status=status)


def _text(body: dict[str, Any], states: States) -> str:
    """The body as JSON; a run's row that the core handed out before is not written again."""
    rows = []
    for row in body["runs"]:
        kept = states.results.get(("json", id(row)))
        if kept is None or kept[0] is not row:
            kept = states.results["json", id(row)] = (row, _json(row))
        rows.append(kept[1])
    rest = _json({k: v for k, v in body.items() if k != "runs"})
    return f'{rest[:-1]},"runs":[{",".join(rows)}]}}'


def _json(value: Any) -> str:
    return json.dumps(value, ensure_ascii=False, separators=(",", ":"))


def _body(job: models.Job, name: str, layer: Layer | None, count: int | None = None) -> dict[str, Any]:
    body = job_view(layer or layer_of(job, name), reading_count(job) if count is None else count)
    past = history_of(job)
    return {
        **body, "uid": job.uid, "revision": job.revision, "time_zone": job.time_zone, "archived": job.archived,
        "can_undo": past.undo[-1].label or "the last change" if past.undo else None,
        "can_redo": past.redo[-1].label or "the last change" if past.redo else None,
    }  # fmt: skip


@router.get("/jobs", operation_id="listJobs", response={200: list[JobRow], 401: ProblemOut, 422: ProblemOut})
def list_jobs(request: HttpRequest, archived: bool = False) -> list[dict[str, Any]]:
    """Every job with its runs' verdicts."""
    rows = []
    for job in jobs(archived=archived):
        layer = layer_of(job, "plan")
        found = remembered(
            job, "verdicts", lambda lay=layer: [(r, run_result(lay, r).verdict) for r in lay.rig.runs.values()]
        )
        runs = [{"label": r.label, "verdict": verdict} for r, verdict in found]
        rows.append({
            "uid": job.uid, "title": job.title, "revision": job.revision, "archived": job.archived,
            "changed_at": job.changed_at.isoformat(), "boxes": len(layer.rig.devices), "runs": runs,
        })  # fmt: skip
    return rows


class NewJob(Schema):
    title: str = Field(min_length=1, max_length=120)
    time_zone: str = Field(default="UTC", max_length=60)

    @field_validator("time_zone")
    @classmethod
    def _known(cls, value: str) -> str:
        if value not in available_timezones():
            raise ValueError("no such time zone; write one like Europe/Lisbon")
        return value


@router.post("/jobs", auth=editor, operation_id="createJob", response={201: ViewOut, **WRITE})
def create_job(request: HttpRequest, payload: NewJob) -> HttpResponse:
    """An empty job."""
    return view(services.create_job(title=payload.title, time_zone=payload.time_zone), status=201)


@router.get("/jobs/{job_uid}", operation_id="readJob", response={200: ViewOut, **READ})
def read_job(request: HttpRequest, job_uid: str, layer: Query[LayerName] = "plan") -> HttpResponse:
    """A job as the sheets show it."""
    return view(job_by_uid(job_uid), layer)


class Changes(Schema):
    """`uid` makes it safe to send twice; `label` is what undo calls it."""

    base_revision: int = Field(ge=0, strict=True, lt=2**31)
    uid: str = Field(min_length=8, max_length=64, pattern=r"^[A-Za-z0-9-]+$")
    ops: list[OpIn] = Field(min_length=1, max_length=limits.OPS_PER_CHANGE)
    label: str = Field(default="", max_length=200)


@router.post("/jobs/{job_uid}/changes", auth=editor, operation_id="changeJob", response={200: ViewOut, **WRITE})
def change_job(request: HttpRequest, job_uid: str, payload: Changes, layer: Query[LayerName] = "plan") -> HttpResponse:
    """Apply changes; answers the job as it now is. Sent twice, done once."""
    done = services.change_job(
        job_uid=job_uid, base=payload.base_revision, uid=payload.uid, ops=payload.ops,
        actor=request.user, label=payload.label,
    )  # fmt: skip
    return view(done.job, layer)


class Step(Schema):
    uid: str = Field(min_length=8, max_length=64, pattern=r"^[A-Za-z0-9-]+$")


@router.post("/jobs/{job_uid}/undo", auth=editor, operation_id="undo", response={200: ViewOut, **WRITE})
def undo(request: HttpRequest, job_uid: str, payload: Step, layer: Query[LayerName] = "plan") -> HttpResponse:
    """Take back the latest change."""
    done = services.step_history(job_uid=job_uid, uid=payload.uid, actor=request.user, kind="undo")
    return view(done.job, layer)


@router.post("/jobs/{job_uid}/redo", auth=editor, operation_id="redo", response={200: ViewOut, **WRITE})
def redo(request: HttpRequest, job_uid: str, payload: Step, layer: Query[LayerName] = "plan") -> HttpResponse:
    """Do again what was last undone."""
    done = services.step_history(job_uid=job_uid, uid=payload.uid, actor=request.user, kind="redo")
    return view(done.job, layer)


class Tried(Schema):
    ops: list[OpIn] = Field(max_length=limits.OPS_PER_CHANGE)


@router.post("/jobs/{job_uid}/try", operation_id="tryChanges", response={200: ViewOut, **WRITE})
def try_changes(request: HttpRequest, job_uid: str, payload: Tried, layer: Query[LayerName] = "plan") -> HttpResponse:
    """The job as it would be. Nothing is written, so viewers may try too."""
    job = job_by_uid(job_uid)
    after, _ = apply(rig_of(job), payload.ops)
    return view(job, layer, Layer(after, layer, states_of(job)))


class Archive(Schema):
    archived: bool


@router.post("/jobs/{job_uid}/archive", auth=editor, operation_id="archiveJob", response={200: ViewOut, **WRITE})
def archive_job(request: HttpRequest, job_uid: str, payload: Archive) -> HttpResponse:
    """Put a job away, or bring it back."""
    return view(services.archive_job(job_uid=job_uid, archived=payload.archived))
