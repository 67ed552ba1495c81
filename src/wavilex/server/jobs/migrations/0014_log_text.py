"""The logbook's full text (SQLite FTS5) with the triggers that keep it, and lines of all that was done before."""

from __future__ import annotations

import hashlib
from typing import Any

from django.db import migrations

MAKE = (
    "CREATE VIRTUAL TABLE jobs_log_text USING fts5(words, tags, content='jobs_logentry', content_rowid='id', "
    "tokenize='unicode61 remove_diacritics 2')",
    "CREATE TRIGGER jobs_log_added AFTER INSERT ON jobs_logentry BEGIN "
    "INSERT INTO jobs_log_text(rowid, words, tags) VALUES (new.id, new.words, new.tags); END",
    "CREATE TRIGGER jobs_log_gone AFTER DELETE ON jobs_logentry BEGIN "
    "INSERT INTO jobs_log_text(jobs_log_text, rowid, words, tags) VALUES ('delete', old.id, old.words, old.tags); END",
    "CREATE TRIGGER jobs_log_changed AFTER UPDATE ON jobs_logentry BEGIN "
    "INSERT INTO jobs_log_text(jobs_log_text, rowid, words, tags) VALUES ('delete', old.id, old.words, old.tags); "
    "INSERT INTO jobs_log_text(rowid, words, tags) VALUES (new.id, new.words, new.tags); END",
)
DROP = (
    "DROP TRIGGER jobs_log_added", "DROP TRIGGER jobs_log_gone", "DROP TRIGGER jobs_log_changed",
    "DROP TABLE jobs_log_text",
)  # fmt: skip


def write_lines(apps: Any, editor: Any) -> None:
    """A line for every change, tick and photograph there was, in the order of their time."""
    job_model = apps.get_model("jobs", "Job")
    entry = apps.get_model("jobs", "LogEntry")
    for job in job_model.objects.all():
        boxes = {d.uid: tags_of_device(job.pk, d) for d in job.devices.all()}
        rows = [(c.at, _kind(c.ops), _words(c), c.actor, c.uid, _tags(c.ops, boxes))
                for c in job.changes.select_related("actor")]  # fmt: skip
        rows += [(s.said_at, "tick", f"{s.state}: {s.title}", s.actor, s.key, "")
                 for s in job.steps.select_related("actor")]  # fmt: skip
        rows += [(p.at, "photo", f"photograph {p.name}", None, p.name, "") for p in job.photographs.all()]
        rows.sort(key=lambda r: r[0])
        entry.objects.bulk_create(
            (entry(job=job, kind=kind, at=at, by=who.username if who else "", words=words[:2000],
                   tags=f"job{job.pk} kind{kind} {tags}".strip(), ref=ref[:80])
             for at, kind, words, who, ref, tags in rows),
            batch_size=500,
        )  # fmt: skip


def tags_of_device(job: int, device: Any) -> str:
    """What a line about a box is filtered by: the box in its job, and its type over all jobs."""
    profile = device.profile
    name = profile["model"] if profile["maker"] == "unknown" else f"{profile['maker']} {profile['model']}"
    own, kind = f"{job}/{device.uid}", f"{profile['id']}/{name}"
    return f"dev{_short(own)} box{_short(kind)}"


def _short(text: str) -> str:
    return hashlib.sha256(text.encode()).hexdigest()[:16]


def _tags(ops: list[dict[str, Any]], boxes: dict[str, str]) -> str:
    named = dict.fromkeys(op.get("device") for op in ops if isinstance(op.get("device"), str))
    return " ".join(boxes[uid] for uid in named if uid in boxes)


def _kind(ops: list[dict[str, Any]]) -> str:
    kinds = {"observe": "seen", "note_light": "light", "set_fact": "learned"}
    return next((kinds[op["op"]] for op in ops if op.get("op") in kinds), "change")


def _words(change: Any) -> str:
    """What it was called then; else what it did, by the words of the change."""
    took = {"undo": "taken back: ", "redo": "done again: "}.get(change.kind, "")
    done = "; ".join(dict.fromkeys(str(op.get("op", "")).replace("_", " ") for op in change.ops))
    return took + (change.label or done or "changed")


class Migration(migrations.Migration):
    dependencies = [("jobs", "0013_visits_and_log")]
    operations = [
        migrations.RunSQL(sql=list(MAKE), reverse_sql=list(DROP)),
        migrations.RunPython(write_lines, migrations.RunPython.noop),
    ]
