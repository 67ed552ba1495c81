"""Tables of a job. Constraints live here, calculations do not."""

from __future__ import annotations

import secrets

from django.conf import settings
from django.db import models


def new_mark() -> str:
    return secrets.token_hex(8)


class Job(models.Model):
    uid = models.CharField(max_length=40, unique=True)
    title = models.CharField(max_length=120)
    time_zone = models.CharField(max_length=60, default="UTC")
    style = models.JSONField(default=dict)
    survey = models.JSONField(default=dict)
    distances = models.JSONField(default=list)
    revision = models.PositiveIntegerField(default=0)
    line = models.CharField(max_length=16, blank=True, default=new_mark)  # another after a restore: another history
    mark = models.CharField(max_length=16, blank=True, default=new_mark)  # another at every change: one content
    summary = models.JSONField(null=True, default=None)  # boxes and verdicts for the list; null: not worked out
    folded_to = models.PositiveIntegerField(default=0)  # what changes up to this revision did is kept no more
    check_days = models.PositiveIntegerField(null=True)  # how often somebody looks in; null: nobody has said
    due = models.DateTimeField(null=True)  # when that is next; null: never, or nobody has been there yet
    archived = models.BooleanField(default=False)
    kept = models.BooleanField(default=False)  # to the readers; else every account sees it
    readers = models.ManyToManyField(settings.AUTH_USER_MODEL, related_name="jobs_seen")
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["-changed_at"]

    def __str__(self) -> str:
        return self.title


class Room(models.Model):
    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="rooms")
    name = models.CharField(max_length=60)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "name"], name="room_once")]

    def __str__(self) -> str:
        return self.name


class Device(models.Model):
    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="devices")
    uid = models.CharField(max_length=40)
    label = models.CharField(max_length=60)
    room = models.ForeignKey(Room, null=True, on_delete=models.SET_NULL)
    profile = models.JSONField()
    digest = models.CharField(max_length=16)
    firmware = models.CharField(max_length=60, blank=True, default="")
    firmware_plan = models.CharField(max_length=60, blank=True, default="")
    mark = models.CharField(max_length=8, blank=True, default="")

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["job", "uid"], name="device_once")]

    def __str__(self) -> str:
        return self.label


class Fact(models.Model):
    device = models.ForeignKey(Device, on_delete=models.CASCADE, related_name="facts")
    path = models.CharField(max_length=120)
    value = models.JSONField()
    provenance = models.CharField(max_length=20)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["device", "path"], name="fact_once")]

    def __str__(self) -> str:
        return self.path


class Lead(models.Model):
    """Ends as [socket, socket] per layer, a socket as {device, port} or null."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="leads")
    uid = models.CharField(max_length=40)
    label = models.CharField(max_length=40)
    kind = models.CharField(max_length=20)
    grade = models.CharField(max_length=20)
    length_mm = models.PositiveIntegerField(null=True)
    build = models.CharField(max_length=20, default="unknown")
    power = models.CharField(max_length=20, default="port")
    turned = models.BooleanField(default=False)
    proved = models.CharField(max_length=20, null=True)  # noqa: DJ001  (null: nothing was proved)
    failed = models.CharField(max_length=20, null=True)  # noqa: DJ001  (null: nothing failed)
    found = models.JSONField()
    plan = models.JSONField()
    mark = models.CharField(max_length=8, blank=True, default="")

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["job", "uid"], name="lead_once")]

    def __str__(self) -> str:
        return self.label


class Setting(models.Model):
    device = models.ForeignKey(Device, on_delete=models.CASCADE, related_name="settings")
    scope = models.CharField(max_length=120, blank=True, default="")
    key = models.CharField(max_length=40)
    found = models.CharField(max_length=40, null=True)  # noqa: DJ001  (null: not known; "" would be a value)
    plan = models.CharField(max_length=40, null=True)  # noqa: DJ001  (null: not planned)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["device", "scope", "key"], name="setting_once")]

    def __str__(self) -> str:
        return self.key


class Run(models.Model):
    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="runs")
    uid = models.CharField(max_length=40)
    label = models.CharField(max_length=60)
    source = models.ForeignKey(Device, on_delete=models.CASCADE, related_name="+")
    sink = models.ForeignKey(Device, on_delete=models.CASCADE, related_name="+")
    style = models.JSONField(default=dict)
    way = models.JSONField(default=list)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["job", "uid"], name="run_once")]

    def __str__(self) -> str:
        return self.label


class Want(models.Model):
    run = models.OneToOneField(Run, on_delete=models.CASCADE, related_name="want")
    mode = models.CharField(max_length=24)
    hdr = models.CharField(max_length=12)
    chroma = models.CharField(max_length=8)
    bits = models.PositiveSmallIntegerField()
    vrr = models.BooleanField()
    low_lag = models.BooleanField()
    audio = models.CharField(max_length=20)
    protected = models.BooleanField(default=False)
    weight = models.PositiveSmallIntegerField(default=1)

    def __str__(self) -> str:
        return self.mode


class Title(models.Model):
    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="titles")
    uid = models.CharField(max_length=40)
    name = models.CharField(max_length=80)
    modes = models.JSONField(default=list)
    competitive = models.BooleanField(default=False)
    hdr = models.BooleanField(null=True)  # null: not known
    style = models.JSONField(default=dict)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["job", "uid"], name="title_once")]

    def __str__(self) -> str:
        return self.name


class ChangeSet(models.Model):
    """One entry of a job's history. Never changed; those before the present visit may be folded into a state."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="changes")
    uid = models.CharField(max_length=64)
    kind = models.CharField(max_length=8, choices=[(k, k) for k in ("start", "edit", "undo", "redo", "folded")])
    base = models.PositiveIntegerField()
    revision = models.PositiveIntegerField()
    actor = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    ops = models.JSONField()
    inverse = models.JSONField()
    label = models.CharField(max_length=200, blank=True, default="")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["revision"]
        constraints = [
            models.UniqueConstraint(fields=["job", "uid"], name="change_once"),
            models.UniqueConstraint(fields=["job", "revision"], name="revision_once"),
        ]

    def __str__(self) -> str:
        return f"{self.job_id} r{self.revision}"


class Sent(models.Model):
    """A request that must not be done twice, by the uid its sender gave it, and what came of it."""

    uid = models.CharField(max_length=64)
    actor = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    result = models.JSONField()
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["actor", "uid"], name="sent_once")]

    def __str__(self) -> str:
        return self.uid


class Observation(models.Model):
    """Something seen at a place of a box; data as changes have it. Written by changes alone, as all of a rig."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="observations")
    uid = models.CharField(max_length=40)
    data = models.JSONField()

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["job", "uid"], name="observation_once")]

    def __str__(self) -> str:
        return self.uid


class LightNote(models.Model):
    """Something measured or seen of a box's light; data as changes have it. Written by changes alone."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="light_notes")
    uid = models.CharField(max_length=40)
    data = models.JSONField()

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["job", "uid"], name="light_note_once")]

    def __str__(self) -> str:
        return self.uid


class Photograph(models.Model):
    """A photograph of a read-out, re-encoded; its file lies in the data folder under its name, not under the web's."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="photographs")
    name = models.CharField(max_length=40)  # made of its content
    bytes = models.PositiveIntegerField()
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["job", "name"], name="photograph_once")]

    def __str__(self) -> str:
        return self.name


class StepEvent(models.Model):
    """A step ticked, reverted by its box, or taken back. Never changed; the run sheet is read from all of them."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="steps")
    uid = models.CharField(max_length=64)
    key = models.CharField(max_length=40)
    state = models.CharField(max_length=8, choices=[(s, s) for s in ("done", "reverted", "undone")])
    title = models.CharField(max_length=240)
    phase = models.CharField(max_length=12)
    change = models.ForeignKey(ChangeSet, null=True, on_delete=models.PROTECT, related_name="+")
    actor = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    grounds = models.JSONField(default=dict)  # what it rests on, by path, as it stood
    said_at = models.DateTimeField()  # when the person ticked, which may be before the server was reached
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["job", "uid"], name="step_event_once")]

    def __str__(self) -> str:
        return f"{self.key} {self.state}"


class KeptState(models.Model):
    """A job as it stood at a moment, compressed; of two moments alike one row. text: of core/visits/state."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="states")
    digest = models.CharField(max_length=24)
    text = models.BinaryField()
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["job", "digest"], name="state_once")]

    def __str__(self) -> str:
        return f"{self.job_id} {self.digest}"


class Visit(models.Model):
    """Somebody comes back to a job: planned, under way, closed; dropped ones are kept."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="visits")
    uid = models.CharField(max_length=40)
    state = models.CharField(max_length=8, choices=[(s, s) for s in ("planned", "open", "closed", "dropped")])
    title = models.CharField(max_length=120, blank=True, default="")
    who = models.CharField(max_length=120, blank=True, default="")
    note = models.TextField(blank=True, default="")
    planned_for = models.DateTimeField(null=True)
    opened_at = models.DateTimeField(null=True)
    closed_at = models.DateTimeField(null=True)
    opened_revision = models.PositiveIntegerField(null=True)
    closed_revision = models.PositiveIntegerField(null=True)
    state_open = models.ForeignKey(KeptState, null=True, on_delete=models.RESTRICT, related_name="+")
    state_close = models.ForeignKey(KeptState, null=True, on_delete=models.RESTRICT, related_name="+")
    did = models.JSONField(null=True, default=None)  # lines of the log by kind, counted when it was closed

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["job", "uid"], name="visit_once")]

    def __str__(self) -> str:
        return f"{self.uid} {self.state}"


class LogEntry(models.Model):
    """One line of the logbook. Never changed. tags: what it is filtered by, found with its words (jobs/log).

    ref: what it is about, for a link: a photograph's name, a change's uid.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="log")
    kind = models.CharField(max_length=12)
    at = models.DateTimeField()
    by = models.CharField(max_length=150, blank=True, default="")
    words = models.TextField()
    tags = models.TextField()
    ref = models.CharField(max_length=80, blank=True, default="")

    class Meta:
        ordering = ["id"]
        indexes = [
            models.Index(fields=["job", "-id"], name="log_of_job"),
            models.Index(fields=["job", "at"], name="log_by_time"),
        ]

    def __str__(self) -> str:
        return self.words[:80]


class ClientLink(models.Model):
    """An address by which a client reads a job's hand-over and nothing else. Of its secret only the digest is kept."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="client_links")
    uid = models.CharField(max_length=40, unique=True)
    digest = models.CharField(max_length=64, unique=True)
    note = models.CharField(max_length=120, blank=True, default="")
    actor = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    at = models.DateTimeField(auto_now_add=True)
    expires_at = models.DateTimeField()
    revoked_at = models.DateTimeField(null=True)
    read_at = models.DateTimeField(null=True)  # when it was read last

    class Meta:
        ordering = ["-id"]

    def __str__(self) -> str:
        return self.uid
