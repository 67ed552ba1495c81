"""What may be behind a complaint, as types."""

from __future__ import annotations

from typing_extensions import TypedDict

from wavilex.core.rig.ops import Op


class CauseOut(TypedDict):
    """A cause of lag; rank from 1, likeliest first; ops mend it in the plan, if anything there can."""

    rank: int
    id: str
    title: str
    why: str
    check: str
    ops: list[Op]
