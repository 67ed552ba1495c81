"""Two answers side by side, what differs first."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from wavilex.core.link.check import Verdict
from wavilex.core.link.shapes import CellDifference, ColumnOut, RowOut, SideRow

ABSENT = "—"


def side_by_side(a: Mapping[str, str], b: Mapping[str, str]) -> list[SideRow]:
    """Rows `name a b differs`: those that differ first, each part in the order of `a`; `—` where one has none."""
    names = list(dict.fromkeys([*a, *b]))
    rows: list[SideRow] = [
        {"name": n, "a": a.get(n, ABSENT), "b": b.get(n, ABSENT), "differs": a.get(n, ABSENT) != b.get(n, ABSENT)}
        for n in names
    ]
    return sorted(rows, key=lambda row: not row["differs"])


def with_common_figures(
    a: Mapping[str, str], figures_a: Mapping[str, str], b: Mapping[str, str], figures_b: Mapping[str, str]
) -> list[SideRow]:
    """Side by side with the figures both have: sums of unlike transports have few lines in common."""
    common = [name for name in figures_a if name in figures_b]
    return side_by_side({**a, **{n: figures_a[n] for n in common}}, {**b, **{n: figures_b[n] for n in common}})


def _verdict(row: RowOut | None, column: ColumnOut) -> Verdict | None:
    """The verdict of a row's cell in a column; None without the row; a column it does not have is not offered."""
    if row is None:
        return None
    cells = {(c["encoding"], c["bits"]): c["verdict"] for c in row["cells"]}
    return cells.get((column["encoding"], column["bits"]), "blocked")


def cell_differences(a: Sequence[RowOut], b: Sequence[RowOut], columns: Sequence[ColumnOut]) -> list[CellDifference]:
    """Cells of two carry tables (rows as plain data) whose verdict differs, in the order of the tables."""
    modes = dict.fromkeys([*(r["mode"] for r in a), *(r["mode"] for r in b)])
    rows_a, rows_b = ({r["mode"]: r for r in rows} for rows in (a, b))
    out: list[CellDifference] = []
    for mode in modes:
        row_a, row_b = rows_a.get(mode), rows_b.get(mode)
        for column in columns:
            verdict_a, verdict_b = (_verdict(r, column) for r in (row_a, row_b))
            if verdict_a != verdict_b:
                name = next(r["name"] for r in (row_a, row_b) if r is not None)
                out.append({"signal": f"{name} {column['name']} {column['bits']}-bit", "a": verdict_a, "b": verdict_b})
    return out
