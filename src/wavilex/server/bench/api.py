"""The bench: sessions, readings by every method, the meter."""

from __future__ import annotations

from dataclasses import asdict
from datetime import UTC, datetime
from fractions import Fraction
from typing import Any, Literal

from django.db import transaction
from django.http import HttpRequest
from ninja import Field, Router, Schema, Status

from wavilex.core.lag.methods import Taken, camera, reference
from wavilex.core.lag.plan import Cell
from wavilex.core.lag.shapes import Position
from wavilex.server.accounts.roles import editor
from wavilex.server.bench import hub, services
from wavilex.server.bench.models import LagSession, Reading
from wavilex.server.bench.selectors import readings_after, report_of, session_by_uid
from wavilex.server.bench.shapes import LagSessionOut, MeterOut
from wavilex.server.bench.states import label_of, plan_of, require_set
from wavilex.server.bench.used import kept_costs
from wavilex.server.config import limits
from wavilex.server.jobs.cache import rig_of
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.jobs.sent import SentUid, once
from wavilex.server.schemas import ProblemOut

router = Router()
READ = {401: ProblemOut, 404: ProblemOut, 422: ProblemOut}
WRITE = {**READ, 400: ProblemOut, 403: ProblemOut, 409: ProblemOut, 413: ProblemOut}


def _reading(r: Reading) -> dict[str, Any]:
    return {
        "seq": r.seq, "condition": r.condition, "signal": r.signal, "input": r.input, "position": r.position,
        "method": r.method, "lag_ms": r.lag_us / 1000,
        "uncertainty_ms": None if r.uncertainty_us is None else r.uncertainty_us / 1000,
        "step_ms": None if r.step_ns is None else r.step_ns / 1_000_000,
        "taken_at": r.taken_at, "discard": r.discard, "note": r.note,
        "evidence": r.evidence,
    }  # fmt: skip


def session_data(session: LagSession, after: int = 0) -> dict[str, Any]:
    """A session as the page shows it."""
    session.refresh_from_db()
    device = rig_of(session.job).devices.get(session.device)
    return {
        "uid": session.uid, "device": session.device, "device_label": device.label if device else session.device,
        "warned_at": session.warned_at, "conditions": session.conditions,
        "inputs": [p.label for p in device.profile.inputs()] if device else [],
        "bound_ms": session.bound_ms, "equivalence_ms": session.equivalence_us / 1000, "strobes": session.strobes,
        "total": session.readings.count(), "plan": plan_of(session),
        "readings": [_reading(r) for r in readings_after(session, after)],
        "report": report_of(session), "kept_costs": kept_costs(session),
        "meters": [asdict(hub.status(name)) for name in hub.meters()],
    }  # fmt: skip


class OpenSession(Schema):
    device: str = Field(min_length=1, max_length=40)


@router.post("/jobs/{job_uid}/lag", auth=editor, operation_id="openLag", response={200: LagSessionOut, **WRITE})
def open_session(request: HttpRequest, job_uid: str, payload: OpenSession) -> dict[str, Any]:
    """The lag session of a screen; made when there is none."""
    return session_data(services.open_session(job=job_by_uid(job_uid), device=payload.device))


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
    return session_data(session_by_uid(session_uid), after)


@router.post("/lag/{session_uid}/warning", auth=editor, operation_id="acceptWarning",
             response={200: LagSessionOut, **WRITE})  # fmt: skip
def accept_warning(request: HttpRequest, session_uid: str) -> dict[str, Any]:
    """The flashing-picture warning was read and accepted."""
    return session_data(services.accept_warning(session=session_by_uid(session_uid)))


class NewCondition(Schema):
    condition: str = Field(min_length=1, max_length=60, pattern=r"^\S(.*\S)?$")


@router.post("/lag/{session_uid}/conditions", auth=editor, operation_id="addCondition",
             response={200: LagSessionOut, **WRITE})  # fmt: skip
def add_condition(request: HttpRequest, session_uid: str, payload: NewCondition) -> dict[str, Any]:
    """Another screen mode to measure in."""
    return session_data(services.add_condition(session=session_by_uid(session_uid), condition=payload.condition))


class CellIn(Schema):
    """What readings are of: a screen mode, and where they matter signal, input and place on the glass."""

    condition: str = Field(min_length=1, max_length=60)
    signal: str = Field(default="", max_length=24)
    input: str = Field(default="", max_length=60)
    position: Position = ""

    def cell(self) -> Cell:
        return Cell(self.signal, self.input, self.condition, self.position)


class HandReading(CellIn):
    """A reading without the meter; `uid` makes it safe to send twice. One of: lag_ms (typed, or a guess),
    frames and camera_fps with how far that may be off (camera), or reference_ms, screen_ms and
    refresh_hz (two counters in one picture).
    """

    uid: SentUid
    method: Literal["typed", "guess", "camera", "reference"] = "typed"
    lag_ms: float | None = Field(default=None, gt=0, lt=60_000, strict=True)
    frames: int | None = Field(default=None, ge=1, le=100_000, strict=True)
    camera_fps: float | None = Field(default=None, gt=0, le=100_000)
    camera_fps_off: float = Field(default=0, ge=0, le=10_000)
    reference_ms: float | None = Field(default=None, ge=0, lt=100_000_000)
    screen_ms: float | None = Field(default=None, ge=0, lt=100_000_000)
    refresh_hz: float | None = Field(default=None, gt=0, le=2000)


def _taken(payload: HandReading) -> Taken:
    """The reading in µs. Raises LagError where the numbers its method needs are not there, or give no lag."""
    if payload.method == "camera":
        off = Fraction(str(payload.camera_fps_off))
        return camera(payload.frames or 0, Fraction(str(payload.camera_fps or 0)), off)
    if payload.method == "reference":
        return reference(
            Fraction(str(payload.reference_ms or 0)), Fraction(str(payload.screen_ms or 0)),
            Fraction(str(payload.refresh_hz or 0)),
        )  # fmt: skip
    if payload.lag_ms is None:
        raise services.no_number()
    return Taken(max(1, round(payload.lag_ms * 1000)), 0)


@router.post("/lag/{session_uid}/readings", auth=editor, operation_id="typeReading",
             response={201: LagSessionOut, **WRITE})  # fmt: skip
def type_reading(request: HttpRequest, session_uid: str, payload: HandReading) -> Status[dict[str, Any]]:
    """A reading typed by hand, counted off a film, or read off a picture of two counters; or a guess, marked so."""
    session = session_by_uid(session_uid)
    taken = _taken(payload)
    with transaction.atomic():
        once(payload.uid, lambda: services.keep_reading(
            session=session, cell=payload.cell(), lag_us=taken.lag_us, method=payload.method,
            uncertainty_us=taken.uncertainty_us or None, step_ns=taken.step_ns, taken_at=datetime.now(UTC),
        ).seq)  # fmt: skip
    return Status(201, session_data(session))


class Discard(Schema):
    reason: str = Field(max_length=200)


@router.post("/lag/{session_uid}/readings/{seq}/discard", auth=editor, operation_id="discardReading",
             response={200: LagSessionOut, **WRITE})  # fmt: skip
def discard(request: HttpRequest, session_uid: str, seq: int, payload: Discard) -> dict[str, Any]:
    """A reading that shall not count, with the reason; an empty reason takes it back in."""
    session = session_by_uid(session_uid)
    services.discard_reading(session=session, seq=seq, reason=payload.reason)
    return session_data(session)


@router.delete("/lag/{session_uid}/readings", auth=editor, operation_id="removeDiscarded",
               response={200: LagSessionOut, **WRITE})  # fmt: skip
def remove_discarded(request: HttpRequest, session_uid: str) -> dict[str, Any]:
    """Remove for good what was discarded, or could not be placed: being discarded is the waiting bin."""
    session = session_by_uid(session_uid)
    services.remove_discarded(session=session)
    return session_data(session)


class Take(CellIn):
    """settle: wait until the picture is stable; readings until then are kept and do not count."""

    meter: str = Field(min_length=1, max_length=40)
    count: int = Field(ge=1, le=limits.READINGS_PER_TAKE, strict=True)
    settle: bool = False


@router.post("/lag/{session_uid}/take", auth=editor, operation_id="takeReadings",
             response={202: MeterOut, **WRITE})  # fmt: skip
def take(request: HttpRequest, session_uid: str, payload: Take) -> Status[dict[str, Any]]:
    """Let a meter take readings; they appear in the session as they arrive."""
    session = session_by_uid(session_uid)
    services.require_warning(session)
    cell = payload.cell()
    require_set(session, cell)
    if cell.condition not in session.conditions:
        services.add_condition(session=session, condition=cell.condition)
    job = hub.Taking(session, cell, payload.count, label_of(session, cell), payload.settle)
    return Status(202, asdict(hub.start(payload.meter, job)))


class Meter(Schema):
    meter: str = Field(min_length=1, max_length=40)


@router.post("/meters/stop", auth=editor, operation_id="stopMeter", response={200: MeterOut, **WRITE})
def stop(request: HttpRequest, payload: Meter) -> dict[str, Any]:
    """Stop a meter; readings taken are kept."""
    return asdict(hub.stop(payload.meter))


class MeterAbout(Schema):
    """Who it says it is, and the pictures it can send; empty where it is at work, or not there."""

    name: str
    signals: list[str]


@router.get("/meters/{meter}/about", operation_id="meterAbout", response={200: MeterAbout, **READ})
def about(request: HttpRequest, meter: str) -> dict[str, Any]:
    """Ask a meter who it is and what it can send."""
    name, signals = hub.about(meter)
    return {"name": name, "signals": signals}
