"""House styles by job, run and title; titles by their modes."""

from django.db import migrations, models


def rates_to_modes(apps, schema_editor):
    for title in apps.get_model("jobs", "Title").objects.all():
        title.modes = [{"fps": fps, "name": "", "lines": None} for fps in title.render_rates]
        title.save(update_fields=["modes"])


class Migration(migrations.Migration):
    dependencies = [("jobs", "0004_step_events")]

    operations = [
        migrations.RemoveField("job", "house_style"),
        migrations.AddField("job", "style", models.JSONField(default=dict)),
        migrations.AddField("run", "style", models.JSONField(default=dict)),
        migrations.AddField("title", "style", models.JSONField(default=dict)),
        migrations.AddField("title", "hdr", models.BooleanField(null=True)),
        migrations.AddField("title", "modes", models.JSONField(default=list)),
        migrations.RunPython(rates_to_modes, migrations.RunPython.noop),
        migrations.RemoveField("title", "render_rates"),
    ]
