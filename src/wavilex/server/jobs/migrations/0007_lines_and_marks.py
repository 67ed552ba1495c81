"""A job's line of history, another after a restore, and the mark of its content, another at every change."""

from django.apps.registry import Apps
from django.db import migrations, models
from django.db.backends.base.schema import BaseDatabaseSchemaEditor

import wavilex.server.jobs.models


def one_each(apps: Apps, schema_editor: BaseDatabaseSchemaEditor) -> None:
    """A column's default is worked out once for all rows; a mark must be a job's own."""
    for job in apps.get_model("jobs", "Job").objects.all():
        job.line, job.mark = wavilex.server.jobs.models.new_mark(), wavilex.server.jobs.models.new_mark()
        job.save(update_fields=["line", "mark"])


_FIELD = models.CharField(blank=True, default=wavilex.server.jobs.models.new_mark, max_length=16)


class Migration(migrations.Migration):
    dependencies = [("jobs", "0006_summaries")]

    operations = [
        migrations.AddField("job", "line", _FIELD),
        migrations.AddField("job", "mark", _FIELD.clone()),
        migrations.RunPython(one_each, migrations.RunPython.noop),
    ]
