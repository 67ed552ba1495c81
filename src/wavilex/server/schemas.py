"""Shapes every part of the API shares."""

from __future__ import annotations

from typing import Annotated, Any

from ninja import Schema
from pydantic import ValidatorFunctionWrapHandler, WrapValidator

from wavilex.core.rig.ops import Op


def _as_given(value: Any, _validate: ValidatorFunctionWrapHandler) -> Any:
    """The core reads changes itself, once, and says plainly what is wrong; here they are only documented."""
    return value


OpIn = Annotated[Op, WrapValidator(_as_given)]


class ProblemOut(Schema):
    """RFC 9457 problem document."""

    type: str
    title: str
    status: int
    code: str
    detail: str
    where: str
    request_id: str
