"""Two sides held beside each other, as the API writes them."""

from __future__ import annotations

from ninja import Schema

from wavilex.server.jobs.shapes import Verdict


class SideRow(Schema):
    name: str
    a: str
    b: str
    differs: bool


class CellDifference(Schema):
    """A cell whose verdict differs; null where one side has no such row."""

    signal: str
    a: Verdict | None
    b: Verdict | None


class ComparedOut(Schema):
    rows: list[SideRow]
    cells: list[CellDifference]


class ComparedRuns(ComparedOut):
    a: str
    b: str


class Comparison(Schema):
    id: str
    name: str
