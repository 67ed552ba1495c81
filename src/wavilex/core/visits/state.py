"""A job's state at a moment, to be held against another: its rig, and its lag in few figures."""

from __future__ import annotations

import json
from dataclasses import dataclass, replace
from typing import Any

from wavilex.core.rig.jobfile import Job, job_data, parse_job
from wavilex.core.rig.model import Rig


@dataclass(frozen=True, slots=True)
class LagCell:
    """What was measured at a screen in a cell, in µs: its figure, its interval at 95 % (None: too few), of how many."""

    device: str
    what: str
    lag_us: int
    low_us: int | None
    high_us: int | None
    readings: int


@dataclass(frozen=True)
class State:
    """A job as it stood. What was seen of it is not part: it stands in the logbook."""

    rig: Rig
    lag: tuple[LagCell, ...] = ()


def write_state(state: State) -> str:
    """A state as text that stays the same for the same state; `read_state` reads it back."""
    bare = replace(state.rig, observations={})
    data = {
        "job": job_data(Job("state", state.rig.title or "state", "UTC", bare)),
        "lag": [[c.device, c.what, c.lag_us, c.low_us, c.high_us, c.readings] for c in state.lag],
    }
    return json.dumps(data, ensure_ascii=False, separators=(",", ":"), sort_keys=False)


def read_state(text: str) -> State:
    """A state from its text. Raises JobFileError where it is none."""
    data: dict[str, Any] = json.loads(text)
    return State(parse_job(json.dumps(data["job"])).rig, tuple(LagCell(*row) for row in data["lag"]))
