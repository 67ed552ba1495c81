"""Codes of probes, kept as digests: who has the database has no code."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from wavilex.server.jobs.models import Job


class Probe(models.Model):
    """A code that lets a page add results to one run until it expires or is revoked."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="probes")
    uid = models.CharField(max_length=40, unique=True)
    run = models.CharField(max_length=40)
    digest = models.CharField(max_length=64, unique=True)
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)
    expires_at = models.DateTimeField()
    revoked_at = models.DateTimeField(null=True)
    results = models.PositiveIntegerField(default=0)
    last_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-id"]

    def __str__(self) -> str:
        return self.uid


class ProbeSent(models.Model):
    """A result that was kept, by its sender's uid: the same one again is refused."""

    probe = models.ForeignKey(Probe, on_delete=models.CASCADE, related_name="sent")
    uid = models.CharField(max_length=40)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["probe", "uid"], name="probe_result_once")]

    def __str__(self) -> str:
        return self.uid
