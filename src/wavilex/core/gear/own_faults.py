"""Faults that a model is known for: what a profile says of them. They stand among those made from the rig."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from wavilex.core.fields import Ident, Model, Provenance
from wavilex.core.gear.conditions import Firmware

Complaint = Literal[
    "no_picture", "drops_out", "black_on_start", "not_offered", "no_hdr", "no_vrr", "coarse", "greyed", "lags",
    "no_sound", "wrong_shape", "too_dark", "reverted",
]  # fmt: skip
HowOften = Literal["rarely", "now_and_then", "often"]


class OwnFault(Model):
    """what: the fault, said of the box (`forgets its input format after a power cut`). brings: what clients then
    complain of. cure: what mends it, with how many minutes that takes. firmware: the versions that have it.
    """

    id: Ident
    what: Annotated[str, Field(min_length=1, max_length=120)]
    brings: Annotated[tuple[Complaint, ...], Field(min_length=1, max_length=6)]
    cure: Annotated[str, Field(min_length=1, max_length=160)]
    minutes: Annotated[int, Field(ge=0, le=120)] = 2
    how_often: HowOften = "now_and_then"
    source: Provenance = "makers_claim"
    firmware: Firmware | None = None
    seen: Annotated[str, Field(pattern=r"^\d{4}-\d{2}$")] | None = None
