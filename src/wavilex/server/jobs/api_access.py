"""Who sees a job."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Field, Router, Schema

from wavilex.server.accounts.roles import editor
from wavilex.server.jobs import access
from wavilex.server.jobs.api import READ, WRITE
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.jobs.shapes import AccessOut

router = Router()


@router.get("/jobs/{job_uid}/access", operation_id="readAccess", response={200: AccessOut, **READ})
def read_access(request: HttpRequest, job_uid: str) -> AccessOut:
    """Who sees a job: every account, or those named."""
    return access.access_of(job_by_uid(job_uid))


class AccessIn(Schema):
    """kept: only the accounts named, and whoever asks this, see the job; else every account does."""

    kept: bool
    names: list[str] = Field(default=[], max_length=200)


@router.post("/jobs/{job_uid}/access", auth=editor, operation_id="setAccess", response={200: AccessOut, **WRITE})
def set_access(request: HttpRequest, job_uid: str, payload: AccessIn) -> AccessOut:
    """Keep a job to named accounts, or show it to all."""
    return access.set_access(job_uid=job_uid, kept=payload.kept, names=payload.names, asker=request.user)
