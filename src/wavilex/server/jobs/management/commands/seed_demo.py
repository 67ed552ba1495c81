"""Seed the demo: the Pierhead Game Library, through the same services people use. Twice does no more than once."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from wavilex.server.jobs.demo_job import DEMO_UID, demo_changes
from wavilex.server.jobs.models import Job
from wavilex.server.jobs.services import change_job, create_job
from wavilex.server.prepare import prepare_database


class Command(BaseCommand):
    help = "Seed the demo job."

    def handle(self, *args: Any, **options: Any) -> None:
        prepare_database()
        if not Job.objects.filter(uid=DEMO_UID).exists():
            create_job(title="Pierhead Game Library", uid=DEMO_UID)
        change_job(job_uid=DEMO_UID, base=0, uid="demo-seed-1", ops=demo_changes(), actor=None, kind="start")
