"""A backup a day while the server runs; what nobody will ask for again forgotten, old history folded."""

from __future__ import annotations

import logging
import threading
import time
from pathlib import Path

from django.db import DatabaseError

from wavilex.server.backup import BackupError, back_up
from wavilex.server.jobs.folding import fold_all
from wavilex.server.jobs.sent import forget_old

log = logging.getLogger("wavilex.daily")
_DAY_SECONDS = 24 * 3600
_LOOK_SECONDS = 600


def due(folder: Path, now: float) -> bool:
    """Is the newest daily backup more than a day old, by the clock of the disk it lies on? One from ahead is none."""
    ages = [now - f.stat().st_mtime for f in folder.glob("*-daily.sqlite3")]
    return not any(0 <= age < _DAY_SECONDS for age in ages)


def keep_daily(database: Path, folder: Path) -> threading.Thread:
    """Look now and then, and make one when it is due. What fails is in the log, and is tried again."""

    def watch() -> None:
        while True:
            try:
                if due(folder, time.time()):
                    back_up(database, folder, "daily")
                    forget_old()
                    fold_all()
            except (BackupError, OSError, DatabaseError) as error:
                log.warning("no daily backup: %s", error)
            time.sleep(_LOOK_SECONDS)

    thread = threading.Thread(target=watch, daemon=True, name="daily-backup")
    thread.start()
    return thread
