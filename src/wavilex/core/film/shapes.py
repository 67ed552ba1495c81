"""What a film tells, as types."""

from __future__ import annotations

from typing import Literal

from typing_extensions import TypedDict

Borne = Literal["yes", "no", ""]


class RectOut(TypedDict):
    """A part of the picture, each 0 to 1 of its width or height."""

    x: float
    y: float
    width: float
    height: float


class ProposedOut(TypedDict):
    rect: RectOut
    rises: int
    first_s: float


class FilmPressOut(TypedDict):
    """One press: read, missed (nothing answered) or unasked (nothing started it). Times in s of the film's true time;
    off_ms: half of the 95 % interval. frame: of the still strip about each end, null: none. filed_ms, filed_off_ms: as
    it is filed, with what a hand moved; null: not at all. kept: nobody dropped it.
    """

    n: int
    what: Literal["read", "missed", "unasked"]
    start_s: float | None
    answer_s: float | None
    start_frame: int | None
    answer_frame: int | None
    lag_ms: float | None
    off_ms: float | None
    filed_ms: float | None
    filed_off_ms: float | None
    moved: bool
    kept: bool


class LevelsOut(TypedDict):
    """A patch's light over time, thinned: least and most of each stretch, one after the other. light: white 1."""

    at_s: list[float]
    light: list[float]


class FilmClockOut(TypedDict):
    """borne: does something in view bear the rate out; "": nothing tells."""

    frames: int
    seconds: float
    stored_fps: float
    taken_fps: float
    even: bool
    borne: Borne
    words: str


class FilmSoundOut(TypedDict):
    """Sound after the flash in ms, the microphone's way taken off; the interval null below six events."""

    events: int
    offset_ms: float
    low_ms: float | None
    high_ms: float | None
    words: str


class CadenceOut(TypedDict):
    frames: int
    twice: int
    missed: int
    hz: float
    unread_percent: float
    words: str


class FilmSumOut(TypedDict):
    """What the kept presses come to, in ms: their mean where they lie on whole frames, else their median."""

    n: int
    lag_ms: float
    of: Literal["median", "mean"]


class ApartOut(TypedDict):
    """The second screen after the first, in ms; the interval null below six events."""

    rect: RectOut
    events: int
    ms: float
    low_ms: float | None
    high_ms: float | None
    words: str


class FilmMoveOut(TypedDict):
    """A moment that a hand moved, in frames of the film."""

    press: int
    end: str
    frames: int


class FilmTold(TypedDict):
    """step_ms: readings are counted by this frame, null: they tell parts of it. notes: what limits them. sum: of the
    kept presses, null: none.
    """

    clock: FilmClockOut
    proposed: list[ProposedOut]
    start: RectOut | None
    answer: RectOut | None
    presses: list[FilmPressOut]
    sum: FilmSumOut | None
    moves: list[FilmMoveOut]
    second: ApartOut | None
    start_levels: LevelsOut | None
    answer_levels: LevelsOut | None
    step_ms: float | None
    notes: list[str]
    sound: FilmSoundOut | None
    cadence: CadenceOut | None
