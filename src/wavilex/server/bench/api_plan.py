"""The bench's plan, what it is held against, its readings as a table, and what they mean for a run."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from django.db import transaction
from django.http import HttpRequest, StreamingHttpResponse
from ninja import Field, Router, Schema

from wavilex.core.lag.plan import cells
from wavilex.core.lag.shapes import BesideOut, BudgetOut, Position
from wavilex.core.lag.table import read_table, table_parts, within
from wavilex.server.accounts.roles import editor
from wavilex.server.bench import services, states
from wavilex.server.bench.api import READ, WRITE, session_data
from wavilex.server.bench.models import LagSession
from wavilex.server.bench.selectors import beside_of, count_for, session_by_uid, table_rows
from wavilex.server.bench.shapes import LagSessionOut, ReadingsTaken
from wavilex.server.bench.sums import budget_of
from wavilex.server.bench.used import use_costs
from wavilex.server.config import limits
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.jobs.sent import SentUid, once
from wavilex.server.jobs.views import at_run

router = Router()


class SettingValue(Schema):
    setting: str = Field(min_length=1, max_length=60)
    option: str = Field(min_length=1, max_length=60)


class PlanIn(Schema):
    """Every combination is a cell. order: grouped changes seldom what is slow to change, random spreads drift.

    kind: table, of the conditions that are named; settings, of a baseline (by setting) and each value that differs from
    it alone; before_after, of the screen as it was found and as it is planned.
    count: readings of each. certainty_ms: instead, as many as the median's interval needs to reach so far to each
    side, by the spread seen so far.
    """

    kind: Literal["table", "settings", "before_after"] = "table"
    conditions: list[str] = Field(default=[], max_length=12)
    baseline: dict[str, str] = Field(default={}, max_length=40)
    each: list[SettingValue] = Field(default=[], max_length=23)
    signals: list[str] = Field(default=[], max_length=12)
    inputs: list[str] = Field(default=[], max_length=8)
    positions: list[Position] = Field(default=[], max_length=3)
    count: int = Field(default=12, ge=1, le=limits.READINGS_PER_TAKE, strict=True)
    certainty_ms: float | None = Field(default=None, gt=0, le=1000)
    order: Literal["grouped", "random"] = "grouped"


@router.post("/lag/{session_uid}/plan", auth=editor, operation_id="planLag", response={200: LagSessionOut, **WRITE})
def plan(request: HttpRequest, session_uid: str, payload: PlanIn) -> dict[str, Any]:
    """What to measure, in the order to take it; an earlier plan is replaced, its readings stay."""
    session = session_by_uid(session_uid)
    with transaction.atomic():
        names = _conditions(session, payload)
        wanted = cells(names, payload.signals, payload.inputs, payload.positions)
        count = payload.count if payload.certainty_ms is None else count_for(session, payload.certainty_ms)
        states.make_plan(session=session, wanted=wanted, order=payload.order, count=count)
    return session_data(session)


def _conditions(session: LagSession, payload: PlanIn) -> list[str]:
    """The names of the conditions a plan is of; those that are states are kept with what they set."""
    if payload.kind == "table":
        return payload.conditions
    label = payload.inputs[0] if payload.inputs else ""
    if payload.kind == "before_after":
        wanted = states.before_after(session, label)
    else:
        each = [(x.setting, x.option) for x in payload.each]
        wanted = states.one_by_one(session, label, payload.baseline, each)
    names = states.name_states(session=session, wanted=wanted)
    services.set_baseline(session=session, condition=next(iter(names.values())))
    return list(names.values())


class OfferedOption(Schema):
    id: str
    label: str


class OfferedSetting(Schema):
    """A setting that may cost time: how it stands (null: not known), which value is expected to be quickest, whether a
    cost is expected of it.
    """

    id: str
    label: str
    where: str
    options: list[OfferedOption]
    found: str | None
    planned: str | None
    quickest: str
    likely: bool


@router.get("/lag/{session_uid}/settings", operation_id="lagSettings", response={200: list[OfferedSetting], **READ})
def settings(request: HttpRequest, session_uid: str, input: str = "") -> list[dict[str, Any]]:
    """The settings of the screen at an input (its label) that a plan may try one at a time."""
    return states.offered(session_by_uid(session_uid), input)


class BaselineIn(Schema):
    input: str = Field(default="", max_length=60)
    baseline: dict[str, str] = Field(max_length=40)


@router.post("/lag/{session_uid}/settings/barred", auth=editor, operation_id="barredSettings",
             response={200: dict[str, str], **WRITE})  # fmt: skip
def barred_settings(request: HttpRequest, session_uid: str, payload: BaselineIn) -> dict[str, str]:
    """What a baseline does not let stand, by `setting=value`: why. Nothing is kept."""
    return states.why_barred(session_by_uid(session_uid), payload.input, payload.baseline)


class StateIn(Schema):
    """name "": by what it sets. state: settings by their ids."""

    name: str = Field(default="", max_length=60, pattern=r"^(\S(.*\S)?)?$")
    input: str = Field(default="", max_length=60)
    state: dict[str, str] = Field(min_length=1, max_length=40)


@router.post("/lag/{session_uid}/states", auth=editor, operation_id="sayState", response={200: LagSessionOut, **WRITE})
def say_state(request: HttpRequest, session_uid: str, payload: StateIn) -> dict[str, Any]:
    """What a condition sets the screen to: a new one, or one of which only the name was known."""
    session = session_by_uid(session_uid)
    states.say_state(session=session, name=payload.name, label=payload.input, state=payload.state)
    return session_data(session)


class ReadyIn(Schema):
    cell: int = Field(ge=0, strict=True)


@router.post("/lag/{session_uid}/ready", auth=editor, operation_id="cellIsSet",
             response={200: LagSessionOut, **WRITE})  # fmt: skip
def ready(request: HttpRequest, session_uid: str, payload: ReadyIn) -> dict[str, Any]:
    """Everything is set for a cell of the plan: from now on it is measured, and no other."""
    session = session_by_uid(session_uid)
    states.set_ready(session=session, cell=payload.cell)
    return session_data(session)


@router.post("/lag/{session_uid}/use", auth=editor, operation_id="useCosts", response={200: LagSessionOut, **WRITE})
def use(request: HttpRequest, session_uid: str) -> dict[str, Any]:
    """Keep the proved costs of settings with the screen: from there titles, choices, faults and chains read them."""
    session = session_by_uid(session_uid)
    use_costs(session=session, actor=request.user)
    return session_data(session)


@router.delete("/lag/{session_uid}/plan", auth=editor, operation_id="dropLagPlan",
               response={200: LagSessionOut, **WRITE})  # fmt: skip
def drop_plan(request: HttpRequest, session_uid: str) -> dict[str, Any]:
    """Measure without a plan; readings stay."""
    session = session_by_uid(session_uid)
    states.drop_plan(session=session)
    return session_data(session)


class AskedIn(Schema):
    """baseline: the cell's name others are held against; bound_ms null: common practice; strobes: the light flashes."""

    baseline: str = Field(default="", max_length=160)
    bound_ms: int | None = Field(default=None, ge=1, le=1000)
    equivalence_ms: float = Field(default=2, gt=0, le=1000)
    strobes: bool = False


@router.post("/lag/{session_uid}/asked", auth=editor, operation_id="askLag", response={200: LagSessionOut, **WRITE})
def asked(request: HttpRequest, session_uid: str, payload: AskedIn) -> dict[str, Any]:
    """What the session is held against."""
    session = session_by_uid(session_uid)
    services.set_asked(
        session=session, baseline=payload.baseline, bound_ms=payload.bound_ms,
        equivalence_us=max(1, round(payload.equivalence_ms * 1000)), strobes=payload.strobes,
    )  # fmt: skip
    return session_data(session)


@router.get("/lag/{session_uid}/readings.csv", operation_id="exportReadings", response={200: str, **READ})
def export(request: HttpRequest, session_uid: str) -> StreamingHttpResponse:
    """Every reading of a session as CSV."""
    session = session_by_uid(session_uid)
    response = StreamingHttpResponse(table_parts(table_rows(session)), content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="lag-{session.device[:40]}.csv"'
    return response


class TableText(Schema):
    """`uid` makes it safe to send twice."""

    uid: SentUid
    text: str = Field(max_length=limits.FILE_BYTES)


@router.post("/lag/{session_uid}/readings.csv", auth=editor, operation_id="importReadings",
             response={200: ReadingsTaken, **WRITE})  # fmt: skip
def take_table(request: HttpRequest, session_uid: str, payload: TableText) -> dict[str, Any]:
    """Readings of a CSV text, row by row: those of this screen are taken, each other row is told with its reason."""
    session = session_by_uid(session_uid)
    rows, refused = read_table(payload.text)
    own, strange = services.own_rows(session, rows)
    own, beyond = within(own, session.conditions, services.MOST_CONDITIONS)
    refused = sorted([*refused, *beyond], key=lambda r: r.line)
    with transaction.atomic():
        taken = once(payload.uid, lambda: services.take_table(session=session, rows=own))
    report = [{"line": r.line, "why": r.why} for r in refused]
    report += [{"line": 0, "why": f"{n} of another device: {name}"} for name, n in strange.items()]
    return {"taken": taken, "refused": report, "session": session_data(session)}


@router.get("/jobs/{job_uid}/lag/beside", operation_id="lagBeside", response={200: BesideOut, **READ})
def lag_beside(request: HttpRequest, job_uid: str, baseline: str = "") -> BesideOut:
    """Every screen of a job that was measured, side by side. baseline: a row's key, else the first."""
    return beside_of(job_by_uid(job_uid), baseline)


@router.get("/jobs/{job_uid}/runs/{run_uid}/lag-budget", operation_id="lagBudget", response={200: BudgetOut, **READ})
def lag_budget(
    request: HttpRequest,
    job_uid: str,
    run_uid: str,
    condition: str = "",
    fps: Annotated[int, Field(ge=1, le=1000)] | None = None,
) -> BudgetOut:
    """A run's lag part by part, and its sound against its picture. condition: a screen mode, else the quickest."""
    job, layer, run = at_run(job_uid, run_uid, "plan")
    return budget_of(job, layer, run, condition, fps)
