"""What a validator refuses, in our words: files, profiles, changes and requests are told of in the same way."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from wavilex.core.fields import IDENT_PATTERN, UID_PATTERN, VERSION_PATTERN

OWN = "Value error, "  # before words that are ours already
_PATTERNS = {
    UID_PATTERN: "1 to 40 signs without / and without space",
    IDENT_PATTERN: "1 to 40 small letters, digits, _ and -, a letter or digit first",
    VERSION_PATTERN: "numbers and dots, like 3.10.2",
    r"^\d{4}-\d{2}$": "a month like 2026-11",
    r"^[1-9]\d{0,3}:[1-9]\d{0,3}$": "a shape like 16:9",
    r"^[1-9]\d{1,3}x[1-9]\d{1,3}$": "a size like 320x240",
}


def _one_of(c: Mapping[str, Any]) -> str:
    return f"is one of {_bare(c['expected']).replace(' or ', ', ')}"


def _bare(words: object) -> str:
    return str(words).replace("'", "")


def _pattern(c: Mapping[str, Any]) -> str:
    known = _PATTERNS.get(c["pattern"])
    return f"is {known}" if known else "is not written as it must be"


_WORDS: dict[str, Callable[[Mapping[str, Any]], str]] = {
    "missing": lambda c: "is missing",
    "extra_forbidden": lambda c: "is no word known here",
    "string_type": lambda c: "is a text",
    "string_too_short": lambda c: "is empty" if c["min_length"] == 1 else f"has at least {_signs(c['min_length'])}",
    "string_too_long": lambda c: f"has at most {_signs(c['max_length'])}",
    "string_pattern_mismatch": _pattern,
    "int_type": lambda c: "is a whole number",
    "int_parsing": lambda c: "is a whole number",
    "int_from_float": lambda c: "is a whole number",
    "int_parsing_size": lambda c: "is beyond what a number may be here",
    "float_type": lambda c: "is a number",
    "float_parsing": lambda c: "is a number",
    "decimal_type": lambda c: "is a number",
    "decimal_parsing": lambda c: "is a number",
    "decimal_max_digits": lambda c: "has fewer digits",
    "finite_number": lambda c: "is a finite number",
    "bool_type": lambda c: "is true or false",
    "bool_parsing": lambda c: "is true or false",
    "literal_error": _one_of,
    "enum": _one_of,
    "greater_than": lambda c: f"is more than {c['gt']}",
    "greater_than_equal": lambda c: f"is at least {c['ge']}",
    "less_than": lambda c: f"is less than {c['lt']}",
    "less_than_equal": lambda c: f"is at most {c['le']}",
    "too_short": lambda c: f"holds at least {c['min_length']}",
    "too_long": lambda c: f"holds at most {c['max_length']}",
    "list_type": lambda c: "is a list",
    "tuple_type": lambda c: "is a list",
    "dict_type": lambda c: "is a set of names with values",
    "mapping_type": lambda c: "is a set of names with values",
    "model_type": lambda c: "is a set of names with values",
    "model_attributes_type": lambda c: "is a set of names with values",
    "none_required": lambda c: "is left out, or null",
    "union_tag_not_found": lambda c: f"lacks {_bare(c['discriminator'])}",
    "union_tag_invalid": lambda c: f"{_bare(c['discriminator'])} is one of {_bare(c['expected_tags'])}",
    "timezone_aware": lambda c: "is a moment with its time zone, like 2026-11-25T09:30:00Z",
    "json_invalid": lambda c: "is not readable as JSON",
}
_MOMENTS = ("datetime_", "date_", "time_")


def _signs(number: int) -> str:
    return "1 sign" if number == 1 else f"{number} signs"


def words(error: Mapping[str, Any]) -> str:
    """What is asked of the place, to stand behind its name: `is at most 60`. error: one of pydantic's details."""
    kind = str(error["type"])
    if kind in ("value_error", "assertion_error"):
        return str(error["msg"]).removeprefix(OWN)
    if kind.startswith(_MOMENTS):
        return "is a moment like 2026-11-25T09:30:00Z"
    told = _WORDS.get(kind)
    return told(error.get("ctx", {})) if told else "cannot be read"


def place(error: Mapping[str, Any], skip: tuple[str, ...] = ()) -> str:
    """Where, as its author wrote it: without the names of our types (`tuple[…]`) and the words to skip."""
    return ".".join(str(p) for p in error["loc"] if "[" not in str(p) and p not in skip)
