"""Job files: round trip, versions, and errors that say what and where."""

from __future__ import annotations

import json
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.rigs import s03, s05
from wavilex.core.errors import JobFileError
from wavilex.core.rig.jobfile import Job, LagRow, job_data, parse_job

_TAKEN = "2026-11-02T10:00:00Z"
_READING = {"seq": 1, "condition": "standard", "method": "meter", "lag_us": 92000, "taken_at": _TAKEN}
READINGS = {"uid": "l1", "device": "tv", "conditions": ["standard"], "readings": [_READING]}


def data() -> dict[str, Any]:
    return job_data(Job("j1", "test", "UTC", s05(), (LagRow.model_validate(READINGS),)))


@pytest.mark.parametrize("rig", [s03(), s05()])
def test_a_job_survives_its_own_file(rig: Any) -> None:
    job = Job("j1", "test", "UTC", rig)
    assert parse_job(json.dumps(job_data(job))) == job


def test_readings_survive_too() -> None:
    assert parse_job(json.dumps(data())).lag[0].readings[0].lag_us == 92000


def _broken(path: str, value: Any) -> str:
    whole = data()
    node: Any = whole
    *way, last = path.split(".")
    for step in way:
        node = node[int(step) if step.isdigit() else step]
    node[int(last) if last.isdigit() else last] = value
    return json.dumps(whole)


@pytest.mark.parametrize(
    ("path", "value", "where"),
    [
        ("wavilex_job", 2, "wavilex_job"),
        ("wavilex_job", "1", "wavilex_job"),
        ("title", 7, "title"),
        ("devices.0.profile", "none", "devices.0.profile"),
        ("leads.1.grade", "gold", "leads.1"),
        ("leads.0.plan.0.port", "x", "leads.0"),
        ("settings.0.plan", "huge", "settings.0"),
        ("runs.0.source", "nobody", "runs.0"),
        ("runs.0.want.mode", "4K", "runs.0"),
        ("lag.0.readings.0.lag_us", -1, "lag.0.readings.0.lag_us"),
        ("lag.0.device", "nobody", "lag.0.device"),
        ("survey", {"mood": "good"}, "survey.mood"),
    ],
)
def test_a_broken_file_says_what_and_where(path: str, value: Any, where: str) -> None:
    with pytest.raises(JobFileError) as caught:
        parse_job(_broken(path, value))
    assert caught.value.where == where
    assert caught.value.message


@given(st.text(max_size=100) | st.just("[" * 5000) | st.recursive(st.none() | st.integers(), st.lists).map(json.dumps))
def test_any_text_is_refused_plainly(text: str) -> None:
    with pytest.raises(JobFileError):
        parse_job(text)
