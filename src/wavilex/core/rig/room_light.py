"""The light a screen stands in, as somebody noted it: a fact about the screen, of this room and no other."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from wavilex.core.fields import Model

ROOM_FACT = "room_light"
PAGE_FACT = "hdr_page"  # facts about a source: its HDR pages whose steps were found here
RoomIs = Literal["dark", "lit", "bright"]


class RoomLight(Model):
    """By day, in the evening, how far the seat is, and whether light falls on the glass. None: nobody noted it."""

    day: RoomIs | None = None
    night: RoomIs | None = None
    seat_mm: Annotated[int, Field(ge=200, le=30_000)] | None = None
    glare: bool = False
