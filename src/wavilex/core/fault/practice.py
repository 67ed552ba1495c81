"""Practice: a rig with hidden faults that answers as they would make it, what it costs, and the debrief.

A case is its text: the same text is the same case everywhere. Levels follow the order of work.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from wavilex.core.draw import Draw
from wavilex.core.errors import WavilexError
from wavilex.core.fault.ask import Asked, ask
from wavilex.core.fault.case import Case
from wavilex.core.fault.checks import NEXT_LINE_SECONDS, Check, checks_of, seconds_of
from wavilex.core.fault.complaints import HALF
from wavilex.core.fault.evaluate import class_share, is_truth, pairs_of, search, worlds_of
from wavilex.core.fault.evidence import HELPED, Answer
from wavilex.core.fault.kinds import FaultKind
from wavilex.core.fault.rank import Bench, rank
from wavilex.core.fault.trials import Rigged, complaints_of, honest
from wavilex.core.fault.world import World
from wavilex.core.gear.own_faults import Complaint

Level = Literal["leads", "formats", "permissions", "modes", "refresh", "sound", "old", "two"]
_FLATTER = 0.25  # a rare fault is to be met too, or it is never learnt
WRONG_GUESS_SECONDS = 300  # a wrong mend takes its time and shows
MOST_MOVES = 60


class PracticeError(WavilexError):
    """A case or a move that is none; the message says what is."""


@dataclass(frozen=True, slots=True)
class LevelOf:
    """title: for people. kinds: of faults that are hidden. heard: a complaint that it brings, with a picture there.
    old: only where a picture begins in an old machine.
    """

    title: str
    kinds: tuple[FaultKind, ...]
    heard: Complaint | None = None
    old: bool = False


LEVELS: Mapping[Level, LevelOf] = {
    "leads": LevelOf("Ports and leads", ("plug", "swapped", "lead_low", "lead_damaged", "lead_long", "asleep")),
    "formats": LevelOf("Formats", ("format", "old_list", "trained_down", "handshake", "firmware")),
    "permissions": LevelOf("Permissions", ("permission", "title_option", "content")),
    "modes": LevelOf("Modes", ("game", "setting", "input", "control")),
    "refresh": LevelOf("Refresh", ("title_option", "content", "permission", "setting", "lacks", "read_out")),
    "sound": LevelOf("Sound", ("sound", "setting", "handshake", "lead_damaged"), heard="no_sound"),
    "old": LevelOf("Old machines", ("sync", "setting", "supply", "input", "asleep", "lead_damaged"), old=True),
    "two": LevelOf("Two faults at once", ()),
}
SHIPPED: tuple[tuple[str, str], ...] = (
    ("Nothing on the large screen", "template/console-tv leads 3"),
    ("It was fine yesterday", "template/console-receiver leads 5"),
    ("After the power cut", "demo/den formats 7"),
    ("HDR has gone", "demo/den formats 8"),
    ("The fast rate is missing", "demo/den permissions 4"),
    ("It tears", "demo/den refresh 3"),
    ("It feels late", "template/console-tv modes 6"),
    ("Too dark to play", "demo/den modes 4"),
    ("A silent film", "template/console-bar sound 2"),
    ("The home computer is wide", "demo/c16 old 6"),
    ("Lines that roll", "demo/c16 old 3"),
    ("Two things at once", "template/console-receiver two 6"),
)


@dataclass(frozen=True, slots=True)
class CaseText:
    """`demo/den formats 7`: rig, level, seed."""

    rig: str
    level: Level
    seed: int

    @property
    def text(self) -> str:
        return f"{self.rig} {self.level} {self.seed}"


def read_case(text: str) -> CaseText:
    """Raises PracticeError saying how a case is written."""
    words = text.split()
    if len(words) != 3 or words[1] not in LEVELS or not words[2].isdecimal() or len(words[2]) > 9:
        levels = ", ".join(LEVELS)
        raise PracticeError(f"a case is written as rig, level and seed, as in “demo/den formats 7”; levels: {levels}")
    level: Level = next(x for x in LEVELS if x == words[1])
    return CaseText(words[0], level, int(words[2]))


@dataclass
class Puzzle:
    """A case with its truth. Nothing of a job, a shelf or of what was confirmed goes in or comes out."""

    case: Case
    truth: World
    seed: int

    @property
    def bench(self) -> Bench:
        return self.case.bench

    @cached_property
    def complaints(self) -> list[Answer]:
        return complaints_of(self.bench, self.truth)

    @cached_property
    def par_seconds(self) -> int:
        """What the next best checks take here, and the mend."""
        found = search(self.bench, self.case.checks, self.case.tables, self.truth, "next best", self.seed)
        return max(10, round(found.minutes * 60))


def puzzle_of(rigged: Rigged, level: Level, seed: int) -> Puzzle:
    """The case of a rig, a level and a seed. Raises PracticeError where that rig has no such fault."""
    bench = rigged.bench()
    if bench is None:
        raise PracticeError(f"{rigged.name} is not joined: nothing to find there")
    draw = Draw(f"practice {rigged.name} {level} {seed}")
    if level == "two":
        worlds = pairs_of(bench, 12, draw)
        weights = [1.0] * len(worlds)
    else:
        kinds = LEVELS[level].kinds
        worlds = [w for w in worlds_of(bench) if w.faults[0].kind in kinds and _of_level(w, LEVELS[level])]
        if LEVELS[level].old and bench.scene.layer.rig.leads[bench.scene.path[0].lead].kind != "analogue":
            worlds = []
        weights = [w.faults[0].odds ** _FLATTER for w in worlds]
    if not worlds:
        raise PracticeError(f"{rigged.name} has no fault of the level {LEVELS[level].title.lower()} that shows")
    return Puzzle(Case(bench, checks_of(bench)), draw.weighted(worlds, weights), seed)


def _of_level(world: World, level: LevelOf) -> bool:
    if level.heard is None:
        return True
    return world.felt[level.heard].likely >= HALF and world.felt["no_picture"].likely < HALF


@dataclass(frozen=True)
class Move:
    """A move made: the check, what came of it, what it took. wrong: a guess that was none. lines: of a card."""

    key: str
    words: str
    answer: str
    seconds: int
    wrong: bool = False
    lines: tuple[str, ...] = ()


@dataclass(frozen=True)
class Played:
    """Where a game stands. ended: found, or mended. points: of a hundred, by the time against the best."""

    moves: tuple[Move, ...]
    seconds: int
    ended: bool
    points: int
    answers: tuple[Answer, ...]


def play(puzzle: Puzzle, keys: Sequence[str]) -> Played:
    """A game by its moves: keys of checks, `card/…` for all of a card, `it is/…` for a guess.

    Raises PracticeError for a move that is none.
    """
    moves: list[Move] = []
    answers = list(puzzle.complaints)
    near, room, seconds, ended = "", "", 0, False
    for key in keys[:MOST_MOVES]:
        if ended:
            break
        if key.startswith(GUESS):
            move, ended = _guess(puzzle, key)
        else:
            checks = _checks_of(puzzle, key)
            took = _takes(puzzle, checks, near, room)
            near, room = checks[0].near, puzzle.bench.scene.layer.rig.devices[checks[0].device].room
            found = [(c, honest(c, puzzle.truth)) for c in checks]
            answers += [a for _, a in found if a is not None]
            move = _made(puzzle, key, found, took)
            ended = any(c.kind == "cure" and a is not None and a.value == HELPED for c, a in found)
        moves.append(move)
        seconds += move.seconds
    points = max(0, min(100, round(100 * puzzle.par_seconds / max(seconds, 1)))) if ended else 0
    return Played(tuple(moves), seconds, ended, points, tuple(answers))


def _checks_of(puzzle: Puzzle, key: str) -> list[Check]:
    """The check of a move, or every line of the card that it reads."""
    if key.startswith(CARD):
        found = [c for c in puzzle.case.checks if c.kind == "read" and c.near == key[len(CARD) :]]
    else:
        found = [c for c in puzzle.case.checks if c.key == key]
    if not found:
        raise PracticeError(f"there is nothing called {key[:60]!r} to do in this case")
    return found


def _takes(puzzle: Puzzle, checks: Sequence[Check], near: str, room: str) -> int:
    return seconds_of(puzzle.bench, checks[0], near, room) + NEXT_LINE_SECONDS * (len(checks) - 1)


def _made(puzzle: Puzzle, key: str, found: Sequence[tuple[Check, Answer | None]], took: int) -> Move:
    if not key.startswith(CARD):
        check, answer = found[0]
        return Move(key, check.words, _said(check, answer), took)
    card = next(c for c in puzzle.bench.cards if c.key == key[len(CARD) :])
    label = puzzle.bench.scene.layer.rig.devices[card.device].label
    lines = tuple(f"{c.words.partition(': ')[2]}: {_said(c, a)}" for c, a in found if a is not None)
    return Move(key, f"{label}, {card.place}", "" if lines else "nothing to be told there", took, lines=lines)


GUESS, CARD = "it is/", "card/"


def _guess(puzzle: Puzzle, key: str) -> tuple[Move, bool]:
    named = key[len(GUESS) :]
    own = {f.thing for f in puzzle.truth.faults}
    known = {f.thing: f for f in puzzle.bench.faults}
    wanted = named.split("+")
    if any(x not in known for x in wanted):
        raise PracticeError(f"there is no cause {named[:60]!r} in this case")
    right = set(wanted) == own
    words = "; and ".join(known[x].what for x in wanted)
    took = 60 if right else WRONG_GUESS_SECONDS
    return Move(key, f"Mended: {words}", "it was that" if right else "it is still so", took, wrong=not right), right


def _said(check: Check, answer: Answer | None) -> str:
    if answer is None:
        return "nothing to be told there"
    return next((o.words for o in check.outcomes if o.value == answer.value), answer.value or "")


@dataclass(frozen=True)
class Debrief:
    """A move beside what the machine would have asked there. truth: how probable the truth was before the move."""

    move: Move
    instead: Asked | None
    truth: float
    first: str


def debrief(puzzle: Puzzle, played: Played) -> list[Debrief]:
    """Every move of a game beside the next best one."""
    found, answers = [], list(puzzle.complaints)
    done, near, room = set[str](), "", ""
    for move in played.moves:
        ranking = rank(puzzle.bench, answers)
        asked = ask(puzzle.bench, puzzle.case.checks, puzzle.case.tables, ranking, done=done, near=near, room=room)
        first = next((h for h in ranking.hypotheses if h.faults), None)
        truth = sum(h.share for h in ranking.hypotheses if is_truth(h, puzzle.truth))
        leads = f"{'; '.join(f.what for f in first.faults)}, {class_share(ranking, first) * 100:.0f} %" if first else ""
        found.append(Debrief(move, asked[0] if asked else None, truth, leads))
        for check in _checks_of(puzzle, move.key) if not move.key.startswith(GUESS) else ():
            done.add(check.key)
            near, room = check.near, puzzle.bench.scene.layer.rig.devices[check.device].room
            answer = honest(check, puzzle.truth)
            if answer is not None:
                answers.append(answer)
    return found


def causes_to_name(puzzle: Puzzle) -> list[tuple[str, str, str]]:
    """What may be named: thing, its box, in words; in walking order, each once."""
    rig = puzzle.bench.scene.layer.rig
    found: dict[str, tuple[str, str, str]] = {}
    for f in puzzle.bench.faults:
        found.setdefault(f.thing, (f.thing, rig.devices[f.device].label, f.what))
    return list(found.values())
