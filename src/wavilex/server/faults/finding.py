"""The search for a fault on a run of a job: its case, answers kept as observations, and what was learned."""

from __future__ import annotations

import time
from collections import Counter
from collections.abc import Callable
from datetime import datetime
from typing import Any, cast

from django.db import transaction
from django.db.models import Count

from wavilex.core.chain.paths import Layer
from wavilex.core.fault.case import CLOSED, Case, case_of, complaint_words, seen_since
from wavilex.core.fault.complaints import COMPLAINTS
from wavilex.core.fault.evidence import CANNOT, CHECK, COMPLAINT, RATE
from wavilex.core.fault.fault import Fault
from wavilex.core.fault.kinds import KINDS, FaultKind
from wavilex.core.fault.shapes import SearchOut
from wavilex.core.fault.told import fault_data, reverted_of
from wavilex.core.gear.own_faults import Complaint
from wavilex.core.prove.line import NO, YES
from wavilex.core.rig.model import Run
from wavilex.core.rig.ops import Change
from wavilex.server.bench.models import LagSession
from wavilex.server.bench.selectors import report_of
from wavilex.server.faults.models import Confirmed
from wavilex.server.jobs import models
from wavilex.server.jobs.cache import layer_of, memory, rig_of
from wavilex.server.jobs.observing import Described, SeenAt, observe
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.jobs.services import change_job
from wavilex.server.jobs.views import run_of
from wavilex.server.problems import ProblemError

FIRST_SECONDS, WHOLE_SECONDS = 0.03, 3.0  # pairs take time: a first answer does without most of them
_CASE_BYTES = 900_000  # measured on the demo job’s longest run


def confirmed() -> Counter[tuple[FaultKind, str]]:
    """How often each kind of fault was confirmed here, at which kind of box."""
    rows = Confirmed.objects.values_list("kind", "box").annotate(n=Count("pk")).order_by("kind", "box")
    return Counter({(cast(FaultKind, kind), box): n for kind, box, n in rows if kind in KINDS})


def case_for(job: models.Job, run: Run) -> Case | None:
    """The case of a run, worked out once for all that it depends on: what was seen is none of it."""
    rig, known = rig_of(job), confirmed()
    parts = (rig.devices, rig.leads, rig.settings, rig.facts, rig.runs, rig.titles, rig.style, rig.distances)
    key = (job.pk, "case", run.uid, tuple(sorted(known.items())), *map(id, parts))
    kept: tuple[Case | None, object] | None = memory.get(key)
    if kept is None:
        kept = case_of(layer_of(job, "found"), run, known), parts  # the key names them by identity
        memory.put(key, kept, _CASE_BYTES)
    return kept[0]


def fault_answer(job: models.Job, run: Run, *, whole: bool) -> SearchOut:
    """Where the search stands. whole: with every pair that is worth it; else at once."""
    rig, case = rig_of(job), case_for(job, run)
    noted = {**reverted_of(rig, case.bench.scene.boxes if case is not None else ()), **_late(job, run)}
    return fault_data(
        case, run, path_words(layer_of(job, "found"), run), seen_since(rig, run.uid),
        _until(WHOLE_SECONDS if whole else FIRST_SECONDS), noted,
    )  # fmt: skip


def _late(job: models.Job, run: Run) -> dict[Complaint, str]:
    """Readings at the run’s screen that are over their bound."""
    for session in LagSession.objects.filter(job=job, device=run.sink):
        report = report_of(session)
        for cell in report["conditions"]:
            summary = cell["summary"]
            if summary is not None and summary["lag_ms"] > report["bound_ms"]:
                figures = f"{summary['lag_ms']:g} ms measured where {report['bound_ms']} are asked"
                return {"lags": f"{cell['condition']}: {figures}"}
    return {}


def path_words(layer: Layer, run: Run) -> str:
    """The run’s way by its sockets; its two ends where nothing joins them."""
    paths = layer.paths(run)
    names = {u: d.label for u, d in layer.rig.devices.items()}
    ends = [names.get(run.source, run.source)]
    return " → ".join(ends + ([layer.rig.socket_name(h.inp) for h in paths[0]] if paths else [names.get(run.sink, "")]))


def _until(seconds: float) -> Callable[[], bool]:
    end = time.monotonic() + seconds
    return lambda: time.monotonic() < end


@transaction.atomic
def answer(*, job_uid: str, run_uid: str, uid: str, key: str, value: str, said_at: datetime, actor: Any) -> models.Job:
    """Keep one answer of a search: a complaint, a read-out, a look, a cure, or that it cannot be done.

    Raises ProblemError for a question there is not, or an outcome that is none of its.
    """
    job = job_by_uid(job_uid, lock=True)
    run = run_of(job, run_uid)
    seen = _seen(case_for(job, run), run, key, value)
    return observe(job_uid=job.uid, uid=uid, run_uid=run.uid, said_at=said_at, actor=actor, seen=[seen])


def _seen(case: Case | None, run: Run, key: str, value: str) -> SeenAt:
    if key.startswith(COMPLAINT):
        code = key[len(COMPLAINT) :]
        if code not in COMPLAINTS or value not in (YES, NO):
            raise ProblemError(422, "no_such_complaint", f"A complaint is one of {', '.join(COMPLAINTS)}.", "key")
        return SeenAt(key, "seen", value, about=Described(run.sink, "Complaint", complaint_words(code)))
    check = case.by_key.get(key) if case is not None else None
    if check is None:
        raise ProblemError(404, "no_such_check", "There is no such check on this run any more: look again.", key[:80])
    outcomes = [o.value for o in check.outcomes]
    if value != CANNOT and value not in outcomes and not (check.kind == "read" and value):
        raise ProblemError(422, "no_outcome", f"Its outcomes are {', '.join(outcomes)}, {CANNOT}.", "value")
    if key.startswith(CHECK) or value == CANNOT:
        return SeenAt(key, "seen", value, about=Described(check.device, "Fault", check.words))
    return SeenAt(key, "seen" if key.startswith(RATE) else "differs", value)


@transaction.atomic
def close(
    *, job_uid: str, run_uid: str, uid: str, cause: str, note: bool, said_at: datetime, actor: Any
) -> models.Job:  # fmt: skip
    """Close a search: it was this. Counted for this installation; with `note` the rig is noted so as found.

    Raises ProblemError for a cause there is not. cause: "" closes it without one.
    """
    job = job_by_uid(job_uid, lock=True)
    run = run_of(job, run_uid)
    faults = _faults_of(case_for(job, run), cause)
    words = "; ".join(f.what for f in faults) or "nothing found"
    about = Described(faults[0].device if faults else run.sink, "Fault", f"it was: {words}")
    seen = SeenAt(CLOSED, "seen", cause or "nothing", about=about)
    if job.changes.filter(uid=f"seen-{uid}").exists():
        return job
    job = observe(job_uid=job.uid, uid=uid, run_uid=run.uid, said_at=said_at, actor=actor, seen=[seen])
    ops: list[Change] = [op for f in faults for op in f.ops]
    if note and ops:
        done = change_job(
            job_uid=job.uid, base=job.revision, uid=f"noted-{uid}", ops=ops, actor=actor, label=f"noted: {words}"[:200]
        )
        job = done.job
    for n, fault in enumerate(faults):
        Confirmed.objects.get_or_create(uid=f"{uid}.{n}", defaults={"kind": fault.kind, "box": fault.box})
    return job


def _faults_of(case: Case | None, cause: str) -> list[Fault]:
    known = {f.id: f for f in case.bench.faults} if case is not None else {}
    wanted = [x for x in cause.split("+") if x]
    if any(x not in known for x in wanted):
        raise ProblemError(404, "no_such_cause", "There is no such cause on this run any more.", cause[:80])
    return [known[x] for x in wanted]


def forget_learned() -> int:
    """Back to common practice; how many were forgotten."""
    return Confirmed.objects.all().delete()[0]
