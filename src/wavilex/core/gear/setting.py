"""A setting: something a person chooses in a menu, from options or from a range of numbers, and what it is kept by."""

from __future__ import annotations

from decimal import Decimal, InvalidOperation
from typing import Annotated, Any, Literal, get_args

from pydantic import Field, PlainSerializer, field_validator, model_validator

from wavilex.core.fields import Ident, Model
from wavilex.core.gear.cells import DIMENSIONS, StoredBy

Effect = Literal[
    "game_mode", "variable_refresh", "interpolation", "black_frames", "input_speed", "fast_input", "hdr",
    "processing", "tone_mapping", "warmth", "colour", "dimming", "shadow_lift", "room_light", "overscan",
    "device_control", "sharpening", "high_rate", "uhd_output", "preset", "quantisation",
    "mirroring", "overdrive", "panel_light", "contrast", "black_level", "saturation", "tint", "sharpness",
]  # fmt: skip
# which values an effect’s options are known by; what a title wishes for is said in these words
EFFECT_OPTIONS: dict[str, tuple[str, ...]] = {
    "game_mode": ("off", "on", "auto"), "variable_refresh": ("off", "on"), "interpolation": ("off", "on"),
    "black_frames": ("off", "on"), "input_speed": ("slow", "middle", "fast"), "fast_input": ("off", "on"),
    "hdr": ("off", "on", "auto"), "processing": ("off", "auto", "low", "high"),
    "tone_mapping": ("source", "screen", "off"), "warmth": ("cool", "neutral", "warm"),
    "colour": ("natural", "vivid"), "dimming": ("off", "low", "middle", "high"),
    "shadow_lift": ("off", "low", "high"), "room_light": ("off", "on"), "overscan": ("off", "on"),
    "device_control": ("off", "on"), "sharpening": ("off", "low", "high"), "high_rate": ("off", "on", "auto"),
    "uhd_output": ("off", "on"), "quantisation": ("auto", "limited", "full"),
    "overdrive": ("off", "low", "middle", "high"), "mirroring": ("off", "on"),
    "preset": ("standard", "game", "film_dark", "film_bright", "vivid", "expert", "computer", "sports", "saving"),
}  # fmt: skip
NUMBER_EFFECTS = ("panel_light", "contrast", "black_level", "saturation", "tint", "sharpness")
assert set(EFFECT_OPTIONS) | set(NUMBER_EFFECTS) == set(get_args(Effect))
_MOST_STEPS = 100_000


def number_text(value: Decimal) -> str:
    """A number as it is kept and shown: no exponent, no empty digits."""
    text = format(value.normalize(), "f")
    return "0" if text == "-0" else text


Figure = Annotated[
    Decimal,
    Field(ge=-100_000, le=100_000, allow_inf_nan=False, max_digits=10),
    PlainSerializer(lambda v: int(v) if v == v.to_integral_value() else float(v), return_type=float | int),
]


class Span(Model):
    """The numbers a setting takes: from, to, in steps. neutral: where it does nothing, None: not known."""

    from_: Figure = Field(alias="from")
    to: Figure
    step: Annotated[Figure, Field(gt=0)] = Decimal(1)
    neutral: Figure | None = None
    unit: Annotated[str, Field(max_length=12)] = ""

    @field_validator("from_", "to", "step", "neutral", mode="before")
    @classmethod
    def _as_written(cls, value: Any) -> Any:
        return str(value) if isinstance(value, float) else value  # 0.1 is a tenth

    @model_validator(mode="after")
    def _a_range(self) -> Span:
        if self.from_ >= self.to:
            raise ValueError("number: from is below to")
        if (self.to - self.from_) / self.step > _MOST_STEPS:
            raise ValueError(f"number: {_MOST_STEPS} steps at most")
        if self.neutral is not None and not self._on_a_step(self.neutral):
            raise ValueError("number: neutral is one of its steps")
        return self

    def _on_a_step(self, value: Decimal) -> bool:
        return self.from_ <= value <= self.to and (value - self.from_) % self.step == 0

    def read(self, text: str) -> str | None:
        """A number as it is kept; None where it is none of these."""
        try:
            value = Decimal(text.strip().replace(",", ".").replace("−", "-"))
        except InvalidOperation:
            return None
        return number_text(value) if value.is_finite() and self._on_a_step(value) else None

    def nearest(self, value: Decimal) -> str:
        """The step nearest to a figure."""
        steps = round((min(max(value, self.from_), self.to) - self.from_) / self.step)
        fitted = self.from_ + steps * self.step
        return number_text(fitted if fitted <= self.to else fitted - self.step)

    @property
    def words(self) -> str:
        """`0 to 50`, with the step where it is not 1."""
        unit = f" {self.unit}" if self.unit else ""
        by = "" if self.step == 1 else f" by {number_text(self.step)}"
        return f"{number_text(self.from_)} to {number_text(self.to)}{by}{unit}"


class Option(Model):
    id: Ident
    label: Annotated[str, Field(min_length=1, max_length=60)]


class Setting(Model):
    """Something a person chooses in a menu: one of `options`, or a `number`.

    kept_by: what its value is kept apart for; `ports` given: for each of these sockets, at least.
    effect: what it does, where that is one of the effects titles wish for; its options are then known by the
    values of `EFFECT_OPTIONS`. copies: may its value be copied to a sister unit? yes; no, it is this unit’s or this
    room’s; or a matter of taste.
    """

    id: Ident
    label: Annotated[str, Field(min_length=1, max_length=60)]
    options: tuple[Option, ...] = ()
    number: Span | None = None
    default: Annotated[str, Field(min_length=1, max_length=40)]
    ports: tuple[Ident, ...] = ()
    kept_by: tuple[StoredBy, ...] = ()
    where: Annotated[str, Field(max_length=160)] = ""
    resync: bool = False
    minutes: Annotated[int, Field(ge=0, le=120)] = 1
    effect: Effect | None = None
    copies: Literal["yes", "unit", "room", "taste"] = "yes"

    @field_validator("default", mode="before")
    @classmethod
    def _number_as_text(cls, value: Any) -> Any:
        return str(value) if isinstance(value, int | float) and not isinstance(value, bool) else value

    @model_validator(mode="after")
    def _known_values(self) -> Setting:
        if (self.number is None) == (not self.options):
            raise ValueError("options: give options or a number, one of them")
        if self.number is None and len(self.options) < 2:
            raise ValueError("options: one alone is no choice; give two or more")
        if self.effect in NUMBER_EFFECTS and self.number is None:
            raise ValueError(f"effect: {self.effect} is set by a number")
        allowed = EFFECT_OPTIONS.get(self.effect or "")
        if allowed and self.number is not None:
            raise ValueError(f"effect: {self.effect} has options, no number")
        strange = [o.id for o in self.options if allowed and o.id not in allowed]
        if allowed and strange:
            raise ValueError(f"options: {self.effect} has {', '.join(allowed)}, not {strange[0]!r}")
        if self.read(self.default) != self.default:
            known = "among its options" if self.number is None else f"a number of {self.number.words}"
            raise ValueError(f"default: {self.default!r} is not {known}")
        return self

    @property
    def dimensions(self) -> tuple[StoredBy, ...]:
        """What its value is kept by, in the order of DIMENSIONS."""
        own = {*self.kept_by, *(("input",) if self.ports else ())}
        return tuple(d for d in DIMENSIONS if d in own)

    @property
    def in_cells(self) -> bool:
        """Is it kept by more than the input?"""
        return any(d != "input" for d in self.kept_by)

    def read(self, text: str) -> str | None:
        """A value as it is kept; None where it is none of the setting's."""
        if self.number is not None:
            return self.number.read(text)
        return text if any(o.id == text for o in self.options) else None

    def option_label(self, option: str) -> str:
        """A value in words."""
        if self.number is not None:
            return f"{option} {self.number.unit}".strip()
        return next((o.label for o in self.options if o.id == option), option)

    @property
    def choice_words(self) -> str:
        """What it can be, in words."""
        return self.number.words if self.number is not None else ", ".join(o.id for o in self.options)
