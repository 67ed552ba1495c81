"""Settings over time: what each render rate looks like on a run, what screens store apart."""

from __future__ import annotations

from typing import Any, Literal

from django.http import HttpRequest
from ninja import Query, Router, Schema

from wavilex.core.chain.carry import run_result
from wavilex.core.modes.coverage import coverage_data
from wavilex.core.modes.run_refresh import refresh_data
from wavilex.server.jobs.api import READ, LayerName, at_run, layer_of
from wavilex.server.jobs.cache import remembered
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.jobs.steps import events_of
from wavilex.server.problems import ProblemError

router = Router()
State = Literal["window", "repeated", "once", "even", "uneven", "over"]


class PointOut(Schema):
    fps: int
    state: State
    refresh_hz: float
    words: str
    shortest_ms: float
    longest_ms: float


class SegmentOut(Schema):
    from_fps: int
    to_fps: int
    state: State
    words: str


class RateOut(Schema):
    fps: int
    name: str
    state: State
    even: bool
    words: str


class TitleRates(Schema):
    name: str
    competitive: bool
    rates: list[RateOut]


class VrrStage(Schema):
    """One socket of the path: what it says of variable refresh, of which kind, and the quirk behind it."""

    where: str
    says: str
    kinds: str
    because: str


class OddRate(Schema):
    """A rate beside the standard ones, in Hz. taken null: it may be, nothing obliges the input."""

    hz: str
    taken: bool | None
    words: str


class RefreshOut(Schema):
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


@router.get("/jobs/{job_uid}/runs/{run_uid}/refresh", operation_id="refresh", response={200: RefreshOut, **READ})
def refresh(
    request: HttpRequest, job_uid: str, run_uid: str, layer: Query[LayerName] = "plan", repeats: bool | None = None
) -> dict[str, Any]:
    """What each render rate, and each title of the job, looks like on a run. repeats: left out, as the source does."""
    job, view, run = at_run(job_uid, run_uid, layer)
    key = ("refresh", run_uid, layer, repeats)
    data = remembered(job, key, lambda: refresh_data(view, run_result(view, run), repeats))
    if data is None:
        raise ProblemError(404, "no_digital_path", "This run has no digital path yet: plug it in first.", run_uid[:40])
    return data  # type: ignore[no-any-return]


class StoredCell(Schema):
    """state: open (not visited), set, checked (its runs were proved since), stale (visited for other boxes)."""

    key: str
    at: list[str]
    state: Literal["open", "set", "checked", "stale"]
    runs: list[str]


class CopyOut(Schema):
    """What a copy to every input does, made from the first cell in order (`start`)."""

    start: str
    reaches: list[str]
    misses: list[str]
    overwrites: list[str]
    note: str


class CoverageOut(Schema):
    """A screen's cells in the order to visit them; `at` has a value for each of `dimensions`."""

    device: str
    label: str
    dimensions: list[Literal["input", "resolution", "rate", "range", "mode"]]
    cells: list[StoredCell]
    switches: int
    shared: list[str]
    copying: CopyOut


@router.get("/jobs/{job_uid}/coverage", operation_id="coverage", response={200: list[CoverageOut], **READ})
def coverage(request: HttpRequest, job_uid: str) -> list[dict[str, Any]]:
    """What every screen stores apart, as far as the job needs it, and how each part stands."""
    job = job_by_uid(job_uid)
    return coverage_data(layer_of(job, "plan"), {e.key: e.state for e in events_of(job)})
