"""What the interface, the command line and paper are told, as types."""

from __future__ import annotations

from typing import Literal

from typing_extensions import TypedDict

from wavilex.core.advise.shapes import FixOut, MultipleOut, MultipleScreen, PartOut
from wavilex.core.chain.shapes import ReasonOut, ShapeOut, SocketOut, SoundOut
from wavilex.core.gear.ports import PortKind
from wavilex.core.gear.shapes import OptionOut, StandingOut
from wavilex.core.link.check import Verdict
from wavilex.core.link.shapes import ComparedOut, LineOut, QuantityOut
from wavilex.core.rig.ops import LayerName, LeadKind, Mark
from wavilex.core.rig.shapes import CableOut, TitleOut, WantOut


class ItemOut(TypedDict):
    key: str
    name: str
    verdict: Verdict
    blocking: bool
    reasons: list[ReasonOut]


class LinkOut(TypedDict):
    lead: str
    lead_label: str
    grade: str
    grade_name: str
    length_mm: int | None
    out: SocketOut
    inp: SocketOut
    verdict: Verdict
    transport: str | None
    used_percent: float | None
    blocked_by: str | None
    ceiling: str
    ceiling_short: str
    by: str
    sentence: str
    source: str
    quantities: list[QuantityOut]
    line: LineOut | None


class BestOut(TypedDict):
    name: str
    mode: str
    mode_name: str
    timing: str
    family: str
    encoding: str
    bits: int
    verdict: Verdict
    used_percent: float | None
    hdr: bool


class ModeOut(TypedDict):
    mode: str
    name: str


class StageOut(TypedDict):
    device: str
    label: str
    line: str
    blocked: bool


class SignalOut(TypedDict):
    mode: str
    timing: str
    encoding: str
    bits: int


class NoteOut(TypedDict):
    code: str
    text: str
    subject: str


class PortOut(TypedDict):
    id: str
    label: str
    note: str
    direction: Literal["in", "out"]
    kind: PortKind
    digital: bool
    plug: str
    rate: str
    rate_text: str
    lead: str | None


class SettingOut(StandingOut):
    """standing: what the device itself does to it: greyed, forced, inert, cycle or nothing; frees: what ends that."""

    key: str
    label: str
    scope: str
    scope_label: str
    value: str | None
    found: str | None
    plan: str | None
    assumed: bool
    default: str
    options: list[OptionOut]
    where: str
    resync: bool
    really: str | None


class InputOut(TypedDict):
    id: str
    label: str


class ShownOut(TypedDict):
    """Which of its inputs a box shows (a matrix on each output): as found, as planned; null where nobody said."""

    output: str
    label: str
    found: str | None
    plan: str | None
    inputs: list[InputOut]


class DeviceOut(TypedDict):
    uid: str
    label: str
    room: str
    firmware: str
    firmware_plan: str
    mark: Mark
    newest_firmware: str | None
    profile: str
    name: str
    role: Literal["source", "repeater", "screen", "sound"]
    kind: str
    summary: str
    column: int
    line: str
    picture_modes: list[str]
    in_cells: int
    lag_bound_ms: int | None
    plays: bool | None
    selected_input: str | None
    shows: list[ShownOut]
    ports: list[PortOut]
    settings: list[SettingOut]


class LeadOut(CableOut):
    uid: str
    label: str
    mark: Mark
    kind: LeadKind
    digital: bool
    grade_name: str
    a: SocketOut | None
    b: SocketOut | None
    moved: bool
    hanging: str
    verdict: Verdict | None
    used_percent: float | None
    tag: str
    short: str
    runs: list[str]


class RailOut(TypedDict):
    text: str
    attn: bool


class ScheduleRow(TypedDict):
    lead: str
    code: str
    kind: str
    plug: str
    start: str
    start_room: str
    label_from: str
    to: str
    to_room: str
    label_to: str
    length_m: str
    klass: str
    proved: str
    state: str


class ComparedRuns(ComparedOut):
    a: str
    b: str


class Comparison(TypedDict):
    id: str
    name: str


class ScanOut(TypedDict):
    """An analogue signal. lines: of a field where it is interlaced; pixel_aspect null: the raster fills the tube.

    sync, colour: in words.
    """

    name: str
    system: str
    line_khz: float
    vertical_hz: float
    lines: float
    dot_clock_mhz: float
    dots: float
    active: str
    interlaced: bool
    pixel_aspect: str | None
    sync: str
    colour: str


class ScanLink(TypedDict):
    """How an input treats the signal that meets it there."""

    where: str
    treats: Literal["correct", "as_interlaced", "black", "rolling", "refused", "no_sync", "grey", "unknown"]
    good: bool
    words: str


class AlsoSent(TypedDict):
    """Another signal the machine sends, and how each input treats it."""

    name: str
    links: list[ScanLink]


class RateKept(TypedDict):
    """per_minute: frames dropped (over 0) or shown twice (under 0) in a minute."""

    kept: bool
    from_hz: float
    to_hz: float
    per_minute: float
    words: str


class RetroOut(TypedDict):
    """An old machine's run. order: what to switch on first; notice: what a converter should write on the picture."""

    run: str
    signal: ScanOut | None
    links: list[ScanLink]
    also: list[AlsoSent]
    quality: str
    rate: RateKept | None
    shape: ShapeOut
    multiples: list[MultipleOut]
    screens: list[MultipleScreen]
    scale: str
    notice: str
    order: list[str]
    cautions: list[str]


class RunWayOut(TypedDict):
    """One way a run could go: its leads, in words; chosen: somebody said so."""

    leads: list[str]
    words: str
    chosen: bool


class RunTold(TypedDict):
    """A run’s answer: what `wavilex job check` and the sheets have in common."""

    uid: str
    label: str
    source: str
    sink: str
    verdict: Verdict
    wanted: str
    asked: str | None
    asked_signal: SignalOut | None
    carried: str | None
    headline: str
    limiting: ReasonOut | None
    items: list[ItemOut]
    reasons: list[ReasonOut]
    links: list[LinkOut]
    alternatives: list[str]
    best_rate: BestOut | None
    best_detail: BestOut | None
    notes: list[NoteOut]
    sound: SoundOut
    ways: list[RunWayOut]


class RunOut(RunTold):
    """A run as the sheets show it."""

    want: WantOut
    modes: list[ModeOut]
    style: dict[str, str]
    stages: list[StageOut]


class RunReport(RunTold):
    """A run as `wavilex job check --json` tells it, its cheapest ways with it."""

    limiting_stage: str | None
    fixes: list[FixOut]
    fixes_proved: bool
    parts: list[PartOut]
    needs: str


class JobReport(TypedDict):
    title: str
    layer: LayerName
    runs: list[RunReport]


class DistanceOut(TypedDict):
    """Two rooms that a lead or a run joins, or whose distance somebody noted; mm: null where nobody has."""

    rooms: list[str]
    mm: int | None
    asked_by: list[str]


class JobView(TypedDict):
    """A layer of a job as the sheets show it."""

    layer: Literal["found", "plan"]
    title: str
    rooms: list[str]
    summary: str
    devices: list[DeviceOut]
    leads: list[LeadOut]
    runs: list[RunOut]
    titles: list[TitleOut]
    survey: dict[str, str]
    style: dict[str, str]
    distances: list[DistanceOut]
    rail: dict[str, RailOut]
