"""The rig as a whole through the API: assignment, drawings, schedule, gear tools."""

from __future__ import annotations

import xml.etree.ElementTree as ET
from typing import Any

from tests.conftest import Api
from tests.server.test_jobs import change
from wavilex.core.gear.profile import parse_profile, profile_data
from wavilex.library import starter_profiles


def test_the_best_places_of_the_demo_are_proved_and_applied(api: Api, demo: str) -> None:
    best = api.get(f"/jobs/{demo}/assignment")
    assert best["settled"]
    assert "without taking from another" in best["headline"]
    assert best["satisfied"] > best["present_satisfied"]
    assert best["runner_up"]["loses"]
    view = api.post(f"/jobs/{demo}/changes", change(1, *best["ops"]))
    good = [r for r in view["runs"] if r["verdict"] in ("fits", "tight", "compressed")]
    assert len(good) == best["satisfied"]


def test_drawings_and_schedule(api: Api, demo: str) -> None:
    drawing = api.client.get(f"/api/v1/jobs/{demo}/wiring.svg")
    assert drawing["Content-Type"] == "image/svg+xml"
    ET.fromstring(drawing.content)
    assert b"digraph" in api.client.get(f"/api/v1/jobs/{demo}/wiring.dot").content
    table = api.client.get(f"/api/v1/jobs/{demo}/wiring.csv")
    assert 'filename="pierhead-cables.csv"' in table["Content-Disposition"]
    assert len(api.get(f"/jobs/{demo}/schedule")) == table.content.decode().count("\r\n") - 1


def test_a_profile_is_checked_and_written_as_yaml(api: Api, demo: str) -> None:
    data = profile_data(starter_profiles()["kelpine-m32"])
    text = api.post("/gear/yaml", {"data": data})["text"]
    assert parse_profile(text) == starter_profiles()["kelpine-m32"]
    broken: dict[str, Any] = {**data, "quirks": [{**data["quirks"][0], "when": {"setting": "nothing", "is": "on"}}]}
    answer = api.post("/gear/check", {"data": broken}, expect=422)
    assert "quirks.adaptive-sync-off.when" in answer["detail"]
    mine = api.client.get(f"/api/v1/jobs/{demo}/devices/den-screen/profile.yaml")
    assert parse_profile(mine.content.decode()).id == "yarrowby-65s"
    assert api.client.get(f"/api/v1/jobs/{demo}/devices/nobody/profile").status_code == 404


def test_a_few_answers_make_a_device(api: Api, demo: str) -> None:
    first = next(t for t in api.get("/gear/templates") if t["id"] == "tv-4k120")
    answers = {q["id"]: q["usual"] for q in first["questions"] if q["usual"]} | {"fast": "3,4"}
    made = api.post(f"/gear/templates/{first['id']}", {"answers": answers, "maker": "Brindlo", "model": "Hall"})
    assert made["name"] == "Brindlo Hall"
    row = {"uid": "hall", "label": "Hall screen", "profile": made["data"]}
    view = api.post(f"/jobs/{demo}/changes", change(1, {"op": "add_device", "device": row}))
    assert any(d["uid"] == "hall" for d in view["devices"])
    refused = api.post(f"/gear/templates/{first['id']}", {"answers": {"fast": "7"}}, expect=422)
    assert refused["where"] == "answers.fast"


def test_an_analogue_signal_is_read_as_typed(api: Api) -> None:
    read = api.post("/gear/scan", {"text": "576i"})
    assert (read["vertical_hz"], read["line_khz"]) == (50, 15.625)
    assert read["guessed"]
    again = api.post("/gear/scan", {"scan": read["scan"]})
    assert (again["name"], again["guessed"]) == (read["name"], "")
    assert "line rate is missing" in api.post("/gear/scan", {"text": "300 lines"}, expect=422)["detail"]
    broken = {**read["scan"], "dots": "0"}
    assert api.post("/gear/scan", {"scan": broken}, expect=422)["code"] == "signal_malformed"
