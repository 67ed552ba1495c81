"""Practice: cases, games, moves. Of the account that plays; no job is read but to take its wiring."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Field, Router, Schema, Status
from typing_extensions import TypedDict

from wavilex.core.fault.practice_told import LevelOut, PuzzleOut, ShippedOut, levels_data, shipped_data
from wavilex.server.faults.models import Game
from wavilex.server.faults.playing import begin, game_of, move, runs_to_practise, told
from wavilex.server.jobs.api import READ, WRITE

router = Router()


class PlayedOut(TypedDict):
    """A game in a list. points: null while it is open."""

    uid: str
    case: str
    moves: int
    points: int | None
    at: str


class PracticeOut(TypedDict):
    """What there is to practise, and how far this account is. best: points by case."""

    levels: list[LevelOut]
    cases: list[ShippedOut]
    games: list[PlayedOut]
    best: dict[str, int]


class GameOut(PuzzleOut):
    """A game as it stands."""

    uid: str
    case: str
    title: str


def _game(game: Game) -> GameOut:
    title = next((c["title"] for c in shipped_data() if c["case"] == game.case), game.case)
    return {**told(game), "uid": game.uid, "case": game.case, "title": title}


@router.get("/practice", operation_id="practice", response={200: PracticeOut, **READ})
def practice(request: HttpRequest) -> PracticeOut:
    """Levels, the cases that ship, and the account’s own games."""
    rows = Game.objects.filter(account=request.user.pk)
    best: dict[str, int] = {}
    for case, points in rows.values_list("case", "points"):
        if points is not None:
            best[case] = max(best.get(case, 0), points)
    games: list[PlayedOut] = [
        {"uid": g.uid, "case": g.case, "moves": len(g.moves), "points": g.points, "at": g.at.isoformat()}
        for g in rows[:20]
    ]
    return {"levels": levels_data(), "cases": shipped_data(), "games": games, "best": best}


class RigToPractise(TypedDict):
    name: str
    label: str


@router.get("/practice/rigs/{job_uid}", operation_id="practiceRigs", response={200: list[RigToPractise], **READ})
def rigs(request: HttpRequest, job_uid: str) -> list[RigToPractise]:
    """The runs of a job of one’s own that can be practised on: its wiring is copied, nothing is written to it."""
    return [{"name": name, "label": label} for name, label in runs_to_practise(job_uid)]


class CaseIn(Schema):
    """A case by its text: rig, level, seed."""

    case: str = Field(min_length=3, max_length=120)


@router.post("/practice", operation_id="beginPractice", response={201: GameOut, **WRITE})
def begin_practice(request: HttpRequest, payload: CaseIn) -> Status[GameOut]:
    """Begin a case; anybody who is signed in may."""
    return Status(201, _game(begin(account=request.user.pk, case=payload.case)))


@router.get("/practice/games/{uid}", operation_id="practiceGame", response={200: GameOut, **READ})
def game(request: HttpRequest, uid: str) -> GameOut:
    """A game of one’s own."""
    return _game(game_of(request.user.pk, uid))


class MoveIn(Schema):
    """number: which move it is, from 0; key: a check, or `it is/` and the causes joined by +."""

    number: int = Field(ge=0, le=1000)
    key: str = Field(min_length=1, max_length=400)


@router.post("/practice/games/{uid}/moves", operation_id="practiceMove", response={200: GameOut, **WRITE})
def moved(request: HttpRequest, uid: str, payload: MoveIn) -> GameOut:
    """Make a move: read, look, try a cure, or say what it is."""
    return _game(move(account=request.user.pk, uid=uid, number=payload.number, key=payload.key))
