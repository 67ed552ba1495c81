"""A job's line of history, another after a restore, and the mark of its content, another at every change."""

from django.db import migrations, models

import wavilex.server.jobs.models


class Migration(migrations.Migration):
    dependencies = [("jobs", "0006_summaries")]

    operations = [
        migrations.AddField("job", "line", models.CharField(blank=True, default=wavilex.server.jobs.models.new_mark, max_length=16)),
        migrations.AddField("job", "mark", models.CharField(blank=True, default=wavilex.server.jobs.models.new_mark, max_length=16)),
    ]
