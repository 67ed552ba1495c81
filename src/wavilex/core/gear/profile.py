"""The gear profile: one device as data. Schema, and reading it from YAML text with line numbers.

Unknown is not zero and not false: a figure left out is unknown; `none`, `false` or `[]` is a known absence.
"""

from __future__ import annotations

import hashlib
import json
import re
from collections.abc import Iterator
from functools import cached_property
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError, model_validator

from wavilex.core import refused
from wavilex.core.errors import ProfileError
from wavilex.core.fields import Ident, Model, Version
from wavilex.core.gear.conditions import Condition
from wavilex.core.gear.conversion import Conversion, ShownAs
from wavilex.core.gear.hdr_pages import HdrPage
from wavilex.core.gear.own_faults import OwnFault
from wavilex.core.gear.ports import Port, SoundFormat, Video
from wavilex.core.gear.quirks import (
    Excludes,
    Forces,
    Inert,
    Limits,
    OfSetting,
    Quirk,
    Remembers,
    Requires,
    Resets,
    UpdateResets,
)
from wavilex.core.gear.setting import Setting
from wavilex.core.gear.sockets_of import with_sockets
from wavilex.core.gear.yaml_in import line_of, read_yaml
from wavilex.core.video.codes import names_mode
from wavilex.core.video.mode import Mode

PROFILE_VERSION = 1
MOST_PEAK_CD_M2 = 20_000
NOBODY = "unknown"  # the maker of a box whose maker nobody wrote down
Role = Literal["source", "repeater", "screen", "sound"]
Kind = Literal[
    "console", "computer", "player", "handheld", "receiver", "switch", "matrix", "splitter", "extractor", "inserter",
    "capture", "converter", "multiplier", "adapter", "mixer", "television", "monitor", "projector", "tube",
    "dock", "soundbar", "speakers", "headset",
]  # fmt: skip
EDID_WAYS = ("pass", "limit", "merge", "fixed")
_PANEL = re.compile(r"(\d{2,5})x(\d{2,5})$", re.ASCII)
_DIRECTIONS = {"source": {"out"}, "repeater": {"in", "out"}, "screen": {"in"}, "sound": {"in"}}


class LagClaim(Model):
    """Lag a maker claims, kept beside measured figures and never mixed with them."""

    condition: Annotated[str, Field(min_length=1, max_length=60)]
    lag_ms: Annotated[float, Field(gt=0, le=10_000)]


class EdidBySetting(Model):
    """How a box hands EDIDs on, as one of its settings chooses; its options are the ways' names."""

    setting: Ident


class Displays(Model):
    """How many displays a source drives at once; most_mhz: the pixel clocks of all together; apart: sockets of which
    one alone works at a time.
    """

    most: Annotated[int, Field(ge=1, le=16)] | None = None
    most_mhz: Annotated[int, Field(ge=1, le=20_000)] | None = None
    apart: tuple[Annotated[tuple[Ident, ...], Field(min_length=2, max_length=8)], ...] = ()


class HomeRate(Model):
    """The rate of a home screen that follows a setting: Hz by that setting's options."""

    setting: Ident
    hz: Annotated[dict[Ident, Annotated[int, Field(ge=1, le=1000)]], Field(min_length=1)]


class Profile(Model):
    """A device type. `video` is what every port has unless the port says otherwise.

    edid: how a repeater hands on what lies beyond: pass it, limit it to what itself takes (the same here, as
    both ends are judged), merge several screens' into what they share, or fixed, its own whatever lies beyond.
    routing: a switch shows one input on its outputs, a splitter sends its input to all, a matrix chooses for each; a
    hub, a dock or a chained monitor sends each output a stream of its own (`streams`).
    adapts: a passive adapter, or an active converter, between sockets of two kinds. displays: what a source drives.
    plays: makes sound itself. sound: the formats a source sends.
    prefers: the modes a source picks for titles, first choice first; home_hz: its home screen's rate, or the setting it
    follows.
    repeats_frames: a source that shows a frame twice below a window. peak_cd_m2: a screen’s brightest HDR white;
    average_cd_m2: the most it keeps up over a whole frame. zones: dimming zones of a screen lit from behind, 0: none.
    panel_bits: bits a colour that its panel shows. hdr_pages: a source’s HDR set-up pages that count.
    converts: what a box between does with a picture’s rate and shape.
    shown_as: the shape a screen shows at; draws: the shape a source of old games draws in its frame.
    most_sound_delay_ms: the most a player of sound can wait for a late picture.
    picture_modes: picture presets by name, where no setting of that effect lists them.
    hdr_modes, video_hdr_modes: modes at which a source sends HDR in games, in films; left out: all it sends.
    """

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
    edid: Literal["pass", "limit", "merge", "fixed"] | EdidBySetting = "pass"
    routing: Literal["switch", "splitter", "matrix", "streams"] = "switch"
    adapts: Literal["passive", "active"] | None = None
    displays: Displays | None = None
    rewrites_address: bool = True
    plays: bool | None = None
    sound: tuple[SoundFormat, ...] | None = None
    prefers: tuple[Mode, ...] | None = None
    home_hz: Annotated[int, Field(ge=1, le=1000)] | HomeRate | None = None
    hdr_modes: tuple[Mode, ...] | None = None
    video_hdr_modes: tuple[Mode, ...] | None = None
    repeats_frames: bool | None = None
    converts: Conversion | None = None
    shown_as: ShownAs | None = None
    draws: ShownAs | None = None
    most_sound_delay_ms: Annotated[int, Field(ge=0, le=10_000)] | None = None
    peak_cd_m2: Annotated[int, Field(ge=1, le=MOST_PEAK_CD_M2)] | None = None
    average_cd_m2: Annotated[int, Field(ge=1, le=MOST_PEAK_CD_M2)] | None = None
    zones: Annotated[int, Field(ge=0, le=100_000)] | None = None
    panel_bits: Literal[6, 8, 10, 12] | None = None
    hdr_pages: Annotated[tuple[HdrPage, ...], Field(max_length=6)] = ()
    newest_firmware: Version | None = None
    settings: tuple[Setting, ...] = ()
    quirks: tuple[Quirk, ...] = ()
    faults: Annotated[tuple[OwnFault, ...], Field(max_length=20)] = ()
    picture_modes: tuple[Annotated[str, Field(min_length=1, max_length=40)], ...] = ()
    claims: tuple[LagClaim, ...] = ()
    cautions: tuple[Literal["large_screen", "burn_in", "own_power", "old_supply", "tube", "flicker"], ...] = ()

    @model_validator(mode="before")
    @classmethod
    def _kept_by_input(cls, data: Any) -> Any:
        """What is kept by the input is kept by every input, where no sockets are named; a `remembers` rule that names
        settings says it of them.
        """
        return with_sockets(data) if isinstance(data, dict) else data

    @model_validator(mode="after")
    def _whole(self) -> Profile:
        ports = [p.id for p in self.ports]
        settings = {s.id: s for s in self.settings}
        if len(set(ports)) != len(ports):
            raise ValueError("ports: two ports share an id")
        if len(settings) != len(self.settings):
            raise ValueError("settings: two settings share an id")
        self._check_directions()
        for s in self.settings:
            _known(s.ports, ports, f"settings.{s.id}.ports")
        self._check_presets()
        for q in self.quirks:
            _check_quirk(q, ports, settings)
        for part, setting, options in self._shaping():
            if setting is not None:
                _known((setting,), settings, part)
                _known(options, [o.id for o in settings[setting].options], part)
        for group in self.displays.apart if self.displays is not None else ():
            _known(group, [p.id for p in self.outputs()], "displays.apart")
        if isinstance(self.edid, EdidBySetting):
            _known((self.edid.setting,), settings, "edid.setting")
            _known([o.id for o in settings[self.edid.setting].options], EDID_WAYS, "edid.setting")
        if any(p.kind == "hdmi" and p.video.dsc is None for p in self.ports):
            self.video.holds_on_hdmi("video")
        if self.average_cd_m2 is not None and self.average_cd_m2 > (self.peak_cd_m2 or MOST_PEAK_CD_M2):
            raise ValueError("average_cd_m2: a whole frame is no brighter than the brightest white")
        if self.panel is not None and self.panel_size is None:
            raise ValueError("panel: write 3840x2160")
        return self

    def _check_presets(self) -> None:
        presets = [s for s in self.settings if s.effect == "preset"]
        if len(presets) > 1:
            raise ValueError(f"settings.{presets[1].id}: one setting alone chooses the picture preset")
        if presets and "mode" in presets[0].kept_by:
            raise ValueError(f"settings.{presets[0].id}: the preset is not kept by itself")
        if not presets and any("mode" in s.kept_by for s in self.settings):
            raise ValueError("settings: kept by picture preset (mode), and no setting has the effect preset")

    def _shaping(self) -> list[tuple[str, str | None, tuple[str, ...]]]:
        """Settings that choose an output, a fit or the home screen's rate, with the options said of them."""
        c, found = self.converts, []
        if c is not None:
            found += [
                ("converts.output", c.output, tuple(c.outputs)),
                ("converts.fit", c.fit, tuple(c.fits)),
                ("converts.sample", c.sample, c.sampling),
            ]
        for name, part in (("shown_as", self.shown_as), ("draws", self.draws)):
            if part is not None:
                found.append((f"{name}.fit", part.fit, tuple(part.fits)))
        if isinstance(self.home_hz, HomeRate):
            found.append(("home_hz.setting", self.home_hz.setting, tuple(self.home_hz.hz)))
        return found

    def _check_directions(self) -> None:
        """Pictures leave a source and end at a screen; a repeater has both; sound may leave anywhere."""
        pictures = {p.direction for p in self.ports if p.shows_picture and not self._bar_socket(p)}
        wanted = {"in", "out"} if self.role == "screen" and self.routing == "streams" else _DIRECTIONS[self.role]
        if (pictures or self.role != "sound") and pictures != wanted:
            raise ValueError(f"ports: a {self.role} has {' and '.join(sorted(wanted))} ports only")
        if self.role == "source" and any(p.returns for p in self.ports):
            raise ValueError("ports: sound does not return to a source")

    def _bar_socket(self, port: Port) -> bool:
        """The socket of a bar that takes a screen's sound: an output by its plug, though no picture leaves it."""
        return self.role == "sound" and port.direction == "out" and port.returns is not None

    @cached_property
    def passes_pictures(self) -> bool:
        """Does a picture go on from it: a box between, or a screen that others are chained to?"""
        return self.role == "repeater" or (self.role == "screen" and bool(self.outputs()))

    @cached_property
    def preset(self) -> Setting | None:
        """The setting that chooses the picture preset."""
        return next((s for s in self.settings if s.effect == "preset"), None)

    @cached_property
    def pictures(self) -> tuple[str, ...]:
        """Its picture presets by name."""
        return tuple(o.label for o in self.preset.options) if self.preset is not None else self.picture_modes

    @cached_property
    def in_cells(self) -> bool:
        """Is any of its settings kept by more than the input?"""
        return any(s.in_cells for s in self.settings)

    @property
    def name(self) -> str:
        return self.model if self.maker == NOBODY else f"{self.maker} {self.model}"

    @cached_property
    def panel_size(self) -> tuple[int, int] | None:
        """Dots across and lines of a screen's panel; None: not said."""
        m = _PANEL.match(self.panel) if self.panel is not None else None
        return (int(m[1]), int(m[2])) if m else None

    @cached_property
    def limits(self) -> tuple[Limits, ...]:
        """Its limits quirks that are always there; those that come and go stand in `unsteady`."""
        own = (q for q in self.quirks if isinstance(q, Limits) and not q.comes_and_goes)
        return *own, *self._by_output()

    def _by_output(self) -> Iterator[Limits]:
        """A converter sends what its output is set to, whatever comes."""
        c = self.converts
        setting = self.setting(c.output) if c is not None and c.output else None
        if c is None or setting is None:
            return
        for port in self.outputs():
            known = port.video.modes if port.video.modes is not None else self.video.modes
            for option in c.outputs:
                modes = c.sent(option)
                listed = known if isinstance(known, tuple) else ()
                codes: tuple[str, ...] = tuple(m for m in listed if any(names_mode(m, mode) for mode in modes))
                yield Limits(
                    id=f"sends-{option}"[:40], kind="limits", because="it sends what its output is set to",
                    when=Condition.model_validate({"setting": setting.id, "is": option}), ports=(port.id,),
                    limits=Video(modes=codes or modes),
                )  # fmt: skip

    @cached_property
    def unsteady(self) -> tuple[Limits, ...]:
        return tuple(q for q in self.quirks if isinstance(q, Limits) and q.comes_and_goes)

    @cached_property
    def setting_quirks(self) -> tuple[OfSetting, ...]:
        """What greys out, forces or disarms settings."""
        return tuple(q for q in self.quirks if isinstance(q, Requires | Excludes | Forces | Inert))

    @cached_property
    def conditions(self) -> tuple[Condition, ...]:
        return tuple(
            q.when for q in self.quirks if not isinstance(q, Remembers | Resets | UpdateResets) and q.when is not None
        )

    @cached_property
    def asks_signal(self) -> bool:
        """Does any of its limits or settings depend on the signal?"""
        return self.in_cells or any(c.asks_signal for c in self.conditions)

    @cached_property
    def asks_wiring(self) -> bool:
        apart = {s.id for s in self.settings if s.ports}
        across = any(q.setting not in apart and q.when.settings() & apart for q in self.setting_quirks)
        return across or any(c.asks_wiring for c in self.conditions)

    def port(self, port_id: str) -> Port | None:
        return self._by_id.get(port_id)

    @cached_property
    def _by_id(self) -> dict[str, Port]:
        return {p.id: p for p in self.ports}

    def setting(self, setting_id: str) -> Setting | None:
        return self._settings_by_id.get(setting_id)

    @cached_property
    def _settings_by_id(self) -> dict[str, Setting]:
        return {s.id: s for s in self.settings}

    @cached_property
    def quirks_of_setting(self) -> dict[str, list[OfSetting]]:
        """What greys out, forces or disarms each setting that anything does it to."""
        found: dict[str, list[OfSetting]] = {}
        for quirk in self.setting_quirks:
            found.setdefault(quirk.setting, []).append(quirk)
        return found

    def inputs(self) -> list[Port]:
        """Sockets that take a picture."""
        return self._inputs

    def outputs(self) -> list[Port]:
        """Sockets that send a picture."""
        return self._outputs

    @cached_property
    def _inputs(self) -> list[Port]:
        return [p for p in self.ports if p.direction == "in" and p.shows_picture]

    @cached_property
    def _outputs(self) -> list[Port]:
        return [p for p in self.ports if p.direction == "out" and p.shows_picture and not self._bar_socket(p)]


def _check_quirk(quirk: Quirk, ports: list[str], settings: dict[str, Setting]) -> None:
    """Every port, setting and option a quirk names is there."""
    where = f"quirks.{quirk.id}"
    if isinstance(quirk, Limits):
        _known(quirk.ports, ports, f"{where}.ports")
    if isinstance(quirk, Remembers | UpdateResets):
        _known(quirk.settings, settings, f"{where}.settings")
        return
    if isinstance(quirk, Resets):
        _known((quirk.setting, *quirk.resets), settings, f"{where}.resets")
        _known(quirk.options, [o.id for o in settings[quirk.setting].options], f"{where}.options")
        return
    for c in quirk.when.walk() if quirk.when is not None else ():
        if c.setting:
            _known((c.setting,), settings, f"{where}.when")
            options = [o.id for o in settings[c.setting].options]
            _known(c.in_ if c.in_ is not None else (c.is_,), options, f"{where}.when")
        _known((c.input,) if c.input else (), ports, f"{where}.when.input")
        _known((c.connected.port,) if c.connected and c.connected.port else (), ports, f"{where}.when.connected")
    if isinstance(quirk, OfSetting):
        _known((quirk.setting,), settings, f"{where}.setting")
        options = [o.id for o in settings[quirk.setting].options]
        _known(quirk.options, options, f"{where}.options")
        named = quirk.to if isinstance(quirk, Forces) else getattr(quirk, "reads", None)
        if named and settings[quirk.setting].read(named) != named:
            word = "to" if isinstance(quirk, Forces) else "reads"
            raise ValueError(f"{where}.{word}: {named!r} is not one of {settings[quirk.setting].choice_words}")


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
        raise ProfileError(refused.words(first), where=refused.place(first)) from None


def profile_data(profile: Profile) -> dict[str, Any]:
    """Plain JSON data of a profile; unknown (left out) figures stay left out."""
    return profile.model_dump(mode="json", by_alias=True, exclude_unset=True)


def profile_digest(profile: Profile) -> str:
    """A stable name for exactly this profile's content."""
    text = json.dumps(profile_data(profile), sort_keys=True, separators=(",", ":"))
    return hashlib.sha256(text.encode()).hexdigest()[:16]


def parse_profile(text: str) -> Profile:
    """A profile from YAML text. Raises ProfileError with path and line (from 1)."""
    data = read_yaml(text)
    if not isinstance(data, dict):
        raise ProfileError("a profile is a mapping that starts with wavilex_profile: 1", line=1)
    try:
        return Profile.model_validate(data)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        message = refused.words(first)
        raise ProfileError(message, where=refused.place(first), line=line_of(data, first["loc"], message)) from None
