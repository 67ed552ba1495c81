"""What this installation learned of faults, and games of practice. Neither belongs to a job, neither leaves."""

from __future__ import annotations

from django.conf import settings
from django.db import models


class Confirmed(models.Model):
    """A fault that was found to be it: its kind and the kind of box, nothing of whose it was."""

    uid = models.CharField(max_length=64, unique=True)
    kind = models.CharField(max_length=20)
    box = models.CharField(max_length=20)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"{self.kind} at {self.box}"


class Game(models.Model):
    """A case of practice as an account plays it: the case by its text, the moves in order."""

    uid = models.CharField(max_length=40, unique=True)
    account = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="games")
    case = models.CharField(max_length=120)
    moves = models.JSONField(default=list)
    guess = models.JSONField(null=True)
    points = models.PositiveIntegerField(null=True)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]

    def __str__(self) -> str:
        return f"{self.case}, {len(self.moves)} moves"
