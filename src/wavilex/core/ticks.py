"""Ticks: what was done on site, each known by a key made of what it is about."""

from __future__ import annotations

import hashlib
from typing import Literal, get_args

TickState = Literal["done", "reverted", "undone"]
TICK_STATES: tuple[TickState, ...] = get_args(TickState)
DONE: TickState = "done"
REVERTED: TickState = "reverted"
UNDONE: TickState = "undone"


def key_of(kind: str, *content: object) -> str:
    """A tick's key out of what it is about: another content is another step."""
    text = "\x1f".join(str(c) for c in content)
    return f"{kind}-{hashlib.sha256(text.encode()).hexdigest()[:12]}"
