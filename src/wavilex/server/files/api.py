"""The hand-over, and job files in and out."""

from __future__ import annotations

import json
from collections.abc import Iterator
from itertools import islice
from typing import Any, Literal
from zoneinfo import ZoneInfo

from django.db import transaction
from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from django.utils import timezone
from ninja import Field, Router, Schema

from wavilex.core.rig.jobfile import parse_job
from wavilex.core.tell.hand_shapes import HandoverOut
from wavilex.core.tell.hand_text import hand_text
from wavilex.server.accounts.roles import editor
from wavilex.server.config import limits
from wavilex.server.files import services
from wavilex.server.jobs.api import READ, WRITE
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.jobs.sent import SentUid, once
from wavilex.server.jobs.shapes import ViewOut
from wavilex.server.jobs.views import whole

router = Router()


def batched(words: Iterator[str], most: int) -> Iterator[tuple[str, ...]]:
    """So many at a time (itertools has it from Python 3.12 on)."""
    while part := tuple(islice(words, most)):
        yield part


_WORDS_A_PART = 20_000
_FEW = 2000  # readings; with more, the file is written without its line breaks


@router.get("/jobs/{job_uid}/handover", operation_id="handover", response={200: HandoverOut, **READ})
def read_handover(request: HttpRequest, job_uid: str) -> HandoverOut:
    """The hand-over page's content, from the plan and the readings."""
    return services.hand_over(job_by_uid(job_uid))


HandPart = Literal["all", "client"]


@router.get("/jobs/{job_uid}/handover.pdf", operation_id="handoverPdf", response={200: bytes, **READ})
def handover_file(request: HttpRequest, job_uid: str, part: HandPart = "all") -> HttpResponse:
    """The hand-over on paper: the client's page, and the technician's behind it."""
    job = job_by_uid(job_uid)
    now = timezone.now().astimezone(ZoneInfo(job.time_zone))
    from wavilex.server.paper.hand_over import hand_over_pdf  # the printing library is asked for here only

    response = HttpResponse(
        hand_over_pdf(services.hand_over(job), now, client_only=part == "client"), "application/pdf"
    )
    response["Content-Disposition"] = f'inline; filename="{job.uid[:40]}-hand-over.pdf"'
    return response


@router.get("/jobs/{job_uid}/handover.txt", operation_id="handoverText", response={200: str, **READ})
def handover_text(request: HttpRequest, job_uid: str, part: HandPart = "all") -> HttpResponse:
    """The hand-over as text."""
    told = services.hand_over(job_by_uid(job_uid))
    return HttpResponse(hand_text(told, client_only=part == "client"), "text/plain; charset=utf-8")


@router.get("/jobs/{job_uid}/file", operation_id="exportJob", response={200: dict[str, Any], **READ})
def export_job(request: HttpRequest, job_uid: str) -> StreamingHttpResponse:
    """The whole job as one versioned JSON file; of a job that cannot be read, its rows as they are stored."""
    job = job_by_uid(job_uid)
    data = services.file_of(job)
    few = sum(len(s.get("readings", ())) for s in data.get("lag", ())) <= _FEW
    encoder = json.JSONEncoder(ensure_ascii=False, indent=2 if few else None, separators=None if few else (",", ":"))
    parts = map("".join, batched(encoder.iterencode(data), _WORDS_A_PART))
    response = StreamingHttpResponse(parts, content_type="application/json")
    name = "".join(c if c.isascii() and c.isalnum() else "-" for c in job.title.lower()).strip("-") or "job"
    response["Content-Disposition"] = f'attachment; filename="{name}.wavilex.json"'
    return response


class JobText(Schema):
    """`uid` makes it safe to send twice."""

    uid: SentUid
    text: str = Field(max_length=limits.FILE_BYTES)


@router.post("/import", auth=editor, operation_id="importJob", response={201: ViewOut, **WRITE})
def import_job(request: HttpRequest, payload: JobText) -> HttpResponse:
    """Read a job file as a new job: all of it or nothing."""
    job = parse_job(payload.text)
    with transaction.atomic():
        made = once(payload.uid, lambda: services.import_job(job=job).uid)
        return whole(job_by_uid(made), status=201)
