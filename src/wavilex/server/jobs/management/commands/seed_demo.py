"""Seed the demo: the Pierhead Game Library, through the same services people use. Twice does no more than once."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from wavilex.library.pierhead import DEMO_UID, demo_changes
from wavilex.server.jobs.models import ChangeSet, Job
from wavilex.server.jobs.services import change_job, create_job
from wavilex.server.prepare import prepare_database

_SEED = "demo-seed-1"


class Command(BaseCommand):
    help = "Seed the demo job."
    requires_system_checks = ()  # they would load all of the application

    def handle(self, *args: Any, **options: Any) -> None:
        prepare_database()
        if not Job.objects.filter(uid=DEMO_UID).exists():
            create_job(title="Pierhead Game Library", uid=DEMO_UID)
        if not ChangeSet.objects.filter(job__uid=DEMO_UID, uid=_SEED).exists():
            change_job(job_uid=DEMO_UID, base=0, uid=_SEED, ops=demo_changes(), actor=None, kind="start")
