"""A job as its job file, on standard output."""

from __future__ import annotations

import json
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from wavilex.server.files.services import file_of
from wavilex.server.jobs.models import Job
from wavilex.server.prepare import prepare_database


class Command(BaseCommand):
    help = "Write a job file."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("job")

    def handle(self, *args: Any, **options: Any) -> None:
        prepare_database()
        job = Job.objects.filter(uid=options["job"]).first()
        if job is None:
            there = ", ".join(f"{uid} ({title})" for uid, title in Job.objects.values_list("uid", "title")[:20])
            raise CommandError(f"there is no job {options['job']!r}; there are: {there or 'none'}")
        self.stdout.write(json.dumps(file_of(job), ensure_ascii=False))
