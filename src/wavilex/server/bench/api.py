"""The bench: sessions, readings as they arrive, the meter."""

from __future__ import annotations

from dataclasses import asdict
from datetime import UTC, datetime
from typing import Any

from django.http import HttpRequest
from ninja import Field, Router, Schema, Status

from wavilex.server.accounts.roles import editor
from wavilex.server.bench import hub, services
from wavilex.server.bench.models import LagSession, Reading
from wavilex.server.bench.selectors import readings_after, report_of, session_by_uid
from wavilex.server.config import limits
from wavilex.server.jobs.cache import rig_of
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.schemas import ProblemOut

router = Router()
READ = {401: ProblemOut, 404: ProblemOut, 422: ProblemOut}
WRITE = {**READ, 400: ProblemOut, 403: ProblemOut, 409: ProblemOut, 413: ProblemOut}


class ReadingOut(Schema):
    seq: int
    condition: str
    method: str
    lag_ms: float
    taken_at: datetime
    discard: str


class SummaryOut(Schema):
    """In ms; the interval is of the median at 95 %, null below six readings."""

    n: int
    median_ms: float
    mean_ms: float
    sd_ms: float | None
    low_ms: float
    high_ms: float
    ci_low_ms: float | None
    ci_high_ms: float | None


class ConditionOut(Schema):
    condition: str
    summary: SummaryOut | None
    verdict: str | None
    sentence: str


class LagDifference(Schema):
    from_: str
    to: str
    ms: float
    ci_low_ms: float | None
    ci_high_ms: float | None
    sentence: str
    note: str


class LagReport(Schema):
    bound_ms: int
    bound_source: str
    kind: str
    level_percent: int
    conditions: list[ConditionOut]
    difference: LagDifference | None


class MeterOut(Schema):
    meter: str
    state: str
    message: str
    session: str
    condition: str
    asked: int
    taken: int


class LagSessionOut(Schema):
    """`readings` are those after the asked number; `report` is over all of them."""

    uid: str
    device: str
    device_label: str
    warned_at: datetime | None
    conditions: list[str]
    readings: list[ReadingOut]
    report: LagReport
    meters: list[MeterOut]


def _reading(r: Reading) -> dict[str, Any]:
    return {
        "seq": r.seq, "condition": r.condition, "method": r.method, "lag_ms": r.lag_us / 1000,
        "taken_at": r.taken_at, "discard": r.discard,
    }  # fmt: skip


def _session(session: LagSession, after: int = 0) -> dict[str, Any]:
    device = rig_of(session.job).devices.get(session.device)
    report = report_of(session)
    if report["difference"]:
        report["difference"]["from_"] = report["difference"].pop("from")
    return {
        "uid": session.uid, "device": session.device, "device_label": device.label if device else session.device,
        "warned_at": session.warned_at, "conditions": session.conditions,
        "readings": [_reading(r) for r in readings_after(session, after)],
        "report": report,
        "meters": [asdict(hub.status(name)) for name in hub.meters()],
    }  # fmt: skip


class OpenSession(Schema):
    device: str = Field(min_length=1, max_length=40)


@router.post("/jobs/{job_uid}/lag", auth=editor, operation_id="openLag", response={200: LagSessionOut, **WRITE})
def open_session(request: HttpRequest, job_uid: str, payload: OpenSession) -> dict[str, Any]:
    """The lag session of a screen; made when there is none."""
    return _session(services.open_session(job=job_by_uid(job_uid), device=payload.device))


class SessionRow(Schema):
    uid: str
    device: str


@router.get("/jobs/{job_uid}/lag", operation_id="lagSessions", response={200: list[SessionRow], **READ})
def sessions(request: HttpRequest, job_uid: str) -> list[LagSession]:
    """The lag sessions of a job."""
    return list(job_by_uid(job_uid).lag_sessions.all())


@router.get("/lag/{session_uid}", operation_id="readLag", response={200: LagSessionOut, **READ})
def read_session(request: HttpRequest, session_uid: str, after: int = 0) -> dict[str, Any]:
    """A session with the readings after a number: polled a few times a second while a meter reads."""
    return _session(session_by_uid(session_uid), after)


@router.post("/lag/{session_uid}/warning", auth=editor, operation_id="acceptWarning",
             response={200: LagSessionOut, **WRITE})  # fmt: skip
def accept_warning(request: HttpRequest, session_uid: str) -> dict[str, Any]:
    """The flashing-picture warning was read and accepted."""
    return _session(services.accept_warning(session=session_by_uid(session_uid)))


class NewCondition(Schema):
    condition: str = Field(min_length=1, max_length=60, pattern=r"^\S(.*\S)?$")


@router.post("/lag/{session_uid}/conditions", auth=editor, operation_id="addCondition",
             response={200: LagSessionOut, **WRITE})  # fmt: skip
def add_condition(request: HttpRequest, session_uid: str, payload: NewCondition) -> dict[str, Any]:
    """Another screen mode to measure in."""
    return _session(services.add_condition(session=session_by_uid(session_uid), condition=payload.condition))


class TypedReading(Schema):
    condition: str = Field(min_length=1, max_length=60)
    lag_ms: float = Field(gt=0, lt=60_000, strict=True)


@router.post("/lag/{session_uid}/readings", auth=editor, operation_id="typeReading",
             response={201: LagSessionOut, **WRITE})  # fmt: skip
def type_reading(request: HttpRequest, session_uid: str, payload: TypedReading) -> Status[dict[str, Any]]:
    """A reading typed by hand."""
    session = session_by_uid(session_uid)
    lag_us = max(1, round(payload.lag_ms * 1000))
    services.keep_reading(session=session, condition=payload.condition, lag_us=lag_us, method="typed",
                          taken_at=datetime.now(UTC))  # fmt: skip
    return Status(201, _session(session))


class Discard(Schema):
    reason: str = Field(max_length=200)


@router.post("/lag/{session_uid}/readings/{seq}/discard", auth=editor, operation_id="discardReading",
             response={200: LagSessionOut, **WRITE})  # fmt: skip
def discard(request: HttpRequest, session_uid: str, seq: int, payload: Discard) -> dict[str, Any]:
    """A reading that shall not count, with the reason; an empty reason takes it back in."""
    session = session_by_uid(session_uid)
    services.discard_reading(session=session, seq=seq, reason=payload.reason)
    return _session(session)


class Take(Schema):
    meter: str = Field(min_length=1, max_length=40)
    condition: str = Field(min_length=1, max_length=60)
    count: int = Field(ge=1, le=limits.READINGS_PER_TAKE, strict=True)


@router.post("/lag/{session_uid}/take", auth=editor, operation_id="takeReadings",
             response={202: MeterOut, **WRITE})  # fmt: skip
def take(request: HttpRequest, session_uid: str, payload: Take) -> Status[dict[str, Any]]:
    """Let a meter take readings; they appear in the session as they arrive."""
    session = session_by_uid(session_uid)
    services.require_warning(session)
    device = rig_of(session.job).devices.get(session.device)
    kind = device.profile.kind if device else "television"
    if payload.condition not in session.conditions:
        services.add_condition(session=session, condition=payload.condition)
    return Status(202, asdict(hub.start(payload.meter, session, payload.condition, payload.count, kind)))


class Meter(Schema):
    meter: str = Field(min_length=1, max_length=40)


@router.post("/meters/stop", auth=editor, operation_id="stopMeter", response={200: MeterOut, **WRITE})
def stop(request: HttpRequest, payload: Meter) -> dict[str, Any]:
    """Stop a meter; readings taken are kept."""
    return asdict(hub.stop(payload.meter))
