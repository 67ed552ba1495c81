"""What the lag bench answers, as types."""

from __future__ import annotations

from typing import Literal

from typing_extensions import TypedDict

Position = Literal["", "top", "middle", "bottom"]


class SummaryOut(TypedDict):
    """In ms. lag_ms: the figure to give, the median, or of readings counted in frames of counted_ms the mean; the
    interval is of it at 95 %, null below six readings. steps_words: how readings lie that are on steps, "" for others.
    outliers stand out and still count.
    """

    n: int
    lag_ms: float
    of: Literal["median", "mean"]
    counted_ms: float | None
    steps_words: str
    median_ms: float
    mean_ms: float
    sd_ms: float | None
    low_ms: float
    high_ms: float
    ci_low_ms: float | None
    ci_high_ms: float | None
    ci_words: str
    quartile_low_ms: float
    quartile_high_ms: float
    outliers: int


class PartsOut(TypedDict):
    """A median taken apart: scan-out at its place, and what is left for processing."""

    scan_ms: float
    processing_ms: float
    words: str


class ConditionOut(TypedDict):
    """One cell. more: readings still to take for ±1 ms, null: no telling. guess_ms: guesses, never mixed in.

    set_to: what its condition sets, "" where only its name is known. kind: of its signal. older: why it may not hold
    any more, "" it does.
    """

    condition: str
    mode: str
    input: str
    signal: str
    position: Position
    methods: list[str]
    summary: SummaryOut | None
    verdict: str | None
    sentence: str
    enough: bool
    more: int | None
    enough_words: str
    outliers_ms: list[float]
    outliers_words: str
    guess_ms: float | None
    parts: PartsOut | None
    set_to: str
    kind: Literal["", "interlaced", "low resolution"]
    older: str


class DifferenceOut(TypedDict):
    """A difference with its interval, in ms, and as a sentence. of: the shift, or the means of readings on steps;
    medians_ms: the difference of medians, for beside it.
    """

    ms: float
    of: Literal["shift", "means"]
    medians_ms: float
    ci_low_ms: float | None
    ci_high_ms: float | None
    sentence: str
    note: str


class LagDifference(DifferenceOut):
    """The second condition against the first."""

    from_: str
    to: str


class CostOut(TypedDict):
    """A cell against the baseline. p corrected for as many looks; ratio: as a multiple of the baseline."""

    condition: str
    ms: float
    ci_low_ms: float | None
    ci_high_ms: float | None
    p_corrected: float
    different: bool
    decision: Literal["same", "changed", "undecided"]
    decided: str
    because: str
    more: int | None
    sentence: str
    ratio: float | None
    ratio_low: float | None
    ratio_high: float | None


class SettingCostOut(TypedDict):
    """One setting's cost against the baseline's value of it, all else alike, in ms. at: signal and input in words; n:
    of the cell with fewer readings. firmware: the box's, "" not known or not one (one_firmware); path: where it is
    kept; day: of the last reading. proved: a change, or proved to be none, all of it on one firmware.
    """

    setting: str
    option: str
    against: str
    words: str
    at: str
    input: str
    signal: str
    by: str
    n: int
    ms: float
    ci_low_ms: float | None
    ci_high_ms: float | None
    decision: Literal["same", "changed", "undecided"]
    decided: str
    because: str
    firmware: str
    one_firmware: bool
    path: str
    day: str
    proved: bool


class BoundOut(TypedDict):
    """What lag may be for whom, and who says so."""

    ms: int
    what_for: str
    source: str


LightKind = Literal["rolling", "at_once", "strobed", "reversed", "between"]


class LightOut(TypedDict):
    condition: str
    kind: LightKind
    measured_ms: float
    expected_ms: float
    words: str


class HandlingOut(TypedDict):
    condition: str
    kind: str
    fields: float
    words: str


class EpochOut(TypedDict):
    name: str
    lag_ms: float
    n: int


class LagChange(TypedDict):
    """A cell measured on more than one day or firmware. alert: it changed."""

    condition: str
    alert: bool
    epochs: list[EpochOut]
    sentences: list[str]


class BesideRow(TypedDict):
    """A cell of a screen. against_ms: more than the baseline, null for itself; not_alike: what else differs from it;
    over: the same by day and firmware, where there are several.
    """

    key: str
    device: str
    screen: str
    condition: str
    kind: str
    by: str
    n: int
    lag_ms: float
    ci_low_ms: float | None
    ci_high_ms: float | None
    against_ms: float | None
    against_low_ms: float | None
    against_high_ms: float | None
    decided: str
    ratio: float | None
    not_alike: str
    over: list[EpochOut]


class BesideOut(TypedDict):
    """Screens side by side. baseline: the key of the row the others are held against."""

    baseline: str
    rows: list[BesideRow]
    footing: str


class TitleVerdict(TypedDict):
    """verdict: within, over, undecided, or not_measured for the signal it is played in (condition is "" then)."""

    title: str
    bound_ms: int
    condition: str
    verdict: str
    sentence: str


class LagReport(TypedDict):
    bound_ms: int
    bound_source: str
    kind: str
    level_percent: int
    conditions: list[ConditionOut]
    difference: LagDifference | None
    baseline: str
    costs: list[CostOut]
    setting_costs: list[SettingCostOut]
    bounds: list[BoundOut]
    places: list[LightOut]
    handling: list[HandlingOut]
    changes: list[LagChange]
    titles: list[TitleVerdict]
    footing: str
    costs_footing: str


PartKind = Literal["measured", "elsewhere", "claimed", "worked_out", "unknown"]
LipVerdict = Literal["fits", "set", "late", "unknown"]


class BudgetPart(TypedDict):
    name: str
    low_ms: float
    high_ms: float
    kind: PartKind
    kind_name: str
    why: str


class LipSyncOut(TypedDict):
    """Sound against the picture of the whole path in one screen mode, from picture_ms to picture_most_ms where a box
    of it is not known; delay_ms: what to set at what plays it, null: nothing mends it.
    """

    condition: str
    picture_ms: float
    picture_most_ms: float
    sound_ms: float | None
    verdict: LipVerdict
    delay_ms: int | None
    words: str


class SumOut(TypedDict):
    """A chain's lag part by part, and its sum; low and high differ where a part is not known. joined: is there a way at
    all; without one there is no sum.
    """

    joined: bool
    parts: list[BudgetPart]
    low_ms: float
    high_ms: float
    known: bool


class BudgetOut(SumOut):
    """A run's lag from act to light, and the sound beside it."""

    condition: str
    plays: str
    plays_device: str
    sound_lag_ms: int | None
    lip_sync: list[LipSyncOut]
