"""What questions about gear answer, as types."""

from __future__ import annotations

from typing import Any, Literal

from typing_extensions import TypedDict


class OptionOut(TypedDict):
    id: str
    label: str


class BarredOut(TypedDict):
    option: str
    because: str


class ProfileOut(TypedDict):
    """A starter profile, or one read from a file: what a person chooses by, and its whole data."""

    id: str
    name: str
    role: str
    kind: str
    summary: str
    inputs: int
    outputs: int
    data: dict[str, Any]


class AnswerOut(TypedDict):
    id: str
    label: str


QuestionKind = Literal["one", "many", "sockets", "number"]


class WhenOut(TypedDict):
    """A question is asked only where another has one of these answers."""

    question: str
    answers: list[str]


class QuestionOut(TypedDict):
    """kind: one of the answers, many with commas between, numbered sockets (of the count that `sockets_of` answers), or
    a number. usual: what stands there until somebody says otherwise. optional: it may stay not known.
    """

    id: str
    ask: str
    kind: QuestionKind
    usual: str
    optional: bool
    sockets_of: str
    answers: list[AnswerOut]
    when: WhenOut | None


class TemplateOut(TypedDict):
    """A class of gear, with the questions that make it a box."""

    id: str
    title: str
    group: str
    role: Literal["source", "repeater", "screen", "sound"]
    questions: list[QuestionOut]


class NamedOut(TypedDict):
    id: str
    name: str


class PortKindOut(NamedOut):
    """What a socket carries. digital: pictures as data; without: figures of a picture nobody is asked for there."""

    digital: bool
    without: list[str]


class EffectOut(NamedOut):
    """What a setting does; values: what its options are then known by."""

    values: list[str]


class GearWords(TypedDict):
    """Lists an editor of profiles offers."""

    roles: list[NamedOut]
    kinds: list[NamedOut]
    port_kinds: list[PortKindOut]
    connectors: dict[str, list[str]]
    frl: list[NamedOut]
    dp: list[NamedOut]
    hdr: list[NamedOut]
    protection: list[NamedOut]
    returns: list[NamedOut]
    quirk_kinds: list[NamedOut]
    stored_by: list[NamedOut]
    sources: list[NamedOut]
    limit_fields: list[NamedOut]
    vrr_kinds: list[NamedOut]
    effects: list[EffectOut]
    copies: list[NamedOut]
    syncs: list[NamedOut]
    colours: list[NamedOut]
    treatments: list[NamedOut]
    levels: list[NamedOut]
    fits: list[NamedOut]
    cautions: list[NamedOut]


StandingKind = Literal["", "greyed", "forced", "inert", "cycle"]


class StandingOut(TypedDict):
    """What a device does to a setting: how it stands, why, what frees it, and which options are barred."""

    standing: StandingKind
    because: str
    frees: str
    barred: list[BarredOut]


class DiffersOut(TypedDict):
    """One part in which two profiles differ; "" for what one of them does not say."""

    part: str
    before: str
    after: str
