"""Light: a screen's sheet, notes kept and dropped, a meter watched, CSV both ways, transfer functions."""

from __future__ import annotations

from typing import Annotated

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from ninja import Field, Router, Schema
from typing_extensions import TypedDict

from wavilex.core import bounds
from wavilex.core.light.label import label_of
from wavilex.core.light.readings import USUAL_WINDOW
from wavilex.core.light.scales import Document, scale_data
from wavilex.core.light.shapes import ScaleOut, ScreenLightOut
from wavilex.core.rig.light_notes import ALL_SIGNAL
from wavilex.core.rig.ops import LightKind, LightMethod
from wavilex.core.tell.light import light_data, screens_of
from wavilex.server.accounts.roles import editor
from wavilex.server.config import limits
from wavilex.server.jobs import models
from wavilex.server.jobs.api import READ, WRITE
from wavilex.server.jobs.cache import ANSWER_BYTES, layer_of, remembered, rig_of
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.light import services, watch
from wavilex.server.light.shapes import LightAnswer, LightMoment
from wavilex.server.problems import ProblemError
from wavilex.server.schemas import When

router = Router()
Text = Annotated[str, Field(max_length=bounds.OBSERVED_LETTERS)]
NoteUid = Annotated[str, Field(min_length=8, max_length=30, pattern=r"^[A-Za-z0-9-]+$")]


@router.get("/jobs/{job_uid}/light", operation_id="light", response={200: LightAnswer, **READ})
def read_light(request: HttpRequest, job_uid: str, screen: Annotated[str, Field(max_length=40)] = "") -> LightAnswer:
    """A screen's light: what the room asks, what to set, HDR end to end. screen "": the first that a run reaches."""
    return _light(job_by_uid(job_uid), screen)


def _light(job: models.Job, screen: str) -> LightAnswer:
    rig = rig_of(job)
    known = screens_of(rig)
    if screen and screen not in {d.uid for d in known}:
        raise ProblemError(404, "no_such_screen", "There is no such screen in this job.", screen[:40])
    uid = screen or (known[0].uid if known else "")
    told: ScreenLightOut | None = (
        remembered(job, ("light", uid), lambda: light_data(layer_of(job, "plan"), uid), ANSWER_BYTES) if uid else None
    )
    return {"mark": job.mark, "meters": list(watch.light_meters()), "screen": told}


class NotedIn(Schema):
    """figures: whole numbers with their unit in the name, as formats/job.md has them; what is left out is filled in."""

    kind: LightKind
    device: Annotated[str, Field(min_length=1, max_length=40)]
    scope: Text = ""
    value: Text = ""
    figures: dict[Annotated[str, Field(max_length=24)], int] = Field(default_factory=dict, max_length=12)
    method: LightMethod = "typed"
    text: Text = ""
    meter: Annotated[str, Field(max_length=40)] = ""
    ref: Annotated[str, Field(max_length=80)] = ""
    screen: Annotated[str, Field(max_length=40)] = ""
    warmth: Annotated[str, Field(max_length=40)] = ""


class NotesIn(Schema):
    """uid makes it safe to send twice."""

    uid: NoteUid
    notes: list[NotedIn] = Field(min_length=1, max_length=60)
    said_at: When


@router.post("/jobs/{job_uid}/light", auth=editor, operation_id="noteLight", response={200: LightAnswer, **WRITE})
def note_light(
    request: HttpRequest, job_uid: str, payload: NotesIn, screen: Annotated[str, Field(max_length=40)] = ""
) -> LightAnswer:
    """Keep what was measured or seen of light. Sent twice, kept once."""
    if any(n.method == "meter" and not n.meter for n in payload.notes):
        raise ProblemError(
            422, "no_meter", "A reading by meter names the meter; a figure read off one is typed.", "meter"
        )
    with transaction.atomic():
        job = services.note(
            job_uid=job_uid, uid=payload.uid, said_at=payload.said_at, actor=request.user,
            noted=[services.Noted(**n.model_dump()) for n in payload.notes],
        )  # fmt: skip
        return _light(job, screen)


class DropIn(Schema):
    """uid makes it safe to send twice."""

    uid: Annotated[str, Field(min_length=8, max_length=64, pattern=r"^[A-Za-z0-9-]+$")]
    note: Annotated[str, Field(min_length=1, max_length=40)]


@router.post("/jobs/{job_uid}/light/drop", auth=editor, operation_id="dropLight", response={200: LightAnswer, **WRITE})
def drop_light(
    request: HttpRequest, job_uid: str, payload: DropIn, screen: Annotated[str, Field(max_length=40)] = ""
) -> LightAnswer:
    """Take a light note back; undo brings it again."""
    with transaction.atomic():
        job = services.drop(job_uid=job_uid, note_uid=payload.note, actor=request.user, uid=payload.uid)
        return _light(job, screen)


class BeforeMeter(Schema):
    """What stands before the meter: told it, so that its samples are of one thing."""

    meter: Annotated[str, Field(max_length=40)]
    device: Annotated[str, Field(min_length=1, max_length=40)]
    scope: Text = ""
    value: Text = ""
    window_percent: Annotated[int, Field(ge=1, le=100)] = USUAL_WINDOW
    signal_e4: Annotated[int, Field(ge=0, le=ALL_SIGNAL)] = ALL_SIGNAL
    warmth: Annotated[str, Field(max_length=40, pattern=r"^[a-z0-9_-]*$")] = ""


@router.post("/jobs/{job_uid}/light/look", auth=editor, operation_id="lookAtLight",
             response={200: LightMoment, **WRITE})  # fmt: skip
def look(request: HttpRequest, job_uid: str, payload: BeforeMeter) -> LightMoment:
    """What a light meter sees now; it is looked through from the first call, and let go when nobody calls any more."""
    p = payload
    screen = services.device_of(rig_of(job_by_uid(job_uid)), p.device)
    services.spot_at(p.scope)
    label = label_of(screen, p.scope, p.value, p.window_percent, p.signal_e4, p.warmth)
    now = watch.look(p.meter, label)
    seen = now.now
    return {
        "meter": now.meter, "state": now.state, "message": now.message,
        "light": None if seen is None else seen.light_ucd_m2 / 1e6,
        "error_percent": None if seen is None else seen.error_e4 / 100,
        "x": seen.xy_e5[0] / 1e5 if seen and seen.xy_e5 else None,
        "y": seen.xy_e5[1] / 1e5 if seen and seen.xy_e5 else None,
        "settled": seen is not None and seen.settled, "ref": seen.ref if seen else "",
    }  # fmt: skip


class LetGone(TypedDict):
    let_go: str


@router.post("/light-meters/{name}/let-go", auth=editor, operation_id="letLightGo", response={200: LetGone, **WRITE})
def let_go(request: HttpRequest, name: str) -> LetGone:
    """Stop looking: another program may have the meter."""
    watch.let_go(name)
    return {"let_go": name}


@router.get("/jobs/{job_uid}/light.csv", operation_id="exportLight", response={200: str, **READ})
def export(request: HttpRequest, job_uid: str) -> HttpResponse:
    """Every reading of light as CSV."""
    response = HttpResponse(services.csv_text(rig_of(job_by_uid(job_uid))), content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = 'attachment; filename="light.csv"'
    return response


class LightTable(Schema):
    """uid makes it safe to send twice."""

    uid: NoteUid
    text: str = Field(max_length=limits.FILE_BYTES)
    said_at: When


@router.post("/jobs/{job_uid}/light.csv", auth=editor, operation_id="importLight",
             response={200: LightAnswer, **WRITE})  # fmt: skip
def take_table(request: HttpRequest, job_uid: str, payload: LightTable) -> LightAnswer:
    """Readings of a CSV text: all of them, or none and the line that is wrong."""
    with transaction.atomic():
        rig = rig_of(job_by_uid(job_uid))
        noted = services.read_csv(rig, payload.text)
        job = services.note(job_uid=job_uid, uid=payload.uid, noted=noted, said_at=payload.said_at, actor=request.user)
        return _light(job, noted[0].device)


@router.get("/light/scale", operation_id="lightScale", response={200: ScaleOut, **READ})
def scale(
    request: HttpRequest, document: Document = "pq", bits: Annotated[int, Field(ge=8, le=12)] = 10,
    white: Annotated[float, Field(gt=0, le=20_000, allow_inf_nan=False)] = 100,
    black: Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)] = 0,
) -> ScaleOut:  # fmt: skip
    """A transfer function by the document: code, percent of signal, cd/m². white, black: the screen's (not of PQ)."""
    if black >= white:
        raise ProblemError(422, "black_over_white", "Black is darker than white.", "black")
    return scale_data(document, bits, white, black)
