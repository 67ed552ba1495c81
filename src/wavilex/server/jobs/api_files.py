"""Files in and out: gear profiles, job files, the hand-over."""

from __future__ import annotations

import json
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Field, Router, Schema

from wavilex.core.gear.profile import Profile, parse_profile, profile_data
from wavilex.core.rig.jobfile import Job as CoreJob
from wavilex.core.rig.jobfile import job_data, parse_job
from wavilex.core.tell.handover import handover
from wavilex.library import starter_profiles
from wavilex.server.accounts.roles import editor
from wavilex.server.bench.selectors import lag_rows, session_rows
from wavilex.server.config import limits
from wavilex.server.jobs import services
from wavilex.server.jobs.api import READ, WRITE, view
from wavilex.server.jobs.cache import remembered, rig_of
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.jobs.shapes import ProfileOut, ViewOut
from wavilex.server.jobs.shapes_handover import HandoverOut
from wavilex.server.jobs.steps import tick_rows
from wavilex.server.schemas import ProblemOut

router = Router()


def profile_out(profile: Profile) -> dict[str, Any]:
    return {
        "id": profile.id, "name": profile.name, "role": profile.role, "kind": profile.kind,
        "summary": profile.summary, "inputs": len(profile.inputs()), "outputs": len(profile.outputs()),
        "data": profile_data(profile),
    }  # fmt: skip


@router.get("/library", operation_id="library", response={200: list[ProfileOut], 401: ProblemOut})
def library(request: HttpRequest) -> list[dict[str, Any]]:
    """The starter library."""
    return [profile_out(p) for p in starter_profiles().values()]


class ProfileText(Schema):
    text: str = Field(max_length=200_000)


@router.post("/library/read", operation_id="readProfile", response={200: ProfileOut, **WRITE})
def read_profile(request: HttpRequest, payload: ProfileText) -> dict[str, Any]:
    """Check a profile in YAML; answers what it says, or the line and reason of the first fault. Stores nothing."""
    return profile_out(parse_profile(payload.text))


@router.get("/jobs/{job_uid}/handover", operation_id="handover", response={200: HandoverOut, **READ})
def read_handover(request: HttpRequest, job_uid: str) -> dict[str, Any]:
    """The hand-over page's content, from the plan and the readings."""
    job = job_by_uid(job_uid)
    body = remembered(job, "handover", lambda: handover(rig_of(job)))
    runs = [{**r, "with_": r["with"]} for r in body["runs"]]
    return {**body, "runs": runs, "lag": lag_rows(job), "made_at": timezone.now().isoformat()}


@router.get("/jobs/{job_uid}/file", operation_id="exportJob", response={200: dict[str, Any], **READ})
def export_job(request: HttpRequest, job_uid: str) -> HttpResponse:
    """The whole job as one versioned JSON file."""
    job = job_by_uid(job_uid)
    core = CoreJob(job.uid, job.title, job.time_zone, rig_of(job), session_rows(job), tick_rows(job))
    text = json.dumps(job_data(core), ensure_ascii=False, indent=2)
    response = HttpResponse(text, content_type="application/json")
    name = "".join(c if c.isascii() and c.isalnum() else "-" for c in job.title.lower()).strip("-") or "job"
    response["Content-Disposition"] = f'attachment; filename="{name}.wavilex.json"'
    return response


class JobText(Schema):
    text: str = Field(max_length=limits.BODY_BYTES)


@router.post("/import", auth=editor, operation_id="importJob", response={201: ViewOut, **WRITE})
def import_job(request: HttpRequest, payload: JobText) -> HttpResponse:
    """Read a job file as a new job: all of it or nothing."""
    return view(services.import_job(job=parse_job(payload.text)), status=201)
