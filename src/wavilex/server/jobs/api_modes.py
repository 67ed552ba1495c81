"""Settings over time: what each render rate looks like on a run, what screens store apart."""

from __future__ import annotations

from typing import Any, Literal

from django.http import HttpRequest
from ninja import Query, Router, Schema

from wavilex.core.chain.carry import run_result
from wavilex.core.modes.coverage import coverage_data
from wavilex.core.modes.run_refresh import refresh_data
from wavilex.core.modes.solve import title_plans
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


class TitleCell(Schema):
    option: str
    label: str
    why: str


class TitleColumn(Schema):
    """One title's values; missed: what was wished and cannot be, with what excludes it; ops: plan them."""

    title: str
    competitive: bool
    cells: dict[str, TitleCell]
    missed: list[str]
    ops: list[dict[str, Any]]
    adds_ms: float


class TitleRow(Schema):
    key: str
    label: str
    where: str
    found: str
    plan: str
    cells: list[TitleCell | None]
    flips: bool


class StyleOut(Schema):
    id: str
    name: str


class TitlePlansOut(Schema):
    device: str
    label: str
    input: str
    style: str
    styles: list[StyleOut]
    titles: list[TitleColumn]
    rows: list[TitleRow]


@router.get("/jobs/{job_uid}/runs/{run_uid}/titles", operation_id="titlePlans",
            response={200: TitlePlansOut | None, **READ})  # fmt: skip
def titles(
    request: HttpRequest, job_uid: str, run_uid: str, style: Literal["balanced", "motion", "clear"] = "balanced"
) -> dict[str, Any] | None:
    """The screen's settings for each title, solved; null where the screen's profile names no effect of its settings."""
    job = job_by_uid(job_uid)
    view = layer_of(job, "plan")
    run = view.rig.runs.get(run_uid)
    if run is None:
        raise ProblemError(404, "no_such_run", "There is no such run in this job.", run_uid[:40])
    found: dict[str, Any] | None = remembered(
        job, ("titles", run_uid, style), lambda: title_plans(view, run_result(view, run), style)
    )
    return found


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
