"""Takes: what a meter was asked for, so that a reading that comes late finds its cell."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("bench", "0002_cells_and_plans")]

    operations = [
        migrations.CreateModel(
            "Take",
            [
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("mark", models.CharField(max_length=16, unique=True)),
                ("condition", models.CharField(max_length=60)),
                ("signal", models.CharField(blank=True, default="", max_length=200)),
                ("input", models.CharField(blank=True, default="", max_length=200)),
                ("position", models.CharField(blank=True, default="", max_length=10)),
                ("asked", models.PositiveIntegerField()),
                ("settling", models.BooleanField(default=False)),
                ("at", models.DateTimeField(auto_now_add=True)),
                (
                    "session",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="takes", to="bench.lagsession"
                    ),
                ),
            ],
            options={"ordering": ["id"]},
        )
    ]
