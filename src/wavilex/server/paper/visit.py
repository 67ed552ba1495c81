"""Calendar entries (RFC 5545): a visit with its steps, and when somebody is to look in again."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from icalendar import Calendar, Event

from wavilex.core.runsheet.step import Step

_CHECK_MINUTES = 60


@dataclass(frozen=True, slots=True)
class Entry:
    """One entry; start in UTC, lasting so many minutes; every_days: it comes again, None: once."""

    uid: str
    title: str
    start: datetime
    minutes: int = _CHECK_MINUTES
    text: str = ""
    every_days: int | None = None


def calendar(entries: Sequence[Entry], stamp: datetime) -> bytes:
    """A calendar file. stamp: when it was made, in UTC."""
    out = Calendar()
    out.add("prodid", "-//Wavilex//visits//EN")
    out.add("version", "2.0")
    for e in entries:
        event = Event()
        event.add("uid", f"{e.uid}@wavilex")
        event.add("dtstamp", stamp)
        event.add("dtstart", e.start)
        event.add("duration", timedelta(minutes=max(e.minutes, 1)))
        event.add("summary", e.title)
        if e.text:
            event.add("description", e.text)
        if e.every_days:
            event.add("rrule", {"freq": "daily", "interval": e.every_days})
        out.add_component(event)
    return bytes(out.to_ical())


def visit_entry(uid: str, title: str, start: datetime, minutes: int, steps: Sequence[Step]) -> Entry:
    """A visit with its steps listed; it lasts `minutes`, one at least."""
    return Entry(uid, title, start, minutes, "\n".join(f"{n}. {s.title}" for n, s in enumerate(steps, 1)))
