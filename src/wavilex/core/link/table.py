"""Rows and cells of a carry table as plain data, with what each says in its square."""

from __future__ import annotations

from collections.abc import Mapping

from wavilex.core.link.check import LinkVerdict, Verdict
from wavilex.core.link.shapes import CellOut, RowOut
from wavilex.core.video.timing import Timing

FAST_HZ = 100  # from here on people speak of a fast mode: common practice
CARRIED: tuple[Verdict, ...] = ("fits", "tight", "compressed")
_STOPPED: Mapping[str, str] = {
    "not_offered": "not offered", "no_audio_room": "no sound", "no_blanking_room": "no room",
    "below_minimum_clock": "too slow", "lead_turned": "lead turned", "lead_unfed": "lead unfed",
    "lead_too_long": "unlikely",
}  # fmt: skip


def cell_data(
    encoding: str, bits: int, verdict: Verdict, used_percent: float | None, stopped_by: str | None,
    room: float | None = None,
) -> CellOut:  # fmt: skip
    """A cell; its text is what is left of the link, or how far over it is, or what else stops it.

    room: bits a pixel that a DisplayPort link has room for compressed; there it is told in the place of what is left.
    """
    if stopped_by is not None and stopped_by in _STOPPED:
        text = said = _STOPPED[stopped_by]
    elif verdict == "unknown" or used_percent is None:
        text = said = "not known"
    elif room is not None and verdict == "compressed":
        text, said = f"{room:.1f} bit/px", f"compressed to {room:.1f} bits a pixel"
    elif verdict == "blocked":
        over = round(used_percent) - 100
        text, said = (f"−{over} %", f"{over} % more than it has") if over > 0 else ("too much", "more than it has")
    else:
        text = f"+{round(100 - used_percent)} %"
        said = f"{round(100 - used_percent)} % left over"
    return {"encoding": encoding, "bits": bits, "verdict": verdict, "used_percent": used_percent,
            "stopped_by": stopped_by, "text": text, "said": said}  # fmt: skip


def room_of(v: LinkVerdict) -> float | None:
    """Bits a pixel that compression over DisplayPort has room for; None on other links, and where nothing is."""
    return v.dsc.bits_per_pixel_x16 / 16 if v.dsc is not None and v.dp is not None else None


def row_data(t: Timing, address: str, wanted: bool, cells: list[CellOut]) -> RowOut:
    """A row: a mode with its cells; address: how its timing was named."""
    return {
        "mode": t.mode, "name": t.mode.name, "width": t.h_active, "height": t.frame_height, "hz": t.nominal_hz,
        "timing": address, "family": f"VIC {address[4:]}" if t.family == "CTA" else t.family, "wanted": wanted,
        "fast": t.nominal_hz >= FAST_HZ, "carried": any(c["verdict"] in CARRIED for c in cells), "cells": cells,
    }  # fmt: skip
