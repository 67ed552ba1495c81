"""The gear profile: one device as data. Schema, and reading it from YAML text with line numbers.

Unknown is not zero and not false: a figure left out is unknown; `none`, `false` or `[]` is a known absence.
"""

from __future__ import annotations

import hashlib
import json
from io import StringIO
from typing import Annotated, Any, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, ValidationError, model_validator

from wavilex.core.errors import ProfileError, WavilexError
from wavilex.core.link.dsc import DscSink, slice_code
from wavilex.core.link.rates import FRL_CODES, TMDS_MAX_MHZ, frl_rate
from wavilex.core.video.codes import parse_mode, parse_timing

PROFILE_VERSION = 1
Ident = Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9_-]{0,39}$")]
Provenance = Literal["document", "common_practice", "measured_here", "makers_claim", "guess"]
Role = Literal["source", "repeater", "screen"]
Kind = Literal["console", "computer", "player", "receiver", "switch", "television", "monitor"]
HdrKind = Literal["static", "hlg", "dynamic"]
Frl = Literal["none", "3x3", "3x6", "4x6", "4x8", "4x10", "4x12", "4x16", "4x20", "4x24"]
assert set(Frl.__args__) == set(FRL_CODES)  # type: ignore[attr-defined]
Depths = tuple[Literal[8, 10, 12, 16], ...]
Tmds = Annotated[int, Field(ge=25, le=TMDS_MAX_MHZ, strict=True)]


class _Model(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class Encodings(_Model):
    """Depths in bits per component, by encoding. A left-out encoding is known to be absent."""

    rgb: Depths = ()
    yuv444: Depths = Field(default=(), alias="444")
    yuv422: Depths = Field(default=(), alias="422")
    yuv420: Depths = Field(default=(), alias="420")
    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True)

    def depths(self, encoding: str) -> tuple[int, ...]:
        return {"rgb": self.rgb, "444": self.yuv444, "422": self.yuv422, "420": self.yuv420}[encoding]


def _keys_to_text(value: object) -> object:
    """YAML reads `444:` as a number; encodings are named by text."""
    return {str(k): v for k, v in value.items()} if isinstance(value, dict) else value


class Dsc(_Model):
    """Compressed transport (VESA DSC over FRL) as a sink declares it.

    frl: the fastest step it takes compressed, left out: its FRL rate. slices: the most a line is cut into,
    each to slice_mhz. chunk_kib: the field that bounds the bytes of a line, 0: not declared.
    all_bpp: any bits a pixel; else 12 at most. bits: depths taken compressed.
    """

    frl: Frl | None = None
    slices: Literal[1, 2, 4, 8, 12, 16] = 8
    slice_mhz: Literal[340, 400] = 340
    chunk_kib: Annotated[int, Field(ge=0, le=63, strict=True)] = 0
    all_bpp: bool = False
    bits: Depths = (8, 10, 12)

    @model_validator(mode="after")
    def _declared_pair(self) -> Dsc:
        if slice_code(self.slices, self.slice_mhz) is None:
            raise ValueError(f"dsc: no sink can declare {self.slices} slices of {self.slice_mhz} MHz")
        return self

    def sink(self) -> DscSink:
        """As the link rules take it."""
        return DscSink(
            slice_code(self.slices, self.slice_mhz) or 0, self.chunk_kib, self.all_bpp,
            frl_rate(self.frl) if self.frl else None, tuple(self.bits),
        )  # fmt: skip


VrrWindow = tuple[Annotated[int, Field(ge=1, le=1000)], Annotated[int, Field(ge=1, le=1000)]]


class Video(_Model):
    """What a port sends, passes or accepts. Every field may be unknown (left out).

    tmds_mhz: TMDS ceiling; 0 or 345–600 in steps of 5 where the newer block declares it.
    modes: for a screen timing addresses (`vic:118`), for a source modes (`3840x2160@120`), or `any`.
    modes_420: timing addresses accepted in 4:2:0.
    vrr: a window in Hz for a screen; true or false for what only sends or passes it.
    low_latency: the automatic low-latency mode signal.
    dsc: for a screen what it decodes; true or false for what only sends or passes compressed pictures.
    scdc: the control channel that scrambling above 340 MHz and FRL need.
    """

    tmds_mhz: Tmds | None = None
    frl: Frl | None = None
    modes: Literal["any"] | tuple[str, ...] | None = None
    modes_420: Literal["any"] | tuple[str, ...] | None = None
    encodings: Annotated[Encodings, BeforeValidator(_keys_to_text)] | None = None
    hdr: tuple[HdrKind, ...] | None = None
    vrr: VrrWindow | bool | None = None
    low_latency: bool | None = None
    dsc: Dsc | bool | None = None
    scdc: bool | None = None

    @model_validator(mode="after")
    def _addresses(self) -> Video:
        for field in ("modes", "modes_420"):
            for text in getattr(self, field) or ():
                if getattr(self, field) == "any":
                    break
                try:
                    parse_mode(text) if "@" in text and ":" not in text else parse_timing(text)
                except WavilexError as error:
                    raise ValueError(f"{field}: {error}") from None
        if isinstance(self.vrr, tuple) and self.vrr[0] >= self.vrr[1]:
            raise ValueError("vrr: the window's lower end must be under its upper end")
        return self


class Port(_Model):
    """One socket. `note` is shown beside it (`eARC`, `front`)."""

    id: Ident
    label: Annotated[str, Field(min_length=1, max_length=40)]
    direction: Literal["in", "out"]
    note: Annotated[str, Field(max_length=60)] = ""
    video: Video = Video()
    source: Provenance = "makers_claim"


class Option(_Model):
    id: Ident
    label: Annotated[str, Field(min_length=1, max_length=60)]


class Setting(_Model):
    """Something a person chooses in a menu. `ports` given: stored per socket."""

    id: Ident
    label: Annotated[str, Field(min_length=1, max_length=60)]
    options: Annotated[tuple[Option, ...], Field(min_length=2)]
    default: Ident
    ports: tuple[Ident, ...] = ()
    where: Annotated[str, Field(max_length=160)] = ""
    resync: bool = False
    minutes: Annotated[int, Field(ge=0, le=120)] = 1

    def option_label(self, option: str) -> str:
        return next((o.label for o in self.options if o.id == option), option)


class Condition(_Model):
    """Three-valued condition over settings: exactly one of the forms is given."""

    setting: Ident | None = None
    is_: Ident | None = Field(default=None, alias="is")
    in_: tuple[Ident, ...] | None = Field(default=None, alias="in")
    all: tuple[Condition, ...] | None = None
    any: tuple[Condition, ...] | None = None
    not_: Condition | None = Field(default=None, alias="not")
    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True)

    @model_validator(mode="after")
    def _one_form(self) -> Condition:
        forms = [self.setting is not None, self.all is not None, self.any is not None, self.not_ is not None]
        if sum(forms) != 1:
            raise ValueError("give exactly one of setting, all, any, not")
        if (self.setting is not None) != ((self.is_ is None) != (self.in_ is None)):
            raise ValueError("a setting needs exactly one of is, in")
        return self

    def settings(self) -> set[str]:
        """Every setting the condition looks at."""
        inner = (*(self.all or ()), *(self.any or ()), *((self.not_,) if self.not_ else ()))
        named = {self.setting} if self.setting else set()
        return named.union(*(c.settings() for c in inner))


class Quirk(_Model):
    """A `limits` quirk: while `when` holds, the ports carry no more than `limits`. It only narrows."""

    id: Ident
    kind: Literal["limits"]
    when: Condition
    ports: tuple[Ident, ...] = ()
    limits: Video
    because: Annotated[str, Field(min_length=1, max_length=160)]
    source: Provenance = "makers_claim"


class LagClaim(_Model):
    """Lag a maker claims, kept beside measured figures and never mixed with them."""

    condition: Annotated[str, Field(min_length=1, max_length=60)]
    lag_ms: Annotated[float, Field(gt=0, le=10_000)]


class Profile(_Model):
    """A device type. `video` is what every port has unless the port says otherwise."""

    wavilex_profile: Literal[1]
    id: Ident
    maker: Annotated[str, Field(min_length=1, max_length=40)]
    model: Annotated[str, Field(min_length=1, max_length=40)]
    role: Role
    kind: Kind
    summary: Annotated[str, Field(max_length=120)] = ""
    panel: Annotated[str, Field(max_length=20)] | None = None
    lag_bound_ms: Annotated[int, Field(gt=0, le=1000)] | None = None
    ports: Annotated[tuple[Port, ...], Field(min_length=1, max_length=64)]
    video: Video = Video()
    settings: tuple[Setting, ...] = ()
    quirks: tuple[Quirk, ...] = ()
    picture_modes: tuple[Annotated[str, Field(min_length=1, max_length=40)], ...] = ()
    claims: tuple[LagClaim, ...] = ()
    cautions: tuple[Literal["large_screen", "burn_in", "own_power"], ...] = ()

    @model_validator(mode="after")
    def _whole(self) -> Profile:
        ports = [p.id for p in self.ports]
        settings = {s.id: s for s in self.settings}
        if len(set(ports)) != len(ports):
            raise ValueError("ports: two ports share an id")
        if len(settings) != len(self.settings):
            raise ValueError("settings: two settings share an id")
        directions = {p.direction for p in self.ports}
        wanted = {"source": {"out"}, "screen": {"in"}, "repeater": {"in", "out"}}[self.role]
        if directions != wanted:
            raise ValueError(f"ports: a {self.role} has {' and '.join(sorted(wanted))} ports only")
        for s in self.settings:
            if s.default not in {o.id for o in s.options}:
                raise ValueError(f"settings.{s.id}: default {s.default!r} is not among its options")
            _known(s.ports, ports, f"settings.{s.id}.ports")
        for q in self.quirks:
            _known(q.ports, ports, f"quirks.{q.id}.ports")
            _known(q.when.settings(), settings, f"quirks.{q.id}.when")
        if self.panel is not None:
            try:
                parse_mode(f"{self.panel}@60")
            except WavilexError:
                raise ValueError("panel: write 3840x2160") from None
        return self

    @property
    def name(self) -> str:
        return f"{self.maker} {self.model}"

    def port(self, port_id: str) -> Port | None:
        return next((p for p in self.ports if p.id == port_id), None)

    def setting(self, setting_id: str) -> Setting | None:
        return next((s for s in self.settings if s.id == setting_id), None)

    def inputs(self) -> list[Port]:
        return [p for p in self.ports if p.direction == "in"]

    def outputs(self) -> list[Port]:
        return [p for p in self.ports if p.direction == "out"]


def _known(names: Any, allowed: Any, where: str) -> None:
    strange = [n for n in names if n not in allowed]
    if strange:
        raise ValueError(f"{where}: {strange[0]!r} is not one of {', '.join(allowed) or 'none'}")


def profile_from_data(data: object) -> Profile:
    """A profile from plain data. Raises ProfileError naming the first fault's path."""
    try:
        return Profile.model_validate(data)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        path = ".".join(str(p) for p in first["loc"])
        raise ProfileError(first["msg"].removeprefix("Value error, "), where=path) from None


def profile_data(profile: Profile) -> dict[str, Any]:
    """Plain JSON data of a profile; unknown (left out) figures stay left out."""
    return profile.model_dump(mode="json", by_alias=True, exclude_unset=True)


def profile_digest(profile: Profile) -> str:
    """A stable name for exactly this profile's content."""
    text = json.dumps(profile_data(profile), sort_keys=True, separators=(",", ":"))
    return hashlib.sha256(text.encode()).hexdigest()[:16]


def parse_profile(text: str) -> Profile:
    """A profile from YAML text. Raises ProfileError with path and line (from 1)."""
    from ruamel.yaml import YAML
    from ruamel.yaml.error import YAMLError

    try:
        data = YAML(typ="rt").load(StringIO(text))
    except YAMLError as error:
        mark = getattr(error, "problem_mark", None)
        problem = getattr(error, "problem", None) or str(error).split("\n")[0]
        raise ProfileError(f"not readable as YAML: {problem}", line=mark.line + 1 if mark else None) from None
    except (ValueError, RecursionError) as error:
        raise ProfileError(f"not readable as YAML: {error}") from None
    if not isinstance(data, dict):
        raise ProfileError("a profile is a mapping that starts with wavilex_profile: 1", line=1)
    try:
        return Profile.model_validate(data)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        path = ".".join(str(p) for p in first["loc"])
        message = first["msg"].removeprefix("Value error, ")
        raise ProfileError(message, where=path, line=_line(data, first["loc"], message)) from None


def _line(data: Any, loc: tuple[Any, ...], message: str) -> int:
    """The line of the deepest part of a path that the file really has, counted from 1."""
    line: int = getattr(getattr(data, "lc", None), "line", 0) + 1
    node = data
    for step in (*loc, *message.split(":")[0].split(".")):
        lc = getattr(node, "lc", None)
        try:
            position = lc.key(step) if isinstance(node, dict) else lc.item(step)  # type: ignore[union-attr]
            node = node[step]
        except (KeyError, IndexError, TypeError, AttributeError):
            continue
        line = position[0] + 1
    return line
