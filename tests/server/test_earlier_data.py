"""A database of the release before values were kept in cells: migrated after a backup, and its job reads as it was."""

from __future__ import annotations

import json
import os
import sqlite3
import subprocess
import sys
from pathlib import Path

from wavilex.core.advise.settings_plan import settings_plan
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.rig.jobfile import parse_job

DUMP = Path(__file__).parent / "kept" / "before_cells.sql"


def test_data_of_the_release_before_is_migrated_and_reads_the_same(tmp_path: Path) -> None:
    db = sqlite3.connect(tmp_path / "wavilex.sqlite3")
    db.executescript(DUMP.read_text(encoding="utf-8"))
    kept = {
        (device, scope, key): (found, plan)
        for device, scope, key, found, plan in db.execute(
            "select d.uid, s.scope, s.key, s.found, s.plan from jobs_setting s join jobs_device d on d.id = s.device_id"
        )
    }
    db.close()
    said = subprocess.run(
        [sys.executable, "-m", "wavilex.server.manage", "write_job", "before"],
        env={**os.environ, "WAVILEX_DATA": str(tmp_path), "DJANGO_SETTINGS_MODULE": "wavilex.server.config.settings"},
        capture_output=True, text=True, timeout=120, check=True,
    )  # fmt: skip
    assert list((tmp_path / "backups").glob("*before-migration*"))
    job = parse_job(said.stdout)
    assert {place: (v.found, v.plan) for place, v in job.rig.settings.items()} == kept
    assert ("tv", "hdmi3", "game") in kept
    tv = job.rig.devices["tv"].profile
    assert not tv.in_cells  # its profile is of the first format, and stays so
    assert all(r.path for r in (run_result(Layer(job.rig), run) for run in job.rig.runs.values()))
    assert json.loads(said.stdout)["wavilex_job"] >= 1
    assert settings_plan(Layer(job.rig)).rows


VISITS = Path(__file__).parent / "kept" / "before_visits.sql"
PHOTO = "5d9d61d693c0b350e60ae9a1.jpg"
_ADDED = {"jobs_job": {"folded_to", "check_days", "due"}, "jobs_stepevent": {"grounds"}}  # columns of this release
_OWN = {"django_migrations", "sqlite_sequence"}


def _rows(db: sqlite3.Connection, table: str, names: list[str]) -> list[tuple[object, ...]]:
    return sorted(db.execute(f"SELECT {', '.join(names)} FROM {table}").fetchall(), key=repr)


def test_every_row_of_the_release_before_visits_is_there_afterwards(tmp_path: Path) -> None:
    """A database that release wrote: jobs, history with an undo, ticks, things seen, light, readings, a photograph,
    the shelf, accounts, faults. Nothing is changed but what is new; and all that was done stands in the logbook.
    """
    file = tmp_path / "wavilex.sqlite3"
    db = sqlite3.connect(file)
    db.executescript(VISITS.read_text(encoding="utf-8"))
    tables = [n for (n,) in db.execute("SELECT name FROM sqlite_master WHERE type = 'table'") if n not in _OWN]
    columns = {t: [f'"{row[1]}"' for row in db.execute(f"PRAGMA table_info({t})")] for t in tables}
    before = {t: _rows(db, t, columns[t]) for t in tables}
    db.close()
    photo = tmp_path / "photographs" / "1" / PHOTO
    photo.parent.mkdir(parents=True)
    photo.write_bytes((VISITS.parent / PHOTO).read_bytes())
    env = {**os.environ, "WAVILEX_DATA": str(tmp_path), "DJANGO_SETTINGS_MODULE": "wavilex.server.config.settings"}
    said = subprocess.run(
        [sys.executable, "-m", "wavilex.server.manage", "check_data"], env=env, capture_output=True, text=True,
        timeout=120, check=False,
    )  # fmt: skip
    assert said.stdout.strip() == "The data is sound."
    db = sqlite3.connect(file)
    for table, rows in before.items():
        if table in ("django_content_type", "auth_permission"):  # grow with the tables there are
            assert set(rows) <= set(_rows(db, table, columns[table]))
            continue
        assert _rows(db, table, columns[table]) == rows, table
    for table, added in _ADDED.items():
        names = {row[1] for row in db.execute(f"PRAGMA table_info({table})")}
        assert added <= names
    log = [w for (w,) in db.execute("SELECT words FROM jobs_logentry ORDER BY id")]
    assert sum("Panel light 44" in w for w in log) == 1
    assert sum("taken back: " in w for w in log) == 1
    assert sum("lag 14." in w for w in log) == 7
    assert any(w.startswith("done: stick: prove") for w in log)
    assert any(PHOTO in w for w in log)
    found = db.execute("SELECT count(*) FROM jobs_log_text WHERE jobs_log_text MATCH 'words : \"panel\"*'").fetchone()
    assert found == (1,)
    (made,) = (tmp_path / "backups").glob("*before-migration.sqlite3")
    assert (tmp_path / "backups" / "photographs" / PHOTO).read_bytes() == photo.read_bytes()
    assert made.exists()
