"""A visit as a calendar entry (RFC 5545)."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta

from icalendar import Calendar, Event

from wavilex.core.runsheet.step import Step


def visit_entry(uid: str, title: str, start: datetime, stamp: datetime, minutes: int, steps: Sequence[Step]) -> bytes:
    """The visit with its steps listed. start and stamp in UTC; it lasts `minutes`, one at least."""
    event = Event()
    event.add("uid", f"{uid}@wavilex")
    event.add("dtstamp", stamp)
    event.add("dtstart", start)
    event.add("duration", timedelta(minutes=max(minutes, 1)))
    event.add("summary", title)
    event.add("description", "\n".join(f"{n}. {s.title}" for n, s in enumerate(steps, 1)))
    calendar = Calendar()
    calendar.add("prodid", "-//Wavilex//run sheet//EN")
    calendar.add("version", "2.0")
    calendar.add_component(event)
    return bytes(calendar.to_ical())
