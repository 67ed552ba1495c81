"""The run sheet: read it, tick its steps, take it along as a calendar entry."""

from __future__ import annotations

from typing import Literal
from zoneinfo import ZoneInfo

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Field, Router, Schema

from wavilex.core.runsheet.plan import minutes_of
from wavilex.core.runsheet.shapes import RunSheetOut
from wavilex.core.runsheet.sheet import sheet_data, steps_now
from wavilex.server.accounts.roles import editor
from wavilex.server.jobs import models
from wavilex.server.jobs.api import READ, WRITE
from wavilex.server.jobs.cache import rig_of
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.jobs.steps import events_of, tick
from wavilex.server.schemas import When

router = Router()


def _sheet(job: models.Job) -> RunSheetOut:
    return {**sheet_data(rig_of(job), events_of(job)), "revision": job.revision}


@router.get("/jobs/{job_uid}/runsheet", operation_id="runSheet", response={200: RunSheetOut, **READ})
def run_sheet(request: HttpRequest, job_uid: str) -> RunSheetOut:
    """Every step from found to plan, in order, with what was done."""
    return _sheet(job_by_uid(job_uid))


class Tick(Schema):
    """uid makes it safe to send twice; said_at: when it was ticked."""

    uid: str = Field(min_length=8, max_length=48, pattern=r"^[A-Za-z0-9-]+$")
    key: str = Field(min_length=1, max_length=40)
    state: Literal["done", "reverted", "undone"]
    said_at: When


@router.post("/jobs/{job_uid}/ticks", auth=editor, operation_id="tickStep", response={200: RunSheetOut, **WRITE})
def tick_step(request: HttpRequest, job_uid: str, payload: Tick) -> RunSheetOut:
    """Tick a step, say that its box reverted it, or take a tick back. Sent twice, kept once."""
    with transaction.atomic():
        job = tick(
            job_uid=job_uid, uid=payload.uid, key=payload.key, state=payload.state, said_at=payload.said_at,
            actor=request.user,
        )  # fmt: skip
        return _sheet(job)


@router.get("/jobs/{job_uid}/runsheet.pdf", operation_id="runSheetPdf", response={200: bytes, **READ})
def run_sheet_file(request: HttpRequest, job_uid: str) -> HttpResponse:
    """The run sheet on paper: A4, a box to tick for every step."""
    job = job_by_uid(job_uid)
    now = timezone.now().astimezone(ZoneInfo(job.time_zone))
    from wavilex.server.paper.run_sheet import run_sheet_pdf  # the printing library is asked for here only

    response = HttpResponse(run_sheet_pdf(job.title, now, _sheet(job)), "application/pdf")
    response["Content-Disposition"] = f'inline; filename="{job.uid[:40]}-run-sheet.pdf"'
    return response


@router.get("/jobs/{job_uid}/visit.ics", operation_id="visit", response={200: str, **READ})
def visit(request: HttpRequest, job_uid: str, start: When) -> HttpResponse:
    """The visit as a calendar entry, as long as the open steps take."""
    job = job_by_uid(job_uid)
    from wavilex.server.paper.visit import calendar, visit_entry  # icalendar is asked for here only

    steps = steps_now(rig_of(job), events_of(job))
    text = calendar([visit_entry(job.uid, job.title, start, minutes_of(steps), steps)], timezone.now())
    response = HttpResponse(text, content_type="text/calendar; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{job.uid[:40]}-visit.ics"'
    return response
