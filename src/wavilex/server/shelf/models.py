"""Tables of the shelf. Constraints live here, rules do not."""

from __future__ import annotations

from django.conf import settings
from django.db import models


class Box(models.Model):
    """A device the workshop knows, across jobs. words: all it is found by, in small letters."""

    uid = models.CharField(max_length=40, unique=True)
    profile_id = models.CharField(max_length=40)
    maker = models.CharField(max_length=40)
    model = models.CharField(max_length=40)
    role = models.CharField(max_length=10)
    kind = models.CharField(max_length=16)
    words = models.TextField()
    away = models.BooleanField(default=False)
    facts = models.JSONField(default=list)  # what was learned, rows of core.gear.pack.FactRow
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["maker", "model", "id"]
        constraints = [models.UniqueConstraint(fields=["profile_id", "maker", "model"], name="box_once")]

    def __str__(self) -> str:
        return f"{self.maker} {self.model}"


class Version(models.Model):
    """What a box was said to be, one after the other. Never changed; a job keeps the one it was planned with."""

    box = models.ForeignKey(Box, on_delete=models.CASCADE, related_name="versions")
    number = models.PositiveIntegerField()
    profile = models.JSONField()
    digest = models.CharField(max_length=16, db_index=True)
    note = models.CharField(max_length=200, blank=True, default="")
    actor = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["box", "number"], name="version_once")]

    def __str__(self) -> str:
        return f"{self.box_id} v{self.number}"
