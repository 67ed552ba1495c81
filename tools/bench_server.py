"""How the server bears much work: memory over many edits, a list of many jobs, start-up and backup as a job grows."""

from __future__ import annotations

import random
import sqlite3
import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from tests.server.live import Server

from wavilex.server.backup import back_up

EDITS = (100, 500, 1000, 2000)
JOBS = 1000
_MB = 1_000_000
_MODES = ("3840x2160@120", "3840x2160@60", "2560x1440@120", "1920x1080@60", "1280x720@60")


def edit(rnd: random.Random, number: int) -> dict[str, Any]:
    """Something a person changes, nearly always to what it never was: another lead length, mode or note."""
    kind = number % 4
    if kind == 0:
        return {"op": "replace_lead", "lead": "B2", "length_mm": rnd.randrange(500, 15_000)}
    if kind == 1:
        return {"op": "set_want", "run": rnd.choice(["den", "match"]), "key": "mode", "value": rnd.choice(_MODES)}
    if kind == 2:
        return {"op": "set_device", "device": "den-screen", "label": f"Screen {number}"}
    return {"op": "set_survey", "key": "annoys", "value": f"note {rnd.random()}"}


def busy(say: Callable[[str, str], None]) -> None:
    """One job edited again and again: memory, time an edit, start-up and backup."""
    rnd = random.Random(1)
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder))
        try:
            times: list[float] = []
            done = 1
            for goal in EDITS:
                times.clear()
                while done < goal:
                    body = {"base_revision": done, "uid": f"bench-{done:06}", "ops": [edit(rnd, done)]}
                    began = time.perf_counter()
                    server.call(f"/jobs/pierhead/changes?known={done}", body)
                    times.append(time.perf_counter() - began)
                    done += 1
                running = server.call("/status")["running"]
                kept = running["remembered"]
                say(f"memory after {goal} edits, resident / remembered",
                    f"{running['rss_bytes'] / _MB:.0f} / {kept['held_bytes'] / _MB:.1f} MB")  # fmt: skip
                say(f"an edit, the {goal}th, p50", f"{statistics.median(times) * 1000:.1f} ms")
                began = time.perf_counter()
                made = back_up(Path(folder) / "wavilex.sqlite3", Path(folder) / "backups", "asked")
                size = made.stat().st_size / _MB if made else 0.0
                say(f"backup at {goal} changes, {size:.1f} MB", f"{(time.perf_counter() - began) * 1000:.0f} ms")
                say(f"start-up at {goal} changes", f"{started(Path(folder)):.1f} s")
        finally:
            server.kill()


def started(data: Path) -> float:
    """Seconds from the start of a server on a copy of the data to its first answer."""
    with tempfile.TemporaryDirectory() as folder:
        back_up(data / "wavilex.sqlite3", Path(folder), "asked")
        next(Path(folder).glob("*.sqlite3")).rename(Path(folder) / "wavilex.sqlite3")
        server = Server(Path(folder))  # seeded already: nothing is done again
        server.kill()
        began = time.perf_counter()
        server.start()
        took = time.perf_counter() - began
        server.kill()
        return took


def listed(say: Callable[[str, str], None]) -> None:
    """A thousand jobs in the list."""
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder))
        try:
            with sqlite3.connect(Path(folder) / "wavilex.sqlite3") as data:
                names = [row[1] for row in data.execute("PRAGMA table_info(jobs_job)") if row[1] not in ("id", "uid")]
                row = data.execute(f"SELECT {', '.join(names)} FROM jobs_job").fetchone()
                marks = ", ".join("?" * (len(names) + 1))
                data.executemany(
                    f"INSERT INTO jobs_job (uid, {', '.join(names)}) VALUES ({marks})",
                    [(f"job-{n}", *row) for n in range(JOBS)],
                )
            times = []
            for page in (1, 5, 21) * 10:
                began = time.perf_counter()
                server.call(f"/jobs?page={page}")
                times.append((time.perf_counter() - began) * 1000)
            say(f"list of {JOBS} jobs, a page, p50 / worst", f"{statistics.median(times):.0f} / {max(times):.0f} ms")
        finally:
            server.kill()
