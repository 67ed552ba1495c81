"""Shapes every part of the API shares."""

from __future__ import annotations

from ninja import Schema


class ProblemOut(Schema):
    """RFC 9457 problem document."""

    type: str
    title: str
    status: int
    code: str
    detail: str
    where: str
    request_id: str
