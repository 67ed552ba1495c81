"""Games of practice: kept by account, apart from every job, shelf and what was learned."""

from __future__ import annotations

import uuid
from functools import lru_cache

from django.db import transaction

from wavilex.core.chain.paths import Layer
from wavilex.core.errors import WavilexError
from wavilex.core.fault.practice import MOST_MOVES, PracticeError, Puzzle, play, puzzle_of, read_case
from wavilex.core.fault.practice_told import PuzzleOut, puzzle_data
from wavilex.core.fault.trials import Rigged, random_rig, templates
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig
from wavilex.library.pierhead import demo_changes
from wavilex.server.faults.models import Game
from wavilex.server.jobs.cache import memory, rig_of
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.problems import ProblemError

MOST_GAMES = 500  # kept of an account; older ones go
_PUZZLE_BYTES = 900_000


@lru_cache(maxsize=1)
def _demo() -> Rig:
    return apply(Rig(title="Pierhead"), demo_changes())[0]


def rigged_of(name: str) -> tuple[Rigged, str]:
    """A rig by its name in a case, and a mark of its content. Raises PracticeError where there is none."""
    kind, _, rest = name.partition("/")
    if kind == "demo" and rest in _demo().runs:
        return Rigged(name, _demo(), rest), "demo"
    if kind == "template":
        found = next((t for t in templates() if t.name == name), None)
        if found is not None:
            return found, "template"
    if kind == "random" and rest.isdecimal() and len(rest) <= 9:
        made = random_rig(int(rest))
        if made is not None:
            return made, "random"
    if kind == "job":
        uid, _, run = rest.partition("/")
        job = job_by_uid(uid)
        if run in rig_of(job).runs:
            return Rigged(name, rig_of(job), run), job.mark
    known = "demo/<run>, template/<set-up>, random/<number>, job/<job>/<run>"
    raise PracticeError(f"there is no rig {name[:60]!r} to practise on; {known}")


def puzzle_for(text: str) -> Puzzle:
    """The puzzle of a case, remembered. Raises ProblemError saying what is wrong with it."""
    try:
        case = read_case(text)
        rigged, mark = rigged_of(case.rig)
        key = ("puzzle", case.text, mark)
        kept: Puzzle | None = memory.get(key)
        if kept is None:
            kept = memory.put(key, puzzle_of(rigged, case.level, case.seed), _PUZZLE_BYTES)
    except PracticeError as error:
        raise ProblemError(422, "no_such_case", str(error), "case") from None
    return kept


def runs_to_practise(job_uid: str) -> list[tuple[str, str]]:
    """The joined runs of a job as names of rigs, with their labels."""
    rig = rig_of(job_by_uid(job_uid))
    layer = Layer(rig, "found")
    return [(f"job/{job_uid}/{r.uid}", r.label) for r in rig.runs.values() if layer.paths(r)]


@transaction.atomic
def begin(*, account: int | None, case: str) -> Game:
    """A new game of a case; the oldest of very many go."""
    puzzle_for(case)
    game = Game.objects.create(uid=uuid.uuid4().hex[:16], account_id=account or 0, case=read_case(case).text)
    old = Game.objects.filter(account_id=account).order_by("-id").values_list("pk", flat=True)[MOST_GAMES:]
    Game.objects.filter(pk__in=list(old)).delete()
    return game


def game_of(account: int | None, uid: str) -> Game:
    """An account’s own game. Raises ProblemError 404."""
    game = Game.objects.filter(account_id=account, uid=uid).first()
    if game is None:
        raise ProblemError(404, "no_such_game", "There is no such game of yours.", uid[:40])
    return game


@transaction.atomic
def move(*, account: int | None, uid: str, number: int, key: str) -> Game:
    """One more move; number: which it is, so that sent twice it is made once. Raises ProblemError."""
    game = Game.objects.select_for_update().get(pk=game_of(account, uid).pk)
    if number < len(game.moves):
        return game
    if number > len(game.moves) or len(game.moves) >= MOST_MOVES or game.points is not None:
        raise ProblemError(409, "not_the_next_move", "The game has gone on, or is over: look again.", "number")
    puzzle = puzzle_for(game.case)
    try:
        played = play(puzzle, [*game.moves, key])
    except WavilexError as error:
        raise ProblemError(422, "no_such_move", str(error), "key") from None
    game.moves = [*game.moves, key]
    game.points = played.points if played.ended else None
    game.save(update_fields=["moves", "points"])
    return game


def told(game: Game) -> PuzzleOut:
    """A game as it stands. Raises ProblemError where its rig has gone since."""
    puzzle = puzzle_for(game.case)
    try:
        played = play(puzzle, game.moves)
    except WavilexError:
        raise ProblemError(409, "another_rig", "The rig of this game has changed since it was begun.", "case") from None
    return puzzle_data(puzzle, played)
