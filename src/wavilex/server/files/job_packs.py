"""Job packs written and read: a whole job with everything that hangs on it, checked before anything is stored."""

from __future__ import annotations

import base64
import hashlib
import zlib
from dataclasses import replace
from datetime import UTC, datetime, timedelta

from django.db import transaction
from typing_extensions import TypedDict

from wavilex import __version__
from wavilex.core.rig.jobfile import Job as CoreJob
from wavilex.core.visits.job_pack import JobPack, LogRow, VisitRow, read_job_pack, write_job_pack
from wavilex.server.bench.selectors import session_rows
from wavilex.server.files.services import import_job
from wavilex.server.jobs.cache import rig_of
from wavilex.server.jobs.log import kind_of, line
from wavilex.server.jobs.models import Job, KeptState, LogEntry, Visit
from wavilex.server.jobs.photographs import folder_of
from wavilex.server.jobs.selectors import seen_jobs
from wavilex.server.jobs.steps import tick_rows


class PackWould(TypedDict):
    """What reading a pack would do. there: titles of jobs that came from the same one, which stay as they are."""

    title: str
    boxes: int
    leads: int
    runs: int
    readings: int
    ticks: int
    seen: int
    photographs: int
    visits: int
    states: int
    log: int
    bytes: int
    there: list[str]
    words: str


def pack_of(job: Job) -> bytes:
    """A job as a pack."""
    rows = session_rows(job), tick_rows(job)
    core = CoreJob(job.uid, job.title, job.time_zone, rig_of(job), *rows)
    photos = {p.name: folder_of(job) / p.name for p in job.photographs.all()}
    visits = job.visits.select_related("state_open", "state_close")
    states = {s.digest: zlib.decompress(bytes(s.text)).decode() for s in job.states.all()}
    log = (LogRow(kind=e.kind, at=_iso(e.at), by=e.by, words=e.words, ref=e.ref) for e in job.log.iterator())
    return write_job_pack(JobPack(
        core, {name: file.read_bytes() for name, file in photos.items() if file.is_file()}, job.check_days,
        tuple(_visit_row(v) for v in visits), states, tuple(log),
    ), __version__)  # fmt: skip


def _iso(at: datetime) -> str:
    return at.astimezone(UTC).isoformat()


def _visit_row(v: Visit) -> VisitRow:
    return VisitRow(
        uid=v.uid, state=v.state, title=v.title, who=v.who, note=v.note,
        planned_for=_iso(v.planned_for) if v.planned_for else None,
        opened_at=_iso(v.opened_at) if v.opened_at else None, closed_at=_iso(v.closed_at) if v.closed_at else None,
        opened=v.state_open.digest if v.state_open else "", closed=v.state_close.digest if v.state_close else "",
        did=v.did,
    )  # fmt: skip


def would_do(data: bytes) -> PackWould:
    """What reading a pack would do; nothing is stored. Raises PackError with all that is wrong."""
    pack = read_job_pack(data)
    rig = pack.job.rig
    there = list(seen_jobs().filter(uid=pack.job.uid).values_list("title", flat=True))
    beside = f"; “{there[0]}”, which it was made of, stays as it is" if there else ""
    return {
        "title": pack.job.title, "boxes": len(rig.devices), "leads": len(rig.leads), "runs": len(rig.runs),
        "readings": sum(len(s.readings) for s in pack.job.lag), "ticks": len(pack.job.ticks),
        "seen": len(rig.observations), "photographs": len(pack.photographs), "visits": len(pack.visits),
        "states": len(pack.states), "log": len(pack.log), "bytes": len(data), "there": there,
        "words": f"It comes in as a new job{beside}. What could be undone there cannot be undone here.",
    }  # fmt: skip


@transaction.atomic
def bring_in(data: bytes) -> Job:
    """Store a pack as a new job: all of it or nothing. Raises PackError with all that is wrong."""
    pack = read_job_pack(data)
    text = {name: base64.b64encode(photo).decode() for name, photo in pack.photographs.items()}
    job = import_job(job=replace(pack.job, photographs=text))
    states = {
        old: KeptState.objects.get_or_create(
            job=job, digest=hashlib.sha256(words.encode()).hexdigest()[:24],
            defaults={"text": zlib.compress(words.encode(), 9)},
        )[0]
        for old, words in pack.states.items()
    }  # fmt: skip
    for v in pack.visits:
        job.visits.create(
            **v.model_dump(include={"uid", "title", "who", "note", "did"}), state=v.state,
            planned_for=_time(v.planned_for), opened_at=_time(v.opened_at), closed_at=_time(v.closed_at),
            state_open=states.get(v.opened), state_close=states.get(v.closed),
        )  # fmt: skip
    job.check_days = pack.check_days
    last = max((v.closed_at for v in job.visits.all() if v.closed_at is not None), default=None)
    job.due = last + timedelta(days=job.check_days) if job.check_days and last is not None else None
    job.save(update_fields=["check_days", "due"])
    LogEntry.objects.bulk_create(
        (line(job, kind_of(row.kind), row.words, at=datetime.fromisoformat(row.at), by=row.by, ref=row.ref)
         for row in pack.log), batch_size=500,
    )  # fmt: skip
    line(job, "file", f"brought in from a pack with {len(pack.photographs)} photographs").save()
    return job


def _time(text: str | None) -> datetime | None:
    return datetime.fromisoformat(text) if text else None
