"""What questions about a link answer, as types."""

from __future__ import annotations

from typing import Literal, NotRequired

from typing_extensions import TypedDict

from wavilex.core.link.check import Verdict


class QuantityOut(TypedDict):
    """`value` is exact text; `text` is rounded for showing."""

    name: str
    value: str
    unit: str
    text: str
    over: bool
    working: str


class LineOut(TypedDict):
    microseconds: str
    characters: int
    picture: int
    blanking: int
    sound: int
    overhead: int
    spare: int
    overhead_percent: str
    spare_percent: str


class SideRow(TypedDict):
    name: str
    a: str
    b: str
    differs: bool


class CellDifference(TypedDict):
    """A cell whose verdict differs; null where one side has no such row."""

    signal: str
    a: Verdict | None
    b: Verdict | None


class ComparedOut(TypedDict):
    rows: list[SideRow]
    cells: list[CellDifference]


class CellOut(TypedDict):
    """text: what its square says; said: the same read out."""

    encoding: str
    bits: int
    verdict: Verdict
    used_percent: float | None
    stopped_by: str | None
    text: str
    said: str


class RowOut(TypedDict):
    mode: str
    name: str
    width: int
    height: int
    hz: int
    timing: str
    family: str
    wanted: bool
    fast: bool
    carried: bool
    cells: list[CellOut]


class ColumnOut(TypedDict):
    """chroma: the least a want names when it asks for it. deep: enough bits for HDR; full: no chroma given up."""

    deep: bool
    full: bool
    encoding: str
    bits: int
    name: str
    chroma: Literal["any", "422", "444"]


class ScratchOut(TypedDict):
    """compression: what was assumed of it, "" where none is allowed."""

    signal: str
    modeline: str
    verdict: Verdict
    sentence: str
    used_percent: float | None
    ceiling: str
    limited_by: str
    compression: str
    quantities: list[QuantityOut]
    source: str
    line: LineOut | None
    plain_count: str | None
    columns: list[ColumnOut]
    rows: list[RowOut]


class ChoiceOut(TypedDict):
    id: str
    name: str


class KindChoice(ChoiceOut):
    """Something chosen of leads or links of these kinds alone."""

    kinds: list[str]


class ChoicesOut(TypedDict):
    grades: list[KindChoice]
    builds: list[ChoiceOut]
    powers: list[ChoiceOut]
    rates: list[KindChoice]
    audio: list[ChoiceOut]
    encodings: list[ChoiceOut]
    slices: list[ChoiceOut]
    derived: list[ChoiceOut]


class ProofStep(TypedDict):
    rate: str
    rate_name: str
    signal: str
    timing: str


class ProofOut(TypedDict):
    steps: list[ProofStep]
    sentence: str
    determined: bool


class LinkReasonOut(TypedDict):
    code: str
    text: str
    source: str
    quantities: list[QuantityOut]


class LinkAnswerOut(TypedDict):
    """The fields of `wavilex link --json`. The last three only where the link carries it that way."""

    signal: str
    verdict: Verdict
    fits: bool
    blocked_by: str | None
    used_percent: float | None
    pixel_clock_hz: int
    transport: str
    sentence: str
    limited_by: str
    compression: str
    reasons: list[LinkReasonOut]
    tmds_character_rate_hz: NotRequired[int | float]
    bits_per_pixel: NotRequired[float]
    slices: NotRequired[int]
