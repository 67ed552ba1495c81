"""Writes of the bench. Readings are kept at once and never doubled."""

from __future__ import annotations

import uuid
from collections import Counter
from collections.abc import Mapping, Sequence
from datetime import datetime

from django.db import transaction
from django.db.models import Count, Max, Sum, Value
from django.db.models.functions import Length
from django.utils import timezone

from wavilex.core import bounds
from wavilex.core.film.shapes import FilmTold
from wavilex.core.film.told import kept
from wavilex.core.lag.methods import Taken
from wavilex.core.lag.plan import Cell
from wavilex.core.lag.table import Row
from wavilex.core.rig.jobfile import LagRow
from wavilex.server.bench.models import LagSession, Reading
from wavilex.server.jobs import photographs
from wavilex.server.jobs.cache import rig_of
from wavilex.server.jobs.log import line
from wavilex.server.jobs.models import Job, LogEntry
from wavilex.server.problems import ProblemError

_LOOK_EVERY = 100  # readings between two looks at how much there is
MOST_CONDITIONS = bounds.CONDITIONS


@transaction.atomic
def open_session(*, job: Job, device: str) -> LagSession:
    """The screen's session, made with its picture modes as conditions when there is none yet."""
    box = rig_of(job).devices.get(device)
    if box is None or box.profile.role != "screen":
        raise ProblemError(422, "no_screen", "Lag is measured at a screen of this job.", "device")
    conditions = list(box.profile.pictures[:2]) or ["standard", "game"]
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
    *, session: LagSession, cell: Cell, lag_us: int, method: str, meter_ref: str | None = None,
    taken_at: datetime | None = None, uncertainty_us: int | None = None, step_ns: int | None = None, discard: str = "",
) -> Reading:  # fmt: skip
    """Keep one reading; the same meter_ref again gives the one that is there."""
    session = LagSession.objects.select_for_update().get(pk=session.pk)
    require_warning(session)
    if meter_ref is not None:
        known = session.readings.filter(meter_ref=meter_ref).first()
        if known is not None:
            return known
    if cell.condition not in session.conditions:
        raise ProblemError(
            422, "no_such_condition", f"{cell.condition!r} is no condition of this session.", "condition"
        )
    return add_reading(
        session, cell, lag_us=lag_us, method=method, uncertainty_us=uncertainty_us, step_ns=step_ns,
        taken_at=taken_at, meter_ref=meter_ref, discard=discard,
    )  # fmt: skip


def add_reading(
    session: LagSession, cell: Cell, *, lag_us: int, method: str, meter_ref: str | None = None,
    taken_at: datetime | None = None, uncertainty_us: int | None = None, step_ns: int | None = None, discard: str = "",
) -> Reading:  # fmt: skip
    """One more reading of a session that nobody else writes meanwhile. Raises ProblemError where it is full."""
    last = session.readings.aggregate(top=Max("seq"))["top"] or 0
    if last % _LOOK_EVERY == 0:
        _room_for(session, 1)
    made = session.readings.create(
        seq=last + 1, condition=cell.condition, signal=cell.signal, input=cell.input, position=cell.position,
        firmware=_firmware(session), method=method, lag_us=lag_us, uncertainty_us=uncertainty_us, step_ns=step_ns,
        taken_at=taken_at or timezone.now(), meter_ref=meter_ref, discard=discard,
    )  # fmt: skip
    _log(session, [made])
    return made


def _log(session: LagSession, readings: Sequence[Reading]) -> None:
    """A line of the logbook for each."""
    rig = rig_of(session.job)
    device = rig.devices.get(session.device)
    label = device.label if device else session.device
    LogEntry.objects.bulk_create(
        line(session.job, "reading", reading_words(label, r), at=r.taken_at, ref=f"{session.uid}/{r.seq}",
             boxes=(session.device,), rig=rig)
        for r in readings
    )  # fmt: skip


def reading_words(label: str, r: Reading) -> str:
    """`Television: lag 14.2 ms, game mode · 2160p60 · HDMI 1 · middle, by meter`."""
    at = " · ".join(w for w in (r.condition, r.signal, r.input, r.position) if w)
    return f"{label}: lag {r.lag_us / 1000:.1f} ms, {at}, {r.method}" + (
        f"; discarded: {r.discard}" if r.discard else ""
    )


def _room_for(session: LagSession, more: int, signs: int = 0) -> None:
    """Raises ProblemError where a job would hold more readings, or more words with them, than its file can."""
    every = Reading.objects.filter(session__job=session.job_id)
    words = sum((Length(f) for f in ("note", "discard", "signal", "input")), Value(0))
    held = every.aggregate(n=Count("pk"), signs=Sum(words))
    if held["n"] + more > bounds.READINGS:
        raise ProblemError(422, "readings_full", f"A job holds {bounds.READINGS} readings: remove what was discarded.")
    if (held["signs"] or 0) + signs > bounds.READING_TEXT:
        raise ProblemError(422, "readings_full", "The notes of this job’s readings are more than its file can hold.")


def _firmware(session: LagSession) -> str:
    """The screen's firmware as it was read, kept with the reading: lag may change with it."""
    device = rig_of(session.job).devices.get(session.device)
    return device.firmware if device else ""


def keep_film(*, session: LagSession, cell: Cell, told: FilmTold, film: str, evidence: bytes) -> int:
    """The kept presses of a film as readings; how many. evidence: a picture of them, kept with the job's photographs.

    Raises FilmError for a press that answers before it starts.
    """
    presses = kept(told)
    if not presses:
        raise ProblemError(422, "no_press", "No press of this film is left to keep.", "marks")
    picture = photographs.keep(job_uid=session.job.uid, data=evidence)
    for n, lag_us, off_us in presses:
        taken = Taken(lag_us, off_us)
        reading = keep_reading(
            session=session, cell=cell, lag_us=taken.lag_us, method="film", uncertainty_us=taken.uncertainty_us,
            step_ns=round(told["step_ms"] * 1_000_000) if told["step_ms"] else None,
        )  # fmt: skip
        by_hand = told["presses"][n]["moved"]
        at = f"press {n + 1} at {told['presses'][n]['start_s']:.2f} s"
        reading.note = f"{film[:120]}: {at}{', moved by hand' if by_hand else ''}"
        reading.evidence = picture.name
        reading.save(update_fields=["note", "evidence"])
    return len(presses)


def set_baseline(*, session: LagSession, condition: str) -> None:
    """What others are held against from now on."""
    session.baseline = condition
    session.save(update_fields=["baseline"])


def set_asked(*, session: LagSession, baseline: str, bound_ms: int | None, equivalence_us: int, strobes: bool) -> None:
    """What the session is held against."""
    session.baseline, session.bound_ms = baseline, bound_ms
    session.equivalence_us, session.strobes = equivalence_us, strobes
    session.save(update_fields=["baseline", "bound_ms", "equivalence_us", "strobes"])


@transaction.atomic
def take_table(*, session: LagSession, rows: Sequence[Row]) -> int:
    """Readings taken before, of a table; how many. Rows of other devices must be left out before.

    Nothing flashes while a table is read, so it needs no warning.
    """
    session = LagSession.objects.select_for_update().get(pk=session.pk)
    last = session.readings.aggregate(top=Max("seq"))["top"] or 0
    _room_for(session, len(rows), sum(len(r.note) + len(r.signal) + len(r.input) for r in rows))
    for condition in dict.fromkeys(r.condition for r in rows):
        session = add_condition(session=session, condition=condition)
    now = timezone.now()
    made = Reading.objects.bulk_create(
        Reading(session=session, seq=last + n, condition=r.condition, signal=r.signal, input=r.input,
                position=r.position, firmware="", method=r.method, lag_us=r.lag_us,
                uncertainty_us=r.uncertainty_us, step_ns=r.step_ns,
                taken_at=datetime.fromisoformat(r.taken_at) if r.taken_at else now,
                discard=(r.note or "discarded in the table") if r.discarded else "", note=r.note)
        for n, r in enumerate(rows, 1)
    )  # fmt: skip
    _log(session, made)
    return len(rows)


def discard_reading(*, session: LagSession, seq: int, reason: str) -> Reading:
    """Mark a reading as not counting, with the reason; an empty reason takes it back in."""
    reading = session.readings.filter(seq=seq).first()
    if reading is None:
        raise ProblemError(404, "no_such_reading", f"There is no reading {seq} in this session.", "seq")
    reading.discard = reason
    reading.save(update_fields=["discard"])
    return reading


@transaction.atomic
def remove_discarded(*, session: LagSession) -> int:
    """Remove readings that do not count, for good; how many. Numbers of those that stay do not change."""
    return session.readings.exclude(discard="").delete()[0]


def import_sessions(job: Job, rows: Sequence[LagRow], names: Mapping[str, str]) -> None:
    """Sessions of a job file, inside the caller's transaction. The warning must be accepted anew. names: of photographs
    in the file, to names as they are kept now.
    """
    for row in rows:
        session = LagSession.objects.create(
            uid=uuid.uuid4().hex[:16], job=job, device=row.device, conditions=row.conditions, baseline=row.baseline,
            states=row.states,
            bound_ms=row.bound_ms, equivalence_us=row.equivalence_us, strobes=row.strobes,
        )  # fmt: skip
        Reading.objects.bulk_create(
            Reading(session=session, taken_at=datetime.fromisoformat(r.taken_at),
                    **r.model_dump(exclude={"taken_at", "evidence"}), evidence=names.get(r.evidence, ""))
            for r in row.readings
        )  # fmt: skip


def no_number() -> ProblemError:
    return ProblemError(422, "no_number", "A typed reading or a guess needs lag_ms.", "lag_ms")


def own_rows(session: LagSession, rows: Sequence[Row]) -> tuple[list[Row], Counter[str]]:
    """Rows of the session's screen (by its name or uid), and how many there are of others, by name."""
    device = rig_of(session.job).devices.get(session.device)
    known = {session.device, device.label if device else session.device}
    strange = Counter(r.device for r in rows if r.device not in known)
    return [r for r in rows if r.device in known], strange
