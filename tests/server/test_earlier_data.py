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
