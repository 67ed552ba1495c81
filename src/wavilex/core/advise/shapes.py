"""What advice answers, as types."""

from __future__ import annotations

from typing import Literal

from typing_extensions import TypedDict

from wavilex.core.gear.shapes import NamedOut
from wavilex.core.link.check import Verdict
from wavilex.core.link.shapes import ColumnOut, LineOut, QuantityOut, RowOut
from wavilex.core.rig.ops import Op
from wavilex.core.rig.shapes import LitOut

PartKey = Literal["size", "rate", "hdr", "colour", "vrr", "low_lag", "protection", "sound"]
PartAnswer = Literal["had", "by_steps", "unknown", "not_found", "never"]


class PlaceSetting(TypedDict):
    text: str


class PlaceOut(TypedDict):
    run: str
    label: str
    weight: int
    input: str
    now: str
    lead: str
    moved: bool
    verdict: Verdict
    good: bool
    why: str
    settings: list[PlaceSetting]


class RunnerUpOut(TypedDict):
    satisfied: int
    moves: int
    loses: list[str]
    ops: list[Op]


class AssignmentOut(TypedDict):
    """The best places for the sources' leads, proved or not, and the runner-up with what each loses by it."""

    headline: str
    proved: bool
    settled: bool
    looked_at: int
    moves: int
    satisfied: int
    present_satisfied: int
    runs: int
    places: list[PlaceOut]
    boxes: list[str]
    effects: list[str]
    ops: list[Op]
    sockets: list[LitOut]
    runner_up: RunnerUpOut | None


class FixOut(TypedDict):
    label: str
    kinds: list[str]
    cost: int
    cost_text: str
    minutes: int
    notes: list[str]
    gives: str
    verdict: Verdict
    disturbs: list[str]
    effects: list[str]
    loses: bool
    ops: list[Op]
    sockets: list[LitOut]


class InsteadOut(TypedDict):
    """A lesser want that can be had: what it goes without, and the way to it; null where it is had already.

    settle: the steps, and the want brought down to it, as one change.
    """

    name: str
    goes_without: list[str]
    way: FixOut | None
    settle: list[Op]


class PartOut(TypedDict):
    """A part of the want. way: its own steps, where they are not those of the first way for the whole want."""

    key: PartKey
    wanted: str
    answer: PartAnswer
    says: str
    why: str
    way: FixOut | None


class FixesOut(TypedDict):
    """said: what was proved of the ways, or of there being none. not_to_be_had: parts of the want no change gives.

    proof: what trying or looking would settle."""

    proved: bool
    said: str
    needs: str
    proof: str
    not_to_be_had: list[str]
    parts: list[PartOut]
    tried: int
    ways: list[FixOut]
    instead: list[InsteadOut]


class TableOut(TypedDict):
    columns: list[ColumnOut]
    rows: list[RowOut]


class ExplainedOut(TypedDict):
    name: str
    verdict: Verdict
    sentence: str
    quantities: list[QuantityOut]
    source: str
    line: LineOut | None
    plain_count: str | None


class InputOption(TypedDict):
    device: str
    port: str
    name: str
    verdict: Verdict
    why: str
    holds: str | None
    here: bool
    ops: list[Op]


class PlannedOut(TypedDict):
    """One setting: found, as the plan has it now, and what it should be. signals: where standard range and HDR differ.

    changes: it differs from the plan. standing, because, frees: what the box itself does to it. elsewhere: what it
    makes of other settings. start: only a value to begin with.
    returns: when it goes back by itself. copies: may a sister unit be given the same?
    """

    key: str
    scope: str
    input: str
    label: str
    where: str
    found: str
    plan_now: str
    to: str
    value: str
    changes: bool
    seen_otherwise: bool
    why: str
    source: str
    runs: list[str]
    clashes: list[str]
    signals: list[str]
    start: bool
    standing: Literal["", "greyed", "forced", "inert", "cycle"]
    because: str
    frees: str
    elsewhere: list[str]
    returns: str
    copies: str
    may_copy: bool


class PlannedBox(TypedDict):
    device: str
    label: str
    room: str
    rows: list[PlannedOut]


class SettingsPlanOut(TypedDict):
    """ops: the changes that take the whole plan over. hdr_left_off: runs whose want goes without HDR by house style."""

    boxes: list[PlannedBox]
    ops: list[Op]
    changes: int
    hdr_left_off: list[str]


class TriedFact(TypedDict):
    device: str
    path: str


class MultipleFigures(TypedDict):
    """What comes out at a multiple; tmds_gbps: on the wires, at 8 bits a component. off_percent: of the nearest
    standard's pixel clock. way: how two fields become frames, "" where there are none.
    """

    times: int
    sampling: Literal["whole_line", "matched"]
    active: str
    line_khz: float
    lines: float
    way: str
    vertical_hz: float
    pixel_clock_mhz: float
    nearest: str
    nearest_name: str
    tmds_gbps: float
    off_percent: float


class MultipleSet(TypedDict):
    """set: the multiplier is set to it. ops: plan it, the run’s wanted mode with it."""

    set: bool
    ops: list[Op]


class MultipleOut(MultipleFigures, MultipleSet):
    """A multiple: what comes out, whether it is set, what plans it."""


class MultipleAnswer(TypedDict):
    """Does a screen take it; tried: that was tried here, which wins over what is listed.

    scale: how high its panel shows a machine's line; even null: its panel is not known.
    """

    answer: Literal["sure", "likely", "doubtful", "no"]
    why: str
    tried: bool
    scale: str
    even: bool | None
    fact: TriedFact


class MultipleScreen(TypedDict):
    """A screen of the job at the input that takes most; answers: to each multiple, in their order; words: in all."""

    words: str
    screen: str
    input: str
    here: bool
    answers: list[MultipleAnswer]


class SetupPart(TypedDict):
    """A box of a set-up, and the classes it may be of."""

    id: str
    label: str
    classes: list[NamedOut]


class SetupOut(TypedDict):
    """A typical set-up to start from."""

    id: str
    title: str
    parts: list[SetupPart]
