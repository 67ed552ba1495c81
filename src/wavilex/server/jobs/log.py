"""The logbook: one line for everything that was done, seen or measured, found again by its words (SQLite FTS5).

What a line is filtered by stands in its tags, which are searched as words are: a search costs what it finds, however
long the book is.
"""

from __future__ import annotations

import hashlib
import re
from collections.abc import Iterable, Sequence
from datetime import datetime
from typing import Any, Literal, get_args

from django.db import connection
from django.db.models import QuerySet
from django.utils import timezone
from typing_extensions import TypedDict

from wavilex.core.errors import WavilexError
from wavilex.core.rig.model import Rig
from wavilex.core.rig.ops import Change
from wavilex.core.visits.said import boxes_of, changes_said
from wavilex.server.config import limits
from wavilex.server.jobs import models
from wavilex.server.jobs.selectors import seen_jobs

LogKind = Literal["change", "update", "seen", "light", "learned", "tick", "reading", "photo", "fault", "visit", "file"]
LOG_KINDS: tuple[LogKind, ...] = get_args(LogKind)
_SHEETS: dict[str, str] = {
    "change": "settings", "update": "visits", "seen": "prove", "light": "light", "learned": "gear", "tick": "runsheet",
    "reading": "lag", "photo": "prove", "fault": "fault", "visit": "visits", "file": "visits",
}  # fmt: skip
_WORD = re.compile(r"[^\W_]+", re.UNICODE)
_MOST_WORDS = 12
WORDS_LETTERS = 2000


class LogLine(TypedDict):
    """One line of the logbook; sheet: where it is looked at, ref: what there (a photograph's name, a change's uid)."""

    id: int
    job: str
    job_title: str
    kind: LogKind
    at: str
    by: str
    words: str
    sheet: str
    ref: str


class LogOut(TypedDict):
    """Lines, the latest first. more: the id to ask on from, null at the end."""

    lines: list[LogLine]
    more: int | None


def line(
    job: models.Job, kind: LogKind, words: str, *, by: str = "", at: datetime | None = None, ref: str = "",
    boxes: Iterable[str] = (), rig: Rig | None = None,
) -> models.LogEntry:  # fmt: skip
    """A line, not stored yet. boxes: those it is about, by uid; their types are found by `rig`."""
    return models.LogEntry(
        job=job, kind=kind, words=words[:WORDS_LETTERS], by=by[:150], at=at or timezone.now(), ref=ref[:80],
        tags=tags_of(job, kind, boxes, rig),
    )  # fmt: skip


def write(job: models.Job, kind: LogKind, words: str, **more: Any) -> None:
    """One line more."""
    line(job, kind, words, **more).save()


def tags_of(job: models.Job, kind: str, boxes: Iterable[str], rig: Rig | None) -> str:
    """What a line is filtered by, each as one word."""
    out = [f"job{job.pk}", f"kind{kind}"]
    for uid in boxes:
        out.append(device_tag(job, uid))
        device = rig.devices.get(uid) if rig is not None else None
        if device is not None:
            out.append(box_tag(device.profile.id, device.profile.name))
    return " ".join(out)


def device_tag(job: models.Job, uid: str) -> str:
    return f"dev{_short(f'{job.pk}/{uid}')}"


def box_tag(profile: str, name: str) -> str:
    """A type of box, over all jobs."""
    return f"box{_short(f'{profile}/{name}')}"


def _short(text: str) -> str:
    return hashlib.sha256(text.encode()).hexdigest()[:16]


_FAULTY = ("complaint/", "check/", "fault/")
_OF_OPS: dict[str, LogKind] = {"observe": "seen", "note_light": "light", "set_fact": "learned"}


def write_change(
    job: models.Job, before: Rig, after: Rig, ops: Sequence[Change], *, label: str, kind: str, by: str, ref: str
) -> None:  # fmt: skip
    """The line of a change of the job."""
    try:
        words = changes_said(after if any(op["op"].startswith("add_") for op in ops) else before, ops)
    except WavilexError:  # the words of a change must not stop the change
        words = label
    told = {"undo": "taken back: ", "redo": "done again: "}.get(kind, "") + (words or label)
    if label and label not in told:
        told = f"{label}. {told}"
    uids = boxes_of(ops)
    rig = after if all(u in after.devices for u in uids) else before
    write(job, _kind_of(ops), told, by=by, ref=ref, boxes=uids, rig=rig)


def _kind_of(ops: Sequence[Change]) -> LogKind:
    """What a change is filed under: the first of its parts that is more than a change."""
    for op in ops:
        if op["op"] == "set_device" and op.get("firmware"):
            return "update"
        if op["op"] == "observe" and op["observation"]["line"].startswith(_FAULTY):
            return "fault"
        if op["op"] in _OF_OPS:
            return _OF_OPS[op["op"]]
    return "change"


def find(
    *, job: models.Job | None = None, words: str = "", kinds: Sequence[str] = (), device: str = "", box: str = "",
    since: datetime | None = None, until: datetime | None = None, before: int | None = None,
    most: int = limits.LOG_PER_PAGE,
) -> LogOut:  # fmt: skip
    """Lines of a job, or of every job one may see, that hold all these words and are of one of these kinds.

    box: a type of box, by its tag. before: lines older than this one, by id.
    """
    rows: QuerySet[models.LogEntry] = models.LogEntry.objects.filter(job__in=seen_jobs())
    asked = _match(job, words, kinds, device, box)
    if asked and (words or kinds or device or box):
        return _page(rows, _found(asked, before, since, until), most)
    rows = rows.filter(job=job) if job is not None else rows
    rows = rows.filter(at__gte=since) if since is not None else rows
    rows = rows.filter(at__lt=until) if until is not None else rows
    rows = rows.filter(pk__lt=before) if before is not None else rows
    return _told(list(rows.select_related("job").order_by("-pk")[: most + 1]), most)


def _match(job: models.Job | None, words: str, kinds: Sequence[str], device: str, box: str) -> str:
    """The question in the words of FTS5. What people type is quoted: none of it is an operator."""
    parts = [f'words : "{w}"*' for w in _WORD.findall(words)[:_MOST_WORDS]]
    tags = [f"job{job.pk}"] if job is not None else []
    tags += [device_tag(job, device)] if device and job is not None else []
    tags += [box] if box else []
    parts += [f'tags : "{t}"' for t in tags]
    if kinds:
        parts.append("tags : (" + " OR ".join(f'"kind{k}"' for k in kinds) + ")")
    return " AND ".join(parts)


_SLICE = 400  # lines looked at at a time, where some are left out for their day or their job


def _found(asked: str, before: int | None, since: datetime | None, until: datetime | None) -> Iterable[int]:
    """The ids of lines that match, the latest first; in slices, for who needs no more than a page."""
    at = before
    while True:
        with connection.cursor() as cursor:
            cursor.execute(
                "SELECT rowid FROM jobs_log_text WHERE jobs_log_text MATCH %s AND rowid < %s "
                "ORDER BY rowid DESC LIMIT %s", [asked, at if at is not None else 2**62, _SLICE],
            )  # fmt: skip
            ids = [row[0] for row in cursor.fetchall()]
        if since is not None or until is not None:
            kept = models.LogEntry.objects.filter(pk__in=ids)
            kept = kept.filter(at__gte=since) if since is not None else kept
            kept = kept.filter(at__lt=until) if until is not None else kept
            there = set(kept.values_list("pk", flat=True))
            yield from (n for n in ids if n in there)
        else:
            yield from ids
        if len(ids) < _SLICE:
            return
        at = ids[-1]


def _page(rows: QuerySet[models.LogEntry], ids: Iterable[int], most: int) -> LogOut:
    """One page of the lines with these ids that may be seen."""
    found: list[models.LogEntry] = []
    part: list[int] = []
    for n in ids:
        part.append(n)
        if len(part) > most:
            found += rows.filter(pk__in=part).select_related("job").order_by("-pk")
            part = []
            if len(found) > most:
                return _told(found, most)
    found += rows.filter(pk__in=part).select_related("job").order_by("-pk")
    return _told(found, most)


def kind_of(word: str) -> LogKind:
    """A line's kind by its word; of a word that is none any more, a change."""
    return next((k for k in LOG_KINDS if k == word), "change")


def _told(found: Sequence[models.LogEntry], most: int) -> LogOut:
    shown = found[:most]
    lines: list[LogLine] = [
        {"id": e.pk, "job": e.job.uid, "job_title": e.job.title, "kind": kind_of(e.kind),
         "at": e.at.isoformat(), "by": e.by, "words": e.words, "sheet": _SHEETS.get(e.kind, "visits"), "ref": e.ref}
        for e in shown
    ]  # fmt: skip
    return {"lines": lines, "more": shown[-1].pk if len(found) > most else None}
