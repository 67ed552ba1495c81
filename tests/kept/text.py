"""Plain data as text that is read and compared by lines: one leaf or one short part a line."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any

WIDTH = 118


def lines(value: Any, depth: int = 0) -> Iterator[str]:
    """A value's lines, each part on one line where it fits."""
    flat = json.dumps(value, ensure_ascii=False, default=str)
    space = " " * depth
    if not isinstance(value, (dict, list, tuple)) or not value or len(flat) + depth <= WIDTH:
        yield space + flat
    elif isinstance(value, dict):
        for key, part in value.items():
            inside = list(lines(part, depth + 1))
            if len(inside) == 1 and len(key) + len(inside[0]) + 2 <= WIDTH:
                yield f"{space}{key}: {inside[0].lstrip()}"
            else:
                yield f"{space}{key}:"
                yield from inside
    else:
        for part in value:
            inside = list(lines(part, depth + 1))
            yield f"{space}-{inside[0][depth + 1 :]}" if len(inside) == 1 else f"{space}-"
            yield from inside if len(inside) > 1 else ()


def text(value: Any) -> str:
    return "\n".join(lines(value)) + "\n"
