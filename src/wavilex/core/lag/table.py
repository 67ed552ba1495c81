"""Readings as CSV, in and out; each refused row is told with its line and reason, the others are kept."""

from __future__ import annotations

import csv
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from decimal import Decimal, InvalidOperation
from io import StringIO

from wavilex.core.bounds import CONDITION_LETTERS, MOST_LAG_US
from wavilex.core.lag.methods import METHODS, LagError
from wavilex.core.lag.readings import Readings, Way, off_of, way_of
from wavilex.core.lag.scanout import POSITIONS, frame_of
from wavilex.core.moment import utc_text
from wavilex.core.plain import cell_text, text_of_cell, unfit_in

COLUMNS = (
    "taken_at", "device", "input", "condition", "signal", "position", "method", "lag_ms", "uncertainty_ms", "step_ms",
    "discarded", "note",
)  # fmt: skip
_NEEDED = ("device", "condition", "lag_ms")
_TIME = "2026-11-25T14:03:22Z"
_LINES_A_PART = 500
_MOST_SMALL_MS = 1000  # of an uncertainty, of a frame
_YES, _NO = ("yes", "true", "1"), ("", "no", "false", "0")


@dataclass(frozen=True, slots=True)
class Row:
    """One reading as a table holds it. taken_at: ISO 8601 in UTC, "" where not said. step_ns: the frame it was counted
    by, None: not counted; uncertainty_us: how far it may be off, None: not said.
    """

    taken_at: str
    device: str
    input: str
    condition: str
    signal: str
    position: str
    method: str
    lag_us: int
    discarded: bool
    note: str
    uncertainty_us: int | None = None
    step_ns: int | None = None
    line: int = field(default=0, compare=False)  # of the file it was read from


@dataclass(frozen=True, slots=True)
class Refused:
    """A row that was not taken: its line in the file, from 1, and why."""

    line: int
    why: str


def read_table(text: str) -> tuple[list[Row], list[Refused]]:
    """Rows taken and rows refused. Raises LagError when it is no such table at all."""
    reader = csv.reader(StringIO(text.removeprefix("\ufeff")))
    try:
        header = [h.strip().lower() for h in next(reader)]
    except (StopIteration, csv.Error):
        raise LagError("the file is empty: its first line names the columns", where="line 1") from None
    missing = [c for c in _NEEDED if c not in header]
    if missing:
        raise LagError(f"the first line must name {', '.join(missing)}; all columns are {','.join(COLUMNS)}",
                       where="line 1")  # fmt: skip
    rows: list[Row] = []
    refused: list[Refused] = []
    try:
        for values in reader:
            if not any(v.strip() for v in values):
                continue
            if len(values) != len(header):
                refused.append(
                    Refused(reader.line_num, f"has {len(values)} values where the first line names {len(header)}")
                )
                continue
            try:
                rows.append(
                    _row(reader.line_num, dict(zip(header, (text_of_cell(v.strip()) for v in values), strict=True)))
                )
            except LagError as error:
                refused.append(Refused(reader.line_num, error.message))
    except csv.Error as error:
        refused.append(Refused(reader.line_num, f"not readable from here on: {error}"))
    return rows, refused


def within(rows: Sequence[Row], conditions: Iterable[str], most: int) -> tuple[list[Row], list[Refused]]:
    """Rows whose conditions a session still holds beside those it has, and the others, each with its reason."""
    known = list(conditions)
    kept: list[Row] = []
    refused: list[Refused] = []
    for row in rows:
        if row.condition not in known and len(known) >= most:
            refused.append(Refused(row.line, f"a session holds {most} conditions; {row.condition!r} is one too many"))
            continue
        if row.condition not in known:
            known.append(row.condition)
        kept.append(row)
    return kept, refused


def _row(line: int, said: dict[str, str]) -> Row:
    for name, value in said.items():
        if sign := unfit_in(value):
            raise LagError(f"{name} holds a control sign ({sign})")
    for name in ("device", "condition"):
        if not said.get(name) or len(said[name]) > CONDITION_LETTERS:
            raise LagError(f"{name} must be a text of 1 to 60 characters")
    for name in ("input", "signal", "note"):
        if len(said.get(name, "")) > 200:
            raise LagError(f"{name} is longer than 200 characters")
    position = said.get("position", "")
    if position and position not in POSITIONS:
        raise LagError(f"position is {', '.join(POSITIONS)} or nothing, not {position!r}")
    method = said.get("method", "") or "typed"
    if method not in METHODS:
        raise LagError(f"method is {', '.join(METHODS)}, not {method!r}")
    discarded = said.get("discarded", "").lower()
    if discarded not in (*_YES, *_NO):
        raise LagError(f"discarded is yes or no, not {discarded!r}")
    return Row(
        _time(said.get("taken_at", "")), said["device"], said.get("input", ""), said["condition"],
        said.get("signal", ""), position, method, lag_us(said["lag_ms"]), discarded in _YES, said.get("note", ""),
        _small(said, "uncertainty_ms", 1000), _small(said, "step_ms", 1_000_000), line,
    )  # fmt: skip


def lag_us(text: str) -> int:
    """A lag typed in ms, as whole µs. Raises LagError."""
    try:
        value = Decimal(text.replace(",", "."))
    except InvalidOperation:
        raise LagError(f"lag_ms is a number of ms, not {text!r}") from None
    if not value.is_finite() or not 0 < value < MOST_LAG_US:
        raise LagError(f"lag_ms lies between 0 and {(MOST_LAG_US + 1) // 1000}, not {text[:40]!r}")
    us = int((value * 1000).to_integral_value())
    if not 0 < us <= MOST_LAG_US:
        raise LagError(f"lag_ms lies between a microsecond and a minute, not {text!r}")
    return us


def _small(said: dict[str, str], name: str, times: int) -> int | None:
    """A figure in ms that may be left out, in whole parts of a ms. Raises LagError."""
    text = said.get(name, "")
    if not text:
        return None
    try:
        value = Decimal(text.replace(",", "."))
    except InvalidOperation:
        raise LagError(f"{name} is a number of ms or nothing, not {text[:40]!r}") from None
    if not value.is_finite() or not 0 < value <= _MOST_SMALL_MS:
        raise LagError(f"{name} lies between 0 and {_MOST_SMALL_MS}, not {text[:40]!r}")
    return max(1, int((value * times).to_integral_value()))


def _time(text: str) -> str:
    """A time as it will be kept; one without a zone is in UTC, as the column says."""
    if not text:
        return ""
    zoned = text if text.endswith("Z") or "+" in text else f"{text}Z"
    try:
        return utc_text(zoned)
    except ValueError:
        raise LagError(f"taken_at is a time in UTC like {_TIME}, not {text!r}") from None


def write_table(rows: Iterable[Row]) -> str:
    """The rows as CSV (RFC 4180), lag in ms to a µs."""
    return "".join(table_parts(rows))


def table_parts(rows: Iterable[Row]) -> Iterator[str]:
    """The same in parts of many lines: a large table is sent while it is written."""
    out = StringIO()
    writer = csv.writer(out)
    writer.writerow(COLUMNS)
    for number, r in enumerate(rows, 1):
        lag = Decimal(r.lag_us) / 1000
        writer.writerow([r.taken_at, *map(cell_text, (r.device, r.input, r.condition, r.signal)), r.position, r.method,
                         f"{lag:f}", _ms(r.uncertainty_us, 1000), _ms(r.step_ns, 1_000_000),
                         "yes" if r.discarded else "no", cell_text(r.note)])  # fmt: skip
        if number % _LINES_A_PART == 0:
            yield out.getvalue()
            out.seek(0)
            out.truncate()
    yield out.getvalue()


def _ms(part: int | None, times: int) -> str:
    return "" if part is None else f"{Decimal(part) / times:f}"


def by_group(rows: Sequence[Row]) -> dict[str, Readings]:
    """Readings that count, in µs, by what they are of: parts alike in all rows are left out of the name. Those counted
    by another frame, or taken by another method, are apart.
    """
    names = ("device", "input", "signal", "position")
    differing = [n for n in names if len({getattr(r, n) for r in rows}) > 1]
    found: dict[tuple[str, str], dict[Way, list[Row]]] = {}
    for r in rows:
        name = ", ".join(w for w in (r.condition, *(getattr(r, n) for n in differing)) if w)
        ways = found.setdefault((name, r.signal), {})
        if not r.discarded and r.method != "guess":
            ways.setdefault(way_of(r.method, r.step_ns, r.uncertainty_us), []).append(r)
    out: dict[str, Readings] = {}
    for (name, signal), ways in found.items():
        if not ways:
            out.setdefault(name, Readings(()))
        for way, own in ways.items():
            told = name if len(ways) == 1 else f"{name}, {way.words}"
            off = max(off_of(way.step_us, r.uncertainty_us) for r in own)
            out[told] = Readings(tuple(r.lag_us for r in own), way.step_us, off, frame_of(signal))
    return out
