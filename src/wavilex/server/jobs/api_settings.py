"""The settings plan: what to set on every box, title by title, what excludes what; and what may be behind lag."""

from __future__ import annotations

from typing import Literal

from django.http import HttpRequest
from ninja import Router

from wavilex.core.advise.settings_plan import settings_plan_data
from wavilex.core.advise.shapes import SettingsPlanOut
from wavilex.core.chain.carry import run_result
from wavilex.core.modes.choices import choices_data
from wavilex.core.modes.grid import copy_cell, grid_data
from wavilex.core.modes.shapes import CopiedOut, ExclusionOut, GridBox, StyleQuestionOut, TitlePlansOut
from wavilex.core.modes.titles import title_plans
from wavilex.core.rig.style import QUESTIONS, followed
from wavilex.server.jobs.api import READ
from wavilex.server.jobs.cache import ANSWER_BYTES, layer_of, remembered
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.jobs.views import at_run

router = Router()
Level = Literal["title", "run", "job", "default"]


@router.get("/jobs/{job_uid}/settings-plan", operation_id="settingsPlan", response={200: SettingsPlanOut, **READ})
def settings_plan(request: HttpRequest, job_uid: str) -> SettingsPlanOut:
    """What to set on every box, solved from wants, chain, profiles and house style."""
    job = job_by_uid(job_uid)
    return remembered(job, "settings-plan", lambda: settings_plan_data(layer_of(job, "plan")), ANSWER_BYTES)


@router.get("/jobs/{job_uid}/values", operation_id="values", response={200: list[GridBox], **READ})
def values(request: HttpRequest, job_uid: str) -> list[GridBox]:
    """What every box keeps, setting by setting and cell by cell (input, range, preset, resolution), as it is kept."""
    job = job_by_uid(job_uid)
    return remembered(job, "values", lambda: grid_data(layer_of(job, "plan")), ANSWER_BYTES)


@router.get("/jobs/{job_uid}/values/copy", operation_id="copyValues", response={200: CopiedOut, **READ})
def copy_values(
    request: HttpRequest, job_uid: str, device: str, start: str, to_device: str, end: str, taste: bool = False
) -> CopiedOut:
    """The changes that give one cell's values to another, there or on a sister unit, and what stays behind, with why.

    start, end: scopes of columns. taste: what is a matter of taste is agreed.
    """
    return copy_cell(layer_of(job_by_uid(job_uid), "plan"), device, start, to_device, end, taste)


@router.get("/jobs/{job_uid}/runs/{run_uid}/style", operation_id="houseStyle",
            response={200: list[StyleQuestionOut], **READ})  # fmt: skip
def house_style(request: HttpRequest, job_uid: str, run_uid: str) -> list[StyleQuestionOut]:
    """Every question of the house style as it is answered on a run."""
    _, view, run = at_run(job_uid, run_uid, "plan")
    answers = followed(view.rig.style, run.style)
    return [
        {
            "id": key, "name": q.name, "schools": [{"id": s, "name": words} for s, words in q.schools.items()],
            "school": answers[key].school, "level": answers[key].level,
        } for key, q in QUESTIONS.items()
    ]  # fmt: skip


@router.get(
    "/jobs/{job_uid}/runs/{run_uid}/choices", operation_id="choices", response={200: list[ExclusionOut], **READ}
)
def choices(request: HttpRequest, job_uid: str, run_uid: str) -> list[ExclusionOut]:
    """What excludes what on a run, with what each way gains and loses."""
    job, view, run = at_run(job_uid, run_uid, "plan")
    question = ("choices", run_uid)
    return remembered(job, question, lambda: choices_data(view, run_result(view, run)), ANSWER_BYTES)


@router.get("/jobs/{job_uid}/runs/{run_uid}/titles", operation_id="titlePlans",
            response={200: TitlePlansOut | None, **READ})  # fmt: skip
def titles(request: HttpRequest, job_uid: str, run_uid: str) -> TitlePlansOut | None:
    """Screen and source for each title, solved by its house style; null where nothing joins them."""
    job, view, run = at_run(job_uid, run_uid, "plan")
    question = ("titles", run_uid)
    return remembered(job, question, lambda: title_plans(view, run_result(view, run)), ANSWER_BYTES)
