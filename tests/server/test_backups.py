"""Backups, restores, and data that is damaged, newer, not ours or away: each said in one sentence."""

from __future__ import annotations

import contextlib
import os
import sqlite3
import subprocess
import sys
import time
from pathlib import Path

import pytest

from wavilex.server import backup
from wavilex.server.backup import BackupError, back_up, check_ours, restore
from wavilex.server.config import limits
from wavilex.server.data_state import DataError, look_at
from wavilex.server.upkeep.daily import due


def database(path: Path, title: str, *, migrations: tuple[str, ...] = ("0001_initial",)) -> Path:
    """A database with what of ours the copies look at."""
    path.unlink(missing_ok=True)
    with contextlib.closing(sqlite3.connect(path)) as db:
        db.execute("create table jobs_job (title text, line text, mark text)")
        db.execute("create table jobs_device (label text)")
        db.execute("create table jobs_changeset (uid text)")
        db.execute("create table django_migrations (app text, name text)")
        db.executemany("insert into jobs_job values (?, 'old', ?)", [(title, "a"), (title, "b")])
        db.executemany("insert into django_migrations values ('jobs', ?)", [(m,) for m in migrations])
        db.executemany("insert into jobs_device values (?)", [("x" * 500,) for _ in range(200)])
        db.commit()
    return path


def rows(path: Path) -> list[tuple[str, str, str]]:
    with contextlib.closing(sqlite3.connect(path)) as db:
        return list(db.execute("select title, line, mark from jobs_job"))


def bent(path: Path) -> None:
    """Pages in the middle overwritten, as a failing disk leaves them."""
    data = bytearray(path.read_bytes())
    data[4096 * 3 : 4096 * 8] = b"\x5a" * (4096 * 5)
    path.write_bytes(data)


def test_a_backup_is_taken_from_a_database_in_use_and_put_back(tmp_path: Path) -> None:
    live, folder = database(tmp_path / "live.sqlite3", "before"), tmp_path / "backups"
    with contextlib.closing(sqlite3.connect(live)) as reader:
        reader.execute("select * from jobs_job").fetchone()
        copy = back_up(live, folder, "asked")
    assert copy is not None
    assert oct(copy.stat().st_mode & 0o777) == "0o600"
    database(live, "after")
    done = restore(copy, live, folder)
    assert [r[0] for r in rows(live)] == ["before", "before"]
    assert done.kept is not None
    assert [r[0] for r in rows(done.kept)] == ["after", "after"]
    assert done.aside is None


def test_a_restored_history_is_told_from_the_one_it_replaces(tmp_path: Path) -> None:
    """What a running server or an open page remembers is not taken for what was put back; each job has its own mark."""
    live = database(tmp_path / "live.sqlite3", "x")
    copy = back_up(live, tmp_path / "backups", "asked")
    assert copy is not None
    restore(copy, live, tmp_path / "backups")
    (_, line, mark), (_, other_line, other_mark) = rows(live)
    assert len({"old", "a", "b", line, mark, other_line, other_mark}) == 7


@pytest.mark.parametrize(
    ("make", "words"),
    [
        (lambda p: p.write_bytes(b""), "no database of Wavilex"),
        (lambda p: p.write_bytes(b"no database at all" * 100), "cannot be read as a database"),
        (lambda p: None, "is no file"),
        (lambda p: bent(database(p, "x")), "damaged|malformed"),
        (lambda p: sqlite3.connect(p).execute("create table jobs_job (title text)"), "no database of Wavilex"),
        (lambda p: database(p, "x", migrations=("0001_initial", "9999_later")), "newer Wavilex"),
    ],
)
def test_what_is_no_backup_is_refused_and_the_data_stays(make: object, words: str, tmp_path: Path) -> None:
    live, bad = database(tmp_path / "live.sqlite3", "mine"), tmp_path / "bad.sqlite3"
    make(bad)  # type: ignore[operator]
    with pytest.raises(BackupError, match=words):
        restore(bad, live, tmp_path / "backups")
    assert rows(live)[0] == ("mine", "old", "a")
    assert not list(tmp_path.glob("backups/*"))


def test_damaged_data_is_moved_aside_and_the_good_backup_put_back(tmp_path: Path) -> None:
    live, folder = database(tmp_path / "live.sqlite3", "good"), tmp_path / "backups"
    copy = back_up(live, folder, "asked")
    assert copy is not None
    bent(live)
    damaged = live.read_bytes()
    done = restore(copy, live, folder)
    assert done.kept is None
    assert done.aside is not None
    assert done.aside.read_bytes() == damaged
    assert rows(live)[0][0] == "good"
    assert list(folder.glob("*.part")) == []


def test_a_failed_copy_leaves_nothing_behind(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    live = database(tmp_path / "live.sqlite3", "x")
    bent(live)
    with pytest.raises(BackupError):
        back_up(live, tmp_path / "backups", "daily")
    assert list((tmp_path / "backups").iterdir()) == []


def test_each_kind_is_kept_for_itself_whatever_the_clock_says(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """A clock set back makes names that sort before all others: the copy just made is never the one that goes."""
    live, folder = database(tmp_path / "live.sqlite3", "x"), tmp_path / "backups"
    folder.mkdir()
    (folder / "20310101T000000000000-before-migration.sqlite3").write_bytes(b"of an earlier version")
    daily = back_up(live, folder, "daily")
    made = [back_up(live, folder, "asked") for _ in range(limits.BACKUPS_KEPT + 3)]
    asked = sorted(folder.glob("*-asked.sqlite3"))
    assert len(asked) == limits.BACKUPS_KEPT
    assert asked == made[3:]
    assert daily is not None
    assert daily.exists()
    assert len(list(folder.glob("*-before-migration.sqlite3"))) == 1


def test_a_day_is_a_day_even_if_the_clock_was_ahead(tmp_path: Path) -> None:
    now = time.time()
    file = tmp_path / "000001-x-daily.sqlite3"
    assert due(tmp_path, now)
    file.write_bytes(b"x")
    for age, wanted in ((60, False), (25 * 3600, True), (-3600, True)):
        os.utime(file, (now - age, now - age))
        assert due(tmp_path, now) is wanted


def test_the_data_is_looked_at_before_it_is_opened(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("WAVILEX_DATA", str(tmp_path))
    assert look_at() == ""
    live = tmp_path / "wavilex.sqlite3"
    live.write_bytes(b"")
    assert look_at() == ""
    database(live, "x", migrations=("0001_initial", "9999_later"))
    with pytest.raises(DataError, match="written by a newer Wavilex"):
        look_at()
    database(live, "x")
    bent(live)
    assert "opened for reading only" in look_at()
    monkeypatch.setenv("WAVILEX_DATA", "/proc/nowhere")
    with pytest.raises(DataError, match="/proc/nowhere"):
        look_at()


def test_migrations_known_are_those_on_disk() -> None:
    assert ("jobs", "0007_lines_and_marks") in backup.known_migrations()
    with pytest.raises(BackupError, match="is no file"):
        check_ours(Path("/nowhere"))


def run(data: Path, *words: str) -> subprocess.CompletedProcess[str]:
    env = {**os.environ, "WAVILEX_DATA": str(data), "DJANGO_SETTINGS_MODULE": "wavilex.server.config.settings"}
    return subprocess.run(
        [sys.executable, "-m", *words], env=env, capture_output=True, text=True, check=False, timeout=60
    )


def test_backup_and_one_job_of_it_by_command(tmp_path: Path) -> None:
    data, file = tmp_path / "data", tmp_path / "kept.sqlite3"
    assert run(data, "wavilex.server.manage", "seed_demo").returncode == 0
    assert run(data, "wavilex.cli", "backup", str(file)).stdout.strip() == str(file)
    assert "there already" in run(data, "wavilex.cli", "backup", str(file)).stderr
    wrong = run(data, "wavilex.cli", "restore", str(file), "--job", "none")
    assert wrong.returncode
    assert "there are: pierhead" in wrong.stderr
    done = run(data, "wavilex.cli", "restore", str(file), "--job", "pierhead")
    assert "is back as a job of its own" in done.stdout, done.stderr
    with contextlib.closing(sqlite3.connect(data / "wavilex.sqlite3")) as db:
        assert db.execute("select count(*), count(distinct mark) from jobs_job").fetchone() == (2, 2)


@pytest.mark.soak
@pytest.mark.parametrize("fault", ["newer", "not ours", "a folder", "port"])
def test_a_server_that_cannot_start_says_so_in_one_line(fault: str, tmp_path: Path) -> None:
    live, port = tmp_path / "wavilex.sqlite3", "1"
    if fault == "newer":
        database(live, "x", migrations=("0001_initial", "9999_later"))
    elif fault == "not ours":
        with contextlib.closing(sqlite3.connect(live)) as db:
            db.execute("create table somebodys (x)")
    elif fault == "a folder":
        live.mkdir()
    done = run(tmp_path, "wavilex.server.run", "--port", port, *(["--host", "192.0.2.1"] if fault == "port" else []))
    assert done.returncode == 3
    assert len(done.stderr.strip().splitlines()) == 1
    assert done.stderr.startswith("Wavilex cannot start: ")
