"""What the shelf answers, as types."""

from __future__ import annotations

from typing import Any, Literal

from typing_extensions import TypedDict

from wavilex.core.gear.shapes import DiffersOut
from wavilex.core.rig.shapes import LearnedOut


class ShelfRow(TypedDict):
    """A box to choose. own: the workshop's; else a made-up starter. version 0: a starter has none. used: boxes of jobs
    that have it, as far as the asker sees them. can: what it can do, in words.
    """

    uid: str
    name: str
    maker: str
    role: str
    kind: str
    summary: str
    inputs: int
    outputs: int
    can: list[str]
    own: bool
    away: bool
    version: int
    used: int
    changed_at: str


class VersionOut(TypedDict):
    """differs: from the version before."""

    number: int
    at: str
    by: str
    note: str
    differs: list[DiffersOut]


class UsedOut(TypedDict):
    """A box of a job that has one of the versions; version 0: changed there since."""

    job: str
    title: str
    device: str
    label: str
    version: int


class FactOut(TypedDict):
    path: str
    value: Any
    provenance: str
    at: str
    firmware: str


class EntryOut(ShelfRow):
    """A box of the shelf whole: its newest profile, what was learned of it, its versions, where it is used."""

    data: dict[str, Any]
    facts: list[FactOut]
    versions: list[VersionOut]
    used_in: list[UsedOut]


ShelfState = Literal["none", "same", "older", "changed"]


class OnShelf(TypedDict):
    """A box of a job against the shelf. state: not there, the newest version, an older one, or changed in the job.

    uid: the shelf's, "" where it is not there. differs: from the newest version. learned: what the job knows of it and
    the shelf does not.
    """

    device: str
    uid: str
    state: ShelfState
    version: int
    newest: int
    differs: list[DiffersOut]
    learned: list[LearnedOut]


class PackRead(TypedDict):
    """What a pack brought: boxes new on the shelf, boxes with a newer version now, and those that were there alike."""

    added: list[str]
    renewed: list[str]
    alike: list[str]
