"""What the API tells of visits, as types."""

from __future__ import annotations

from typing import Literal

from typing_extensions import TypedDict

VisitState = Literal["planned", "open", "closed", "dropped"]


class DidOut(TypedDict):
    """How many lines of a kind the logbook has of a visit."""

    kind: str
    name: str
    count: int


class VisitOut(TypedDict):
    """A visit; times ISO 8601 in UTC, "" for none. did: what was done while it was under way."""

    uid: str
    state: VisitState
    title: str
    who: str
    note: str
    planned_for: str
    opened_at: str
    closed_at: str
    did: list[DidOut]


class StateName(TypedDict):
    """A state that can be compared, by name and in words."""

    name: str
    words: str


class VisitsOut(TypedDict):
    """A job's visits, the latest first. check_days: how often somebody looks in, null: nobody has said. due: when next,
    "" never; due_in_days: below 0 it is late.
    """

    visits: list[VisitOut]
    open: str
    check_days: int | None
    due: str
    due_in_days: int | None
    states: list[StateName]
