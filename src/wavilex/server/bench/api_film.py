"""Films: sent part by part, read, measured, kept as readings."""

from __future__ import annotations

from typing import Any, Literal

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from ninja import Field, Router, Schema, Status

from wavilex.core.film.patches import Rect
from wavilex.core.film.shapes import FilmTold
from wavilex.core.film.told import Marks, film_told
from wavilex.server.accounts.roles import editor
from wavilex.server.bench import films, services, strips
from wavilex.server.bench.api import READ, WRITE, CellIn, session_data
from wavilex.server.bench.selectors import session_by_uid
from wavilex.server.bench.shapes import LagSessionOut
from wavilex.server.bench.used import use_offset
from wavilex.server.jobs.sent import SentUid, once
from wavilex.server.problems import ProblemError
from wavilex.server.schemas import ProblemOut

router = Router()
FILM = {**WRITE, 507: ProblemOut}


class NewFilm(Schema):
    name: str = Field(min_length=1, max_length=200)
    bytes: int = Field(ge=1, strict=True)


class FilmState(Schema):
    """state: arriving (received of bytes), reading (done of about `of` frames), ready, failed (message says why).
    stills: frames there is a picture of; cut: it was longer than is read.
    """

    uid: str
    name: str
    bytes: int
    received: int
    state: Literal["arriving", "reading", "ready", "failed"]
    done: int
    of: int
    message: str
    stills: list[int]
    width: int
    height: int
    frames: int
    rotation: int
    sound: bool
    cut: bool


@router.post("/lag/{session_uid}/films", auth=editor, operation_id="beginFilm", response={201: FilmState, **FILM})
def begin(request: HttpRequest, session_uid: str, payload: NewFilm) -> Status[dict[str, Any]]:
    """A film that will be sent part by part; an earlier one of the session goes."""
    uid = films.begin(session=session_by_uid(session_uid), name=payload.name, size=payload.bytes)
    return Status(201, films.status(uid))


_PART = {"requestBody": {"required": True, "content": {
    "application/octet-stream": {"schema": {"type": "string", "format": "binary"}}
}}}  # fmt: skip


@router.put("/films/{film_uid}/part", auth=editor, operation_id="sendFilmPart", openapi_extra=_PART,
            response={200: FilmState, **WRITE})  # fmt: skip
def part(request: HttpRequest, film_uid: str, offset: int = 0) -> dict[str, Any]:
    """The bytes from an offset on, 8 MB at most; sent again, taken once. With the last of them reading begins."""
    if offset < 0:
        raise ProblemError(422, "film_part", "A part begins at byte 0 or later.", "offset")
    films.add_part(uid=film_uid, offset=offset, data=request.body)
    return films.status(film_uid)


@router.get("/films/{film_uid}", operation_id="readFilm", response={200: FilmState, **READ})
def read(request: HttpRequest, film_uid: str) -> dict[str, Any]:
    """How far a film is."""
    return films.status(film_uid)


@router.delete("/films/{film_uid}", auth=editor, operation_id="dropFilm", response={204: None, **WRITE})
def drop(request: HttpRequest, film_uid: str) -> Status[None]:
    """The film goes, also while it is being read; readings kept of it stay."""
    films.own(film_uid)
    films.remove(film_uid)
    return Status(204, None)


class RectIn(Schema):
    """Each 0 to 1 of the picture's width or height."""

    x: float = Field(ge=0, le=1)
    y: float = Field(ge=0, le=1)
    width: float = Field(gt=0, le=1)
    height: float = Field(gt=0, le=1)

    def rect(self) -> Rect:
        return Rect(self.x, self.y, min(self.width, 1 - self.x), min(self.height, 1 - self.y))


class Moved(Schema):
    """A moment that a hand moved, in frames of the film."""

    press: int = Field(ge=0)
    end: Literal["start", "answer"]
    frames: int = Field(ge=-1000, le=1000)


Way = Literal["rise", "fall", "both"]


class MarksIn(Schema):
    """taken_fps: what the camera took, null: as stored. start, answer: patches, null: as proposed; starts, answers: do
    they light up, darken, or either. readout_ms: from the first row to the last, null: not known. metres: from speaker
    to microphone. strip: the counter's coded strip; counter_hz: the rate its page says. second: another screen that
    answers too. dropped: presses that shall not count; moved: moments that a hand moved.
    """

    taken_fps: float | None = Field(default=None, gt=0, le=10_000)
    start: RectIn | None = None
    answer: RectIn | None = None
    starts: Way = "rise"
    answers: Way = "rise"
    readout_ms: float | None = Field(default=None, ge=0, le=100)
    metres: float = Field(default=0, ge=0, le=100)
    strip: RectIn | None = None
    counter_hz: float | None = Field(default=None, gt=0, le=2000)
    second: RectIn | None = None
    dropped: list[int] = Field(default=[], max_length=2000)
    moved: list[Moved] = Field(default=[], max_length=400)

    def marks(self) -> Marks:
        start, answer, strip, second = (
            r.rect() if r else None for r in (self.start, self.answer, self.strip, self.second)
        )
        return Marks(
            self.taken_fps, start, answer, self.readout_ms, self.metres, strip, self.counter_hz, second,
            (self.starts, self.answers), tuple((m.press, m.end, m.frames) for m in self.moved),
            frozenset(self.dropped),
        )  # fmt: skip


def _told(film_uid: str, marks: MarksIn) -> FilmTold:
    film = films.load(film_uid)
    return film_told(film, films.proposed(film_uid, film), marks.marks())


@router.post("/films/{film_uid}/measure", auth=editor, operation_id="measureFilm",
             response={200: FilmTold, **WRITE})  # fmt: skip
def measure(request: HttpRequest, film_uid: str, payload: MarksIn) -> FilmTold:
    """Every press of a film under these marks; nothing is kept."""
    return _told(film_uid, payload)


class KeepFilm(CellIn):
    """A film as it was measured under these marks; `uid` makes it safe to send twice."""

    uid: SentUid
    marks: MarksIn


@router.post("/films/{film_uid}/keep", auth=editor, operation_id="keepFilm", response={201: LagSessionOut, **WRITE})
def keep(request: HttpRequest, film_uid: str, payload: KeepFilm) -> Status[dict[str, Any]]:
    """The presses that nobody dropped become readings of a cell, each with its own interval; moved ones with a frame
    more. A strip of frames about each of them stays with the job, as a photograph.
    """
    session, state = films.own(film_uid)
    told = _told(film_uid, payload.marks)
    services.require_warning(session)
    with transaction.atomic():
        once(payload.uid, lambda: services.keep_film(
            session=session, cell=payload.cell(), told=told, film=state["name"],
            evidence=strips.evidence(films.load(film_uid).stack, told),
        ))  # fmt: skip
    return Status(201, session_data(session))


class UseSound(Schema):
    """condition: the screen mode the film was taken in."""

    run: str = Field(min_length=1, max_length=40)
    condition: str = Field(default="", max_length=60)
    marks: MarksIn


@router.post("/films/{film_uid}/sound", auth=editor, operation_id="useFilmSound",
             response={200: LagSessionOut, **WRITE})  # fmt: skip
def use_sound(request: HttpRequest, film_uid: str, payload: UseSound) -> dict[str, Any]:
    """The film's sound against its picture goes into the run's sound sums: how late what plays it does."""
    session, _ = films.own(film_uid)
    use_offset(
        session=session, run_uid=payload.run, condition=payload.condition, told=_told(film_uid, payload.marks),
        actor=request.user,
    )  # fmt: skip
    return session_data(session)


@router.get("/films/{film_uid}/stills/{frame}", operation_id="filmStill", response={200: bytes, **READ})
def still(request: HttpRequest, film_uid: str, frame: int) -> HttpResponse:
    """A picture of the film to mark patches on."""
    return HttpResponse(films.still(film_uid, frame), "image/jpeg")


@router.get("/films/{film_uid}/strips/{frame}", operation_id="filmStrip", response={200: bytes, **READ})
def strip(request: HttpRequest, film_uid: str, frame: int) -> HttpResponse:
    """The frames about a moment side by side, small: four before it, itself, four after it."""
    stack = films.load(film_uid).stack
    if not 0 <= frame < len(stack):
        raise ProblemError(404, "no_such_frame", f"The film has {len(stack)} frames.", str(frame))
    return HttpResponse(strips.png(strips.about(stack, frame)), "image/png")
