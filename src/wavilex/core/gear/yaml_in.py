"""YAML as it may come from anybody: read into plain data, or refused soon, with the line."""

from __future__ import annotations

from io import StringIO
from typing import Any

from wavilex.core.errors import ProfileError
from wavilex.core.plain import MOST_DEEP, PlainError, check

_MOST_PLACES = 50_000  # of a profile with all it repeats


def read_yaml(text: str) -> Any:
    """Plain data that knows its lines. Raises ProfileError: no YAML, too deep, too much of it, control signs."""
    from ruamel.yaml import YAML
    from ruamel.yaml.error import YAMLError

    yaml = YAML(typ="rt")
    yaml.max_depth = MOST_DEEP
    try:
        data = yaml.load(StringIO(text))
    except YAMLError as error:
        mark = getattr(error, "problem_mark", None)
        problem = getattr(error, "problem", None) or str(error).split("\n")[0]
        if "maximum depth" in problem:
            problem = f"more than {MOST_DEEP} levels deep"
        raise ProfileError(f"not readable as YAML: {problem}", line=mark.line + 1 if mark else None) from None
    except (ValueError, RecursionError) as error:
        raise ProfileError(f"not readable as YAML: {error}") from None
    try:
        check(data, most=_MOST_PLACES)
    except PlainError as error:
        raise ProfileError(error.message, where=error.where) from None
    return data


def line_of(data: Any, loc: tuple[Any, ...], message: str) -> int:
    """The line of the deepest part of a path that the file really has, counted from 1."""
    line: int = getattr(getattr(data, "lc", None), "line", 0) + 1
    node = data
    for step in (*loc, *message.split(":")[0].split(".")):
        lc = getattr(node, "lc", None)
        try:
            position = lc.key(step) if isinstance(node, dict) else lc.item(step)  # type: ignore[union-attr]
            node = node[step]
        except (KeyError, IndexError, TypeError, AttributeError):
            continue
        line = position[0] + 1
    return line
