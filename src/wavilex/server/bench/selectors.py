"""Reads of the bench."""

from __future__ import annotations

from typing import Any

from wavilex.core.jobfile import LagRow
from wavilex.core.lag.report import lag_report
from wavilex.server.bench.models import LagSession, Reading
from wavilex.server.jobs.cache import rig_of
from wavilex.server.jobs.models import Job
from wavilex.server.problems import ProblemError


def reading_count(job: Job) -> int:
    """Readings of a job that count."""
    return Reading.objects.filter(session__job=job, discard="").count()


def session_by_uid(uid: str) -> LagSession:
    """The session with its job, or a 404 problem."""
    try:
        return LagSession.objects.select_related("job").get(uid=uid)
    except LagSession.DoesNotExist:
        raise ProblemError(404, "no_such_session", "There is no such lag session.", uid[:40]) from None


def readings_after(session: LagSession, after: int) -> list[Reading]:
    return list(session.readings.filter(seq__gt=after))


def values_by_condition(session: LagSession) -> dict[str, list[int]]:
    """Readings in µs by condition, in the session's order, discarded ones left out."""
    out: dict[str, list[int]] = {c: [] for c in session.conditions}
    for condition, lag in session.readings.filter(discard="").values_list("condition", "lag_us"):
        out.setdefault(condition, []).append(lag)
    return out


def report_of(session: LagSession) -> dict[str, Any]:
    """The session judged: per condition and between the first two."""
    device = rig_of(session.job).devices.get(session.device)
    kind = device.profile.kind if device else "television"
    bound = device.profile.lag_bound_ms if device else None
    return lag_report(values_by_condition(session), kind, bound)


def session_rows(job: Job) -> tuple[LagRow, ...]:
    """Every session as job files hold them. Sessions of boxes that are gone are left out."""
    known = rig_of(job).devices
    return tuple(
        LagRow.model_validate({
            "uid": s.uid, "device": s.device, "conditions": s.conditions,
            "readings": [
                {"seq": r.seq, "condition": r.condition, "method": r.method, "lag_us": r.lag_us,
                 "taken_at": r.taken_at.isoformat().replace("+00:00", "Z"), "discard": r.discard}
                for r in s.readings.all()
            ],
        })
        for s in job.lag_sessions.all()
        if s.device in known
    )  # fmt: skip


def lag_rows(job: Job) -> list[dict[str, Any]]:
    """What the hand-over says of lag: a row a condition."""
    rows = []
    devices = rig_of(job).devices
    for session in job.lag_sessions.all():
        if session.device not in devices:
            continue
        methods = dict(session.readings.filter(discard="").values_list("condition", "method"))
        for c in report_of(session)["conditions"]:
            s = c["summary"]
            if s is None:
                continue
            span = f" ({s['ci_low_ms']:.1f} to {s['ci_high_ms']:.1f} ms at 95 %)" if s["ci_low_ms"] else ""
            rows.append({
                "device": devices[session.device].label, "condition": c["condition"],
                "text": f"{s['median_ms']:.1f} ms{span}", "judged": c["sentence"], "count": s["n"],
                "method": methods.get(c["condition"], "meter"),
            })  # fmt: skip
    return rows
