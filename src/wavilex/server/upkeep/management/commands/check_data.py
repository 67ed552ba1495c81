"""Is the data sound? The file, rows that hang on nothing, and every job's history done again."""

from __future__ import annotations

import json
import sys
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from wavilex.server.prepare import prepare_database
from wavilex.server.upkeep.health import faults


class Command(BaseCommand):
    help = "Check the data: integrity, orphaned rows, the shelf, the replay of each job's history."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--json", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        prepare_database()
        found = list(faults())
        if options["json"]:
            self.stdout.write(json.dumps({"sound": not found, "faults": found}, indent=2))
        else:
            self.stdout.write("\n".join(f"{f['where']}: {f['fault']}" for f in found) or "The data is sound.")
        if found:
            sys.exit(1)
