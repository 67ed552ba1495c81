"""Old machines: scan rates, multiples, and the shape of their picture."""

from __future__ import annotations

from typing import Any, Literal

from django.http import HttpRequest
from ninja import Query, Router, Schema

from wavilex.core.chain.carry import run_result
from wavilex.core.retro.report import retro_data
from wavilex.server.jobs.api import READ, LayerName, at_run
from wavilex.server.jobs.cache import remembered

router = Router()


class ScanOut(Schema):
    """An analogue signal. lines: of a field where it is interlaced; pixel_aspect null: the raster fills the tube."""

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


class ScanLink(Schema):
    """How an input treats the signal that meets it there."""

    where: str
    treats: Literal["correct", "as_interlaced", "black", "rolling", "refused", "unknown"]
    good: bool
    words: str


class RateKept(Schema):
    """per_minute: frames dropped (over 0) or shown twice (under 0) in a minute."""

    kept: bool
    from_hz: float
    to_hz: float
    per_minute: float
    words: str


class ShapeStage(Schema):
    """The picture after a stage: shapes as width to height; width and height: the part of the frame it covers."""

    stage: str
    option: str
    fit: Literal["fill", "keep", "window"]
    frame: float
    picture: float
    width: float
    height: float
    error_percent: float


class ShapeOut(Schema):
    """best: what to set otherwise for the truest shape with the fewest resamplings, and the error then left.

    ops: plan that.
    """

    intended: float
    error_percent: float
    words: str
    stages: list[ShapeStage]
    best: list[str]
    best_error_percent: float | None
    ops: list[dict[str, Any]]


class TriedFact(Schema):
    device: str
    path: str


class MultipleOut(Schema):
    """A line multiple against the run's screen; tried: that was tried here, which wins over what is listed."""

    times: int
    sampling: Literal["whole_line", "matched"]
    active: str
    line_khz: float
    lines: float
    vertical_hz: float
    pixel_clock_mhz: float
    nearest: str
    nearest_name: str
    off_percent: float
    answer: Literal["sure", "likely", "doubtful", "no"]
    why: str
    tried: bool
    fact: TriedFact


class RetroOut(Schema):
    """An old machine's run. order: what to switch on first; notice: what a converter should write on the picture."""

    run: str
    signal: ScanOut | None
    links: list[ScanLink]
    quality: str
    rate: RateKept | None
    shape: ShapeOut
    multiples: list[MultipleOut]
    scale: str
    notice: str
    order: list[str]
    cautions: list[str]


@router.get("/jobs/{job_uid}/runs/{run_uid}/retro", operation_id="retro", response={200: RetroOut | None, **READ})
def retro(request: HttpRequest, job_uid: str, run_uid: str, layer: Query[LayerName] = "plan") -> dict[str, Any] | None:
    """A run's analogue part and its picture's shape; null where it has neither."""
    job, view, run = at_run(job_uid, run_uid, layer)
    found: dict[str, Any] | None = remembered(
        job, ("retro", run_uid, layer), lambda: retro_data(view, run_result(view, run))
    )
    return found
