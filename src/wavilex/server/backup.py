"""Backups by SQLite's own online copy, and putting one back."""

from __future__ import annotations

import contextlib
import sqlite3
from datetime import UTC, datetime
from pathlib import Path

from wavilex.server.config import limits


class BackupError(Exception):
    """A file that is no sound Wavilex database."""


def back_up(database: Path, folder: Path, reason: str) -> Path | None:
    """Copy the database into `folder` while it may be in use; None when there is none yet. Old ones are pruned."""
    if not database.exists():
        return None
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    stamp = datetime.now(UTC).strftime("%Y%m%dT%H%M%S%f")
    target = folder / f"{stamp}-{reason}.sqlite3"
    with (
        contextlib.closing(sqlite3.connect(database)) as source,
        contextlib.closing(sqlite3.connect(target)) as copy,
    ):
        source.backup(copy)
    for old in sorted(folder.glob("*.sqlite3"))[: -limits.BACKUPS_KEPT]:
        old.unlink()
    return target


def restore(backup: Path, database: Path, folder: Path) -> None:
    """Put a backup in the database's place; the present one is backed up first. Raises BackupError."""
    if not backup.is_file():
        raise BackupError(f"{backup} is no file")
    try:
        with contextlib.closing(sqlite3.connect(f"file:{backup}?mode=ro", uri=True)) as source:
            sound = source.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
            known = source.execute("SELECT count(*) FROM sqlite_master WHERE name = 'jobs_job'").fetchone()[0]
            if not sound or not known:
                raise BackupError(f"{backup} is no sound Wavilex database")
            back_up(database, folder, "before-restore")
            with contextlib.closing(sqlite3.connect(database)) as target:
                source.backup(target)
    except sqlite3.DatabaseError as error:
        raise BackupError(f"{backup} cannot be read: {error}") from error
