"""Reads of visits. Never writes."""

from __future__ import annotations

from datetime import datetime

from django.db.models import Count
from django.utils import timezone

from wavilex.server.bench.models import Reading
from wavilex.server.jobs.log import LOG_KINDS
from wavilex.server.jobs.models import Job, LogEntry, Visit
from wavilex.server.jobs.selectors import due_in
from wavilex.server.visits.shapes import DidOut, StateName, VisitOut, VisitsOut, VisitState
from wavilex.server.visits.states import NOW, state_words

DID = {
    "change": ("change", "changes"), "update": ("update", "updates"), "seen": ("thing seen", "things seen"),
    "light": ("light note", "light notes"), "learned": ("thing learned", "things learned"), "tick": ("step", "steps"),
    "reading": ("reading", "readings"), "photo": ("photograph", "photographs"),
    "fault": ("line about a fault", "lines about faults"), "visit": ("visit", "visits"), "file": ("file", "files"),
}  # fmt: skip
_STATES: dict[str, VisitState] = {"planned": "planned", "open": "open", "closed": "closed", "dropped": "dropped"}


def visits_of(job: Job) -> VisitsOut:
    """Every visit with what was done on it: two queries, whatever their number, and one of the log."""
    rows = list(job.visits.order_by("-id"))
    under_way = next((v for v in rows if v.state == "open"), None)
    return {
        "visits": [_told(v) for v in rows], "open": under_way.uid if under_way else "", "check_days": job.check_days,
        "due": _iso(job.due), "due_in_days": due_in(job.due), "states": _states(rows),
    }  # fmt: skip


def did_on(visit: Visit) -> dict[str, int]:
    """How much of each kind the book has of a visit, until now or until it was closed."""
    if visit.opened_at is None:
        return {}
    rows = LogEntry.objects.filter(job=visit.job_id, at__gte=visit.opened_at, at__lte=visit.closed_at or timezone.now())
    return dict(rows.order_by().values_list("kind").annotate(n=Count("pk")))


def _told(v: Visit) -> VisitOut:
    counts = did_on(v) if v.did is None else v.did
    told = [k for k in LOG_KINDS if counts.get(k) and k != "visit"]
    did: list[DidOut] = [{"kind": k, "name": DID[k][counts[k] > 1], "count": counts[k]} for k in told]
    return {
        "uid": v.uid, "state": _STATES[v.state], "title": v.title, "who": v.who, "note": v.note,
        "planned_for": _iso(v.planned_for), "opened_at": _iso(v.opened_at), "closed_at": _iso(v.closed_at), "did": did,
    }  # fmt: skip


def _iso(at: datetime | None) -> str:
    return at.isoformat() if at is not None else ""


def _states(rows: list[Visit]) -> list[StateName]:
    out: list[StateName] = [{"name": NOW, "words": "now"}]
    for v in rows:
        for end, kept in (("close", v.state_close_id), ("open", v.state_open_id)):
            if kept is not None:
                out.append({"name": f"{v.uid}/{end}", "words": state_words(v, end)})
    return out


def lag_by_firmware(job: Job) -> dict[str, dict[str, int]]:
    """Readings that count, by screen and by the version they were taken on."""
    rows = Reading.objects.filter(session__job=job, discard="").order_by()
    out: dict[str, dict[str, int]] = {}
    for device, firmware, n in rows.values_list("session__device", "firmware").annotate(n=Count("pk")):
        out.setdefault(device, {})[firmware] = n
    return out
