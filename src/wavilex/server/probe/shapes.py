"""The types of what the probe's addresses answer."""

from __future__ import annotations

from typing import Literal

from typing_extensions import TypedDict

ProbeState = Literal["open", "expired", "revoked"]


class ProbeRow(TypedDict):
    """A code that was made, without the code."""

    uid: str
    run: str
    state: ProbeState
    made_by: str
    expires_at: str
    results: int
    last_at: str | None


class OpenedOut(TypedDict):
    """A code as it is told once. here_only: the address is this machine's own, and no other reaches it."""

    code: str
    address: str
    short: str
    qr_svg: str
    here_only: bool
    probe: ProbeRow


class PatternAnswerOut(TypedDict):
    id: str
    says: str


class PatternOut(TypedDict):
    id: str
    title: str
    see: str
    why: str
    moving: bool
    answers: list[PatternAnswerOut]


class ProbeHello(TypedDict):
    """What the page is told: the run it measures, the patterns it has, what a browser cannot know."""

    run: str
    expires_at: str
    unknowable: str
    warning: str
    patterns: list[PatternOut]


class KeptLine(TypedDict):
    """predicted null: nothing was; cause: which stage can make them differ, "" where they do not."""

    label: str
    observed: str
    predicted: str | None
    cause: str


class ProbeKept(TypedDict):
    lines: list[KeptLine]


class BoxRow(TypedDict):
    """A box of a job that can be asked what it shows, by which name it is known, and of which places."""

    device: str
    name: str
    places: list[str]


class FetchedOut(TypedDict):
    """How many lines were kept as seen; how many the box said that no card of this run has."""

    kept: int
    unknown: int
