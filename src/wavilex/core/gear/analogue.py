"""Analogue pictures in a profile: what an output sends, what an input takes and how, what a converter does with it."""

from __future__ import annotations

from fractions import Fraction
from typing import Annotated, Literal

from pydantic import Field, model_validator

from wavilex.core.errors import WavilexError
from wavilex.core.gear.common import Ident, Model
from wavilex.core.video.codes import parse_mode

Ratio = Annotated[str, Field(pattern=r"^\d{1,12}(\.\d{1,9}|/\d{1,9})?$")]  # a number or a fraction, exact
Treatment = Literal["correct", "as_interlaced", "black", "rolling"]
Sync = Literal["on_picture", "separate", "on_luma", "two_wires"]
Colour = Literal["ntsc", "pal", "secam", "pal_525"]  # BT.1700; the last: the 625-line carrier on 525 lines
Fit = Literal["fill", "keep", "window", "crop"]
Mode = Annotated[str, Field(max_length=24)]
Sampling = Literal["whole_line", "matched"]


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
    active: Annotated[str, Field(pattern=r"^\d{2,4}x\d{2,4}$")]
    interlaced: bool = False
    sync: Sync = "on_picture"
    colour: Colour | None = None
    level: Literal["75_ohm", "ttl"] = "75_ohm"
    shape: Annotated[str, Field(pattern=r"^\d{1,4}:\d{1,4}$")] | None = None

    @model_validator(mode="after")
    def _sums(self) -> Scan:
        width, height = (int(n) for n in self.active.split("x"))
        if width >= Fraction(self.dots) or height >= self.lines:
            raise ValueError("active: a picture is smaller than its line and frame, blanking included")
        if not Fraction(self.dot_clock_hz):
            raise ValueError("dot_clock_hz must be over 0")
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


class Conversion(Model):
    """What a converter, multiplier or scaler does with a picture.

    rate: kept, or converted to the output mode's. outputs: modes by the options of the setting `output` (or of the
    one it always sends, under `only`); of a rate that is kept one for each rate, the usual one first.
    fits: how the picture fills the output, by the options of `fit`.
    multiples and sampling: of a line multiplier; sample: the setting that chooses among the samplings, its options
    named as they are. holds_lines, holds_frames: how much it keeps back.
    notice: what it writes on the picture, `{system}` and `{output}` filled in.
    """

    rate: Literal["kept", "converted"]
    output: Ident | None = None
    outputs: dict[str, Mode | tuple[Mode, ...]] = {}
    fit: Ident | None = None
    fits: dict[str, Fit] = {}
    multiples: tuple[Annotated[int, Field(ge=1, le=8)], ...] = ()
    sampling: tuple[Sampling, ...] = ()
    sample: Ident | None = None
    holds_lines: Annotated[int, Field(ge=0, le=5000)] | None = None
    holds_frames: Annotated[float, Field(ge=0, le=10)] | None = None
    notice: Annotated[str, Field(max_length=60)] = ""

    @model_validator(mode="after")
    def _modes(self) -> Conversion:
        for option in self.outputs:
            for mode in self.sent(option):
                try:
                    parse_mode(mode)
                except WavilexError as error:
                    raise ValueError(f"outputs.{option}: {error}") from None
        return self

    def sent(self, option: str) -> tuple[str, ...]:
        """The modes an option of `output` sends; none where it is no option."""
        modes = self.outputs.get(option, ())
        return (modes,) if isinstance(modes, str) else modes


class ShownAs(Model):
    """The shape a screen shows a picture at. glass: of the screen itself; fits: by the options of the setting `fit`.

    overscan_percent: how much of the width, and of the height, lies past its edges; while its setting with the effect
    `overscan` is on, or always, where it has none.
    """

    glass: Annotated[str, Field(pattern=r"^\d{1,4}:\d{1,4}$")] = "16:9"
    fit: Ident | None = None
    fits: dict[str, Fit] = {}
    overscan_percent: Annotated[float, Field(gt=0, le=20)] | None = None
