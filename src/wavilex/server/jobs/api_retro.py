"""Old machines: scan rates, multiples, and the shape of their picture."""

from __future__ import annotations

from typing import Any, Literal

from django.http import HttpRequest
from ninja import Query, Router, Schema

from wavilex.core.chain.carry import run_result
from wavilex.core.rig.ops import Op
from wavilex.core.tell.old_machine import retro_data
from wavilex.server.jobs.api import READ, LayerName, at_run
from wavilex.server.jobs.cache import remembered

router = Router()


class ScanOut(Schema):
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


class ScanLink(Schema):
    """How an input treats the signal that meets it there."""

    where: str
    treats: Literal["correct", "as_interlaced", "black", "rolling", "refused", "no_sync", "grey", "unknown"]
    good: bool
    words: str


class AlsoSent(Schema):
    """Another signal the machine sends, and how each input treats it."""

    name: str
    links: list[ScanLink]


class RateKept(Schema):
    """per_minute: frames dropped (over 0) or shown twice (under 0) in a minute."""

    kept: bool
    from_hz: float
    to_hz: float
    per_minute: float
    words: str


class ShapeStage(Schema):
    """The picture after a stage: shapes as width to height; width and height: the part of the frame it covers.

    seen_across, seen_down: the part of the picture still there; hidden_percent: what overscan lays past the edges.
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


class ShapeOut(Schema):
    """best: what to set otherwise for the truest shape with the fewest resamplings, and the error then left.

    meant_across, meant_down: the part of a 4:3 frame the machine’s picture takes; the rest is its border.

    ops: plan that.
    """

    intended: float
    meant_across: float
    meant_down: float
    error_percent: float
    cut_percent: float
    words: str
    stages: list[ShapeStage]
    best: list[str]
    best_error_percent: float | None
    ops: list[Op]


class TriedFact(Schema):
    device: str
    path: str


class MultipleOut(Schema):
    """What comes out at a multiple; tmds_gbps: on the wires, at 8 bits a component.

    set: the multiplier is set to it. ops: plan it, the run's wanted mode with it.
    """

    times: int
    sampling: Literal["whole_line", "matched"]
    active: str
    line_khz: float
    lines: float
    vertical_hz: float
    pixel_clock_mhz: float
    nearest: str
    nearest_name: str
    tmds_gbps: float
    off_percent: float
    set: bool
    ops: list[Op]


class MultipleAnswer(Schema):
    """Does a screen take it; tried: that was tried here, which wins over what is listed.

    scale: how high its panel shows a machine's line; even null: its panel is not known.
    """

    answer: Literal["sure", "likely", "doubtful", "no"]
    why: str
    tried: bool
    scale: str
    even: bool | None
    fact: TriedFact


class MultipleScreen(Schema):
    """A screen of the job at the input that takes most; answers: to each multiple, in their order; words: in all."""

    words: str
    screen: str
    input: str
    here: bool
    answers: list[MultipleAnswer]


class RetroOut(Schema):
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


@router.get("/jobs/{job_uid}/runs/{run_uid}/retro", operation_id="retro", response={200: RetroOut | None, **READ})
def retro(request: HttpRequest, job_uid: str, run_uid: str, layer: Query[LayerName] = "plan") -> dict[str, Any] | None:
    """A run's analogue part and its picture's shape; null where it has neither."""
    job, view, run = at_run(job_uid, run_uid, layer)
    found: dict[str, Any] | None = remembered(
        job, ("retro", run_uid, layer), lambda: retro_data(view, run_result(view, run))
    )
    return found
