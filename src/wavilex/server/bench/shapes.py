"""What the bench answers: readings, summaries, the report, the plan, the meter."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from ninja import Schema

from wavilex.core.lag.shapes import LagReport

Position = Literal["", "top", "middle", "bottom"]


class ReadingOut(Schema):
    """uncertainty_ms: how far it may be off to each side, null: not known; step_ms: the frame it was counted by.
    evidence: the job's photograph it was read off, "" none.
    """

    seq: int
    condition: str
    signal: str
    input: str
    position: Position
    method: Literal["meter", "film", "camera", "reference", "typed", "guess"]
    lag_ms: float
    uncertainty_ms: float | None
    step_ms: float | None
    taken_at: datetime
    discard: str
    note: str
    evidence: str


class MeterOut(Schema):
    """settling: the picture is not stable yet, and readings do not count."""

    meter: str
    state: str
    message: str
    session: str
    condition: str
    asked: int
    taken: int
    settling: bool


class ToSetOut(Schema):
    """One thing to set, and where; "" where nobody knows."""

    words: str
    where: str


class PlannedCell(Schema):
    """to_set: what to set for it, coming from the cell that is set now."""

    condition: str
    signal: str
    input: str
    position: Position
    name: str
    taken: int
    count: int
    to_set: list[ToSetOut]


class PlanOut(Schema):
    """Cells in the order to take them; next: the first that lacks readings, null: all taken. ready: the cell somebody
    said is set, null: none yet; back: what to put back when it ends.
    """

    cells: list[PlannedCell]
    next: int | None
    ready: int | None
    back: list[ToSetOut]
    order: Literal["grouped", "random"]
    seconds_left: int


class LagSessionOut(Schema):
    """`readings` are those after the asked number, of very many only the latest; `report` is over all of them.

    kept_costs: paths of the costs that are kept with the box as they stand in the report.
    """

    uid: str
    device: str
    device_label: str
    warned_at: datetime | None
    conditions: list[str]
    inputs: list[str]
    bound_ms: int | None
    equivalence_ms: float
    strobes: bool
    total: int
    plan: PlanOut | None
    readings: list[ReadingOut]
    report: LagReport
    kept_costs: list[str]
    meters: list[MeterOut]


class RefusedRow(Schema):
    line: int
    why: str


class ReadingsTaken(Schema):
    """What was taken of a table, and each row that was not, with the reason."""

    taken: int
    refused: list[RefusedRow]
    session: LagSessionOut
