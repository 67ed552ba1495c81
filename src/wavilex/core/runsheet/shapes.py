"""The run sheet, as types."""

from __future__ import annotations

from typing import Literal

from typing_extensions import TypedDict


class LitOut(TypedDict):
    """A socket a step is about."""

    device: str
    port: str


class StepOut(TypedDict):
    """stands: who does it and from where. state: done, reverted or nothing.

    first: what comes before it and is still open. at: when it was ticked.
    """

    key: str
    title: str
    where: str
    stands: str
    why: str
    see: str
    if_not: str
    minutes: int
    wait_s: int
    keep: bool
    first: list[str]
    cautions: list[str]
    open: bool
    state: Literal["", "done", "reverted", "undone"]
    at: str | None
    by: str
    sockets: list[LitOut]


class PhaseOut(TypedDict):
    id: str
    title: str
    steps: list[StepOut]


class SheetTold(TypedDict):
    """The run sheet, without the revision it is of."""

    phases: list[PhaseOut]
    minutes_left: int
    open: int
    done: int
    next: str | None


class RunSheetOut(SheetTold):
    """The run sheet of a revision."""

    revision: int
