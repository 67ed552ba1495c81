"""Whether the data can be opened: looked at before anything is, and every refusal in one sentence."""

from __future__ import annotations

import contextlib
import sqlite3
from collections.abc import Iterator

from wavilex.server.backup import BackupError, DamagedError, check_ours
from wavilex.server.config.data_folder import DATABASE, data_folder


class DataError(Exception):
    """The data cannot be used; the message says what and what to do, for people."""


def look_at() -> str:
    """Look at the database before it is opened. Answers why nothing may be written to it, "" where all is well.

    Raises DataError: it is not ours, written by a newer version, or cannot be reached.
    """
    with told():
        database = data_folder() / DATABASE
        if not database.exists() or not database.stat().st_size:
            return ""
        try:
            check_ours(database, new=True)
        except DamagedError as error:
            return (
                f"{error}. It is opened for reading only and nothing is saved: put a backup back with "
                "wavilex restore FILE, then start again."
            )
        except BackupError as error:
            raise DataError(f"{error}.") from error
    return ""


@contextlib.contextmanager
def told() -> Iterator[None]:
    """Errors of the disk and the database as DataError in words."""
    from django.db.utils import DatabaseError

    try:
        yield
    except OSError as error:
        raise DataError(f"{error.filename or 'the data folder'}: {error.strerror or error}.") from error
    except (DatabaseError, sqlite3.Error, BackupError) as error:
        raise DataError(in_words(error)) from error


_WORDS = (
    ("locked", "Somebody else is writing just now"),
    ("disk is full", "The disk is full"),
    ("readonly", "The data folder or its disk can only be read"),
    ("read-only", "The data folder or its disk can only be read"),
    ("unable to open", "The database cannot be opened: is the data folder there, and writable?"),
    ("malformed", "The database is damaged: put a backup back with wavilex restore FILE"),
    ("not a database", "The database file is no database: put a backup back with wavilex restore FILE"),
    ("disk i/o", "The disk does not answer as it should"),
    ("no such table", "The database is another one than this program knows; start it again"),
    ("no such column", "The database is another one than this program knows; start it again"),
)


def in_words(error: BaseException) -> str:
    """What a database error means, in a sentence."""
    text = str(error).lower()
    return next((f"{words}." for part, words in _WORDS if part in text), f"The database refused: {error}.")
