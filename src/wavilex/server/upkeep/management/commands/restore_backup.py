"""Put a backup of the data back. The present data is backed up first."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection

from wavilex.server.backup import BackupError, restore
from wavilex.server.jobs.cache import forget
from wavilex.server.prepare import prepare_database


class Command(BaseCommand):
    help = "Put a backup back."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("backup")

    def handle(self, *args: Any, **options: Any) -> None:
        connection.close()
        try:
            restore(Path(options["backup"]), Path(connection.settings_dict["NAME"]), settings.DATA / "backups")
        except BackupError as error:
            raise CommandError(str(error)) from None
        forget()
        prepare_database()
        self.stdout.write("The backup is back in place.")
