"""Answers to questions about a job: fixes, the table of modes, one signal explained, ranked inputs."""

from __future__ import annotations

from typing import Literal

from ninja import Schema

from wavilex.core.rig.ops import Op
from wavilex.server.jobs.shapes import LineOut, QuantityOut, Verdict


class FixOut(Schema):
    label: str
    kinds: list[str]
    cost: int
    cost_text: str
    minutes: int
    notes: list[str]
    gives: str
    verdict: Verdict
    disturbs: list[str]
    ops: list[Op]


class FixesOut(Schema):
    proved: bool
    needs: str
    tried: int
    ways: list[FixOut]


class CellOut(Schema):
    encoding: str
    bits: int
    verdict: Verdict
    used_percent: float | None
    stopped_by: str | None


class RowOut(Schema):
    mode: str
    name: str
    width: int
    height: int
    hz: int
    timing: str
    family: str
    wanted: bool
    cells: list[CellOut]


class ColumnOut(Schema):
    encoding: str
    bits: int
    name: str
    chroma: Literal["any", "422", "444"]


class TableOut(Schema):
    columns: list[ColumnOut]
    rows: list[RowOut]


class ExplainedOut(Schema):
    name: str
    verdict: Verdict
    sentence: str
    quantities: list[QuantityOut]
    source: str
    line: LineOut | None
    plain_count: str | None


class InputOption(Schema):
    device: str
    port: str
    name: str
    verdict: Verdict
    why: str
    holds: str | None
    here: bool
    ops: list[Op]
