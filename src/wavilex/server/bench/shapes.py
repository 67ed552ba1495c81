"""What the bench answers: readings, summaries, the report, the plan, the meter."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from ninja import Schema

Position = Literal["", "top", "middle", "bottom"]


class ReadingOut(Schema):
    """uncertainty_ms: how far it may be off to each side, null: not known."""

    seq: int
    condition: str
    signal: str
    input: str
    position: Position
    method: Literal["meter", "camera", "reference", "typed", "guess"]
    lag_ms: float
    uncertainty_ms: float | None
    taken_at: datetime
    discard: str
    note: str


class SummaryOut(Schema):
    """In ms; the interval is of the median at 95 %, null below six readings. outliers stand out and still count."""

    n: int
    median_ms: float
    mean_ms: float
    sd_ms: float | None
    low_ms: float
    high_ms: float
    ci_low_ms: float | None
    ci_high_ms: float | None
    quartile_low_ms: float
    quartile_high_ms: float
    outliers: int


class PartsOut(Schema):
    """A median taken apart: scan-out at its place, and what is left for processing."""

    scan_ms: float
    processing_ms: float
    words: str


class ConditionOut(Schema):
    """One cell. more: readings still to take for ±1 ms, null: no telling. guess_ms: guesses, never mixed in."""

    condition: str
    mode: str
    input: str
    signal: str
    position: Position
    methods: list[str]
    summary: SummaryOut | None
    verdict: str | None
    sentence: str
    enough: bool
    more: int | None
    enough_words: str
    outliers_ms: list[float]
    guess_ms: float | None
    parts: PartsOut | None


class LagDifference(Schema):
    from_: str
    to: str
    ms: float
    ci_low_ms: float | None
    ci_high_ms: float | None
    sentence: str
    note: str


class CostOut(Schema):
    """A cell against the baseline. p corrected for as many looks; ratio: as a multiple of the baseline."""

    condition: str
    ms: float
    ci_low_ms: float | None
    ci_high_ms: float | None
    p_corrected: float
    different: bool
    decision: Literal["same", "changed", "undecided"]
    more: int | None
    sentence: str
    ratio: float | None
    ratio_low: float | None
    ratio_high: float | None


class LightOut(Schema):
    condition: str
    kind: Literal["rolling", "at_once", "strobed", "reversed", "between"]
    measured_ms: float
    expected_ms: float
    words: str


class HandlingOut(Schema):
    condition: str
    kind: str
    fields: float
    words: str


class EpochOut(Schema):
    name: str
    median_ms: float
    n: int


class LagChange(Schema):
    """A cell measured on more than one day or firmware. alert: it changed."""

    condition: str
    alert: bool
    epochs: list[EpochOut]
    sentences: list[str]


class TitleVerdict(Schema):
    title: str
    bound_ms: int
    condition: str
    verdict: str
    sentence: str


class LagReport(Schema):
    bound_ms: int
    bound_source: str
    kind: str
    level_percent: int
    conditions: list[ConditionOut]
    difference: LagDifference | None
    baseline: str
    costs: list[CostOut]
    places: list[LightOut]
    handling: list[HandlingOut]
    changes: list[LagChange]
    titles: list[TitleVerdict]


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


class PlannedCell(Schema):
    condition: str
    signal: str
    input: str
    position: Position
    name: str
    taken: int
    count: int


class PlanOut(Schema):
    """Cells in the order to take them; next: the first that lacks readings, null: all taken."""

    cells: list[PlannedCell]
    next: int | None
    order: Literal["grouped", "random"]
    seconds_left: int


class LagSessionOut(Schema):
    """`readings` are those after the asked number, of very many only the latest; `report` is over all of them."""

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
    meters: list[MeterOut]


class RefusedRow(Schema):
    line: int
    why: str


class ReadingsTaken(Schema):
    """What was taken of a table, and each row that was not, with the reason."""

    taken: int
    refused: list[RefusedRow]
    session: LagSessionOut


class BudgetPart(Schema):
    name: str
    low_ms: float
    high_ms: float
    kind: Literal["measured", "claimed", "worked_out", "unknown"]
    kind_name: str
    why: str


class LipSyncOut(Schema):
    """Sound against picture in one screen mode; delay_ms: what to set at what plays it, null: nothing mends it."""

    condition: str
    picture_ms: float | None
    sound_ms: float | None
    verdict: Literal["fits", "set", "late", "unknown"]
    delay_ms: int | None
    words: str


class BudgetOut(Schema):
    """A run's lag from act to light, part by part; low and high differ where a part is not known."""

    parts: list[BudgetPart]
    low_ms: float
    high_ms: float
    known: bool
    condition: str
    plays: str
    plays_device: str
    sound_lag_ms: int | None
    lip_sync: list[LipSyncOut]
