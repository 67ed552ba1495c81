"""The settings plan, house style, choices through the API."""

from __future__ import annotations

from tests.conftest import Api
from tests.server.test_jobs import change


def test_the_plan_of_the_demo_is_solved_and_taken_over(api: Api, demo: str) -> None:
    plan = api.get(f"/jobs/{demo}/settings-plan")
    receiver = next(b for b in plan["boxes"] if b["device"] == "den-receiver")
    row = receiver["rows"][0]
    assert (row["plan_now"], row["to"], row["changes"]) == ("wide", "widest", True)
    assert row["why"].startswith("Den console needs it.")
    view = api.post(f"/jobs/{demo}/changes", change(1, *plan["ops"]))
    assert next(r for r in view["runs"] if r["uid"] == "den")["verdict"] in ("fits", "tight")
    assert api.get(f"/jobs/{demo}/settings-plan")["changes"] == 0


def test_a_house_style_is_kept_for_job_run_and_title_and_undone(api: Api, demo: str) -> None:
    def school(run: str = "den", question: str = "look") -> tuple[str, str]:
        found = next(q for q in api.get(f"/jobs/{demo}/runs/{run}/style") if q["id"] == question)
        return found["school"], found["level"]

    assert school() == ("accurate", "default")
    job = {"op": "set_style", "level": "job", "key": "look", "value": "vivid"}
    run = {"op": "set_style", "level": "run", "uid": "den", "key": "look", "value": "bright_room"}
    title = {"op": "set_style", "level": "title", "uid": "tide", "key": "look", "value": "accurate"}
    view = api.post(f"/jobs/{demo}/changes", change(1, job, run, title))
    assert (school(), school("match")) == (("bright_room", "run"), ("vivid", "job"))
    assert view["style"] == {"look": "vivid"}
    column = api.get(f"/jobs/{demo}/runs/den/titles")["titles"][0]
    assert {"question": "look", "school": "accurate", "level": "title"} in column["style"]
    text = api.client.get(f"/api/v1/jobs/{demo}/file").getvalue().decode()
    copy = api.post("/import", {"text": text}, expect=201)
    assert copy["style"] == {"look": "vivid"}
    assert next(t for t in copy["titles"] if t["uid"] == "tide")["style"] == {"look": "accurate"}
    api.post(f"/jobs/{demo}/undo", {"uid": "undo-the-style"})
    assert school() == ("accurate", "default")


def test_a_strange_school_is_refused_plainly(api: Api, demo: str) -> None:
    op = {"op": "set_style", "level": "job", "key": "look", "value": "loud"}
    said = api.post(f"/jobs/{demo}/changes", change(1, op), expect=422)
    assert said["detail"] == "Look can be accurate, vivid, bright_room, not 'loud'"


def test_titles_have_modes_and_a_recommendation(api: Api, demo: str) -> None:
    data = api.get(f"/jobs/{demo}/runs/match/titles")
    fast = data["titles"][0]
    assert (fast["title"], fast["mode"]["title_mode"], fast["mode"]["frame_ms"]) == ("Tide Racer", "fast", 8.3)
    assert fast["mode"]["others"] == [{"title_mode": "fine", "fps": 60, "more_ms": 8.3}]
    assert [c["option"] for r in data["rows"] for c in r["cells"]] == ["on", "on", "on"]
    assert api.get(f"/jobs/{demo}/runs/pc4/titles")["rows"] == []


def test_choices(api: Api, demo: str) -> None:
    found = {c["question"]: c for c in api.get(f"/jobs/{demo}/runs/den/choices")}
    assert {w["picked"] for w in found["processing"]["ways"]} == {True, False}


def test_refresh_without_repetition(api: Api, demo: str) -> None:
    without = api.get(f"/jobs/{demo}/runs/den/refresh?repeats=false")
    assert next(p for p in without["points"] if p["fps"] == 35)["state"] == "uneven"
    assert without["kinds"] == ["HDMI VRR"]
    odd = {o["hz"]: o["taken"] for o in without["odd_rates"]}
    assert odd["60.1"] is True
