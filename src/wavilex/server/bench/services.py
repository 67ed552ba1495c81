"""Writes of the bench. Readings are kept at once and never doubled."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from datetime import datetime

from django.db import transaction
from django.db.models import Max
from django.utils import timezone

from wavilex.core.jobfile import LagRow
from wavilex.server.bench.models import LagSession, Reading
from wavilex.server.config import limits
from wavilex.server.jobs.cache import rig_of
from wavilex.server.jobs.models import Job
from wavilex.server.problems import ProblemError

MOST_CONDITIONS = 12


@transaction.atomic
def open_session(*, job: Job, device: str) -> LagSession:
    """The screen's session, made with its picture modes as conditions when there is none yet."""
    box = rig_of(job).devices.get(device)
    if box is None or box.profile.role != "screen":
        raise ProblemError(422, "no_screen", "Lag is measured at a screen of this job.", "device")
    conditions = list(box.profile.picture_modes[:2]) or ["standard", "game"]
    session, _ = LagSession.objects.get_or_create(
        job=job, device=device, defaults={"uid": uuid.uuid4().hex[:16], "conditions": conditions}
    )
    return session


@transaction.atomic
def add_condition(*, session: LagSession, condition: str) -> LagSession:
    """Another screen mode to measure in."""
    session = LagSession.objects.select_for_update().get(pk=session.pk)
    if condition not in session.conditions:
        if len(session.conditions) >= MOST_CONDITIONS:
            raise ProblemError(
                422, "too_many_conditions", f"A session holds {MOST_CONDITIONS} conditions.", "condition"
            )
        session.conditions = [*session.conditions, condition]
        session.save()
    return session


def accept_warning(*, session: LagSession) -> LagSession:
    """Note that the flashing-picture warning was read and accepted."""
    if session.warned_at is None:
        session.warned_at = timezone.now()
        session.save(update_fields=["warned_at"])
    return session


def require_warning(session: LagSession) -> None:
    if session.warned_at is None:
        raise ProblemError(409, "warning_not_accepted", "Read and accept the flashing-picture warning first.")


@transaction.atomic
def keep_reading(
    *, session: LagSession, condition: str, lag_us: int, method: str, meter_ref: str | None = None,
    taken_at: datetime | None = None,
) -> Reading:  # fmt: skip
    """Keep one reading; the same meter_ref again gives the one that is there."""
    session = LagSession.objects.select_for_update().get(pk=session.pk)
    require_warning(session)
    if meter_ref is not None:
        known = session.readings.filter(meter_ref=meter_ref).first()
        if known is not None:
            return known
    if condition not in session.conditions:
        raise ProblemError(422, "no_such_condition", f"{condition!r} is no condition of this session.", "condition")
    last = session.readings.aggregate(top=Max("seq"))["top"] or 0
    if last >= limits.READINGS_PER_SESSION:
        raise ProblemError(422, "session_full", f"A session holds {limits.READINGS_PER_SESSION} readings.")
    return session.readings.create(
        seq=last + 1, condition=condition, method=method, lag_us=lag_us,
        taken_at=taken_at or timezone.now(), meter_ref=meter_ref,
    )  # fmt: skip


def discard_reading(*, session: LagSession, seq: int, reason: str) -> Reading:
    """Mark a reading as not counting, with the reason; an empty reason takes it back in."""
    reading = session.readings.filter(seq=seq).first()
    if reading is None:
        raise ProblemError(404, "no_such_reading", f"There is no reading {seq} in this session.", "seq")
    reading.discard = reason
    reading.save(update_fields=["discard"])
    return reading


def import_sessions(job: Job, rows: Sequence[LagRow]) -> None:
    """Sessions of a job file, inside the caller's transaction. The warning must be accepted anew."""
    for row in rows:
        session = LagSession.objects.create(
            uid=uuid.uuid4().hex[:16], job=job, device=row.device, conditions=row.conditions
        )
        Reading.objects.bulk_create(
            Reading(session=session, seq=r.seq, condition=r.condition, method=r.method, lag_us=r.lag_us,
                    taken_at=datetime.fromisoformat(r.taken_at), discard=r.discard)
            for r in row.readings
        )  # fmt: skip
