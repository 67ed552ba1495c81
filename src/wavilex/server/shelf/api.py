"""The workshop's shelf: boxes of one's own across jobs, versions, packs, what jobs learned."""

from __future__ import annotations

import base64
import binascii
from typing import Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Field, Router, Schema

from wavilex.core.gear.pack import read_pack, write_pack
from wavilex.core.gear.profile import profile_from_data
from wavilex.core.rig.renew import renew
from wavilex.core.rig.shapes import RenewOut
from wavilex.server.accounts.roles import editor
from wavilex.server.config import limits
from wavilex.server.jobs.api import READ, WRITE
from wavilex.server.jobs.cache import rig_of
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.problems import ProblemError
from wavilex.server.schemas import ProblemOut
from wavilex.server.shelf import services
from wavilex.server.shelf.seen import seen_in
from wavilex.server.shelf.selectors import box_by_uid, entry, facts_of, newest_of, on_shelf, packed, shelf_rows
from wavilex.server.shelf.shapes import EntryOut, OnShelf, PackRead, ShelfRow

router = Router()


@router.get("/shelf", operation_id="shelf", response={200: list[ShelfRow], 401: ProblemOut, 422: ProblemOut})
def shelf(
    request: HttpRequest, search: str = "", role: Literal["", "source", "repeater", "screen", "sound"] = "",
    away: bool = False, starters: bool = True,
) -> list[ShelfRow]:  # fmt: skip
    """Boxes to choose from, the workshop's own first. search: by maker, model, kind, or what it can do."""
    return shelf_rows(search=search[:200], role=role, away=away, starters=starters)


class KeepIn(Schema):
    """A profile to keep; uid: the box it is the next version of, "" for a new one or one of the same name."""

    data: dict[str, Any]
    uid: str = Field(default="", max_length=40)
    note: str = Field(default="", max_length=200)


@router.post("/shelf", auth=editor, operation_id="keepOnShelf", response={200: EntryOut, **WRITE})
def keep(request: HttpRequest, payload: KeepIn) -> EntryOut:
    """Keep a box on the shelf, as a new one or the next version of one that is there."""
    box = services.keep(profile=profile_from_data(payload.data), uid=payload.uid, note=payload.note)
    return entry(box.uid)


@router.get("/shelf/pack.zip", operation_id="shelfPack", response={200: str, **READ})
def pack(request: HttpRequest, uids: str = "") -> HttpResponse:
    """Boxes as a pack to hand on: those named (uids with commas between), or all that are not put away."""
    names = [u for u in uids.split(",") if u]
    response = HttpResponse(write_pack(list(packed(names))), content_type="application/zip")
    response["Content-Disposition"] = 'attachment; filename="gear.wavilex-pack.zip"'
    return response


class PackIn(Schema):
    """A pack's bytes in base64."""

    zip: str = Field(max_length=limits.PACK_BYTES * 4 // 3 + 4)


@router.post("/shelf/pack", auth=editor, operation_id="readPack", response={200: PackRead, **WRITE})
def bring_in(request: HttpRequest, payload: PackIn) -> PackRead:
    """Take a pack's boxes on the shelf: all of them or none."""
    try:
        data = base64.b64decode(payload.zip, validate=True)
    except (binascii.Error, ValueError):
        raise ProblemError(422, "pack_invalid", "A pack is sent as base64.", "zip") from None
    return services.bring_in(read_pack(data))


@router.get("/shelf/{uid}", operation_id="shelfEntry", response={200: EntryOut, **READ})
def one(request: HttpRequest, uid: str) -> EntryOut:
    """A box whole: profile, what was learned of it, versions, where it is used."""
    return entry(uid)


class AwayIn(Schema):
    away: bool


@router.post("/shelf/{uid}/away", auth=editor, operation_id="putAway", response={200: EntryOut, **WRITE})
def put_away(request: HttpRequest, uid: str, payload: AwayIn) -> EntryOut:
    """Put a box away, or bring it back. Jobs that use it keep what they have."""
    return entry(services.put_away(uid=uid, away=payload.away).uid)


class ForgetIn(Schema):
    path: str = Field(max_length=120)


@router.post("/shelf/{uid}/forget", auth=editor, operation_id="forgetLearned", response={200: EntryOut, **WRITE})
def forget(request: HttpRequest, uid: str, payload: ForgetIn) -> EntryOut:
    """Forget something learned of a box."""
    return entry(services.forget_fact(uid=uid, path=payload.path).uid)


@router.get("/jobs/{job_uid}/shelf", operation_id="jobOnShelf", response={200: list[OnShelf], **READ})
def of_job(request: HttpRequest, job_uid: str) -> list[OnShelf]:
    """Every box of a job against the shelf: not there, the newest version, an older one; what the job learned."""
    job = job_by_uid(job_uid)
    rig = rig_of(job)
    return on_shelf(rig, seen_in(job, rig))


class LearnedIn(Schema):
    """Which lines to take, by path."""

    paths: list[str] = Field(min_length=1, max_length=200)


@router.post("/jobs/{job_uid}/devices/{device_uid}/shelf", auth=editor, operation_id="takeToShelf",
             response={200: EntryOut, **WRITE})  # fmt: skip
def take_back(request: HttpRequest, job_uid: str, device_uid: str, payload: LearnedIn) -> EntryOut:
    """Take what a job learned of a box to the shelf, line by line."""
    return entry(services.take_back(job_uid=job_uid, device_uid=device_uid, paths=payload.paths).uid)


@router.get("/jobs/{job_uid}/devices/{device_uid}/renew/{uid}", operation_id="renewBox",
            response={200: RenewOut, **READ})  # fmt: skip
def renewed(request: HttpRequest, job_uid: str, device_uid: str, uid: str) -> RenewOut:
    """What giving a box of a job the shelf's newest version takes. Nothing is written."""
    box = box_by_uid(uid)
    return renew(rig_of(job_by_uid(job_uid)), device_uid, newest_of(box).profile, facts_of(box))
