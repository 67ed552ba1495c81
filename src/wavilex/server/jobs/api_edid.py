"""EDIDs over the API: read one, hold it against an input of a job."""

from __future__ import annotations

import contextlib
from typing import Any

from django.conf import settings
from django.http import HttpRequest
from ninja import Field, Router, Schema

from wavilex.core.edid.answers import answer
from wavilex.core.edid.decode import decode
from wavilex.core.edid.report import edid_data
from wavilex.core.edid.text import bytes_of
from wavilex.core.errors import WavilexError
from wavilex.core.gear.profile_of_edid import profile_of
from wavilex.core.gear.shapes import ProfileOut
from wavilex.core.rig.shapes import Taught
from wavilex.core.rig.teach import teach
from wavilex.instruments.edid_reader import DrmReader, EdidReader, SimulatedReader
from wavilex.library.simulated_screens import simulated_edids
from wavilex.server.jobs.api import READ, WRITE
from wavilex.server.jobs.api_library import profile_out
from wavilex.server.jobs.cache import rig_of
from wavilex.server.jobs.selectors import job_by_uid

router = Router()


class EdidText(Schema):
    """Hex digits in any layout."""

    text: str = Field(max_length=200_000)


@router.post("/edid/read", operation_id="readEdid", response={200: dict[str, Any], **WRITE})
def read_edid(request: HttpRequest, payload: EdidText) -> dict[str, Any]:
    """What an EDID says, as `wavilex edid decode --json` answers it. Stores nothing."""
    return edid_data(decode(bytes_of(payload.text.encode("ascii", "replace"))))


@router.post("/edid/profile", operation_id="profileOfEdid", response={200: ProfileOut, **WRITE})
def profile_of_edid(request: HttpRequest, payload: EdidText) -> ProfileOut:
    """A screen's profile made from its EDID, to be added to a job. Stores nothing."""
    return profile_out(profile_of(decode(bytes_of(payload.text.encode("ascii", "replace")))))


class ConnectorOut(Schema):
    """`name` of the screen there is empty when its EDID cannot be read."""

    connector: str
    connected: bool | None
    readable: bool
    name: str


class ConnectorsOut(Schema):
    simulated: bool
    connectors: list[ConnectorOut]


def _reader() -> EdidReader:
    if settings.EDID_READER == "simulated":
        return SimulatedReader(simulated_edids())
    return DrmReader()


@router.get("/edid/connectors", operation_id="edidConnectors", response={200: ConnectorsOut, **READ})
def connectors(request: HttpRequest) -> dict[str, Any]:
    """The connectors of the PC the server runs on, and which screens are plugged in."""
    reader = _reader()
    rows = []
    for c in reader.connectors():
        name = ""
        if c.readable:
            with contextlib.suppress(WavilexError):
                name = answer(decode(reader.read(c.name))).name or "a screen without a name"
        rows.append({"connector": c.name, "connected": c.connected, "readable": c.readable, "name": name})
    return {"simulated": reader.simulated, "connectors": rows}


@router.get("/edid/connectors/{connector}", operation_id="readConnector", response={200: EdidText, **READ})
def read_connector(request: HttpRequest, connector: str) -> dict[str, Any]:
    """The EDID at a connector, as hex text."""
    return {"text": _reader().read(connector).hex(" ")}


@router.post("/jobs/{job_uid}/devices/{device_uid}/inputs/{port}/edid", operation_id="teachInput",
             response={200: Taught, **WRITE})  # fmt: skip
def teach_input(request: HttpRequest, job_uid: str, device_uid: str, port: str, payload: EdidText) -> Taught:
    """Hold an EDID against an input: what it would correct. Nothing is written."""
    edid = decode(bytes_of(payload.text.encode("ascii", "replace")))
    return teach(rig_of(job_by_uid(job_uid)), device_uid, port, edid)
