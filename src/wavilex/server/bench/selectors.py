"""Reads of the bench."""

from __future__ import annotations

import threading
import time
from collections import OrderedDict
from collections.abc import Iterator
from dataclasses import dataclass

from django.db.models import Count, Max, Q

from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.lag.beside import Measured, beside
from wavilex.core.lag.enough import readings_for
from wavilex.core.lag.gather import Kept, gathered
from wavilex.core.lag.groups import Group
from wavilex.core.lag.methods import METHOD_NAMES
from wavilex.core.lag.report import Asked, lag_report
from wavilex.core.lag.shapes import BesideOut, LagReport
from wavilex.core.lag.state import State, of_names
from wavilex.core.lag.summary import summarise
from wavilex.core.lag.table import Row
from wavilex.core.modes.recommend import playing_of
from wavilex.core.rig.jobfile import LagRow, ReadingRow
from wavilex.core.rig.model import Rig
from wavilex.core.tell.hand_shapes import HandLag
from wavilex.server.bench.models import LagSession, Reading
from wavilex.server.config import limits
from wavilex.server.jobs.cache import rig_of
from wavilex.server.jobs.models import Job
from wavilex.server.jobs.selectors import seen_jobs
from wavilex.server.problems import ProblemError

_SPREAD_BEFORE_US = 1000  # a spread to plan with before anything was read: own figure
_KEPT = tuple(f for f in ReadingRow.model_fields if f != "taken_at")


def session_by_uid(uid: str) -> LagSession:
    """The session with its job, or a 404 problem."""
    try:
        return LagSession.objects.select_related("job").get(uid=uid, job__in=seen_jobs())
    except LagSession.DoesNotExist:
        raise ProblemError(404, "no_such_session", "There is no such lag session.", uid[:40]) from None


def readings_after(session: LagSession, after: int) -> list[Reading]:
    """Readings after a number, in order; of very many only the latest."""
    latest = session.readings.filter(seq__gt=after).order_by("-seq")[: limits.READINGS_PER_ANSWER]
    return list(latest)[::-1]


_READ = ("condition", "signal", "input", "position", "method", "lag_us", "uncertainty_us", "step_ns")


def groups_of(session: LagSession) -> list[Group]:
    """The session's readings that count, by what they are of and how they were taken."""
    rows = session.readings.filter(discard="").order_by("seq").values_list(*_READ, "taken_at", "firmware")
    return gathered(session.conditions, (Kept._make((*r[:-2], r[-2].date().isoformat(), r[-1])) for r in rows))


def asked_of(session: LagSession) -> Asked:
    """What a session is held against: its own bound, else the profile's, else common practice by the kind of screen."""
    rig = rig_of(session.job)
    device = rig.devices.get(session.device)
    return Asked(
        device.profile.kind if device else "television",
        session.bound_ms,
        session.baseline, session.equivalence_us, session.strobes, tuple(rig.titles.values()),
        _played(rig, session.device) if device else {}, states_of(session), device.profile if device else None,
        device.firmware if device else "",
    )  # fmt: skip


def states_of(session: LagSession) -> dict[str, State]:
    """What every condition sets the screen to; of a condition that is only a name what its name tells, if anything."""
    device = rig_of(session.job).devices.get(session.device)
    told = of_names(device.profile, session.conditions) if device else {}
    return {**told, **session.states}


def _played(rig: Rig, screen: str) -> dict[str, tuple[str, ...]]:
    """The signals every title is to be played in on the runs to a screen, as planned."""
    layer = Layer(rig)
    results = [run_result(layer, r) for r in rig.runs.values() if r.sink == screen]
    out: dict[str, tuple[str, ...]] = {}
    for title in rig.titles.values():
        played = [playing_of(layer, r, title) for r in results if r.path]
        out[title.uid] = tuple(dict.fromkeys(str(p.signal.timing.mode) for p in played if p is not None))
    return out


_QUICK_SECONDS = 0.1  # a report this quick is always the newest
_MANY = 2000  # of fewer readings it is always the newest too, however busy the machine is
_REST = 4  # a report that took long is worked out anew only after so many times as long


@dataclass(frozen=True, slots=True)
class _Kept:
    """A report, what it was worked out from, and until when it may stand in for a newer one."""

    key: object
    report: LagReport
    asked: object
    until: float


_reports: OrderedDict[int, _Kept] = OrderedDict()
_guard = threading.Lock()


def report_of(session: LagSession) -> LagReport:
    """The session judged; the same readings are not worked out twice.

    While a meter adds to very many readings, the report may be a few seconds old: the page stays smooth.
    """
    last = session.readings.aggregate(top=Max("seq"), gone=Count("pk", filter=~Q(discard="")))
    own = (session.bound_ms, session.baseline, session.equivalence_us, session.strobes, tuple(session.conditions))
    device = rig_of(session.job).devices.get(session.device)
    held = (session.uid, session.job.line, last["gone"], own, len(session.states), device.firmware if device else "")
    key = (last["top"], held)
    with _guard:
        kept = _reports.get(session.pk)
    if kept is not None and (kept.key == key or (kept.asked == held and time.monotonic() < kept.until)):
        return kept.report
    begun = time.monotonic()
    report = lag_report(groups_of(session), asked_of(session))
    took = time.monotonic() - begun
    slow = took > _QUICK_SECONDS and (last["top"] or 0) > _MANY
    until = begun + took + (_REST * took if slow else 0)
    with _guard:
        _reports[session.pk] = _Kept(key, report, held, until)
        _reports.move_to_end(session.pk)
        while len(_reports) > limits.CACHED_REPORTS:
            _reports.popitem(last=False)
    return report


def count_for(session: LagSession, certainty_ms: float) -> int:
    """Readings of a cell for a wanted certainty, by the widest spread seen in the session; 1 ms where none was."""
    spreads = [s.sd_us for g in groups_of(session) if (s := summarise(g.readings)) and s.sd_us]
    sd_us = max(spreads, default=_SPREAD_BEFORE_US)
    return min(readings_for(certainty_ms * 1000 / sd_us), limits.READINGS_PER_TAKE)


def beside_of(job: Job, baseline: str) -> BesideOut:
    """The job's screens side by side."""
    devices = rig_of(job).devices
    return beside(
        [
            Measured(s.device, devices[s.device].label, devices[s.device].profile.kind, groups_of(s), s.equivalence_us,
                     s.baseline)
            for s in job.lag_sessions.all() if s.device in devices
        ],
        baseline,
    )  # fmt: skip


def table_rows(session: LagSession) -> Iterator[Row]:
    """Every reading of a session as a table holds it."""
    device = rig_of(session.job).devices.get(session.device)
    label = device.label if device else session.device
    return (
        Row(r.taken_at.isoformat().replace("+00:00", "Z"), label, r.input, r.condition, r.signal, r.position, r.method,
            r.lag_us, bool(r.discard), r.note or r.discard, r.uncertainty_us, r.step_ns)
        for r in session.readings.iterator()
    )  # fmt: skip


def session_rows(job: Job) -> tuple[LagRow, ...]:
    """Every session as job files hold them. Sessions of boxes that are gone are left out."""
    known = rig_of(job).devices
    return tuple(
        LagRow.model_validate({
            "uid": s.uid, "device": s.device, "conditions": s.conditions, "baseline": s.baseline,
            "bound_ms": s.bound_ms, "equivalence_us": s.equivalence_us, "strobes": s.strobes, "states": s.states,
            "readings": [
                {"taken_at": r.taken_at.isoformat().replace("+00:00", "Z"),
                 **{f: getattr(r, f) for f in _KEPT}}
                for r in s.readings.all()
            ],
        })
        for s in job.lag_sessions.all()
        if s.device in known
    )  # fmt: skip


def lag_rows(job: Job) -> list[HandLag]:
    """What the hand-over says of lag: a row a condition."""
    rows: list[HandLag] = []
    devices = rig_of(job).devices
    for session in job.lag_sessions.all():
        if session.device not in devices:
            continue
        for c in report_of(session)["conditions"]:
            s = c["summary"]
            if s is None:
                continue
            span = f" ({s['ci_low_ms']:.1f} to {s['ci_high_ms']:.1f} ms at 95 %)" if s["ci_low_ms"] is not None else ""
            rows.append({
                "device": devices[session.device].label, "condition": c["condition"],
                "text": f"{s['lag_ms']:.1f} ms{span}", "judged": c["sentence"], "count": s["n"],
                "method": ", ".join(METHOD_NAMES[m] for m in c["methods"]),
            })  # fmt: skip
        rows += _cost_rows(session, devices[session.device].label)
    return rows


def _cost_rows(session: LagSession, device: str) -> list[HandLag]:
    """What settings were proved to cost, a row each."""
    out: list[HandLag] = []
    for c in report_of(session)["setting_costs"]:
        if not c["proved"]:
            continue
        span = f"({c['ci_low_ms']:.1f} to {c['ci_high_ms']:.1f} ms)".replace("-", "−")
        size = f"{c['ms']:+.1f} ms".replace("-", "−") if c["decision"] == "changed" else "no practical change"
        running = f"on firmware {c['firmware']}" if c["firmware"] else "firmware not noted"
        out.append({
            "device": device, "condition": " · ".join(w for w in (c["words"], c["at"]) if w), "text": f"{size} {span}",
            "judged": f"{running}, {c['day']}", "count": c["n"], "method": c["by"],
        })  # fmt: skip
    return out
