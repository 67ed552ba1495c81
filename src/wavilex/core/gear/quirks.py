"""What a device does besides the plain: quirks as data. Each says why, and may have a firmware range."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from wavilex.core.fields import Ident, Model, Provenance
from wavilex.core.gear.cells import StoredBy
from wavilex.core.gear.conditions import Condition, Firmware
from wavilex.core.gear.ports import Video


class _Quirk(Model):
    """firmware: the versions that have it. comes_and_goes: not there every time. seen: year and month."""

    id: Ident
    because: Annotated[str, Field(min_length=1, max_length=160)]
    source: Provenance = "makers_claim"
    firmware: Firmware | None = None
    comes_and_goes: bool = False
    seen: Annotated[str, Field(pattern=r"^\d{4}-\d{2}$")] | None = None


class Limits(_Quirk):
    """While `when` holds (always, when left out), the ports carry no more than `limits`. It only narrows."""

    kind: Literal["limits"]
    when: Condition | None = None
    ports: tuple[Ident, ...] = ()
    limits: Video

    @model_validator(mode="after")
    def _says_something(self) -> Limits:
        if all(getattr(self.limits, name) is None for name in Video.model_fields):
            raise ValueError("limits: say what it carries less of")
        return self


class _OfSetting(_Quirk):
    """About a setting, or some of its options."""

    setting: Ident
    options: tuple[Ident, ...] = ()


class Requires(_OfSetting):
    """The setting is greyed out unless `when` holds; it then reads `reads`, or its default."""

    kind: Literal["requires"]
    when: Condition
    reads: Ident | None = None


class Excludes(_OfSetting):
    """While `when` holds the setting, or these options, cannot be chosen; it then reads `reads`, or its default."""

    kind: Literal["excludes"]
    when: Condition
    reads: Ident | None = None


class Forces(_OfSetting):
    """When `when` starts to hold the device itself sets the setting to `to`; `returns`: it comes back at each start."""

    kind: Literal["forces"]
    when: Condition
    to: Ident
    returns: bool = False


class Inert(_OfSetting):
    """While `when` holds the setting can be chosen and does nothing."""

    kind: Literal["inert"]
    when: Condition


class Resets(_OfSetting):
    """Choosing another value (one of `options`, where they are given) puts other settings back to their defaults:
    those of `resets`; left out, all that are kept by more than the input.
    """

    kind: Literal["resets"]
    resets: tuple[Ident, ...] = ()


class Remembers(_Quirk):
    """What the device stores these settings under (all, when left out): each combination has values of its own."""

    kind: Literal["remembers"]
    settings: tuple[Ident, ...] = ()
    by: Annotated[tuple[StoredBy, ...], Field(min_length=1)]


class UpdateResets(_Quirk):
    """Installing a version of `firmware` (any, when left out) puts these settings (all, when left out) back to their
    defaults.
    """

    kind: Literal["update"]
    settings: tuple[Ident, ...] = ()


class Shows(_Quirk):
    """A read-out: where it is, what it says (`{mode}`, `{hz}`, `{bits}` are the signal's), whether to trust it.

    writer: who writes it: the box itself, the source, the title. counts: the signal, what is rendered, or what it was
    told may be sent.
    """

    kind: Literal["shows"]
    place: Annotated[str, Field(min_length=1, max_length=60)]
    says: Annotated[str, Field(min_length=1, max_length=80)]
    when: Condition | None = None
    trust: bool = True
    writer: Literal["box", "source", "title"] = "box"
    counts: Literal["signal", "rendered", "told"] = "signal"


class AddsLag(_Quirk):
    """Lag added while `when` holds, in ms; claimed or measured by `source`."""

    kind: Literal["lag"]
    when: Condition | None = None
    adds_ms: Annotated[float, Field(gt=0, le=1000)]


class Dims(_Quirk):
    """While `when` holds the picture keeps this share of its brightness, in percent."""

    kind: Literal["dims"]
    when: Condition | None = None
    keeps_percent: Annotated[int, Field(ge=1, le=99)]


Quirk = Annotated[
    Limits | Requires | Excludes | Forces | Inert | Resets | Remembers | UpdateResets | Shows | AddsLag | Dims,
    Field(discriminator="kind"),
]
OfSetting = Requires | Excludes | Forces | Inert
