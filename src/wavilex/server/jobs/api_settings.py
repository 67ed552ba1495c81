"""The settings plan: what to set on every box, title by title, what excludes what; and what may be behind lag."""

from __future__ import annotations

from typing import Any, Literal

from django.http import HttpRequest
from ninja import Router, Schema

from wavilex.core.advise.settings_plan import settings_plan_data
from wavilex.core.chain.carry import run_result
from wavilex.core.fault.sluggish import causes_data
from wavilex.core.modes.choices import choices_data
from wavilex.core.modes.titles import title_plans
from wavilex.core.rig.ops import Op
from wavilex.core.rig.style import QUESTIONS, followed
from wavilex.server.jobs.api import READ, at_run, layer_of
from wavilex.server.jobs.cache import remembered
from wavilex.server.jobs.selectors import job_by_uid

router = Router()
Level = Literal["title", "run", "job", "default"]


class PlannedOut(Schema):
    """One setting: found, as the plan has it now, and what it should be. signals: where standard range and HDR differ.

    changes: it differs from the plan. standing, because, frees: what the box itself does to it. elsewhere: what it
    makes of other settings. returns: when it goes back by itself. copies: may a sister unit be given the same?
    """

    key: str
    scope: str
    input: str
    label: str
    where: str
    found: str
    plan_now: str
    to: str
    value: str
    changes: bool
    seen_otherwise: bool
    why: str
    source: str
    runs: list[str]
    clashes: list[str]
    signals: list[str]
    standing: Literal["", "greyed", "forced", "inert", "cycle"]
    because: str
    frees: str
    elsewhere: list[str]
    returns: str
    copies: str
    may_copy: bool


class PlannedBox(Schema):
    device: str
    label: str
    room: str
    rows: list[PlannedOut]


class SettingsPlanOut(Schema):
    """ops: the changes that take the whole plan over. hdr_left_off: runs whose want goes without HDR by house style."""

    boxes: list[PlannedBox]
    ops: list[Op]
    changes: int
    hdr_left_off: list[str]


@router.get("/jobs/{job_uid}/settings-plan", operation_id="settingsPlan", response={200: SettingsPlanOut, **READ})
def settings_plan(request: HttpRequest, job_uid: str) -> dict[str, Any]:
    """What to set on every box, solved from wants, chain, profiles and house style."""
    job = job_by_uid(job_uid)
    return remembered(job, "settings-plan", lambda: settings_plan_data(layer_of(job, "plan")))  # type: ignore[no-any-return]


class SchoolOut(Schema):
    id: str
    name: str


class StyleQuestionOut(Schema):
    """A question of the house style: the school followed on this run, and the level that says so."""

    id: str
    name: str
    schools: list[SchoolOut]
    school: str
    level: Level


@router.get("/jobs/{job_uid}/runs/{run_uid}/style", operation_id="houseStyle",
            response={200: list[StyleQuestionOut], **READ})  # fmt: skip
def house_style(request: HttpRequest, job_uid: str, run_uid: str) -> list[dict[str, Any]]:
    """Every question of the house style as it is answered on a run."""
    _, view, run = at_run(job_uid, run_uid, "plan")
    answers = followed(view.rig.style, run.style)
    return [
        {
            "id": key, "name": q.name, "schools": [{"id": s, "name": words} for s, words in q.schools.items()],
            "school": answers[key].school, "level": answers[key].level,
        } for key, q in QUESTIONS.items()
    ]  # fmt: skip


class WayOut(Schema):
    """One side of a choice; figures by the names in the choice's `figures`."""

    label: str
    school: str
    gains: list[str]
    losses: list[str]
    figures: dict[str, str]
    ops: list[Op]
    picked: bool


class ExclusionOut(Schema):
    """Where two wishes exclude each other: `question` is the house style's; level: who answers it.

    weighty: the ways differ in figures, not in taste alone.
    """

    id: str
    title: str
    question: str
    because: str
    level: Level
    figures: list[str]
    weighty: bool
    ways: list[WayOut]


@router.get(
    "/jobs/{job_uid}/runs/{run_uid}/choices", operation_id="choices", response={200: list[ExclusionOut], **READ}
)
def choices(request: HttpRequest, job_uid: str, run_uid: str) -> list[dict[str, Any]]:
    """What excludes what on a run, with what each way gains and loses."""
    job, view, run = at_run(job_uid, run_uid, "plan")
    return remembered(job, ("choices", run_uid), lambda: choices_data(view, run_result(view, run)))  # type: ignore[no-any-return]


class CauseOut(Schema):
    """A cause of lag; rank from 1, likeliest first; ops mend it in the plan, if anything there can."""

    rank: int
    id: str
    title: str
    why: str
    check: str
    ops: list[Op]


@router.get("/jobs/{job_uid}/runs/{run_uid}/sluggish", operation_id="sluggish", response={200: list[CauseOut], **READ})
def sluggish(
    request: HttpRequest, job_uid: str, run_uid: str,
    game_options: Literal["available", "greyed", "not_looked"] = "not_looked",
) -> list[dict[str, Any]]:  # fmt: skip
    """What may be behind a complaint of lag, by whether the game options can be chosen."""
    _, view, run = at_run(job_uid, run_uid, "plan")
    return causes_data(view, run_result(view, run), game_options)


class TitleCell(Schema):
    option: str
    label: str
    why: str


class OtherMode(Schema):
    title_mode: str
    fps: int
    more_ms: float


class TitleMode(Schema):
    """How to play a title: its own mode, the source's output, the screen's picture mode.

    frame_ms: a frame's time; scan_ms: to mid-screen; adds_ms: the screen's settings.
    """

    title_mode: str
    fps: int
    source: str
    screen: str
    shown: str
    even: bool
    frame_ms: float
    scan_ms: float
    adds_ms: float
    others: list[OtherMode]


class StyleAnswer(Schema):
    question: str
    school: str
    level: Level


class TitleColumn(Schema):
    """One title's values; missed: what was wished and cannot be, with what excludes it; ops: plan them.

    uid is empty for `any title`; keeps_percent: the share of its brightness the picture keeps.
    """

    title: str
    uid: str
    competitive: bool
    signal: Literal["standard", "HDR"]
    cells: dict[str, TitleCell]
    missed: list[str]
    ops: list[Op]
    adds_ms: float
    keeps_percent: int
    mode: TitleMode | None
    style: list[StyleAnswer]


class TitleRow(Schema):
    key: str
    device: str
    label: str
    where: str
    found: str
    plan: str
    cells: list[TitleCell | None]
    flips: bool


class TitlePlansOut(Schema):
    device: str
    label: str
    titles: list[TitleColumn]
    rows: list[TitleRow]


@router.get("/jobs/{job_uid}/runs/{run_uid}/titles", operation_id="titlePlans",
            response={200: TitlePlansOut | None, **READ})  # fmt: skip
def titles(request: HttpRequest, job_uid: str, run_uid: str) -> dict[str, Any] | None:
    """Screen and source for each title, solved by its house style; null where nothing joins them."""
    job, view, run = at_run(job_uid, run_uid, "plan")
    found: dict[str, Any] | None = remembered(
        job, ("titles", run_uid), lambda: title_plans(view, run_result(view, run))
    )
    return found
