"""A case: a bench with its checks, and how an answer on it is kept as an observation and read back."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

from wavilex.core.chain.paths import Layer
from wavilex.core.fault.checks import Check, Tables, checks_of
from wavilex.core.fault.complaints import COMPLAINTS
from wavilex.core.fault.evidence import CANNOT, CHECK, COMPLAINT, CURE
from wavilex.core.fault.kinds import NOTHING_CONFIRMED, Confirmed
from wavilex.core.fault.rank import Bench, bench_of
from wavilex.core.fault.scene import scene_of
from wavilex.core.prove.line import YES
from wavilex.core.rig.model import Observation, Rig, Run

CLOSED = "fault/closed"  # the line under a search: what it was; what was seen before belongs to it
AnswerKind = Literal["complaint", "read", "look", "cure", "cannot"]
_CANNOT_WORDS = "cannot be done"


@dataclass
class Case:
    """bench: all worlds; checks: all questions; tables: what is remembered of both."""

    bench: Bench
    checks: list[Check]
    tables: Tables = field(default_factory=Tables)

    @cached_property
    def by_key(self) -> dict[str, Check]:
        return {c.key: c for c in self.checks}

    def kind_of(self, seen: Observation) -> AnswerKind:
        if seen.line.startswith(COMPLAINT):
            return "complaint"
        if seen.observed == CANNOT:
            return "cannot"
        if seen.line.startswith(CURE):
            return "cure"
        return "look" if seen.line.startswith(CHECK) else "read"

    def words_of(self, seen: Observation) -> str:
        """The question that was answered."""
        if seen.line.startswith((COMPLAINT, CHECK)):
            return seen.label
        return f"{seen.place}: {seen.label}"

    def value_words(self, seen: Observation) -> str:
        """The answer in words."""
        if seen.line.startswith(COMPLAINT):
            return "" if seen.observed == YES else "not so"
        if seen.observed == CANNOT:
            return _CANNOT_WORDS
        check = self.by_key.get(seen.line)
        named = {o.value: o.words for o in check.outcomes} if check is not None else {}
        value = seen.observed or ("differs" if seen.answer == "differs" else "")
        return named.get(value, value)


def case_of(found: Layer, run: Run, confirmed: Confirmed = NOTHING_CONFIRMED) -> Case | None:
    """The case of a run as found; None where it is not joined."""
    bench = bench_of(scene_of(found, run), confirmed)
    return Case(bench, checks_of(bench)) if bench is not None else None


def seen_since(rig: Rig, run: str) -> list[Observation]:
    """What was seen on a run since its last search was closed, oldest first. A read-out of before counts still."""
    every = [o for o in rig.observations.values() if o.run == run]
    last = max((n for n, o in enumerate(every) if o.line == CLOSED), default=-1)
    return [o for n, o in enumerate(every) if n > last or not of_search(o)]


def is_complaint(seen: Observation) -> bool:
    """Is it what a client says of a run?"""
    return seen.line.startswith(COMPLAINT) and seen.observed == YES


def of_search(seen: Observation) -> bool:
    """Is it an answer of a search, and nothing that was read off a box?"""
    return seen.line.startswith((COMPLAINT, CHECK)) or seen.line == CLOSED


def trail_of(seen: Sequence[Observation]) -> Iterator[Observation]:
    """The answers of a search: what was asked for or complained of, read-outs that differ, and all read since then."""
    counts = {o.line: o.uid for o in seen}
    begun = False
    for o in seen:
        begun = begun or of_search(o)
        if counts[o.line] == o.uid and (begun or o.answer == "differs") and not o.line.endswith("/photo"):
            yield o


def complaint_words(code: str) -> str:
    """A complaint in a client's words. Raises KeyError for none of them."""
    return {str(k): v for k, v in COMPLAINTS.items()}[code]
