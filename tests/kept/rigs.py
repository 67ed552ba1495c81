"""Every answer about a rig, for a choice of rigs: the demo, the acceptance scenarios, odd ones of the generator."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

import tests.arrivals as arrivals
import tests.rigs as made
from tests.arrival_rigs import wide
from wavilex.core.advise.assign import assign
from wavilex.core.advise.connect_sound import rank_places
from wavilex.core.advise.default_want import default_want
from wavilex.core.advise.fixes import find_fixes
from wavilex.core.advise.settings_plan import settings_plan_data
from wavilex.core.advise.table import carry_table, explain, mode_choices
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.fault.case import case_of
from wavilex.core.fault.said import said_answers
from wavilex.core.fault.told import fault_data
from wavilex.core.lag.budget import budget, budget_data
from wavilex.core.link.answer import quantity_data
from wavilex.core.modes.choices import choices_data
from wavilex.core.modes.coverage import coverage_data
from wavilex.core.modes.run_refresh import refresh_data
from wavilex.core.modes.titles import title_plans
from wavilex.core.prove.told import prove_data
from wavilex.core.rig.changes import apply
from wavilex.core.rig.edit_brief import want_data
from wavilex.core.rig.exchange import insertable
from wavilex.core.rig.jobfile import Job, job_data
from wavilex.core.rig.model import Rig, Run, Socket
from wavilex.core.runsheet.plan import plan_steps
from wavilex.core.runsheet.sheet import sheet_data
from wavilex.core.tell.assignment import assignment_data
from wavilex.core.tell.beside import compare_runs, comparisons
from wavilex.core.tell.drawing import dot, schedule, svg
from wavilex.core.tell.handover import handover
from wavilex.core.tell.old_machine import retro_data
from wavilex.core.tell.report import job_report, run_data, table_data
from wavilex.core.tell.view import job_view
from wavilex.core.tell.ways import fixes_data
from wavilex.library.pierhead import demo_changes

TITLES: list[dict[str, Any]] = [
    {"op": "add_title", "title": {"uid": "t1", "name": "Tide Racer", "competitive": True, "hdr": True, "modes": [
        {"fps": 120, "name": "fast", "lines": 1440}, {"fps": 60, "name": "fine", "lines": 2160}]}},
    {"op": "add_title", "title": {"uid": "t2", "name": "Lantern Keep", "style": {"motion": "interpolate"},
                                  "modes": [{"fps": 30, "lines": 2160}, {"fps": 40, "lines": 1800}]}},
]  # fmt: skip


def _demo() -> Rig:
    return apply(Rig(title="Pierhead"), demo_changes())[0]


def _with_titles(r: Rig) -> Rig:
    return apply(r, TITLES)[0]


RIGS: dict[str, Callable[[], Rig]] = {
    "demo": _demo,
    "s01": made.s01, "s03": made.s03, "s07": lambda: made.s07(through=True), "s12": made.s12, "s18": made.s18,
    "s20": lambda: _with_titles(made.s20()), "s21": made.s21,
    "s02-arrival": arrivals.s02_arrival, "s04-arrival": arrivals.s04_arrival, "s05-arrival": arrivals.s05_arrival,
    "s06-arrival": arrivals.s06_arrival, "s08-arrival": arrivals.s08_arrival, "s09-arrival": arrivals.s09_arrival,
    "s10-arrival": arrivals.s10_arrival, "s14-arrival": arrivals.s14_arrival, "s16-arrival": arrivals.s16_arrival,
    "s17-arrival": arrivals.s17_arrival,
    **{f"wide-{n}": lambda n=n: wide(n) for n in (3, 8, 11, 17)},
}  # fmt: skip


def of_job(r: Rig) -> Iterator[tuple[str, Any]]:
    """The answers that are about a whole job."""
    plan, found = Layer(r), Layer(r, "found")
    yield "view of the plan", job_view(plan)
    yield "as found", [{k: v for k, v in x.items() if k != "want"} for x in job_report(r, "found")["runs"]]
    yield "settings plan", settings_plan_data(plan)
    yield "best places", assignment_data(r, assign(r))
    yield "run sheet", sheet_data(r, [])
    yield "run sheet, gear off", [s.key for s in plan_steps(r, off=True)]
    yield "hand-over", handover(r)
    yield "cells", coverage_data(plan, {})
    yield "schedule", schedule(found)
    yield "drawing", [dot(plan), svg(plan)]
    yield "boxes for a lead", {uid: insertable(r, "plan", uid) for uid in r.leads}
    outs = [Socket(d.uid, p.id) for d in r.devices.values() for p in d.profile.outputs()]
    yield (
        "places",
        {
            r.socket_name(o): [
                [r.socket_name(x.socket), x.verdict, x.why, x.spare_percent, x.carries_hz] for x in rank_places(r, o)
            ]
            for o in outs
        },
    )
    yield "job file", job_data(Job("kept", r.title, "UTC", r))["wavilex_job"]


def of_run(r: Rig, run: Run) -> Iterator[tuple[str, Any]]:
    """The answers that are about one run."""
    layer = Layer(r)
    result = run_result(layer, run)
    yield "told", run_data(layer, result)
    yield "ways", fixes_data(find_fixes(r, run, budget=300), r, run)
    yield "table", table_data(carry_table(layer, run))
    yield "modes to choose", mode_choices(layer, run)
    yield "default want", want_data(default_want(r, run))
    yield "choices", choices_data(layer, result)
    yield "titles", title_plans(layer, result)
    yield "refresh", refresh_data(layer, result)
    yield "old machine", retro_data(layer, result)
    yield "lag", budget_data(budget(layer, result, None, 60))
    yield "beside", {c["id"]: compare_runs(r, "plan", run, c["id"])["rows"] for c in comparisons(layer, run)}
    now = Layer(r, "found")
    if run is next(iter(r.runs.values())):  # a search is dear: one of a job
        of = case_of(now, run)
        for code in ("no_picture", "lags"):
            yield f"fault, {code}", fault_data(of, run, "", said_answers(of, run, [code], []))
    for stage, at in (("", now), ("plan", layer)):
        yield f"prove{' planned' if stage else ''}", prove_data(at, now, run, stage, [])
    if run.want.mode is not None:
        told = explain(layer, run, run.want.mode.name, "rgb", 8)
        yield "explained", told and [told.sentence, [quantity_data(q) for q in told.sums]]


def answers(r: Rig) -> dict[str, Any]:
    """All of them, by name."""
    runs = {f"{run.uid}: {name}": told for run in r.runs.values() for name, told in of_run(r, run)}
    return {**dict(of_job(r)), **runs}
