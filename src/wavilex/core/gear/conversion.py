"""What a converter, multiplier or scaler does with a picture, and the shape a screen shows one at, in a profile."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from wavilex.core.errors import WavilexError
from wavilex.core.fields import Ident, Model
from wavilex.core.scan.described import Fit, Sampling
from wavilex.core.scan.multiples import MOST_TIMES
from wavilex.core.video.codes import listed_timing
from wavilex.core.video.mode import Mode


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
    multiples: tuple[Annotated[int, Field(ge=1, le=MOST_TIMES)], ...] = ()
    sampling: tuple[Sampling, ...] = ()
    sample: Ident | None = None
    holds_lines: Annotated[int, Field(ge=0, le=5000)] | None = None
    holds_frames: Annotated[float, Field(ge=0, le=10)] | None = None
    notice: Annotated[str, Field(max_length=60)] = ""

    @model_validator(mode="after")
    def _timed(self) -> Conversion:
        for option in self.outputs:
            for mode in self.sent(option):
                try:
                    listed_timing(mode)
                except WavilexError as error:
                    raise ValueError(f"outputs.{option}: {error}") from None
        return self

    def sent(self, option: str) -> tuple[Mode, ...]:
        """The modes an option of `output` sends; none where it is no option."""
        modes = self.outputs.get(option, ())
        return (modes,) if isinstance(modes, Mode) else modes


class ShownAs(Model):
    """The shape a screen shows a picture at. glass: of the screen itself; fits: by the options of the setting `fit`.

    overscan_percent: how much of the width, and of the height, lies past its edges; while its setting with the effect
    `overscan` is on, or always, where it has none.
    """

    glass: Annotated[str, Field(pattern=r"^[1-9]\d{0,3}:[1-9]\d{0,3}$")] = "16:9"
    fit: Ident | None = None
    fits: dict[str, Fit] = {}
    overscan_percent: Annotated[float, Field(gt=0, le=20)] | None = None
