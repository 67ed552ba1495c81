"""Backups by SQLite's own online copy with the photographs beside it, each verified before it counts; and putting one
back, in its place or in another folder.
"""

from __future__ import annotations

import contextlib
import os
import sqlite3
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Literal

from wavilex.server.attachments import copy_photographs, forget_unlisted, listed_in, missing_of, put_back
from wavilex.server.keeping import to_go

Reason = Literal["daily", "asked", "before-migration", "before-restore"]
_TABLES = {"jobs_job", "jobs_device", "jobs_changeset", "django_migrations"}
_APPS = ("jobs", "bench")
_SERVER = Path(__file__).resolve().parent


class BackupError(Exception):
    """What cannot be copied, or is no sound Wavilex database; the message is for people."""


class DamagedError(BackupError):
    """A database whose own check fails."""


@dataclass(frozen=True, slots=True)
class Restored:
    """What became of the data there was: kept as a backup, or moved aside because it is damaged; None: none."""

    kept: Path | None
    aside: Path | None


def back_up(database: Path, folder: Path, reason: Reason) -> Path | None:
    """Copy the database into `folder` while it may be in use; None when there is none yet. Older ones are pruned.

    Raises BackupError; then nothing is left behind.
    """
    if not database.exists():
        return None
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    number = 1 + max(map(_number, folder.glob("*.sqlite3")), default=0)
    stamp = datetime.now(UTC).strftime("%Y%m%dT%H%M%S")
    target = folder / f"{number:06}-{stamp}-{reason}.sqlite3"
    copy(database, target)
    try:
        copy_photographs(database.parent, folder, target)
    except OSError as error:
        target.unlink(missing_ok=True)
        raise BackupError(f"the photographs cannot be copied: {error}") from error
    # by kind and number, whatever the clock said: a day's worth of migrations never pushes out the daily ones
    alike = sorted(folder.glob(f"*-{reason}.sqlite3"), key=lambda f: (f == target, _number(f), f.name))
    for old in to_go(alike, reason):
        if old != target:
            old.unlink(missing_ok=True)
    forget_unlisted(folder)
    return target


def verify(backup: Path) -> int:
    """Read a backup back, whole: the database checked, every photograph held against its name; how many photographs.

    Raises BackupError saying what is not sound.
    """
    check_ours(backup)
    missing = missing_of(backup)
    if missing:
        raise BackupError(f"{len(missing)} of its photographs are missing or damaged: {', '.join(missing[:5])}")
    return len(listed_in(backup))


def restore_to(backup: Path, folder: Path) -> int:
    """Put a backup into another folder, which must be empty or not there: it can be served from there; how many
    photographs came with it. Raises BackupError, and then nothing was written.
    """
    verify(backup)
    if folder.exists() and (not folder.is_dir() or any(folder.iterdir())):
        raise BackupError(f"{folder} is not empty: name another folder")
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    copy(backup, folder / "wavilex.sqlite3")
    try:
        return put_back(backup, folder)
    except OSError as error:
        raise BackupError(f"the photographs cannot be put into {folder}: {error}") from error


def _number(file: Path) -> int:
    """A backup's place in the order they were made; 0 for names of earlier versions."""
    first = file.name.partition("-")[0]
    return int(first) if first.isdigit() else 0


def copy(database: Path, target: Path) -> None:
    """A verified copy of a database that may be in use, readable by its owner only. Raises BackupError."""
    part = target.with_name(f"{target.name}.part")
    try:
        handle = os.open(part, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
        os.close(handle)
        with _open(database) as source, contextlib.closing(sqlite3.connect(part)) as made:
            source.backup(made)
            made.execute("PRAGMA journal_mode=DELETE")
            if made.execute("PRAGMA integrity_check").fetchone()[0] != "ok":
                raise BackupError(f"{database} is damaged: its copy is not sound")
        part.replace(target)
    except (OSError, sqlite3.Error) as error:
        raise BackupError(f"{database} cannot be copied to {target}: {error}") from error
    finally:
        for left in (part, *(part.with_name(part.name + end) for end in ("-journal", "-wal", "-shm"))):
            left.unlink(missing_ok=True)


@contextlib.contextmanager
def _open(file: Path) -> Iterator[sqlite3.Connection]:
    """A database for reading only."""
    with contextlib.closing(sqlite3.connect(f"{file.resolve().as_uri()}?mode=ro", uri=True, timeout=10)) as db:
        yield db


def known_migrations() -> set[tuple[str, str]]:
    """What this version can read, by app and name."""
    return {(app, f.stem) for app in _APPS for f in (_SERVER / app / "migrations").glob("0*.py")}


def check_ours(file: Path, *, new: bool = False) -> None:
    """Is it a sound database of ours, no newer than this version? Raises BackupError with the answer for people.

    new: one without any table yet is ours too.
    """
    if not file.is_file():
        raise BackupError(f"{file} is no file")
    try:
        with _open(file) as db:
            if db.execute("PRAGMA integrity_check").fetchone()[0] != "ok":
                raise DamagedError(f"{file} is damaged")
            tables = {name for (name,) in db.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
            made = set(db.execute("SELECT app, name FROM django_migrations")) if tables >= _TABLES else set()
    except sqlite3.OperationalError as error:
        raise BackupError(f"{file} cannot be opened: {error}") from error
    except sqlite3.DatabaseError as error:
        raise DamagedError(f"{file} cannot be read as a database: {error}") from error
    if new and not tables:
        return
    ours = {(app, name) for app, name in made if app in _APPS}
    if not ours:
        raise BackupError(f"{file} is no database of Wavilex")
    newer = sorted(name for _, name in ours - known_migrations())
    if newer:
        raise BackupError(f"{file} was written by a newer Wavilex ({newer[-1]}): use that one")


def restore(backup: Path, database: Path, folder: Path) -> Restored:
    """Put a backup in the database's place. Raises BackupError, and then nothing has changed.

    The present one is backed up first; one that is too damaged for that is moved aside. Every job gets another
    line of history, so that what a page or server remembers of the former one is not taken for this one's.
    """
    check_ours(backup)
    kept = aside = None
    try:
        kept = back_up(database, folder, "before-restore")
    except BackupError:
        aside = _aside(database, folder)
    try:
        with _open(backup) as source, contextlib.closing(sqlite3.connect(database, timeout=10)) as target:
            source.backup(target)
            if {"line", "mark"} <= {row[1] for row in target.execute("PRAGMA table_info(jobs_job)")}:
                target.execute("UPDATE jobs_job SET line = lower(hex(randomblob(8))), mark = lower(hex(randomblob(8)))")
                target.commit()
    except sqlite3.Error as error:
        raise BackupError(f"{backup} cannot be put in place of {database}: {error}") from error
    database.chmod(0o600)
    try:
        put_back(backup, database.parent)
    except OSError as error:
        raise BackupError(f"the data is back in place, its photographs are not: {error}") from error
    return Restored(kept, aside)


def _aside(database: Path, folder: Path) -> Path:
    stamp = datetime.now(UTC).strftime("%Y%m%dT%H%M%S")
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    aside = folder / f"damaged-{stamp}.db"
    for end in ("-wal", "-shm"):
        beside = database.with_name(database.name + end)
        if beside.exists():
            beside.replace(aside.with_name(aside.name + end))
    database.replace(aside)
    return aside
