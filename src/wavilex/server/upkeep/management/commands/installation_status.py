"""How this installation stands, in lines or as JSON."""

from __future__ import annotations

import json
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from wavilex.server.prepare import prepare_database
from wavilex.server.upkeep.health import StatusOut, status

_MB = 1_000_000


class Command(BaseCommand):
    help = "How this installation stands."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--json", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        prepare_database()
        told = status()
        self.stdout.write(json.dumps(told, indent=2) if options["json"] else "\n".join(_lines(told)))


def _lines(s: StatusOut) -> list[str]:
    lines = [
        f"version       {s['version']}",
        f"data folder   {s['data_folder']}",
        f"database      {s['database_bytes'] / _MB:.1f} MB, schema "
        + ", ".join(f"{app} {name}" for app, name in s["schema"].items()),
        f"holds         {s['jobs']} jobs, {s['changes']} changes, {s['readings']} readings; "
        f"{s['boxes']} boxes on the shelf",
        f"backups       {s['backups']['count']}, {s['backups']['bytes'] / _MB:.1f} MB"
        + (f", the latest {s['backups']['latest']}" if s["backups"]["latest"] else ""),
        f"meters        {', '.join(s['meters']) or 'none set'}",
    ]
    running = s["running"]
    if running is None:
        return [*lines, "server        not running"]
    rss = f", {running['rss_bytes'] / _MB:.0f} MB of memory" if running["rss_bytes"] is not None else ""
    lines.append(f"server        process {running['pid']} on port {running['port']}{rss}")
    kept = running["remembered"]
    if kept is not None:
        share = (
            f", {100 * kept['known'] // kept['asked']} % of {kept['asked']} questions known" if kept["asked"] else ""
        )
        size = f"{kept['held_bytes'] / _MB:.1f} of {kept['most_bytes'] / _MB:.0f} MB"
        lines.append(f"remembers     {kept['entries']} answers, {size}{share}")
    return lines
