"""What the chain answers, as types."""

from __future__ import annotations

from typing import Literal

from typing_extensions import TypedDict

from wavilex.core.link.check import Verdict
from wavilex.core.link.shapes import QuantityOut
from wavilex.core.rig.ops import Op


class SocketOut(TypedDict):
    device: str
    port: str


class ReasonOut(TypedDict):
    code: str
    item: str
    verdict: Verdict
    text: str
    subject: str
    because: str
    provenance: str
    quantities: list[QuantityOut]


class SoundEndOut(TypedDict):
    device: str
    label: str
    certain: bool
    format: str
    way: list[str]
    path: list[str]
    on: list[str]


class SoundWayOut(TypedDict):
    label: str
    format: str
    ops: list[Op]


class SoundOut(TypedDict):
    """Where a run's sound goes: what plays it, best first; what bars a way; one lead that would help."""

    headline: str
    silent: bool
    ends: list[SoundEndOut]
    barred: list[str]
    ways: list[SoundWayOut]


class ShapeStage(TypedDict):
    """The picture after a stage: shapes as width to height; width and height: the part of the frame it covers.

    seen_across, seen_down: the part of the picture still there; hidden_percent: what overscan lays past the edges;
    cut_percent: what of it is not seen. true: nobody sees that it is off; words: how far it is.
    """

    stage: str
    option: str
    fit: Literal["fill", "keep", "window", "crop"]
    frame: float
    picture: float
    width: float
    height: float
    seen_across: float
    seen_down: float
    hidden_percent: float
    error_percent: float
    cut_percent: int
    true: bool
    words: str


class ShapeOut(TypedDict):
    """stages: as it is meant, then after every stage. true: nobody sees that the last is off.

    best: what to set otherwise for the truest shape with the fewest resamplings, and the error then left; cure: what
    that gives; ops: plan it.
    """

    true: bool
    cure: str
    error_percent: float
    cut_percent: float
    words: str
    stages: list[ShapeStage]
    best: list[str]
    best_error_percent: float | None
    ops: list[Op]
