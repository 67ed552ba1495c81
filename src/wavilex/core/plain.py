"""JSON as it may come from anybody: read into plain data, or refused at its place before any rule sees it."""

from __future__ import annotations

import json
import re
from typing import Any, NoReturn

from wavilex.core.errors import WavilexError

MOST_DEEP = 40
MOST_INT = 2**53  # beyond it a page's own numbers are not exact, and a database's are not far off
_UNFIT = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\ud800-\udfff\ufffe\uffff]")


class PlainError(WavilexError):
    """What came is no JSON, or holds what no field of ours can."""

    code = "unreadable"


def unfit_in(text: str) -> str:
    """The first sign of a text that can be neither shown nor kept, as U+0007; "" where all can."""
    found = _UNFIT.search(text)
    return f"U+{ord(found[0]):04X}" if found else ""


_FORMULA = re.compile(r"'*[=+\-@\t\r]")  # what a spreadsheet takes for a formula, quoted already or not


def cell_text(text: str) -> str:
    """A text as a cell of a table that a spreadsheet will open: never taken for a formula."""
    return f"'{text}" if _FORMULA.match(text) else text


def text_of_cell(cell: str) -> str:
    """The text of such a cell; the other way round of `cell_text`."""
    return cell[1:] if cell.startswith("'") and _FORMULA.match(cell) else cell


def read_json(text: str | bytes) -> Any:
    """Plain data. Raises PlainError with line or place: no JSON, NaN, figures beyond all bounds, control signs."""
    try:
        data = json.loads(text, parse_constant=_constant, parse_int=_whole, parse_float=_figure)
    except UnicodeDecodeError as error:
        raise PlainError(f"this is no text in UTF-8: byte {error.start} is none") from None
    except json.JSONDecodeError as error:
        raise PlainError(f"not readable as JSON: {error.msg}", where=f"line {error.lineno}") from None
    except RecursionError:
        raise PlainError(f"not readable: more than {MOST_DEEP} levels deep") from None
    check(data)
    return data


def check(data: Any, most: int | None = None) -> None:
    """Walk plain data. Raises PlainError where a value is one that no field of ours holds, or there are over `most`."""
    seen = 0
    todo: list[tuple[Any, tuple[Any, ...]]] = [(data, ())]
    while todo:
        value, way = todo.pop()
        seen += 1
        if most is not None and seen > most:
            raise PlainError(f"larger than anything of its kind: over {most} values")
        if len(way) > MOST_DEEP:
            raise PlainError(f"more than {MOST_DEEP} levels deep", where=_place(way[:4]))
        if isinstance(value, str):
            _text(value, way)
        elif isinstance(value, dict):
            for key, inner in value.items():
                if isinstance(key, str):
                    _text(key, way)
                todo.append((inner, (*way, key)))
        elif isinstance(value, (list, tuple)):
            todo.extend((inner, (*way, n)) for n, inner in enumerate(value))


def _text(value: str, way: tuple[Any, ...]) -> None:
    sign = unfit_in(value)
    if sign:
        raise PlainError(f"holds a control sign ({sign}) that can be neither shown nor kept", where=_place(way))


def _place(way: tuple[Any, ...]) -> str:
    return ".".join(re.sub(_UNFIT, "?", str(part))[:40] for part in way)


def _constant(word: str) -> NoReturn:
    raise PlainError(f"{word} is no number")


def _whole(digits: str) -> int:
    if len(digits) > 20 or abs(value := int(digits)) > MOST_INT:
        raise PlainError(f"{digits[:24]}{'…' if len(digits) > 24 else ''} is beyond what a number may be here")
    return value


def _figure(text: str) -> float:
    value = float(text)
    if value in (float("inf"), float("-inf")):
        raise PlainError(f"{text[:24]} is beyond what a number may be here")
    return value
