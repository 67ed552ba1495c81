"""A verified copy of the data, made while it is in use."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection

from wavilex.server.backup import BackupError, back_up, copy


class Command(BaseCommand):
    help = "Make a backup."
    requires_system_checks = ()

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", nargs="?", default="")

    def handle(self, *args: Any, **options: Any) -> None:
        database = Path(connection.settings_dict["NAME"])
        if not database.exists():
            raise CommandError(f"there is no data yet at {database}")
        try:
            if options["file"]:
                made: Path | None = Path(options["file"])
                if made is not None and made.exists():
                    raise BackupError(f"{made} is there already: name another file")
                copy(database, Path(options["file"]))
            else:
                made = back_up(database, settings.DATA / "backups", "asked")
        except BackupError as error:
            raise CommandError(str(error)) from None
        self.stdout.write(f"{made}")
