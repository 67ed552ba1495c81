"""Moments as text: ISO 8601 with its zone, read by one reader and kept in UTC."""

from __future__ import annotations

from typing import Annotated
from zoneinfo import available_timezones

from pydantic import AfterValidator, AwareDatetime, TypeAdapter, ValidationError, WithJsonSchema

_READ = TypeAdapter(AwareDatetime)
_UTC_SECONDS = 0
_FIRST_YEAR, _LAST_YEAR = (
    1990,
    2100,
)  # beyond them a date is a slip
OUT_OF_REACH = f"lies outside the years {_FIRST_YEAR} to {_LAST_YEAR}"


def in_reach(year: int) -> bool:
    """Can a moment of this year be meant?"""
    return _FIRST_YEAR <= year <= _LAST_YEAR


def known_zone(name: str) -> str:
    """A time zone's name. Raises ValueError where there is none of that name."""
    if name not in available_timezones():
        raise ValueError("no such time zone; write one like Europe/Lisbon")
    return name


def utc_text(text: str) -> str:
    """A moment as it is kept: `2026-11-25T09:30:00Z`. Raises ValueError where the text is no moment with a zone."""
    try:
        moment = _READ.validate_python(text.strip())
    except ValidationError:
        raise ValueError("is a moment like 2026-11-25T09:30:00Z") from None
    if not in_reach(moment.year):
        raise ValueError(OUT_OF_REACH)
    offset = moment.utcoffset()
    if offset is None or offset.total_seconds() != _UTC_SECONDS:
        raise ValueError("write it in UTC, with Z behind it")
    return moment.isoformat().replace("+00:00", "Z")


Moment = Annotated[str, AfterValidator(utc_text), WithJsonSchema({"type": "string", "format": "date-time"})]
