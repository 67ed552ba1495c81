"""Put a backup of the data back, in its place or in another folder, or one job of it, or the job of a pack.

The present data is backed up first.
"""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection

from wavilex.core.errors import WavilexError
from wavilex.core.rig.jobfile import parse_job
from wavilex.server.backup import BackupError, restore, restore_to, verify
from wavilex.server.files.job_packs import bring_in
from wavilex.server.files.services import import_job
from wavilex.server.prepare import prepare_database


class Command(BaseCommand):
    help = "Put a backup back."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("backup")
        parser.add_argument("--job", default="")
        parser.add_argument("--to", default="")
        parser.add_argument("--verify", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        connection.close()
        database, folder = Path(connection.settings_dict["NAME"]), settings.DATA / "backups"
        file = Path(options["backup"])
        try:
            if options["verify"]:
                self.stdout.write(f"{file} is sound, with {verify(file)} photographs.")
                return
            if options["to"]:
                photographs = restore_to(file, Path(options["to"]))
                self.stdout.write(f"The backup is in {options['to']}, with {photographs} photographs.")
                self.stdout.write(f"WAVILEX_DATA={options['to']} wavilex serve  starts from there.")
                return
            if file.suffix == ".zip":
                self._pack(file)
                return
            if options["job"]:
                self._one(Path(options["backup"]), options["job"])
                return
            done = restore(Path(options["backup"]), database, folder)
            prepare_database()
        except BackupError as error:
            raise CommandError(str(error)) from None
        self.stdout.write("The backup is back in place.")
        if done.kept:
            self.stdout.write(f"What was there before: {done.kept}")
        if done.aside:
            self.stdout.write(f"The data there was is damaged and was moved aside to {done.aside}.")
            self.stdout.write("Start the server again: one that was running still holds the damaged file.")

    def _pack(self, file: Path) -> None:
        """A job pack, checked and brought in as a new job beside what is there."""
        prepare_database()
        try:
            made = bring_in(file.read_bytes())
        except (OSError, WavilexError) as error:
            raise CommandError(f"{file}: {error}") from None
        self.stdout.write(f"“{made.title}” of the pack is back as a job of its own: {made.uid}.")

    def _one(self, backup: Path, job: str) -> None:
        """One job of a backup, read as a job file and brought in as a new job beside what is there."""
        with tempfile.TemporaryDirectory() as folder:
            restore_to(backup, Path(folder))
            env = {**os.environ, "WAVILEX_DATA": folder}
            words = [sys.executable, "-m", "wavilex.server.manage", "write_job", job]
            read = subprocess.run(words, env=env, capture_output=True, text=True, check=False)
        if read.returncode:
            raise CommandError(read.stderr.strip().removeprefix("CommandError: "))
        prepare_database()
        made = import_job(job=parse_job(read.stdout))
        self.stdout.write(f"“{made.title}” of the backup is back as a job of its own: {made.uid}.")
        self.stdout.write("Its readings and ticks came with it, its history of changes did not.")
