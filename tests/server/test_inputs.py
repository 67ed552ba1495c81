"""Odd input at every door: 422 (or 400) with its place and in our words, and nothing kept of it."""

from __future__ import annotations

import csv
import json
from io import StringIO
from typing import Any
from xml.etree import ElementTree

import icalendar
import pytest

from tests.conftest import Api
from tests.core.law import FORMULAS
from wavilex.server.jobs.models import Job

J = "/jobs/pierhead"
TICK = {"uid": "odd-input-1", "key": "x", "state": "done"}


def change(op: Any) -> dict[str, Any]:
    return {"base_revision": 1, "uid": "odd-input-2", "ops": [op]}


RUN = {"op": "add_run", "run": {"uid": "r", "label": "R", "source": "console", "sink": "tv", "want": {}}}
TITLE = {"op": "add_title", "title": {"uid": "t", "name": "T", "modes": [{"fps": 60}]}}
ODD: list[tuple[str, dict[str, Any], str, str]] = [
    (f"{J}/changes", change({"op": "set_title", "value": "a\x07b"}), "control sign", "ops.0.value"),
    (f"{J}/changes", change({"op": "set_title", "value": "\ud800"}), "control sign", "ops.0.value"),
    (f"{J}/changes", change({"op": "set_title", "value": 10**30}), "beyond what a number", ""),
    (f"{J}/changes", change({**RUN, "run": {**RUN["run"], "style": "vivid"}}), "style", "style"),  # type: ignore[dict-item]
    (f"{J}/changes", change({**TITLE, "title": {**TITLE["title"], "style": []}}), "style", "style"),  # type: ignore[dict-item]
    (f"{J}/changes", change({"op": "dance"}), "is no change", "ops.0"),
    (f"{J}/changes", change("x"), "is no change", "ops.0"),
    (f"{J}/changes", {**change({"op": "found_as_planned"}), "base_revision": 2**40}, "is less than", "base_revision"),
    (f"{J}/ticks", {**TICK, "said_at": "2026-02-30T10:00:00Z"}, "is a moment like", "said_at"),
    (f"{J}/ticks", {**TICK, "said_at": "0001-01-01T00:00:00+14:00"}, "outside the years", "said_at"),
    (f"{J}/ticks", {**TICK, "said_at": "9999-12-31T23:59:59-14:00"}, "outside the years", "said_at"),
    ("/jobs", {"title": ""}, "is empty", "title"),
    ("/jobs", {"title": "x", "time_zone": "Moon/Sea"}, "no such time zone", "time_zone"),
    ("/scratch/compare", {"a": {}}, "is missing", "b"),
    ("/library/read", {"text": "[" * 3000}, "levels deep", ""),
]


@pytest.mark.parametrize(("path", "body", "words", "where"), ODD, ids=range(len(ODD)))
def test_odd_input_is_refused_with_its_place(path: str, body: Any, words: str, where: str, api: Api, demo: str) -> None:
    token = {"X-CSRFToken": api.client.cookies[next(c for c in api.client.cookies if "token" in c)].value}
    answer = api.client.post(f"/api/v1{path}", json.dumps(body), content_type="application/json", headers=token)
    told = answer.json()
    assert answer.status_code in (400, 422), told
    assert words.lower() in told["detail"].lower(), told
    assert where in told["where"], told
    for theirs in ("Input should", "String should", "Field required", "Value error", "validation"):
        assert theirs not in told["detail"]
    assert Job.objects.get().revision == 1


@pytest.mark.parametrize("text", ['{"title": NaN}', '{"title": "x"', "[" * 100_000, '{"a": 1e999}', "\xff", ""])
def test_what_is_no_json_is_said_to_be_none(text: str, api: Api, demo: str) -> None:
    token = {"X-CSRFToken": api.client.cookies[next(c for c in api.client.cookies if "token" in c)].value}
    answer = api.client.post(
        "/api/v1/jobs", text.encode("latin-1"), content_type="application/json", headers=token
    )  # fmt: skip
    assert answer.status_code in (400, 422), answer.content
    assert answer["Content-Type"] == "application/problem+json"


ODD_NAMES = ['=1+1<b>&"', "-2 ]]> --", "@x\n{|}", "+ \\ ;,:"]


@pytest.mark.parametrize("name", ODD_NAMES)
def test_names_of_any_kind_leave_every_document_readable(name: str, api: Api, demo: str) -> None:
    """By other programs' readers: the standard library's XML and CSV, icalendar."""
    ops: list[dict[str, Any]] = [{"op": "set_title", "value": name}]
    job = api.get(J)
    ops += [{"op": "set_device", "device": d["uid"], "label": f"{name} {n}"} for n, d in enumerate(job["devices"])]
    api.post(f"{J}/changes", {"base_revision": 1, "uid": "odd-names-1", "ops": ops})
    drawing = ElementTree.fromstring(api.client.get(f"/api/v1{J}/wiring.svg").content)
    assert name.split()[0] in " ".join(drawing.itertext())
    table = api.client.get(f"/api/v1{J}/wiring.csv").content.decode()
    rows = list(csv.reader(StringIO(table, newline="")))
    assert all(not cell.startswith(FORMULAS) for row in rows for cell in row)
    entry = api.client.get(f"/api/v1{J}/visit.ics?start=2026-12-01T09:00:00Z").content
    assert name.split()[0] in str(icalendar.Calendar.from_ical(entry).walk("VEVENT")[0]["summary"])
    for paper in ("runsheet.pdf", "handover"):
        assert api.client.get(f"/api/v1{J}/{paper}").status_code == 200
