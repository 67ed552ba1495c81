"""The types of Prove's answers."""

from __future__ import annotations

from typing_extensions import TypedDict

from wavilex.core.fields import Provenance
from wavilex.core.prove.line import Kind, Trust
from wavilex.core.rig.ops import Answer


class ChangedOut(TypedDict):
    """What an observation rests on that stands otherwise now; since: when, null where the history does not say."""

    what: str
    was: str
    now: str
    since: str | None


class SeenOut(TypedDict):
    """An observation as it counts. differs: it contradicts what the chain says now. stale: what changed since."""

    uid: str
    line: str
    place: str
    label: str
    answer: Answer
    predicted: str | None
    observed: str | None
    at: str
    by: str
    firmware: str
    photo: str
    differs: bool
    stale: list[ChangedOut]
    before: int


class ReadOutLine(TypedDict):
    """A line to be seen. says null: nobody can tell. sure false: it rests on something not known; why: on what.

    kind: `listed` for what a list has or lacks, `figure` for words to read. seen null: nobody looked.
    """

    key: str
    label: str
    part: str
    says: str | None
    why: str
    sure: bool
    listed: bool
    seen: SeenOut | None


class CardOut(TypedDict):
    """A place to look at. trust: what it goes by; because: why that is so."""

    key: str
    device: str
    label: str
    room: str
    socket: str
    kind: Kind
    place: str
    trust: Trust
    trust_words: str
    because: str
    source: Provenance
    source_words: str
    lines: list[ReadOutLine]
    photos: list[SeenOut]


class DoubtOut(TypedDict):
    """A read-out that may lie: two ways it can be, and what tells; told: what the look would say of each."""

    about: str
    either: str
    other: str
    check: str
    told: list[str]


class RateTestOut(TypedDict):
    signal: str
    over: str
    rate: str
    outcome: str
    next: bool


class RateProofOut(TypedDict):
    """Where the proof of a run's rate stands; at_most: tries left at worst. swap: what tells which part stops."""

    tests: list[RateTestOut]
    at_most: int
    said: str
    swap: str
    determined: bool
    contradicts: bool
    compressed: str
    asked: str
    stale: list[ChangedOut]


class MomentOut(TypedDict):
    """A moment at which the boxes can be read: `` now, `plan` at the end, or behind a step of the run sheet.

    changes: how many lines read otherwise than one moment before.
    """

    key: str
    title: str
    changes: int


class ProveOut(TypedDict):
    """A run's read-outs at a stage, with what was seen. counts: of the lines at this stage."""

    run: str
    label: str
    want: str
    path: str
    stage: str
    stages: list[MomentOut]
    cards: list[CardOut]
    first_differs: str
    doubts: list[DoubtOut]
    proof: RateProofOut
    as_predicted: int
    differ: int
    stale: int
    open: int
    also: list[SeenOut]
