"""Lag sessions and their readings. Readings are only ever added; discarding is a mark with a reason."""

from __future__ import annotations

from typing import get_args

from django.db import models

from wavilex.core.lag.methods import METHODS
from wavilex.core.lag.plan import Cell
from wavilex.core.lag.shapes import Position
from wavilex.server.jobs.models import Job


class LagSession(models.Model):
    """One screen's readings in a job. `device` is the screen's uid; conditions are states of it, by name, in order.

    baseline: the cell others are held against; bound_ms: the client's own; strobes: its light flashes.
    """

    uid = models.CharField(max_length=40, unique=True)
    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="lag_sessions")
    device = models.CharField(max_length=40)
    conditions = models.JSONField(default=list)
    states = models.JSONField(default=dict)  # by condition: its settings, by id; a condition that is not here is a name
    plan = models.JSONField(default=dict)  # cells in order, readings of each
    baseline = models.CharField(max_length=160, blank=True, default="")
    bound_ms = models.PositiveIntegerField(null=True)  # null: common practice
    equivalence_us = models.PositiveIntegerField(default=2000)
    strobes = models.BooleanField(default=False)
    warned_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["job", "device"], name="session_once")]

    def __str__(self) -> str:
        return self.uid


class Take(models.Model):
    """What a meter was asked for, under the mark that it gives back: a reading that comes late finds its cell.

    settling: the picture had not settled yet; readings of it do not count.
    """

    mark = models.CharField(max_length=16, unique=True)
    session = models.ForeignKey(LagSession, on_delete=models.CASCADE, related_name="takes")
    condition = models.CharField(max_length=60)
    signal = models.CharField(max_length=200, blank=True, default="")
    input = models.CharField(max_length=200, blank=True, default="")
    position = models.CharField(max_length=10, blank=True, default="")
    asked = models.PositiveIntegerField()
    settling = models.BooleanField(default=False)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"{self.mark}: {self.condition}"

    @property
    def cell(self) -> Cell:
        place = next(p for p in get_args(Position) if p == self.position)
        return Cell(self.signal, self.input, self.condition, place)


class Reading(models.Model):
    """What it is of: condition, signal, input, position; empty where not said. firmware: the screen's, when taken.

    `meter_ref` names the meter's own boot and number, so that a resent reading is known; null when typed.
    """

    session = models.ForeignKey(LagSession, on_delete=models.CASCADE, related_name="readings")
    seq = models.PositiveIntegerField()
    condition = models.CharField(max_length=60)
    signal = models.CharField(max_length=200, blank=True, default="")
    input = models.CharField(max_length=200, blank=True, default="")
    position = models.CharField(max_length=10, blank=True, default="")
    firmware = models.CharField(max_length=60, blank=True, default="")
    method = models.CharField(max_length=10, choices=[(m, m) for m in METHODS])
    lag_us = models.PositiveIntegerField()
    uncertainty_us = models.PositiveIntegerField(null=True)  # null: not known
    step_ns = models.PositiveIntegerField(null=True)  # the frame it was counted by; null: not counted
    taken_at = models.DateTimeField()
    meter_ref = models.CharField(max_length=60, null=True)  # noqa: DJ001  (null: no meter; unique where given)
    discard = models.CharField(max_length=200, blank=True, default="")
    note = models.CharField(max_length=200, blank=True, default="")
    evidence = models.CharField(max_length=40, blank=True, default="")  # a photograph of the job it was read off

    class Meta:
        ordering = ["seq"]
        constraints = [
            models.UniqueConstraint(fields=["session", "seq"], name="reading_once"),
            models.UniqueConstraint(fields=["session", "meter_ref"], name="meter_reading_once"),
        ]

    def __str__(self) -> str:
        return f"{self.condition} {self.lag_us} µs"
