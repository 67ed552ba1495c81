"""The run sheet, as types."""

from __future__ import annotations

from typing import Literal

from typing_extensions import TypedDict

from wavilex.core.rig.shapes import LitOut


class CautionOut(TypedDict):
    """A caution where it applies. again: it stood at an earlier step of the sheet; name: it in short, for there."""

    text: str
    name: str
    again: bool


class StepOut(TypedDict):
    """stands: who does it and from where. state: done, reverted or nothing.

    first: what comes before it and is still open. at: when it was ticked. usual: what to see, and what if not, is as
    its phase says once for all.
    """

    key: str
    title: str
    where: str
    stands: str
    why: str
    see: str
    if_not: str
    usual: bool
    minutes: int
    wait_s: int
    keep: bool
    first: list[str]
    cautions: list[CautionOut]
    open: bool
    state: Literal["", "done", "reverted", "undone"]
    at: str | None
    by: str
    sockets: list[LitOut]


class PhaseOut(TypedDict):
    """see, if_not: what several of its steps have alike, said once; "" where none do."""

    id: str
    title: str
    see: str
    if_not: str
    steps: list[StepOut]


class SheetTold(TypedDict):
    """The run sheet, without the revision it is of. ahead: values, leads and firmware planned otherwise than found."""

    phases: list[PhaseOut]
    minutes_left: int
    open: int
    ahead: int
    done: int
    next: str | None


class RunSheetOut(SheetTold):
    """The run sheet of a revision."""

    revision: int
