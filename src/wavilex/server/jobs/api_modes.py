"""Settings over time: what each render rate looks like on a run, what screens store apart."""

from __future__ import annotations

from typing import Any, Literal

from django.http import HttpRequest
from ninja import Query, Router, Schema

from wavilex.core.chain.carry import run_result
from wavilex.core.modes.coverage import coverage_data
from wavilex.core.modes.run_refresh import refresh_data
from wavilex.core.runsheet.sheet import DONE
from wavilex.server.jobs.api import READ, LayerName, layer_of
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
    state: State
    even: bool
    words: str


class TitleRates(Schema):
    name: str
    competitive: bool
    rates: list[RateOut]


class RefreshOut(Schema):
    """window in Hz, or null for a fixed rate; a point for every whole render rate from 20 to 240."""

    run: str
    fixed_hz: int
    window: list[int] | None
    why: str
    points: list[PointOut]
    segments: list[SegmentOut]
    titles: list[TitleRates]


@router.get("/jobs/{job_uid}/runs/{run_uid}/refresh", operation_id="refresh", response={200: RefreshOut, **READ})
def refresh(request: HttpRequest, job_uid: str, run_uid: str, layer: Query[LayerName] = "plan") -> dict[str, Any]:
    """What each render rate, and each title of the job, looks like on a run."""
    job = job_by_uid(job_uid)
    view = layer_of(job, layer)
    run = view.rig.runs.get(run_uid)
    if run is None:
        raise ProblemError(404, "no_such_run", "There is no such run in this job.", run_uid[:40])
    data = remembered(job, ("refresh", run_uid, layer), lambda: refresh_data(view, run_result(view, run)))
    if data is None:
        raise ProblemError(404, "no_digital_path", "This run has no digital path yet: plug it in first.", run_uid[:40])
    return data  # type: ignore[no-any-return]


class StoredCell(Schema):
    key: str
    at: list[str]
    visited: bool
    runs: list[str]


class CoverageOut(Schema):
    """A screen's cells in the order to visit them; `at` has a value for each of `dimensions`."""

    device: str
    label: str
    dimensions: list[Literal["input", "resolution", "rate", "range", "mode"]]
    cells: list[StoredCell]
    shared: list[str]
    copying: str


@router.get("/jobs/{job_uid}/coverage", operation_id="coverage", response={200: list[CoverageOut], **READ})
def coverage(request: HttpRequest, job_uid: str) -> list[dict[str, Any]]:
    """What every screen stores apart, as far as the job needs it, and what was visited."""
    job = job_by_uid(job_uid)
    last = {e.key: e.state for e in events_of(job)}
    return coverage_data(layer_of(job, "plan"), [key for key, state in last.items() if state == DONE])
