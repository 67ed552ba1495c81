"""Getting a data folder ready: a backup, then migrations, only when there are any to make."""

from __future__ import annotations

from pathlib import Path

from django.conf import settings
from django.core.management import call_command
from django.db import connection
from django.db.migrations.executor import MigrationExecutor

from wavilex.server.backup import back_up


def pending_migrations() -> bool:
    executor = MigrationExecutor(connection)
    return bool(executor.migration_plan(executor.loader.graph.leaf_nodes()))


def prepare_database() -> Path | None:
    """Migrate if needed, after a backup. Answers the backup made, if any."""
    if not pending_migrations():
        return None
    made = None
    if connection.introspection.table_names():
        connection.close()
        made = back_up(Path(str(settings.DATABASES["default"]["NAME"])), settings.DATA / "backups", "before-migration")
    else:
        with connection.cursor() as cursor:  # a new, empty database: nothing to lose while its tables are made
            cursor.execute("PRAGMA synchronous=OFF")
    call_command("migrate", interactive=False, verbosity=0)
    connection.close()  # the next connection synchronises fully again
    return made
