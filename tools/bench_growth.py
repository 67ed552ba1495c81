"""How the server bears years of visits: list, open, search, edit, start-up, backup, as a job and its neighbours grow.

A table of time against size: what is flat, what grows with what is there. By itself: python tools/bench_growth.py
"""

from __future__ import annotations

import sqlite3
import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from tests.server.live import Server
from tools.bench_server import started

from wavilex.server.backup import back_up

# jobs, visits, changes and lines of the log in one of them
SIZES = ((3, 1, 50, 500), (30, 4, 500, 5_000), (300, 40, 5_000, 50_000))
_REPEAT = 25
_WORDS = ("format", "widest", "panel", "light", "proved", "lead", "reverted", "lag", "photograph", "banner")


def grown(say: Callable[[str, str], None]) -> None:
    """Each size after the other on the same data; a line a question, with its time at every size."""
    rows: dict[str, list[str]] = {}
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder))
        try:
            for jobs, visits, changes, lines in SIZES:
                server.kill()
                _fill(Path(folder) / "wavilex.sqlite3", jobs, visits, changes, lines)
                server.start()
                for name, ms in _asked(server, changes):
                    rows.setdefault(name, []).append(f"{ms:.1f} ms")
                began = time.perf_counter()
                made = back_up(Path(folder) / "wavilex.sqlite3", Path(folder) / "backups", "asked")
                size = made.stat().st_size / 1e6 if made else 0
                rows.setdefault("backup, verified", []).append(f"{time.perf_counter() - began:.2f} s of {size:.0f} MB")
                rows.setdefault("start-up", []).append(f"{started(Path(folder)):.1f} s")
        finally:
            server.kill()
    say("jobs / visits / changes / log lines in one", " | ".join(f"{a} / {b} / {c} / {d}" for a, b, c, d in SIZES))
    for name, cells in rows.items():
        say(name, " | ".join(cells))


def _asked(server: Server, changes: int) -> list[tuple[str, float]]:
    """The median time of each question, in ms."""
    revision = server.call("/jobs/pierhead")["revision"]
    out = [
        ("list of jobs", _median(lambda n: server.call("/jobs"))),
        ("open the job, first time", _once(lambda: server.call("/jobs/pierhead"))),
        ("open the job", _median(lambda n: server.call("/jobs/pierhead"))),
        ("its visits", _median(lambda n: server.call("/jobs/pierhead/visits"))),
        ("its log, a page", _median(lambda n: server.call("/jobs/pierhead/log"))),
        ("search of one word in its log", _median(lambda n: server.call(
            f"/jobs/pierhead/log?words={_WORDS[n % len(_WORDS)]}"))),
        ("search of a rare word in all logs", _median(lambda n: server.call(f"/log?words=rare{n}"))),
        ("hand-over", _median(lambda n: server.call("/jobs/pierhead/handover"))),
    ]  # fmt: skip

    def edit(n: int) -> None:
        nonlocal revision
        ops = [{"op": "replace_lead", "lead": "B2", "length_mm": 1000 + n}]
        body = {"base_revision": revision, "uid": f"grow-{changes:05}-{n:04}", "ops": ops}
        server.call(f"/jobs/pierhead/changes?known={revision}", body)
        revision += 1

    return [*out, ("an edit, answered", _median(edit))]


def _median(ask: Callable[[int], object]) -> float:
    times = []
    for n in range(_REPEAT):
        began = time.perf_counter()
        ask(n)
        times.append((time.perf_counter() - began) * 1000)
    return statistics.median(times)


def _once(ask: Callable[[], object]) -> float:
    began = time.perf_counter()
    ask()
    return (time.perf_counter() - began) * 1000


def _fill(file: Path, jobs: int, visits: int, changes: int, lines: int) -> None:
    """Bring the data to a size: rows as the program writes them, many at a time."""
    with sqlite3.connect(file) as data:
        (job,) = data.execute("SELECT id FROM jobs_job WHERE uid = 'pierhead'").fetchone()
        _more(data, "jobs_job", jobs, lambda n: {"uid": f"job-{n}", "due": f"2027-01-{1 + n % 28:02} 00:00:00"},
              "uid = 'pierhead'", "uid LIKE 'job-%'")  # fmt: skip
        data.execute(
            "INSERT INTO jobs_keptstate (job_id, digest, text, at) SELECT ?, 'bench', zeroblob(20000), "
            "'2026-01-01 00:00:00' WHERE NOT EXISTS (SELECT 1 FROM jobs_keptstate WHERE digest = 'bench')", (job,)
        )  # fmt: skip
        (have,) = data.execute("SELECT count(*) FROM jobs_visit WHERE job_id = ?", (job,)).fetchone()
        data.executemany(
            "INSERT INTO jobs_visit (job_id, uid, state, title, who, note, planned_for, opened_at, closed_at, "
            "opened_revision, closed_revision, did) VALUES (?, ?, 'closed', 'Check', '', '', NULL, ?, ?, 1, 1, ?)",
            [(job, f"visit-{n:05}", f"2025-{1 + n % 12:02}-01 09:00:00", f"2025-{1 + n % 12:02}-01 11:00:00",
              '{"change": 3}') for n in range(have, visits)],
        )  # fmt: skip
        (revision,) = data.execute("SELECT revision FROM jobs_job WHERE id = ?", (job,)).fetchone()
        row = data.execute(
            "SELECT base, ops, inverse, label, at FROM jobs_changeset WHERE job_id = ?", (job,)
        ).fetchone()
        ops = '[{"op": "set_survey", "key": "annoys", "value": "x"}]'
        new = range(revision + 1, max(revision, changes) + 1)
        data.executemany(
            "INSERT INTO jobs_changeset (job_id, uid, kind, base, revision, ops, inverse, label, at) "
            "VALUES (?, ?, 'edit', ?, ?, ?, ?, 'a change', ?)",
            [(job, f"fill-{n}", n - 1, n, ops, ops, row[0] if row else "2026-01-01 00:00:00") for n in new],
        )  # fmt: skip
        data.execute("UPDATE jobs_job SET revision = ?, mark = lower(hex(randomblob(8))) WHERE id = ?",
                     (max(revision, changes), job))  # fmt: skip
        (have,) = data.execute("SELECT count(*) FROM jobs_logentry WHERE job_id = ?", (job,)).fetchone()
        data.executemany(
            'INSERT INTO jobs_logentry (job_id, kind, at, "by", words, tags, ref) VALUES (?, ?, ?, ?, ?, ?, ?)',
            [(job, "change", f"2025-{1 + n % 12:02}-{1 + n % 28:02} 10:00:00", "demo",
              f"line {n}: {_WORDS[n % 10]} {_WORDS[n // 7 % 10]} rare{n % 9999}", f"job{job} kindchange", "")
             for n in range(have, lines)],
        )  # fmt: skip


def _more(
    data: sqlite3.Connection, table: str, most: int, words: Callable[[int], dict[str, object]], like: str, own: str
) -> None:
    """Copies of a row, so many in all, with some words of their own."""
    names = [row[1] for row in data.execute(f"PRAGMA table_info({table})") if row[1] != "id"]
    row = dict(zip(names, data.execute(f"SELECT {', '.join(names)} FROM {table} WHERE {like}").fetchone(), strict=True))
    (have,) = data.execute(f"SELECT count(*) FROM {table} WHERE {own}").fetchone()
    marks = ", ".join("?" * len(names))
    data.executemany(
        f"INSERT INTO {table} ({', '.join(names)}) VALUES ({marks})",
        [[{**row, **words(n)}[name] for name in names] for n in range(have, most)],
    )


if __name__ == "__main__":
    grown(lambda name, text: print(f"{name:44} {text}", flush=True))
