"""A job's state kept at a moment: compressed, and of two moments alike only once."""

from __future__ import annotations

import hashlib
import zlib

from wavilex.core.errors import WavilexError
from wavilex.core.lag.summary import summarise
from wavilex.core.visits.state import LagCell, State, read_state, write_state
from wavilex.server.bench.selectors import groups_of
from wavilex.server.jobs.cache import rig_of
from wavilex.server.jobs.models import Job, KeptState, Visit
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.problems import ProblemError

NOW = "now"


def state_of(job: Job) -> State:
    """A job as it stands: its rig, and what was measured of its lag."""
    return State(rig_of(job), tuple(_lag(job)))


def _lag(job: Job) -> list[LagCell]:
    cells = []
    for session in job.lag_sessions.all():
        for group in groups_of(session):
            told = summarise(group.readings) if group.values else None
            if told is not None:
                c = group.cell
                what = " · ".join(w for w in (c.condition, c.signal, c.input, c.position, group.by) if w)
                low, high = (round(x) if x is not None else None for x in (told.ci_low_us, told.ci_high_us))
                cells.append(LagCell(session.device, what, round(told.lag_us), low, high, told.n))
    return cells


def keep_state(job: Job) -> KeptState:
    """The job's state now, kept; the same state again is the row that is there."""
    text = write_state(state_of(job)).encode()
    digest = hashlib.sha256(text).hexdigest()[:24]
    row, _ = KeptState.objects.get_or_create(job=job, digest=digest, defaults={"text": zlib.compress(text, 9)})
    return row


def kept_state(row: KeptState) -> State:
    """A state as it was kept. Raises ProblemError 422 where this version cannot read it."""
    try:
        return read_state(zlib.decompress(bytes(row.text)).decode())
    except (WavilexError, zlib.error, ValueError, KeyError) as error:
        raise ProblemError(422, "state_unreadable", f"A state of this job cannot be read: {error}") from None


def named_state(job: Job, name: str) -> tuple[str, State]:
    """A state by its name: `now`, `VISIT/open`, `VISIT/close`, or `job/UID` of another job; with its words."""
    if name == NOW:
        return "now", state_of(job)
    first, _, rest = name.partition("/")
    if first == "job":
        other = job_by_uid(rest)
        return f"{other.title}, now", state_of(other)
    visit = job.visits.filter(uid=first).select_related("state_open", "state_close").first()
    row = {"open": visit.state_open, "close": visit.state_close}.get(rest) if visit is not None else None
    if visit is None or row is None:
        raise ProblemError(404, "no_such_state", "There is no such state of this job.", name[:80])
    return state_words(visit, rest), kept_state(row)


def state_words(visit: Visit, end: str) -> str:
    """`visit of 3 May 2026, as found` and `as left`."""
    at = visit.opened_at if end == "open" else visit.closed_at
    day = f"{at:%-d %B %Y}" if at is not None else ""
    return f"{visit.title or 'visit'} of {day}, as {'found' if end == 'open' else 'left'}"
