"""What is told of visits, updates and comparisons, as types."""

from __future__ import annotations

from typing import Literal

from typing_extensions import TypedDict

DiffKind = Literal["verdict", "box", "firmware", "wiring", "setting", "lag", "light", "kept"]


class VersionNote(TypedDict):
    """Something known of a version of a box; source: how that is known."""

    words: str
    source: str


class RestingOut(TypedDict):
    """What was seen, measured or proved on an older version. sheet: where it is done again."""

    kind: Literal["seen", "light", "lag", "cost", "proof"]
    words: str
    count: int
    sheet: str


class AtRisk(TypedDict):
    """A value that the update may have put back: as it stood and as the factory has it, how likely, what was seen."""

    scope: str
    setting: str
    label: str
    cell: str
    where: str
    stood: str
    back: str
    stood_value: str
    back_value: str
    percent: int
    why: str
    source: str
    outcome: Literal["open", "stayed", "came_back", "doubted", "presumed"]
    now: str
    options: list[BackOption]


class BackOption(TypedDict):
    """A value a setting may have come back to."""

    id: str
    label: str


class ReadLine(TypedDict):
    """A line of a read-out as it was to be read before the update."""

    label: str
    says: str


class LookOut(TypedDict):
    """One look of the list. values: by scope and setting, joined by a bar. covered_percent: of all risk at the start,
    once this is done.
    """

    key: str
    kind: Literal["page", "card"]
    title: str
    cell: str
    seconds: int
    values: list[str]
    lines: list[ReadLine]
    covered_percent: int


class RecheckOut(TypedDict):
    """A box after an update, or before one that is thought of. installed: does it run that version?

    steps: the shortest list; full: how many steps a full re-check takes; minutes: of the list.
    """

    device: str
    label: str
    was: str
    version: str
    installed: bool
    known: list[VersionNote]
    resting: list[RestingOut]
    values: list[AtRisk]
    steps: list[LookOut]
    full: int
    minutes: int
    unseen: int
    done: bool


class UpdateAdvice(TypedDict):
    """A box whose newest known version is not installed, or whose version nobody has read."""

    device: str
    label: str
    firmware: str
    newest: str
    words: str


class KeptOut(TypedDict):
    """A value that the client set by his own hand, and why; by: who said so."""

    device: str
    label: str
    scope: str
    cell: str
    setting: str
    name: str
    value: str
    because: str
    by: str
    day: str


class UpdatesOut(TypedDict):
    """school: of updates, in words; advice: what each box would be brought to; boxes: those that were updated last;
    kept: what clients keep by their own hand.
    """

    school: str
    school_words: str
    advice: list[UpdateAdvice]
    boxes: list[RecheckOut]
    kept: list[KeptOut]


class StateDiff(TypedDict):
    """One thing that differs between two states. was, now: in words."""

    kind: DiffKind
    what: str
    was: str
    now: str
    says: str


class StatesCompared(TypedDict):
    """Two states held against each other. same: how many things of each kind stand alike."""

    a: str
    b: str
    layer: Literal["found", "plan"]
    rows: list[StateDiff]
    same: dict[str, int]
