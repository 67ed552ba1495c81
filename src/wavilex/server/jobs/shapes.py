"""What the API answers about a job, as types: the front end's types are made from these."""

from __future__ import annotations

from typing import Any, Literal

from ninja import Schema

from wavilex.core.rig.ops import Op

Verdict = Literal["fits", "tight", "compressed", "unknown", "blocked"]


class SocketOut(Schema):
    device: str
    port: str


class QuantityOut(Schema):
    """`value` is exact text; `text` is rounded for showing."""

    name: str
    value: str
    unit: str
    text: str
    over: bool
    working: str


class ReasonOut(Schema):
    code: str
    item: str
    verdict: Verdict
    text: str
    subject: str
    because: str
    provenance: str
    quantities: list[QuantityOut]


class ItemOut(Schema):
    key: str
    name: str
    verdict: Verdict
    blocking: bool
    reasons: list[ReasonOut]


class LineOut(Schema):
    microseconds: str
    characters: int
    picture: int
    blanking: int
    sound: int
    overhead: int
    spare: int
    overhead_percent: str
    spare_percent: str


class LinkOut(Schema):
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
    sentence: str
    source: str
    quantities: list[QuantityOut]
    line: LineOut | None


class BestOut(Schema):
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


class WantOut(Schema):
    mode: str
    hdr: Literal["off", "static", "dynamic"]
    chroma: Literal["any", "422", "444"]
    bits: int
    vrr: bool
    low_lag: bool
    audio: str
    protected: bool
    weight: int


class ModeOut(Schema):
    mode: str
    name: str


class StageOut(Schema):
    device: str
    label: str
    line: str
    blocked: bool


class SignalOut(Schema):
    mode: str
    timing: str
    encoding: str
    bits: int


class NoteOut(Schema):
    code: str
    text: str
    subject: str


class SoundEndOut(Schema):
    device: str
    label: str
    certain: bool
    format: str
    way: list[str]
    path: list[str]
    on: list[str]


class SoundWayOut(Schema):
    label: str
    format: str
    ops: list[Op]


class SoundOut(Schema):
    """Where a run's sound goes: what plays it, best first; what bars a way; one lead that would help."""

    headline: str
    silent: bool
    ends: list[SoundEndOut]
    barred: list[str]
    ways: list[SoundWayOut]


class RunOut(Schema):
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
    want: WantOut
    modes: list[ModeOut]
    style: dict[str, str]
    stages: list[StageOut]


class PortOut(Schema):
    id: str
    label: str
    note: str
    direction: Literal["in", "out"]
    kind: Literal["hdmi", "analogue", "audio", "power"]
    plug: str
    rate: str
    rate_text: str
    lead: str | None


class OptionOut(Schema):
    id: str
    label: str


class BarredOut(Schema):
    option: str
    because: str


class SettingOut(Schema):
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
    standing: Literal["", "greyed", "forced", "inert", "cycle"]
    because: str
    frees: str
    really: str | None
    barred: list[BarredOut]


class DeviceOut(Schema):
    uid: str
    label: str
    room: str
    firmware: str
    firmware_plan: str
    newest_firmware: str | None
    profile: str
    name: str
    role: Literal["source", "repeater", "screen", "sound"]
    kind: str
    summary: str
    column: int
    line: str
    picture_modes: list[str]
    lag_bound_ms: int | None
    plays: bool | None
    selected_input: str | None
    ports: list[PortOut]
    settings: list[SettingOut]


class LeadOut(Schema):
    uid: str
    label: str
    kind: Literal["hdmi", "analogue", "audio", "power"]
    grade: str
    grade_name: str
    length_mm: int | None
    build: str
    power: str
    turned: bool
    proved: str | None
    failed: str | None
    a: SocketOut | None
    b: SocketOut | None
    moved: bool
    verdict: Verdict | None
    used_percent: float | None
    tag: str
    runs: list[str]


class TitleModeOut(Schema):
    """One of a title's modes; lines: what it renders, null: not known."""

    fps: int
    name: str
    lines: int | None


class TitleOut(Schema):
    """hdr null: not known. style: this title's own answers to the house style's questions."""

    uid: str
    name: str
    modes: list[TitleModeOut]
    competitive: bool
    hdr: bool | None
    style: dict[str, str]


class RailOut(Schema):
    text: str
    attn: bool


class ViewOut(Schema):
    """A job as the sheets show it."""

    uid: str
    revision: int
    layer: Literal["found", "plan"]
    title: str
    time_zone: str
    archived: bool
    can_undo: str | None
    can_redo: str | None
    rooms: list[str]
    devices: list[DeviceOut]
    leads: list[LeadOut]
    runs: list[RunOut]
    titles: list[TitleOut]
    survey: dict[str, str]
    style: dict[str, str]
    rail: dict[str, RailOut]


class JobRow(Schema):
    uid: str
    title: str
    revision: int
    changed_at: str
    archived: bool
    boxes: int
    runs: list[dict[str, str]]


class ProfileOut(Schema):
    """A starter profile, or one read from a file: what a person chooses by, and its whole data."""

    id: str
    name: str
    role: str
    kind: str
    summary: str
    inputs: int
    outputs: int
    data: dict[str, Any]
