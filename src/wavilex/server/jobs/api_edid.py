"""EDIDs over the API: read one, hold it against an input of a job."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from ninja import Field, Router, Schema

from wavilex.core.edid.answers import answers_data
from wavilex.core.edid.decode import decode
from wavilex.core.edid.text import bytes_of
from wavilex.core.edid.to_facts import teach
from wavilex.server.jobs.api import WRITE
from wavilex.server.jobs.cache import rig_of
from wavilex.server.jobs.selectors import job_by_uid

router = Router()


class EdidText(Schema):
    """Hex digits in any layout."""

    text: str = Field(max_length=200_000)


@router.post("/edid/read", operation_id="readEdid", response={200: dict[str, Any], **WRITE})
def read_edid(request: HttpRequest, payload: EdidText) -> dict[str, Any]:
    """What an EDID says, as `wavilex edid decode --json` answers it. Stores nothing."""
    return answers_data(decode(bytes_of(payload.text.encode("ascii", "replace"))))


class TaughtRow(Schema):
    field: str
    before: str
    after: str


class Taught(Schema):
    """What reading the EDID at the input would change; `ops` are the changes to send."""

    name: str
    findings: list[str]
    rows: list[TaughtRow]
    ops: list[dict[str, Any]]
    cannot_tell: list[str]


@router.post("/jobs/{job_uid}/devices/{device_uid}/inputs/{port}/edid", operation_id="teachInput",
             response={200: Taught, **WRITE})  # fmt: skip
def teach_input(request: HttpRequest, job_uid: str, device_uid: str, port: str, payload: EdidText) -> dict[str, Any]:
    """Hold an EDID against an input: what it would correct. Nothing is written."""
    edid = decode(bytes_of(payload.text.encode("ascii", "replace")))
    return teach(rig_of(job_by_uid(job_uid)), device_uid, port, edid)
