"""What questions about analogue signals answer, as types."""

from __future__ import annotations

from typing import Any

from typing_extensions import TypedDict


class ScanRead(TypedDict):
    """What a signal comes to; guessed: what stands in for figures nobody gave; scan: its part of a profile."""

    name: str
    system: str
    line_khz: float
    vertical_hz: float
    dot_clock_mhz: float
    active: str
    pixel_aspect: str | None
    shape: str
    sync: str
    colour: str
    guessed: str
    scan: dict[str, Any]
