"""The rig of a job as frozen values: devices, leads, settings, facts, runs, wants, survey."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Any, get_args

from wavilex.core.gear.profile import Profile
from wavilex.core.gear.setting import Setting
from wavilex.core.gear.state import FactValue
from wavilex.core.gear.words import cell_words
from wavilex.core.link.cable import DIGITAL, Cable
from wavilex.core.rig.light_notes import LightNote
from wavilex.core.rig.ops import INPUT_KEY, Answer, ChromaWish, HdrWish, LayerName, LeadKind, Mark
from wavilex.core.rig.style import Style
from wavilex.core.video.mode import Mode

LAYERS: tuple[LayerName, LayerName] = ("found", "plan")
HDR: tuple[HdrWish, ...] = get_args(HdrWish)
CHROMA: tuple[ChromaWish, ...] = get_args(ChromaWish)
MARKS: tuple[Mark, ...] = get_args(Mark)
LEAD_KINDS: tuple[LeadKind, ...] = get_args(LeadKind)


@dataclass(frozen=True, slots=True, order=True)
class Socket:
    """A port of a device: where a lead's end is plugged."""

    device: str
    port: str


@dataclass(frozen=True, slots=True)
class Device:
    """A box of the job. `profile_digest` names exactly the profile text it was made from.

    firmware: the version found, "" not read; firmware_plan: the version to bring it to, "" as found. mark: must it stay
    in the picture path, or may it go?
    """

    uid: str
    label: str
    profile: Profile
    profile_digest: str
    room: str = ""
    firmware: str = ""
    firmware_plan: str = ""
    mark: Mark = ""

    def place(self, scope: str) -> str:
        """Where a setting is kept, in words: `Television, HDMI 1, HDR`."""
        cell = cell_words(self.profile, scope)
        return f"{self.label}, {cell}" if cell else self.label

    def firmware_in(self, layer: LayerName) -> str:
        """The version in a layer, "" where nobody knows. The plan falls back to what was found."""
        return self.firmware_plan or self.firmware if layer == "plan" else self.firmware


Ends = tuple[Socket | None, Socket | None]


@dataclass(frozen=True, slots=True)
class Lead:
    """A lead; end a is the sending one. Ends per layer; None: loose. mark `stays`: in the wall, say."""

    uid: str
    label: str
    cable: Cable = field(default_factory=Cable)
    kind: LeadKind = "hdmi"
    found: Ends = (None, None)
    plan: Ends = (None, None)
    mark: Mark = ""

    @property
    def digital(self) -> bool:
        """Does it carry a digital picture, judged by rate?"""
        return self.kind in DIGITAL

    def ends(self, layer: LayerName) -> Ends:
        return self.plan if layer == "plan" else self.found


@dataclass(frozen=True, slots=True)
class SettingValue:
    """Value of a setting in both layers; None is not known (found) or not planned (plan)."""

    found: str | None = None
    plan: str | None = None


_USUAL = Mode(3840, 2160, 60)


@dataclass(frozen=True, slots=True)
class Want:
    """What a run should reach. `chroma` and `bits` are the least accepted.

    protected: films and the like, that need copy protection. weight: what it counts where not all can have theirs.
    """

    mode: Mode = _USUAL
    hdr: HdrWish = "off"
    chroma: ChromaWish = "any"
    bits: int = 8
    vrr: bool = False
    low_lag: bool = False
    audio: str = "2ch"
    protected: bool = False
    weight: int = 1


@dataclass(frozen=True, slots=True)
class Run:
    """One source to one screen. way: the leads it was chosen to go by, () where nobody chose."""

    uid: str
    label: str
    source: str
    sink: str
    want: Want = Want()
    style: Style = ()
    way: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class TitleMode:
    """One of a title's own modes: its name ("" where it has but one), frames a second, and the lines it renders."""

    fps: int
    name: str = ""
    lines: int | None = None


@dataclass(frozen=True, slots=True)
class Title:
    """What is played: its modes, whether competitively, whether it renders HDR (None: not known)."""

    uid: str
    name: str
    modes: tuple[TitleMode, ...] = ()
    competitive: bool = False
    hdr: bool | None = None
    style: Style = ()

    @property
    def render_rates(self) -> tuple[int, ...]:
        return tuple(m.fps for m in self.modes)


@dataclass(frozen=True, slots=True)
class Observation:
    """What somebody saw at a place of a box, on a run. Append only: the last one of a line counts.

    line: names the place and line within the run (prove/line). predicted: what was to be seen then, None where nobody
    could tell. observed: what was seen; None where somebody looked and wrote nothing down. at: UTC; by: who; firmware:
    of the box then, "" not read. grounds: what it rests on, by path, as it stood. photo: a photograph's name, "" none.
    """

    uid: str
    run: str
    device: str
    line: str
    place: str
    label: str
    answer: Answer
    predicted: str | None
    observed: str | None
    at: str
    by: str = ""
    firmware: str = ""
    photo: str = ""
    grounds: tuple[tuple[str, str], ...] = ()


SURVEY_KEYS = ("played", "light", "must_stay", "wall_leads", "sound", "annoys")
Rooms = tuple[str, str]  # by `between`
SettingKey = tuple[str, str, str]  # device uid, scope (gear/cells), setting id
FactKey = tuple[str, str]  # device uid, path


def _empty() -> Mapping[Any, Any]:
    return MappingProxyType({})


@dataclass(frozen=True)
class Rig:
    """Everything the core knows of a job. Mappings keep the order things were added in."""

    title: str = ""
    rooms: tuple[str, ...] = ()
    devices: Mapping[str, Device] = field(default_factory=_empty)
    leads: Mapping[str, Lead] = field(default_factory=_empty)
    settings: Mapping[SettingKey, SettingValue] = field(default_factory=_empty)
    facts: Mapping[FactKey, FactValue] = field(default_factory=_empty)
    runs: Mapping[str, Run] = field(default_factory=_empty)
    titles: Mapping[str, Title] = field(default_factory=_empty)
    survey: Mapping[str, str] = field(default_factory=_empty)
    distances: Mapping[Rooms, int] = field(default_factory=_empty)  # mm of lead between two rooms
    observations: Mapping[str, Observation] = field(default_factory=_empty)  # by uid, as they were made
    light: Mapping[str, LightNote] = field(default_factory=_empty)  # by uid, as they were made
    style: Style = ()

    def device_facts(self, uid: str) -> dict[str, FactValue]:
        return {path: fact for (device, path), fact in self.facts.items() if device == uid}

    def peak_cd_m2(self, device: str) -> int | None:
        """A screen's brightest HDR white, as its EDID said it here, else as its profile does; None: not known."""
        fact = self.facts.get((device, PEAK_FACT))
        peak: int | None = fact.value if fact is not None else self.devices[device].profile.peak_cd_m2
        return peak

    def setting_value(self, layer: LayerName, device: str, scope: str, setting: Setting) -> str | None:
        """The value in a layer. The plan falls back to what was found, then to the factory default."""
        value = self.settings.get((device, scope, setting.id), SettingValue())
        if layer == "found":
            return value.found
        return value.plan or value.found or setting.default

    def selected_input(self, layer: LayerName, device: str, output: str = "") -> str | None:
        """The input a box shows; of a matrix, on one of its outputs."""
        value = self.settings.get((device, output, INPUT_KEY), SettingValue())
        return value.plan or value.found if layer == "plan" else value.found

    def distance_mm(self, a: str, b: str) -> int | None:
        """How long a lead from one room to another must be; None where nobody has said."""
        return self.distances.get(between(a, b))

    def lead_at(self, layer: LayerName, socket: Socket) -> Lead | None:
        """The lead plugged into a socket, if any."""
        return next((x for x in self.leads.values() if socket in x.ends(layer)), None)

    def socket_name(self, socket: Socket) -> str:
        device = self.devices[socket.device]
        port = device.profile.port(socket.port)
        return f"{device.label} · {port.label if port else socket.port}"


def between(a: str, b: str) -> Rooms:
    """Two rooms, whichever is named first."""
    return (a, b) if a < b else (b, a)


TRIED_FACT = "tried"  # facts about an input: which line multiples gave a picture there
SOUND_LAG_FACT = "sound_lag_ms"  # a fact about a box that plays sound: how late it plays it, in ms
PEAK_FACT = "peak_cd_m2"  # a fact about a screen: its brightest HDR white
LAG_FACT = "lag"  # facts about a box whose lag was measured: each in a screen mode, at an input, with a signal
SETTING_LAG_FACT = "setting_lag"  # facts about a box: what a value of a setting costs in time against another, measured
CAME_BACK_FACT = "came_back"  # facts about a setting that reverted after it was set, by the box or by its path
UPDATED_FACT = "updated"  # a fact about a box: from which version to which it was brought last
AFTER_UPDATE_FACT = "after_update"  # facts about a setting after an update: whether it stayed or came back
CONFIRMED_FACT = "confirmed"  # facts about a box: a fault that was found to be it, here or at such a box
KEPT_FACT = "kept"  # facts about a setting that the client set by his own hand, and why
PLAYS_FACT = "plays"  # a fact about a whole box: it makes sound itself
