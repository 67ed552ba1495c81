"""Questions about a job: fixes, the table of modes, one signal explained, ranked inputs."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Field, Query, Router, Schema

from wavilex.core.advise.connect_sound import rank_places
from wavilex.core.advise.default_want import default_want
from wavilex.core.advise.fixes import find_fixes
from wavilex.core.advise.shapes import ExplainedOut, FixesOut, InputOption, TableOut
from wavilex.core.advise.table import carry_table, explain
from wavilex.core.chain.paths import Layer
from wavilex.core.link.answer import quantity_data
from wavilex.core.link.sums import line_data
from wavilex.core.link.words import plain_count, source_of
from wavilex.core.rig.changes import apply
from wavilex.core.rig.edit_brief import want_data
from wavilex.core.rig.model import Run, Socket
from wavilex.core.rig.ops import LayerName
from wavilex.core.rig.shapes import WantOut
from wavilex.core.tell.beside import compare_runs, comparisons
from wavilex.core.tell.report import table_data
from wavilex.core.tell.shapes import ComparedRuns, Comparison
from wavilex.core.tell.ways import fixes_data
from wavilex.server.config import limits
from wavilex.server.jobs import models
from wavilex.server.jobs.api import READ, WRITE, Tried
from wavilex.server.jobs.cache import ANSWER_BYTES, layer_of, remembered, rig_of, states_of
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.jobs.turns import search_for
from wavilex.server.jobs.views import run_of
from wavilex.server.problems import ProblemError

router = Router()


@router.get("/jobs/{job_uid}/runs/{run_uid}/fixes", operation_id="fixes", response={200: FixesOut, **READ})
def fixes(request: HttpRequest, job_uid: str, run_uid: str, layer: Query[LayerName] = "plan") -> FixesOut:
    """The cheapest ways to give a run its want."""
    job = job_by_uid(job_uid)
    run = run_of(job, run_uid)

    def answer() -> FixesOut:
        go_on = search_for(limits.FIX_SEARCH_SECONDS)
        found = find_fixes(rig_of(job), run, layer, states=states_of(job), go_on=go_on)
        return fixes_data(found, rig_of(job), run)

    return remembered(job, ("fixes", run_uid, layer), answer, ANSWER_BYTES)


def _explained(layer: Layer, run: Run, signal: SignalIn) -> ExplainedOut:
    told = explain(layer, run, signal.mode, signal.encoding, signal.bits)
    if told is None:
        raise ProblemError(404, "no_such_mode", "The boxes of this run do not share that mode.", signal.mode)
    fullest = told.fullest
    return {
        "name": told.signal.name, "verdict": told.verdict, "sentence": told.sentence,
        "quantities": [quantity_data(q) for q in told.sums],
        "source": source_of(fullest) if fullest else "",
        "line": line_data(fullest) if fullest and told.sums else None,
        "plain_count": plain_count(fullest) if fullest and told.sums else None,
    }  # fmt: skip


def _tried(job: models.Job, run_uid: str, payload: Tried, name: LayerName) -> tuple[Layer, Run]:
    after, _ = apply(rig_of(job), payload.ops)
    run = after.runs.get(run_uid)
    if run is None:
        raise ProblemError(404, "no_such_run", "There is no such run in this job.", run_uid[:40])
    return Layer(after, name, states_of(job)), run


@router.get("/jobs/{job_uid}/runs/{run_uid}/table", operation_id="carryTable", response={200: TableOut, **READ})
def table(request: HttpRequest, job_uid: str, run_uid: str, layer: Query[LayerName] = "plan") -> TableOut:
    """Every mode the run's boxes share, by encoding and depth."""
    job = job_by_uid(job_uid)
    run = run_of(job, run_uid)
    rows = remembered(job, ("table", run_uid, layer), lambda: carry_table(layer_of(job, layer), run), ANSWER_BYTES)
    return table_data(rows)


@router.post("/jobs/{job_uid}/runs/{run_uid}/try-table", operation_id="tryTable", response={200: TableOut, **WRITE})
def trytable_data(
    request: HttpRequest, job_uid: str, run_uid: str, payload: Tried, layer: Query[LayerName] = "plan"
) -> TableOut:
    """The table as it would be with these changes. Nothing is written."""
    return table_data(carry_table(*_tried(job_by_uid(job_uid), run_uid, payload, layer)))


@router.get("/jobs/{job_uid}/runs/{run_uid}/comparisons", operation_id="comparisons",
            response={200: list[Comparison], **READ})  # fmt: skip
def what_to_compare(
    request: HttpRequest, job_uid: str, run_uid: str, layer: Query[LayerName] = "plan"
) -> list[dict[str, str]]:
    """What a run may be held against: the other layer, a setting otherwise, another run."""
    job = job_by_uid(job_uid)
    return comparisons(layer_of(job, layer), run_of(job, run_uid))


@router.get("/jobs/{job_uid}/runs/{run_uid}/compare", operation_id="compareRuns",
            response={200: ComparedRuns, **READ})  # fmt: skip
def compare(
    request: HttpRequest, job_uid: str, run_uid: str, to: str, layer: Query[LayerName] = "plan"
) -> ComparedRuns:
    """The run and what `to` names, side by side, differences first."""
    job = job_by_uid(job_uid)
    return compare_runs(rig_of(job), layer, run_of(job, run_uid), to, states_of(job))


class SignalIn(Schema):
    mode: str = Field(max_length=24)
    encoding: str = Field(max_length=4)
    bits: int = Field(ge=1, le=64)


@router.get("/jobs/{job_uid}/runs/{run_uid}/explain", operation_id="explain", response={200: ExplainedOut, **READ})
def explain_signal(
    request: HttpRequest, job_uid: str, run_uid: str, signal: Query[SignalIn], layer: Query[LayerName] = "plan"
) -> ExplainedOut:
    """One signal of the table with its sums."""
    job = job_by_uid(job_uid)
    return _explained(layer_of(job, layer), run_of(job, run_uid), signal)


@router.get("/jobs/{job_uid}/default-want", operation_id="defaultWant", response={200: WantOut, **READ})
def default_want_of(request: HttpRequest, job_uid: str, source: str, sink: str) -> WantOut:
    """What a new run from a source to a screen should want: the most that both share."""
    job = job_by_uid(job_uid)
    rig = rig_of(job)
    for uid in (source, sink):
        if uid not in rig.devices:
            raise ProblemError(404, "no_such_device", "There is no such box in this job.", uid[:40])
    return want_data(default_want(rig, Run("new", "", source, sink), states_of(job)))


@router.get("/jobs/{job_uid}/inputs", operation_id="rankInputs", response={200: list[InputOption], **READ})
def inputs(
    request: HttpRequest, job_uid: str, device: str, port: str, layer: Query[LayerName] = "plan"
) -> list[InputOption]:
    """Where a lead from this output could go, best first, with the reason."""
    job = job_by_uid(job_uid)
    rig = rig_of(job)
    out = Socket(device, port)
    lead = rig.lead_at(layer, out)
    now = lead.ends(layer)[1] if lead else None
    return [
        {
            "device": o.socket.device, "port": o.socket.port, "name": rig.socket_name(o.socket), "verdict": o.verdict,
            "why": o.why, "holds": o.holds, "here": o.socket == now, "ops": list(o.ops),
        }
        for o in rank_places(rig, out, layer)
    ]  # fmt: skip
