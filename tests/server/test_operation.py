"""The server as it is really run: killed with an edit in flight, backed up, restored, migrated."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

from tests.server.live import Server
from wavilex.server.backup import back_up


def test_what_was_acknowledged_is_there_after_a_kill(tmp_path: Path) -> None:
    server = Server(tmp_path)
    try:
        for n in range(1, 9):
            op = {"op": "set_survey", "key": "light", "value": f"visit {n}"}
            view = server.call("/jobs/pierhead/changes", {"base_revision": n, "uid": f"kill-{n:04}", "ops": [op]})
            assert view["revision"] == n + 1
        server.kill()
        server.start()
        view = server.call("/jobs/pierhead")
        assert (view["revision"], view["survey"]["light"]) == (9, "visit 8")
        # the page does not know whether its last edit arrived: sending it again does nothing twice
        again = server.call("/jobs/pierhead/changes", {"base_revision": 8, "uid": "kill-0008", "ops": [op]})
        assert again["revision"] == 9
    finally:
        server.kill()


def _run(data: Path, *words: str, stdin: str = "") -> subprocess.CompletedProcess[str]:
    env = {**os.environ, "WAVILEX_DATA": str(data), "DJANGO_SETTINGS_MODULE": "wavilex.server.config.settings"}
    return subprocess.run(
        [sys.executable, "-m", "wavilex.cli", *words], env=env, input=stdin, capture_output=True, text=True, check=False
    )


def test_the_first_account_and_the_restore_command(tmp_path: Path) -> None:
    weak = _run(tmp_path, "user", "ada", stdin="short\n")
    assert weak.returncode != 0
    assert "too short" in weak.stderr
    assert "Traceback" not in weak.stderr
    assert "technician" in _run(tmp_path, "user", "ada", stdin="a long password\n").stdout
    assert _run(tmp_path, "user", "ada", stdin="a long password\n").returncode != 0
    copy = back_up(tmp_path / "wavilex.sqlite3", tmp_path / "backups", "asked")
    assert _run(tmp_path, "restore", str(copy)).returncode == 0
    assert _run(tmp_path, "restore", "/nowhere").returncode != 0


def test_a_backup_is_made_before_a_migration(tmp_path: Path) -> None:
    """A data folder one migration behind: the copy of before is there afterwards."""
    env = {**os.environ, "WAVILEX_DATA": str(tmp_path), "DJANGO_SETTINGS_MODULE": "wavilex.server.config.settings"}
    manage = [sys.executable, "-m", "wavilex.server.manage"]
    subprocess.run([*manage, "migrate", "-v", "0", "jobs"], env=env, check=True)
    assert not list((tmp_path / "backups").glob("*")) if (tmp_path / "backups").exists() else True
    subprocess.run([*manage, "seed_demo"], env=env, check=True)
    assert len(list((tmp_path / "backups").glob("*before-migration*"))) == 1
    subprocess.run([*manage, "seed_demo"], env=env, check=True)
    assert len(list((tmp_path / "backups").glob("*before-migration*"))) == 1
