"""How this installation stands: data, backups, meters, memory of the running server; and whether its data is sound."""

from __future__ import annotations

import json
import os
import time
from collections.abc import Iterator
from pathlib import Path

from django.conf import settings
from django.db import connection
from django.db.migrations.recorder import MigrationRecorder
from typing_extensions import TypedDict

from wavilex import __version__
from wavilex.core.errors import WavilexError
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Rig
from wavilex.server.bench.models import Reading
from wavilex.server.jobs import models
from wavilex.server.jobs.cache import memory
from wavilex.server.jobs.photographs import folder_of
from wavilex.server.jobs.store import load_rig
from wavilex.server.shelf.health import shelf_faults
from wavilex.server.shelf.models import Box

_RUNNING = "running.json"
_NOTE_SECONDS = 5
_noted_at = 0.0


class RememberedOut(TypedDict):
    """What the server remembers of answers worked out; asked, known: how often it was asked, and knew."""

    entries: int
    held_bytes: int
    most_bytes: int
    asked: int
    known: int


class RunningOut(TypedDict):
    """The server at work on this data; rss_bytes null: this system does not tell."""

    pid: int
    port: int
    rss_bytes: int | None
    remembered: RememberedOut | None


class BackupsOut(TypedDict):
    count: int
    bytes: int
    latest: str


class StatusOut(TypedDict):
    """schema: the last migration of each part. running null: no server is at work on this data."""

    version: str
    data_folder: str
    database_bytes: int
    schema: dict[str, str]
    jobs: int
    changes: int
    readings: int
    boxes: int
    backups: BackupsOut
    meters: list[str]
    running: RunningOut | None


class _Noted(TypedDict):
    """What a server leaves word of in the data folder."""

    pid: int
    port: int
    remembered: RememberedOut | None


class FaultOut(TypedDict):
    """where: table, row or job and revision."""

    where: str
    fault: str


def note_running(port: int) -> None:
    """Leave word in the data folder that this process serves it."""
    _write({"pid": os.getpid(), "port": port, "remembered": None})


def note_memory() -> None:
    """Leave word of what is remembered, every few seconds at most."""
    global _noted_at
    if time.monotonic() - _noted_at < _NOTE_SECONDS:
        return
    _noted_at = time.monotonic()
    noted = _read()
    if noted is not None:
        _write({"pid": os.getpid(), "port": noted["port"], "remembered": _remembered()})


def _remembered() -> RememberedOut:
    s = memory.standing()
    return {"entries": s.entries, "held_bytes": s.held_bytes, "most_bytes": s.most_bytes, "asked": s.asked,
            "known": s.known}  # fmt: skip


def _write(noted: _Noted) -> None:
    file = Path(settings.DATA) / _RUNNING
    fresh = file.with_suffix(".new")
    fresh.write_text(json.dumps(noted), encoding="ascii")
    fresh.replace(file)


def _read() -> _Noted | None:
    try:
        noted: _Noted = json.loads((Path(settings.DATA) / _RUNNING).read_text(encoding="ascii"))
    except (OSError, ValueError):
        return None
    return noted


def _running() -> RunningOut | None:
    noted = _read()
    if noted is None:
        return None
    pid = noted["pid"]
    try:
        os.kill(pid, 0)
    except OSError:
        return None
    here = _remembered() if pid == os.getpid() else noted["remembered"]
    return {"pid": pid, "port": noted["port"], "rss_bytes": _rss_bytes(pid), "remembered": here}


def _rss_bytes(pid: int) -> int | None:
    """Resident memory of a process, as Linux tells it."""
    try:
        lines = Path(f"/proc/{pid}/status").read_text(encoding="ascii").splitlines()
    except OSError:
        return None
    return next((int(x.split()[1]) * 1024 for x in lines if x.startswith("VmRSS:")), None)


def status() -> StatusOut:
    """The whole, as `wavilex status` and the API tell it."""
    database = Path(str(settings.DATABASES["default"]["NAME"]))
    backups = sorted((Path(settings.DATA) / "backups").glob("*.sqlite3"))
    schema: dict[str, str] = {}
    for app, name in sorted(MigrationRecorder(connection).applied_migrations()):
        if app in ("jobs", "bench", "shelf", "probe", "faults"):
            schema[app] = name
    return {
        "version": __version__, "data_folder": str(settings.DATA),
        "database_bytes": database.stat().st_size if database.exists() else 0, "schema": schema,
        "jobs": models.Job.objects.count(), "changes": models.ChangeSet.objects.count(),
        "readings": Reading.objects.count(), "boxes": Box.objects.count(),
        "backups": {
            "count": len(backups), "bytes": sum(b.stat().st_size for b in backups),
            "latest": backups[-1].name if backups else "",
        },
        "meters": [part.partition("=")[0] for part in settings.METERS.split(";") if part], "running": _running(),
    }  # fmt: skip


def faults() -> Iterator[FaultOut]:
    """Everything wrong with the data: the file, rows that hang on nothing, the shelf, histories that do not replay."""
    with connection.cursor() as cursor:
        for (said,) in cursor.execute("PRAGMA integrity_check").fetchall():
            if said != "ok":
                yield {"where": "database", "fault": str(said)}
        for table, row, parent, _ in cursor.execute("PRAGMA foreign_key_check").fetchall():
            yield {"where": f"{table} row {row}", "fault": f"hangs on a row of {parent} that is not there"}
    for event in models.StepEvent.objects.select_related("change", "job"):
        if event.change is not None and event.change.job_id != event.job_id:
            yield {"where": f"tick {event.uid} of job {event.job.uid}", "fault": "points at a change of another job"}
    for photo in models.Photograph.objects.select_related("job"):
        if not (folder_of(photo.job) / photo.name).is_file():
            yield {"where": f"photograph {photo.name} of job {photo.job.uid}", "fault": "its file is gone"}
    for where, fault in shelf_faults():
        yield {"where": where, "fault": fault}
    for job in models.Job.objects.all():
        yield from _of_history(job)


def _of_history(job: models.Job) -> Iterator[FaultOut]:
    """A job's changes taken back one by one, then done again: the job must come out as it is."""
    changes = list(job.changes.filter(revision__gt=job.folded_to))  # of those before, what they did is kept no more
    numbers = [c.revision for c in changes]
    if numbers != list(range(job.revision - len(changes) + 1, job.revision + 1)):
        yield {"where": f"job {job.uid}", "fault": f"its {len(changes)} changes do not lead to revision {job.revision}"}
        return
    now = rig = None
    place = f"job {job.uid}"
    try:
        now = rig = load_rig(job)
        for change in reversed(changes):
            place = f"job {job.uid}, revision {change.revision} taken back"
            rig, _ = apply(rig, change.inverse)
        for change in changes:
            place = f"job {job.uid}, revision {change.revision} done again"
            rig, _ = apply(rig, change.ops)
    except WavilexError as error:
        yield {"where": place, "fault": str(error)}
        return
    for part in _differing(rig, now):
        yield {"where": f"job {job.uid}", "fault": f"its {part} do not come out of its history as they are"}


def _differing(replayed: Rig, now: Rig) -> list[str]:
    parts = ("title", "devices", "leads", "settings", "facts", "runs", "titles", "survey", "style", "observations",
             "light")  # fmt: skip
    return [part for part in parts if getattr(replayed, part) != getattr(now, part)]
