"""Prove: what boxes will show on a run, what was seen there, photographs of it."""

from __future__ import annotations

from typing import Annotated

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from ninja import Field, Router, Schema, Status

from wavilex.core import bounds
from wavilex.core.prove.shapes import MomentOut
from wavilex.core.prove.told import prove_data
from wavilex.core.rig.model import Rig, Run
from wavilex.core.rig.ops import Answer
from wavilex.core.runsheet.stages import END, NOW, layer_at, stages
from wavilex.server.accounts.roles import editor
from wavilex.server.jobs import models, photographs
from wavilex.server.jobs.api import READ, WRITE
from wavilex.server.jobs.cache import ANSWER_BYTES, layer_of, memory, rig_of, states_of
from wavilex.server.jobs.observing import SeenAt, SinceWhen, observe, take_back
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.jobs.shapes import PhotographOut, ProveAnswer
from wavilex.server.jobs.views import run_of
from wavilex.server.schemas import When

router = Router()
StageKey = Annotated[str, Field(max_length=40)]


@router.get("/jobs/{job_uid}/runs/{run_uid}/prove", operation_id="prove", response={200: ProveAnswer, **READ})
def read_prove(request: HttpRequest, job_uid: str, run_uid: str, stage: StageKey = NOW) -> ProveAnswer:
    """A run's read-outs in walking order: now, behind a step of the run sheet, or at the end of the plan."""
    job = job_by_uid(job_uid)
    return _prove(job, run_of(job, run_uid), stage)


def _prove(job: models.Job, run: Run, stage: str) -> ProveAnswer:
    told = _stages(job, rig_of(job), run)
    known = stage if any(s["key"] == stage for s in told) else NOW
    now = layer_of(job, "found")
    layer = layer_of(job, "plan") if known == END else layer_at(now, known)
    return {**prove_data(layer, now, layer.rig.runs[run.uid], known, told, SinceWhen(job)), "mark": job.mark}


def _stages(job: models.Job, rig: Rig, run: Run) -> list[MomentOut]:
    """The moments of a run, worked out once for all that they depend on: what was seen is none of it."""
    parts = (rig.devices, rig.leads, rig.settings, rig.facts, rig.runs, rig.titles, rig.style, rig.distances)
    key = (job.pk, "stages", run.uid, *map(id, parts))
    kept: tuple[list[MomentOut], object] | None = memory.get(key)
    if kept is None:
        kept = stages(rig, run, states_of(job)), parts  # the key names them by identity: they must live as long
        memory.put(key, kept, ANSWER_BYTES)
    return kept[0]


class SeenLine(Schema):
    """observed: the words seen, where they are not as predicted; of a rate test `held` or `fell back`."""

    line: str = Field(min_length=1, max_length=bounds.OBSERVED_LETTERS)
    answer: Answer
    observed: str = Field(default="", max_length=bounds.OBSERVED_LETTERS)
    photo: str = Field(default="", max_length=40)


class Seen(Schema):
    """uid makes it safe to send twice."""

    uid: str = Field(min_length=8, max_length=30, pattern=r"^[A-Za-z0-9-]+$")
    seen: list[SeenLine] = Field(min_length=1, max_length=60)
    said_at: When


@router.post("/jobs/{job_uid}/runs/{run_uid}/seen", auth=editor, operation_id="observe",
             response={200: ProveAnswer, **WRITE})  # fmt: skip
def see(request: HttpRequest, job_uid: str, run_uid: str, payload: Seen) -> ProveAnswer:
    """Keep what was seen at a line of a read-out, or what a rate test did. Sent twice, kept once."""
    with transaction.atomic():
        job = observe(
            job_uid=job_uid, uid=payload.uid, run_uid=run_uid, said_at=payload.said_at, actor=request.user,
            seen=[SeenAt(x.line, x.answer, x.observed, x.photo) for x in payload.seen],
        )  # fmt: skip
        return _prove(job, run_of(job, run_uid), NOW)


class TakenBack(Schema):
    """uid makes it safe to send twice."""

    uid: str = Field(min_length=8, max_length=64, pattern=r"^[A-Za-z0-9-]+$")
    seen: str = Field(min_length=1, max_length=40)


@router.post("/jobs/{job_uid}/runs/{run_uid}/not-seen", auth=editor, operation_id="takeBackSeen",
             response={200: ProveAnswer, **WRITE})  # fmt: skip
def unsee(request: HttpRequest, job_uid: str, run_uid: str, payload: TakenBack) -> ProveAnswer:
    """Take an observation back: nobody looked."""
    with transaction.atomic():
        job = take_back(job_uid=job_uid, uid=payload.uid, seen_uid=payload.seen, actor=request.user)
        return _prove(job, run_of(job, run_uid), NOW)


_PICTURE = {"requestBody": {"required": True, "content": {
    kind: {"schema": {"type": "string", "format": "binary"}} for kind in ("image/jpeg", "image/png", "image/webp")
}}}  # fmt: skip


@router.post("/jobs/{job_uid}/photographs", auth=editor, operation_id="keepPhotograph", openapi_extra=_PICTURE,
             response={201: PhotographOut, **WRITE})  # fmt: skip
def keep_photograph(request: HttpRequest, job_uid: str) -> Status[PhotographOut]:
    """Keep a photograph of a read-out: re-encoded, with nothing but its picture."""
    row = photographs.keep(job_uid=job_uid, data=request.body)
    return Status(201, {"name": row.name, "bytes": row.bytes})


@router.get("/jobs/{job_uid}/photographs/{name}", operation_id="photograph", response={200: bytes, **READ})
def photograph(request: HttpRequest, job_uid: str, name: str) -> HttpResponse:
    """A photograph, as it is kept."""
    return HttpResponse(photographs.read(job_by_uid(job_uid), name), "image/jpeg")
