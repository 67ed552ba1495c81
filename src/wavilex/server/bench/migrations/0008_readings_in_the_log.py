"""Lines of the logbook for readings that were taken before there was one."""

from __future__ import annotations

from importlib import import_module
from typing import Any

from django.db import migrations

tags_of_device = import_module("wavilex.server.jobs.migrations.0014_log_text").tags_of_device


def write_lines(apps: Any, editor: Any) -> None:
    session_model, entry = apps.get_model("bench", "LagSession"), apps.get_model("jobs", "LogEntry")
    for session in session_model.objects.select_related("job"):
        device = session.job.devices.filter(uid=session.device).first()
        label = device.label if device else session.device
        tags = f"job{session.job.pk} kindreading" + (f" {tags_of_device(session.job.pk, device)}" if device else "")
        entry.objects.bulk_create(
            (entry(job=session.job, kind="reading", at=r.taken_at, words=f"{label}: lag {r.lag_us / 1000:.1f} ms, "
                   f"{r.condition}, {r.method}", tags=tags, ref=f"{session.uid}/{r.seq}")
             for r in session.readings.order_by("seq").iterator(chunk_size=2000)),
            batch_size=500,
        )  # fmt: skip


class Migration(migrations.Migration):
    dependencies = [("bench", "0007_evidence"), ("jobs", "0014_log_text")]
    operations = [migrations.RunPython(write_lines, migrations.RunPython.noop)]
