"""What the Light sheet is told, as plain data. Lights in cd/m²; bounds are 95 % intervals."""

from __future__ import annotations

from typing_extensions import TypedDict

from wavilex.core.rig.ops import Change


class TargetOut(TypedDict):
    time: str
    light: str
    low: int
    high: int
    aim: int
    why: str
    guess: bool


class LightReadingOut(TypedDict):
    """A reading as it was kept. stale: what it rests on that changed, "" none; counts: it stands in the curve."""

    uid: str
    value: str
    window: int
    signal_percent: float
    light: float
    error_percent: float
    x: float | None
    y: float | None
    method: str
    by: str
    at: str
    stale: str
    counts: bool


class LightPoint(TypedDict):
    """A value set, the light there, and the edges of its interval."""

    at: float
    light: float
    low: float
    high: float


class LightCurveOut(TypedDict):
    """line: the curve with its band; points: the readings."""

    line: list[LightPoint]
    points: list[LightPoint]


class LightAnswerOut(TypedDict):
    """value: what to set, None: not said; said: in words. ops: the changes that plan it."""

    time: str
    value: str | None
    light: float | None
    low: float | None
    high: float | None
    said: str
    next_value: str | None
    ops: list[Change]
    planned: bool


class WhiteOut(TypedDict):
    """A measured white. warmth: what the colour temperature was set to, "" not known."""

    x: float
    y: float
    kelvin: int | None
    duv: float
    delta_e: float
    lean: str
    warmth: str
    window: int
    at: str


class WindowLight(TypedDict):
    """Light of a white part of so many percent; words: such a scene, "" for a reading."""

    window: int
    light: float
    words: str


class DimmingOut(TypedDict):
    windows: list[WindowLight]
    held: list[WindowLight]
    keeps_percent: float | None
    missing: list[int]


class NearBlackOut(TypedDict):
    first_step: int | None
    said: str
    at: str
    controls: list[dict[str, str]]


class TrackedPoint(TypedDict):
    """A signal in percent, the light measured, and as the document means it."""

    signal: float
    light: float
    meant: float


class TrackOut(TypedDict):
    points: list[TrackedPoint]
    clips_at: float | None
    rolls_from: float | None
    said: str


class LightCellOut(TypedDict):
    """One cell of a screen: what stands there, what to set, what was read."""

    scope: str
    name: str
    hdr: bool
    times: list[str]
    runs: list[str]
    setting: str
    setting_label: str
    low: float | None
    high: float | None
    step: float | None
    found: str | None
    plan: str | None
    window: int
    curve: LightCurveOut | None
    answers: list[LightAnswerOut]
    readings: list[LightReadingOut]
    preset: str
    whites: list[WhiteOut]
    white_said: str
    dimming: DimmingOut | None
    near_black: NearBlackOut
    track: TrackOut | None


class HdrClicksOut(TypedDict):
    """A page of the source. said: how many clicks, or why not; counts: what was counted, and what it means."""

    page: str
    label: str
    sets: str
    number: str
    known: bool
    low: int | None
    high: int | None
    said: str
    meaning: str
    counted: list[dict[str, str]]
    stale: str
    fit: str
    ops: list[Change]


class HdrWayOut(TypedDict):
    """A way of mapping tones, by the model. now: what says that it is in force, "" where it is not."""

    way: str
    name: str
    school: str
    now: str
    double: bool
    shown: list[float]
    gains: str
    loses: str


class ContentPoint(TypedDict):
    """Light of the content, as the source sends it, as the screen shows it; its PQ signal, and code of 10 bits."""

    content: float
    percent: float
    code: int
    sent: float
    shown: float


class HdrRunOut(TypedDict):
    """HDR of a run, end to end. line: content, sent by the source, shown by the screen."""

    run: str
    label: str
    source: str
    peak: int | None
    peak_measured: bool
    full: float | None
    black: float | None
    content: int
    source_peak: float | None
    lights: list[float]
    ways: list[HdrWayOut]
    line: list[ContentPoint]
    warning: str
    order: list[str]
    pages: list[HdrClicksOut]
    weak: bool | None
    costs: list[dict[str, str]]
    school: str


class CareOut(TypedDict):
    self_lit: bool
    rule: str
    grade: str
    titles: list[dict[str, str]]
    eases: list[dict[str, str]]
    hours: list[dict[str, str]]


class OverdriveOut(TypedDict):
    """setting None: the profile knows none. rates: those played; seen: setting, rate, trail, seam."""

    setting: str | None
    label: str
    options: list[dict[str, str]]
    rates: list[int]
    seen: list[dict[str, int | str]]
    best: list[dict[str, str]]
    said: str


class LightChoiceOut(TypedDict):
    """A choice of the panel with what was seen. value: as it stands, "" not read."""

    setting: str
    label: str
    value: str
    options: list[dict[str, str]]
    does: str
    seen: list[dict[str, str]]
    figures: str


class ScaleRow(TypedDict):
    """A point of a transfer function: code in limited and in full levels, percent of signal, cd/m²."""

    limited: int
    full: int
    percent: float
    light: float


class ScaleOut(TypedDict):
    """A transfer function; its levels: codes of black and white. mismatches: what unlike levels look like."""

    document: str
    bits: int
    limited_black: int
    limited_white: int
    full_black: int
    full_white: int
    rows: list[ScaleRow]
    mismatches: list[dict[str, str]]


class LocusPoint(TypedDict):
    """A point of the daylight locus."""

    x: float
    y: float
    kelvin: int


class LitScreen(TypedDict):
    """A screen of the job, to choose from."""

    uid: str
    label: str
    room: str


class ScreenLightOut(TypedDict):
    """A screen's light. warmths: the options of its colour temperature; locus: daylight's x, y, K, for a drawing."""

    device: str
    label: str
    screens: list[LitScreen]
    day: str | None
    night: str | None
    seat_mm: int | None
    glare: bool
    targets: list[TargetOut]
    cells: list[LightCellOut]
    hdr: list[HdrRunOut]
    care: CareOut
    overdrive: OverdriveOut
    choices: list[LightChoiceOut]
    warmths: list[dict[str, str]]
    locus: list[LocusPoint]
    first: str
