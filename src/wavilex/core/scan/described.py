"""An analogue signal, and what an input takes of them, as a gear file describes them."""

from __future__ import annotations

from fractions import Fraction
from typing import Annotated, Literal

from pydantic import Field, model_validator

from wavilex.core.fields import Model

Ratio = Annotated[str, Field(pattern=r"^\d{1,12}(\.\d{1,9}|/\d{1,9})?$")]  # a number or a fraction, exact
Fit = Literal["fill", "keep", "window", "crop"]
Sampling = Literal["whole_line", "matched"]
Treatment = Literal["correct", "as_interlaced", "black", "rolling"]
Sync = Literal["on_picture", "separate", "on_luma", "two_wires"]
Colour = Literal["ntsc", "pal", "secam", "pal_525"]  # BT.1700; the last: the 625-line carrier on 525 lines


_LEAST_HZ, _MOST_HZ = 5, 500  # frames a second of anything that was ever shown: own bounds


class Scan(Model):
    """An analogue signal by its machine's clocks.

    dot_clock_hz: dots a second, exact (`59062500/11`). dots: dots a line, blanking included. lines: lines a frame,
    blanking included; of both fields where it is interlaced. active: dots and lines that are picture (`256x224`).
    shape: what the picture is meant to look like, width to height; left out: by its pixels (BT.601), `4:3` of VGA.
    sync: of RGB: on the picture wire, on one of its own, on the green or luma, or on two (line and frame).
    colour: how composite and S-video carry it; RGB and component carry it apart, and leave it out.
    """

    dot_clock_hz: Ratio
    dots: Ratio
    lines: Annotated[int, Field(ge=100, le=4000)]
    active: Annotated[str, Field(pattern=r"^[1-9]\d{1,3}x[1-9]\d{1,3}$")]
    interlaced: bool = False
    sync: Sync = "on_picture"
    colour: Colour | None = None
    level: Literal["75_ohm", "ttl"] = "75_ohm"
    shape: Annotated[str, Field(pattern=r"^[1-9]\d{0,3}:[1-9]\d{0,3}$")] | None = None

    @model_validator(mode="after")
    def _sums(self) -> Scan:
        width, height = (int(n) for n in self.active.split("x"))
        if width >= Fraction(self.dots) or height >= self.lines:
            raise ValueError("active: a picture is smaller than its line and frame, blanking included")
        rate = Fraction(self.dot_clock_hz) / Fraction(self.dots) / self.lines
        if not _LEAST_HZ <= rate <= _MOST_HZ:
            raise ValueError(f"dot_clock_hz: a frame rate of {float(rate):.3g} Hz, not {_LEAST_HZ} to {_MOST_HZ}")
        return self


Range = tuple[Annotated[float, Field(gt=0, le=1000)], Annotated[float, Field(gt=0, le=1000)]]


class Takes(Model):
    """A range of scan rates an input accepts, and how it treats them. interlaced left out: both kinds.

    syncs: the kinds of sync it reads; left out: all. colours: the colour systems it knows; left out: not known.
    """

    line_khz: Range
    hz: Range
    interlaced: bool | None = None
    treats: Treatment = "correct"
    syncs: tuple[Sync, ...] | None = None
    colours: tuple[Colour, ...] | None = None
