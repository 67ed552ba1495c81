"""What is left behind: labels, links by which a client reads the hand-over, job packs."""

from __future__ import annotations

from typing import Literal

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from ninja import Field, Router, Schema

from wavilex.core.tell.hand_shapes import LabelOut
from wavilex.core.tell.labels import SHEETS, label_lines, labels
from wavilex.server.accounts.roles import editor
from wavilex.server.config import limits
from wavilex.server.files.client_links import ClientLinkOut, MadeLinkOut, links_of, make_link, revoke_link
from wavilex.server.files.job_packs import PackWould, bring_in, pack_of, would_do
from wavilex.server.jobs.api import READ, WRITE
from wavilex.server.jobs.cache import rig_of
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.jobs.sent import SentUid, once
from wavilex.server.jobs.shapes import ViewOut
from wavilex.server.jobs.views import whole

router = Router()
SheetName = Literal["24", "21", "65", "189"]
assert set(SheetName.__args__) == set(SHEETS)  # type: ignore[attr-defined]


@router.get("/jobs/{job_uid}/labels", operation_id="labels", response={200: list[LabelOut], **READ})
def read_labels(request: HttpRequest, job_uid: str) -> list[LabelOut]:
    """A label for each end of every lead and for every box, as planned."""
    return labels(rig_of(job_by_uid(job_uid)))


@router.get("/jobs/{job_uid}/labels.txt", operation_id="labelLines", response={200: str, **READ})
def read_lines(request: HttpRequest, job_uid: str) -> HttpResponse:
    """The same, a line each, for a label printer's own program."""
    return HttpResponse(label_lines(rig_of(job_by_uid(job_uid))), "text/plain; charset=utf-8")


@router.get("/jobs/{job_uid}/labels.pdf", operation_id="labelSheet", response={200: bytes, **READ})
def label_sheet(
    request: HttpRequest, job_uid: str, sheet: SheetName = "24", first: int = 1,
    kind: Literal["all", "lead", "box"] = "all", code: bool = False, lines: bool = True,
) -> HttpResponse:  # fmt: skip
    """Labels on sheets of a common size. first: the place to begin at; code: with a QR code to the job."""
    from wavilex.server.paper.label_sheet import label_sheet_pdf  # the printing library is asked for here only

    job = job_by_uid(job_uid)
    rows = [x for x in labels(rig_of(job)) if kind in ("all", x["kind"])]
    place = min(max(first, 1), SHEETS[sheet].count)
    link = request.build_absolute_uri(f"/jobs/{job.uid}") if code else ""
    data = label_sheet_pdf(job.title, rows, SHEETS[sheet], first=place, link=link, lines=lines)
    response = HttpResponse(data, "application/pdf")
    response["Content-Disposition"] = f'inline; filename="{job.uid[:40]}-labels.pdf"'
    return response


@router.get("/jobs/{job_uid}/client-links", operation_id="clientLinks", response={200: list[ClientLinkOut], **READ})
def read_links(request: HttpRequest, job_uid: str) -> list[ClientLinkOut]:
    """The links given to the client; their addresses are not told again."""
    return links_of(job_by_uid(job_uid))


@router.get("/jobs/{job_uid}/pack.zip", operation_id="jobPack", response={200: bytes, **READ})
def job_pack(request: HttpRequest, job_uid: str) -> HttpResponse:
    """The whole job as one file: with photographs, visits, kept states and logbook."""
    job = job_by_uid(job_uid)
    response = HttpResponse(pack_of(job), "application/zip")
    response["Content-Disposition"] = f'attachment; filename="{job.uid[:40]}.wavilex-job.zip"'
    return response


_ZIP = {"requestBody": {"required": True, "content": {"application/octet-stream": {"schema": {
    "type": "string", "format": "binary"}}}}}  # fmt: skip


@router.post("/job-packs/check", auth=editor, operation_id="checkJobPack", openapi_extra=_ZIP,
             response={200: PackWould, **WRITE})  # fmt: skip
def check_pack(request: HttpRequest) -> PackWould:
    """What reading a pack would do, or all that is wrong with it; nothing is stored."""
    return would_do(request.body)


@router.post("/job-packs", auth=editor, operation_id="readJobPack", openapi_extra=_ZIP,
             response={201: ViewOut, **WRITE})  # fmt: skip
def read_pack(request: HttpRequest, uid: SentUid = "") -> HttpResponse:
    """Read a pack as a new job: all of it or nothing. uid makes it safe to send twice."""
    with transaction.atomic():
        made = once(uid, lambda: bring_in(request.body).uid)
        return whole(job_by_uid(made), status=201)


class LinkIn(Schema):
    """note: whom it is for; days: how long it opens."""

    note: str = Field(default="", max_length=120)
    days: int = Field(default=90, ge=1, le=limits.CLIENT_LINK_DAYS)


@router.post("/jobs/{job_uid}/client-links", auth=editor, operation_id="makeClientLink",
             response={200: MadeLinkOut, **WRITE})  # fmt: skip
def new_link(request: HttpRequest, job_uid: str, payload: LinkIn) -> MadeLinkOut:
    """An address by which the client reads the hand-over and nothing else, told this once."""
    link, secret = make_link(job_uid=job_uid, note=payload.note, days=payload.days, actor=request.user)
    return {"address": request.build_absolute_uri(f"/c/{secret}"), "links": links_of(link.job)}


@router.post("/jobs/{job_uid}/client-links/{link_uid}/revoke", auth=editor, operation_id="revokeClientLink",
             response={200: list[ClientLinkOut], **WRITE})  # fmt: skip
def revoke(request: HttpRequest, job_uid: str, link_uid: str) -> list[ClientLinkOut]:
    """The link opens nothing from now on."""
    return links_of(revoke_link(job_uid=job_uid, uid=link_uid))
