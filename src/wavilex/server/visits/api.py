"""Visits, what changed between two states, what an update needs, regular checks, the logbook."""

from __future__ import annotations

from typing import Annotated, Literal

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Field, Router, Schema

from wavilex.core.fields import VERSION_PATTERN
from wavilex.core.rig.ops import LayerName
from wavilex.core.visits.compare import as_text, compare
from wavilex.core.visits.shapes import RecheckOut, StatesCompared, UpdatesOut
from wavilex.core.visits.told import recheck_data, updates_data
from wavilex.server.accounts.roles import editor
from wavilex.server.config import limits
from wavilex.server.jobs.api import READ, WRITE
from wavilex.server.jobs.cache import rig_of, states_of
from wavilex.server.jobs.log import LogKind, LogOut, box_tag, find
from wavilex.server.jobs.models import Job
from wavilex.server.jobs.selectors import job_by_uid, seen_jobs
from wavilex.server.schemas import ProblemOut, When
from wavilex.server.shelf.selectors import after_updates_of
from wavilex.server.visits import services
from wavilex.server.visits.answers import Outcome, answer, keep_by_hand
from wavilex.server.visits.selectors import lag_by_firmware, visits_of
from wavilex.server.visits.shapes import VisitsOut
from wavilex.server.visits.states import NOW, named_state

router = Router()
Uid = Annotated[str, Field(min_length=8, max_length=40, pattern=r"^[A-Za-z0-9-]+$")]


@router.get("/jobs/{job_uid}/visits", operation_id="visits", response={200: VisitsOut, **READ})
def read_visits(request: HttpRequest, job_uid: str) -> VisitsOut:
    """A job's visits, when somebody is to look in again, and which states can be compared."""
    return visits_of(job_by_uid(job_uid))


class VisitIn(Schema):
    """uid makes it safe to send twice; planned_for null: no day yet."""

    uid: Uid
    title: str = Field(default="", max_length=120)
    who: str = Field(default="", max_length=120)
    note: str = Field(default="", max_length=4000)
    planned_for: When | None = None


@router.post("/jobs/{job_uid}/visits", auth=editor, operation_id="planVisit", response={200: VisitsOut, **WRITE})
def plan_visit(request: HttpRequest, job_uid: str, payload: VisitIn) -> VisitsOut:
    """A visit that is to come."""
    services.plan_visit(job_uid=job_uid, **payload.dict())
    return visits_of(job_by_uid(job_uid))


@router.put("/jobs/{job_uid}/visits/{visit_uid}", auth=editor, operation_id="editVisit",
            response={200: VisitsOut, **WRITE})  # fmt: skip
def edit_visit(request: HttpRequest, job_uid: str, visit_uid: str, payload: VisitIn) -> VisitsOut:
    """Who, when, what for."""
    services.edit_visit(job_uid=job_uid, **{**payload.dict(), "uid": visit_uid})
    return visits_of(job_by_uid(job_uid))


class VisitMove(Schema):
    state: Literal["planned", "open", "closed", "dropped"]


@router.post("/jobs/{job_uid}/visits/{visit_uid}/state", auth=editor, operation_id="moveVisit",
             response={200: VisitsOut, **WRITE})  # fmt: skip
def move_visit(request: HttpRequest, job_uid: str, visit_uid: str, payload: VisitMove) -> VisitsOut:
    """Begin a visit, close it, drop it; or take that back. Begun and closed, the job's state is kept."""
    services.move_visit(job_uid=job_uid, uid=visit_uid, state=payload.state)
    return visits_of(job_by_uid(job_uid))


class RegularIn(Schema):
    """every_days null: no regular checks."""

    every_days: int | None = Field(ge=1, le=limits.CHECK_DAYS)


@router.post("/jobs/{job_uid}/regular", auth=editor, operation_id="setRegular", response={200: VisitsOut, **WRITE})
def set_regular(request: HttpRequest, job_uid: str, payload: RegularIn) -> VisitsOut:
    """How often somebody looks in."""
    return visits_of(services.set_regular(job_uid=job_uid, days=payload.every_days))


@router.get("/jobs/{job_uid}/compare", operation_id="compareStates", response={200: StatesCompared, **READ})
def compare_states(
    request: HttpRequest, job_uid: str, a: str, b: str = NOW, layer: LayerName = "found"
) -> StatesCompared:
    """Two states held against each other: `now`, `VISIT/open`, `VISIT/close`, or `job/UID` of another job."""
    job = job_by_uid(job_uid)
    (one, first), (other, second) = named_state(job, a[:100]), named_state(job, b[:100])
    return compare(first, second, (one, other), layer)


@router.get("/jobs/{job_uid}/compare.txt", operation_id="compareStatesText", response={200: str, **READ})
def compare_text(request: HttpRequest, job_uid: str, a: str, b: str = NOW, layer: LayerName = "found") -> HttpResponse:
    """The same as lines of text."""
    return HttpResponse(as_text(compare_states(request, job_uid, a, b, layer)), "text/plain; charset=utf-8")


@router.get("/jobs/{job_uid}/updates", operation_id="updates", response={200: UpdatesOut, **READ})
def read_updates(request: HttpRequest, job_uid: str) -> UpdatesOut:
    """Boxes to be brought to another version, and those that were: what to look at, the most risk first."""
    job = job_by_uid(job_uid)
    rig = rig_of(job)
    return updates_data(rig, lag_by_firmware(job), states_of(job), after_updates_of(rig))


LineId = Annotated[int, Field(ge=0, le=2**62)]
Version = Annotated[str, Field(max_length=30, pattern=VERSION_PATTERN)]


@router.get("/jobs/{job_uid}/devices/{device_uid}/update", operation_id="updateOf", response={200: RecheckOut, **READ})
def update_of(request: HttpRequest, job_uid: str, device_uid: str, version: Version) -> RecheckOut:
    """What a box at a version needs: what is known of it, what rests on the one before, what to look at."""
    return _told(job_by_uid(job_uid), device_uid, version)


def _told(job: Job, device: str, version: str) -> RecheckOut:
    rig, lag = rig_of(job), lag_by_firmware(job).get(device, {})
    return recheck_data(rig, device, version, lag, states_of(job), after_updates_of(rig).get(device, ()))


class BackIn(Schema):
    """What a value came back to."""

    scope: str = Field(max_length=120)
    setting: str = Field(max_length=40)
    value: str = Field(max_length=40)


class LookIn(Schema):
    """What was seen at one look. uid makes it safe to send twice. back: of `came_back`, what and to which value."""

    uid: Uid
    version: Version
    key: str = Field(max_length=60)
    outcome: Outcome
    back: list[BackIn] = Field(default=[], max_length=60)
    said_at: When


@router.post("/jobs/{job_uid}/devices/{device_uid}/update", auth=editor, operation_id="lookedAfterUpdate",
             response={200: RecheckOut, **WRITE})  # fmt: skip
def looked(request: HttpRequest, job_uid: str, device_uid: str, payload: LookIn) -> RecheckOut:
    """Keep what a look of the list showed; the list that is left."""
    back = {(b.scope, b.setting): b.value for b in payload.back}
    with transaction.atomic():
        job = answer(
            job_uid=job_uid, uid=payload.uid, device=device_uid, version=payload.version, key=payload.key,
            outcome=payload.outcome, back=back, said_at=payload.said_at, actor=request.user,
        )  # fmt: skip
    return _told(job, device_uid, payload.version)


class KeptIn(Schema):
    """A value that the client set by his own hand; because "": it is his no longer."""

    uid: Uid
    scope: str = Field(default="", max_length=120)
    setting: str = Field(max_length=40)
    value: str = Field(default="", max_length=40)
    because: str = Field(default="", max_length=200)
    by: str = Field(default="", max_length=60)
    said_at: When


@router.post("/jobs/{job_uid}/devices/{device_uid}/kept", auth=editor, operation_id="keepByHand",
             response={200: UpdatesOut, **WRITE})  # fmt: skip
def kept_by_hand(request: HttpRequest, job_uid: str, device_uid: str, payload: KeptIn) -> UpdatesOut:
    """Note what the client set himself, and why: as found and as planned; no advice turns it."""
    keep_by_hand(
        job_uid=job_uid, uid=payload.uid, device=device_uid, scope=payload.scope, key=payload.setting,
        value=payload.value, because=payload.because, by=payload.by, said_at=payload.said_at, actor=request.user,
    )  # fmt: skip
    return read_updates(request, job_uid)


@router.get("/jobs/{job_uid}/log", operation_id="jobLog", response={200: LogOut, **READ})
def job_log(
    request: HttpRequest, job_uid: str, words: str = "", kinds: str = "", device: str = "",
    since: When | None = None, until: When | None = None, before: LineId | None = None,
) -> LogOut:  # fmt: skip
    """A job's logbook, the latest first. words: every one of them begins a word of the line; kinds: with commas."""
    return find(
        job=job_by_uid(job_uid), words=words[:200], kinds=_kinds(kinds), device=device[:40], since=since, until=until,
        before=before,
    )  # fmt: skip


@router.get("/log", operation_id="log", response={200: LogOut, 401: ProblemOut, 422: ProblemOut})
def whole_log(
    request: HttpRequest, words: str = "", kinds: str = "", profile: str = "", name: str = "",
    since: When | None = None, until: When | None = None, before: LineId | None = None,
) -> LogOut:  # fmt: skip
    """The logbook over all jobs one may see; of a type of box: its profile's id and its name."""
    box = box_tag(profile[:40], name[:90]) if profile else ""
    return find(words=words[:200], kinds=_kinds(kinds), box=box, since=since, until=until, before=before)


def _kinds(text: str) -> list[LogKind]:
    named = {k: k for k in LogKind.__args__}  # type: ignore[attr-defined]
    return [named[k] for k in text.split(",") if k in named]


@router.get("/visits.ics", operation_id="visitsCalendar", response={200: str, **READ})
def visits_calendar(request: HttpRequest, job_uid: str = "") -> HttpResponse:
    """Planned visits and regular checks as a calendar: of a job, or of all one may see."""
    from wavilex.server.paper.visit import Entry, calendar  # icalendar is asked for here only

    jobs = [job_by_uid(job_uid)] if job_uid else list(seen_jobs().filter(archived=False))
    entries = []
    for job in jobs:
        planned = job.visits.filter(state="planned", planned_for__isnull=False)
        entries += [
            Entry(f"{job.uid}-{v.uid}", f"{job.title}: {v.title or 'visit'}", v.planned_for, text=v.note)
            for v in planned if v.planned_for is not None
        ]  # fmt: skip
        if job.due is not None:
            entries.append(Entry(f"{job.uid}-check", f"{job.title}: look in", job.due, every_days=job.check_days))
    response = HttpResponse(calendar(entries, timezone.now()), content_type="text/calendar; charset=utf-8")
    response["Content-Disposition"] = 'attachment; filename="visits.ics"'
    return response
