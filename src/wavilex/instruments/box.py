"""Asking a box what it shows, over serial or network: one question, an answer that is whole or none."""

from __future__ import annotations

import time
from dataclasses import dataclass

from wavilex.instruments.box_protocol import Busy, Damaged, Done, Introduced, Shown, decode
from wavilex.instruments.line import Line, LineLostError

_ANSWER_SECONDS = 2.0
_TRIES = 3
MOST_LINES = 200


class BoxFaultError(Exception):
    """Something is there and does not answer as a box does, or is busy: asking again at once changes nothing."""


@dataclass(frozen=True, slots=True)
class Answer:
    """What a box shows, all of it, at one moment."""

    name: str
    lines: tuple[Shown, ...]


class AnsweringBox(Line):
    """One open box. Use as a context manager."""

    def __init__(self, url: str) -> None:
        super().__init__(url, "box")

    def ask(self) -> Answer:
        """What it shows now. Asked again, at most three times, where a line was damaged or lost, or where what it
        shows changed meanwhile.

        Raises LineLostError where nobody answers, BoxFaultError where it is busy or is no such box.
        """
        why: Exception = LineLostError("something is connected, but it does not answer")
        for _ in range(_TRIES):
            self.send("ASK")
            try:
                found = self._answer()
            except (LineLostError, BoxFaultError) as error:
                why = error
                continue
            if found is not None:
                return found
            why = BoxFaultError("its answer was damaged each time it was asked")
        raise why

    def _answer(self) -> Answer | None:
        """One answer; None where it is not whole."""
        end = time.monotonic() + _ANSWER_SECONDS
        who: Introduced | None = None
        lines: list[Shown] = []
        spoilt, heard = False, False
        while time.monotonic() < end and len(lines) <= MOST_LINES:
            raw = self.read_line()
            if raw is None:
                continue
            heard = True
            message = decode(raw)
            if isinstance(message, Introduced):
                spoilt = spoilt or (who is not None and who.change != message.change)
                who, lines = message, []
            elif isinstance(message, Shown):
                lines.append(message)
            elif isinstance(message, Busy):
                raise BoxFaultError(f"it says: {message.text}")
            elif isinstance(message, Damaged):
                spoilt = True
            elif isinstance(message, Done):
                whole = who is not None and not spoilt and message.count == len(lines)
                return Answer(who.name, tuple(lines)) if who is not None and whole else None
        if heard:
            raise BoxFaultError("something is connected and talks, but does not answer as a box does")
        raise LineLostError("something is connected, but it does not answer")
