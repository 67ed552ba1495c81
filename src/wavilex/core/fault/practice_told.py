"""A game of practice told: what can be done, what came of it, and at its end what would have been asked. Plain data."""

from __future__ import annotations

from typing_extensions import TypedDict

from wavilex.core.fault.checks import NEXT_LINE_SECONDS, READ_SECONDS
from wavilex.core.fault.complaints import COMPLAINTS
from wavilex.core.fault.evidence import COMPLAINT, RATE
from wavilex.core.fault.practice import CARD, LEVELS, SHIPPED, Played, Puzzle, causes_to_name, debrief
from wavilex.core.prove.line import Card


class PracticeCheck(TypedDict):
    """Something to do. seconds: as it costs from scratch. group: read, look or cure."""

    key: str
    words: str
    seconds: int
    kind: str


class PracticeBox(TypedDict):
    """A box of the case with what can be done at it, in walking order."""

    device: str
    label: str
    room: str
    checks: list[PracticeCheck]


class MoveOut(TypedDict):
    """A move made. wrong: a guess that was none. instead, why: what the machine would have done there (at the end)."""

    words: str
    answer: str
    lines: list[str]
    key: str
    seconds: int
    wrong: bool
    instead: str
    why: str
    truth: float
    first: str


class NameOut(TypedDict):
    """A cause that may be named."""

    id: str
    label: str
    what: str


class PuzzleOut(TypedDict):
    """A game as it stands. truth and the moves' debrief are empty until it has ended."""

    path: str
    complaints: list[str]
    boxes: list[PracticeBox]
    names: list[NameOut]
    moves: list[MoveOut]
    seconds: int
    par_seconds: int
    ended: bool
    points: int
    truth: str


class LevelOut(TypedDict):
    id: str
    title: str


class ShippedOut(TypedDict):
    title: str
    case: str


def levels_data() -> list[LevelOut]:
    """The levels, in the order of work."""
    return [{"id": key, "title": level.title} for key, level in LEVELS.items()]


def shipped_data() -> list[ShippedOut]:
    """The cases that come with the application."""
    return [{"title": title, "case": text} for title, text in SHIPPED]


def _lines(puzzle: Puzzle, card: Card) -> int:
    return sum(c.kind == "read" and c.near == card.key for c in puzzle.case.checks)


def _of_card(puzzle: Puzzle, card: Card) -> PracticeCheck:
    """All lines of a card at once, as somebody reads it."""
    seconds = READ_SECONDS[card.kind] + NEXT_LINE_SECONDS * (_lines(puzzle, card) - 1)
    return {"key": f"{CARD}{card.key}", "words": f"Read {card.place}", "seconds": seconds, "kind": "read"}


def puzzle_data(puzzle: Puzzle, played: Played) -> PuzzleOut:
    """A game told. Nothing says what is hidden before the end."""
    bench = puzzle.bench
    rig = bench.scene.layer.rig
    codes = [a.key[len(COMPLAINT) :] for a in puzzle.complaints]
    moves: list[MoveOut] = [
        {"words": m.words, "answer": m.answer, "lines": list(m.lines), "key": m.key, "seconds": m.seconds,
         "wrong": m.wrong, "instead": "", "why": "", "truth": 0.0, "first": ""} for m in played.moves
    ]  # fmt: skip
    if played.ended:
        for told, d in zip(moves, debrief(puzzle, played), strict=True):
            told["truth"], told["first"] = round(d.truth, 4), d.first
            if d.instead is not None:
                clears = d.instead.bits / d.instead.open_bits if d.instead.open_bits else 0.0
                told["instead"] = d.instead.check.words
                told["why"] = f"clears up {clears * 100:.0f} % of the doubt in {d.instead.seconds} s"
    boxes: list[PracticeBox] = []
    for uid in bench.scene.boxes:
        device = rig.devices[uid]
        checks = [_of_card(puzzle, card) for card in bench.cards if card.device == uid and _lines(puzzle, card)]
        checks += [
            {"key": c.key, "words": c.words, "seconds": c.seconds, "kind": c.kind}
            for c in puzzle.case.checks if c.device == uid and (c.kind != "read" or c.near == RATE)
        ]  # fmt: skip
        boxes.append({"device": uid, "label": device.label, "room": device.room, "checks": checks})
    return {
        "path": " → ".join(rig.devices[uid].label for uid in bench.scene.boxes),
        "complaints": [words for code, words in COMPLAINTS.items() if code in codes], "boxes": boxes,
        "names": [{"id": i, "label": label, "what": what} for i, label, what in causes_to_name(puzzle)],
        "moves": moves, "seconds": played.seconds, "par_seconds": puzzle.par_seconds, "ended": played.ended,
        "points": played.points,
        "truth": "; and ".join(f.what for f in puzzle.truth.faults) if played.ended else "",
    }  # fmt: skip
