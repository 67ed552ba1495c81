"""Shapes every part of the API shares."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated, Any

from ninja import Schema
from pydantic import AfterValidator, ValidatorFunctionWrapHandler, WrapValidator

from wavilex.core.moment import OUT_OF_REACH, in_reach
from wavilex.core.rig.ops import Op


def _as_given(value: Any, _validate: ValidatorFunctionWrapHandler) -> Any:
    """The core reads changes itself, once, and says plainly what is wrong; here they are only documented."""
    return value


OpIn = Annotated[Op, WrapValidator(_as_given)]


def _in_utc(moment: datetime) -> datetime:
    """A moment in UTC; without a zone it is in UTC already."""
    if not in_reach(moment.year):
        raise ValueError(OUT_OF_REACH)
    return (moment if moment.tzinfo else moment.replace(tzinfo=UTC)).astimezone(UTC)


When = Annotated[datetime, AfterValidator(_in_utc)]


class ProblemOut(Schema):
    """RFC 9457 problem document."""

    type: str
    title: str
    status: int
    code: str
    detail: str
    where: str
    request_id: str
