"""Moments as text: ISO 8601 with its zone, read by one reader and kept in UTC."""

from __future__ import annotations

from typing import Annotated
from zoneinfo import available_timezones

from pydantic import AfterValidator, AwareDatetime, TypeAdapter, ValidationError, WithJsonSchema

_READ = TypeAdapter(AwareDatetime)
_UTC_SECONDS = 0


def known_zone(name: str) -> str:
    """A time zone's name. Raises ValueError where there is none of that name."""
    if name not in available_timezones():
        raise ValueError("no such time zone; write one like Europe/Lisbon")
    return name


def utc_text(text: str) -> str:
    """A moment as it is kept: `2026-11-25T09:30:00Z`. Raises ValueError where the text is no moment with a zone."""
    try:
        moment = _READ.validate_python(text.strip())
    except ValidationError as error:
        raise ValueError(error.errors(include_url=False)[0]["msg"]) from None
    offset = moment.utcoffset()
    if offset is None or offset.total_seconds() != _UTC_SECONDS:
        raise ValueError("write it in UTC, with Z behind it")
    return moment.isoformat().replace("+00:00", "Z")


Moment = Annotated[str, AfterValidator(utc_text), WithJsonSchema({"type": "string", "format": "date-time"})]
