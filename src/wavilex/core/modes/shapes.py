"""What questions about modes, titles and stored cells answer, as types."""

from __future__ import annotations

from typing import Literal

from typing_extensions import TypedDict

from wavilex.core.gear.cells import StoredBy
from wavilex.core.gear.shapes import NamedOut, OptionOut, StandingKind
from wavilex.core.rig.ops import Op
from wavilex.core.rig.style import Level

State = Literal["window", "repeated", "once", "even", "uneven", "over"]


class HideoutOut(TypedDict):
    place: str
    words: str


class SoughtOut(TypedDict):
    """An effect, where it usually hides, what to see when it is found, what to think of when it is not. steps: as it
    mostly has them; known_steps: all it may have, none: any; stands: at which boxes mostly leave the factory.
    """

    id: str
    title: str
    steps: list[str]
    known_steps: list[NamedOut]
    stands: str
    see: str
    if_absent: str
    hideouts: list[HideoutOut]


class SchoolOut(TypedDict):
    id: str
    name: str


class StyleQuestionOut(TypedDict):
    """A question of the house style: the school followed on this run, and the level that says so."""

    id: str
    name: str
    schools: list[SchoolOut]
    school: str
    level: Level


class ElsewhereOut(TypedDict):
    """What planning it does to another run, or to sound; worse: something has less by it."""

    words: str
    worse: bool


class WayOut(TypedDict):
    """One side of a choice; figures by the names in the choice's `figures`. elsewhere: what it does to all else."""

    label: str
    school: str
    gains: list[str]
    losses: list[str]
    figures: dict[str, str]
    ops: list[Op]
    elsewhere: list[ElsewhereOut]
    picked: bool


class ExclusionOut(TypedDict):
    """Where two wishes exclude each other: `question` is the house style's; level: who answers it.

    weighty: the ways differ in figures, not in taste alone.
    """

    id: str
    title: str
    question: str
    because: str
    level: Level
    figures: list[str]
    weighty: bool
    ways: list[WayOut]


class TitleCell(TypedDict):
    option: str
    label: str
    why: str


class OtherMode(TypedDict):
    title_mode: str
    fps: int
    more_ms: float


class TitleAdvice(TypedDict):
    """How to play a title: its own mode, the source's output, the screen's picture mode.

    frame_ms: a frame's time; scan_ms: to mid-screen; adds_ms: the screen's settings.
    """

    title_mode: str
    fps: int
    source: str
    screen: str
    shown: str
    even: bool
    frame_ms: float
    scan_ms: float
    adds_ms: float
    others: list[OtherMode]


class StyleAnswer(TypedDict):
    question: str
    school: str
    level: Level


class AddedLag(TypedDict):
    """Lag a setting adds as a title has it, in ms; why: measured where and when, or whose claim."""

    ms: float
    words: str
    why: str
    measured: bool


class TitleColumn(TypedDict):
    """One title's values; missed: what was wished and cannot be, with what excludes it; ops: plan them.

    uid is empty for `any title`; keeps_percent: the share of its brightness the picture keeps; adds_ms: the sum of
    `added`.
    """

    title: str
    uid: str
    competitive: bool
    signal: Literal["standard", "HDR"]
    cells: dict[str, TitleCell]
    missed: list[str]
    ops: list[Op]
    adds_ms: float
    added: list[AddedLag]
    keeps_percent: int
    mode: TitleAdvice | None
    style: list[StyleAnswer]


class CostSaid(TypedDict):
    """What was measured of a setting's lag, in short and at length; stale: on another firmware than runs now."""

    words: str
    why: str
    stale: bool


class TitleRow(TypedDict):
    """costs: what was measured of this setting's lag."""

    key: str
    device: str
    label: str
    where: str
    found: str
    plan: str
    cells: list[TitleCell | None]
    costs: list[CostSaid]
    flips: bool


class TitlePlansOut(TypedDict):
    device: str
    label: str
    titles: list[TitleColumn]
    rows: list[TitleRow]


class PointOut(TypedDict):
    fps: int
    state: State
    refresh_hz: float
    words: str
    shortest_ms: float
    longest_ms: float


class SegmentOut(TypedDict):
    from_fps: int
    to_fps: int
    state: State
    words: str


class RateOut(TypedDict):
    fps: int
    name: str
    state: State
    even: bool
    words: str


class TitleRates(TypedDict):
    name: str
    competitive: bool
    rates: list[RateOut]


class VrrStage(TypedDict):
    """One socket of the path: what it says of variable refresh, of which kind, and the quirk behind it."""

    where: str
    says: str
    kinds: str
    because: str


class OddRate(TypedDict):
    """A rate beside the standard ones, in Hz. taken null: it may be, nothing obliges the input."""

    hz: str
    taken: bool | None
    words: str


class RefreshOut(TypedDict):
    """window in Hz, or null for a fixed rate; a point for every whole render rate from 20 to 240.

    repeats: is it shown with frames repeated below the window?
    """

    run: str
    fixed_hz: int
    window: list[int] | None
    kinds: list[str]
    why: str
    stages: list[VrrStage]
    repeats: bool
    repeats_words: str
    points: list[PointOut]
    segments: list[SegmentOut]
    titles: list[TitleRates]
    odd_rates: list[OddRate]


CellState = Literal["open", "set", "checked", "stale"]


class StoredCell(TypedDict):
    """state: open (not visited), set, checked (its runs were proved since), stale (visited for other boxes)."""

    key: str
    at: list[str]
    state: CellState
    runs: list[str]


class CopyOut(TypedDict):
    """What a copy to every input does, made from the first cell in order (`start`)."""

    start: str
    reaches: list[str]
    misses: list[str]
    overwrites: list[str]
    note: str


class CoverageOut(TypedDict):
    """A screen's cells in the order to visit them; `at` has a value for each of `dimensions`."""

    device: str
    label: str
    dimensions: list[StoredBy]
    cells: list[StoredCell]
    switches: int
    shared: list[str]
    copying: CopyOut


class GridColumn(TypedDict):
    """A cell: its scope, what it is told apart by in words, and the runs that meet it."""

    scope: str
    at: list[str]
    words: str
    runs: list[str]


class GridCell(TypedDict):
    """What is kept of a setting in a cell; value: planned, else found, null where nobody set or saw it.

    standing, because, frees: what the box itself does to it there.
    """

    scope: str
    found: str | None
    plan: str | None
    value: str | None
    words: str
    found_words: str
    change: bool
    standing: StandingKind
    because: str
    frees: str


class GridNumber(TypedDict):
    """The numbers a setting takes; neutral: where it does nothing, null where nobody knows."""

    from_: float
    to: float
    step: float
    unit: str
    neutral: float | None
    words: str


class GridRow(TypedDict):
    """A setting over a box's cells, one for each column, null where it is not kept there. alike: the same in all."""

    key: str
    label: str
    where: str
    kept_by: str
    options: list[OptionOut]
    number: GridNumber | None
    default: str
    copies: str
    alike: bool
    cells: list[GridCell | None]


class GridBox(TypedDict):
    """A box's settings by what they are kept by; what differs comes first. sisters: boxes of the same profile."""

    device: str
    label: str
    room: str
    profile: str
    kept_by: list[str]
    columns: list[GridColumn]
    rows: list[GridRow]
    sisters: list[NamedOut]


class CopiedOut(TypedDict):
    """The changes that copy a cell, what they set, and what is left out with why."""

    ops: list[Op]
    copied: list[str]
    left: list[str]
