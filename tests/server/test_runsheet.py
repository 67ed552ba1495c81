"""The run sheet through the API: ticks are kept once, record what was found, and can be taken back."""

from __future__ import annotations

import itertools
from typing import Any

from tests.conftest import Api
from tests.server.test_jobs import WIDEST, change

_numbers = itertools.count(1)
FORMAT = "Den receiver, Game: Input format → widest"


def sheet(api: Api, demo: str) -> dict[str, Any]:
    found: dict[str, Any] = api.get(f"/jobs/{demo}/runsheet")
    return found


def step(data: dict[str, Any], title: str) -> dict[str, Any]:
    return next(s for p in data["phases"] for s in p["steps"] if s["title"] == title)


def ticked(key: str, state: str = "done", uid: str = "") -> dict[str, Any]:
    return {"uid": uid or f"tick-{next(_numbers):08}", "key": key, "state": state, "said_at": "2026-11-25T10:00:00Z"}


def test_a_tick_records_what_was_found_and_is_kept_once(api: Api, demo: str) -> None:
    api.post(f"/jobs/{demo}/changes", change(1, WIDEST))
    body = ticked(step(sheet(api, demo), FORMAT)["key"])
    first = api.post(f"/jobs/{demo}/ticks", body)
    second = api.post(f"/jobs/{demo}/ticks", body)
    assert not step(first, FORMAT)["open"]
    assert first == second
    assert first["revision"] == 3
    found = api.get(f"/jobs/{demo}?layer=found")
    assert {r["uid"]: r["verdict"] for r in found["runs"]}["den"] == "fits"


def test_a_tick_taken_back_brings_the_step_again(api: Api, demo: str) -> None:
    api.post(f"/jobs/{demo}/changes", change(1, WIDEST))
    key = step(sheet(api, demo), FORMAT)["key"]
    api.post(f"/jobs/{demo}/ticks", ticked(key))
    back = api.post(f"/jobs/{demo}/ticks", ticked(key, "undone"))
    assert step(back, FORMAT)["open"]
    assert api.get(f"/jobs/{demo}?layer=found")["runs"][1]["verdict"] == "blocked"


def test_a_late_tick_needs_no_revision(api: Api, demo: str) -> None:
    """Ticked without a connection, sent after others edited: it still counts."""
    api.post(f"/jobs/{demo}/changes", change(1, WIDEST))
    key = step(sheet(api, demo), FORMAT)["key"]
    api.post(f"/jobs/{demo}/changes", change(2, {"op": "set_survey", "key": "light", "value": "dusk"}))
    assert not step(api.post(f"/jobs/{demo}/ticks", ticked(key)), FORMAT)["open"]
    # and once more from another phone, when it is done already
    again = api.post(f"/jobs/{demo}/ticks", ticked(key))
    assert not step(again, FORMAT)["open"]


def test_a_revert_is_kept_as_evidence(api: Api, demo: str) -> None:
    op = {
        "op": "set_setting",
        "layer": "plan",
        "device": "den-console",
        "scope": "",
        "key": "fast_refresh",
        "value": "off",
    }
    api.post(f"/jobs/{demo}/changes", change(1, op))
    title = "Den console: 120 Hz output → not allowed"
    kept = step(sheet(api, demo), title)
    assert kept["keep"]
    after = step(api.post(f"/jobs/{demo}/ticks", ticked(kept["key"], "reverted")), title)
    assert (after["open"], after["state"]) == (True, "reverted")


def test_strange_steps_and_viewers_are_refused(api: Api, demo: str, make_api: Any) -> None:
    assert api.post(f"/jobs/{demo}/ticks", ticked("set-nothing"), expect=404)["code"] == "no_such_step"
    assert api.post(f"/jobs/{demo}/ticks", ticked("set-nothing", "undone"), expect=404)
    viewer = make_api("viewer")
    viewer.post(f"/jobs/{demo}/ticks", ticked("power-off"), expect=403)
    assert viewer.get(f"/jobs/{demo}/runsheet")["open"] > 0


def test_the_visit_as_a_calendar_entry(api: Api, demo: str) -> None:
    answer = api.client.get(f"/api/v1/jobs/{demo}/visit.ics?start=2026-11-26T09:00:00%2B01:00")
    assert answer["Content-Type"].startswith("text/calendar")
    text = answer.content.decode()
    assert "DTSTART:20261126T080000Z" in text
    assert all(len(line.encode()) <= 75 for line in text.split("\r\n"))  # RFC 5545, 3.1
    steps = api.get(f"/jobs/{demo}/runsheet")
    unfolded = text.replace("\r\n ", "")
    hours, minutes = divmod(steps["minutes_left"], 60)
    assert f"DURATION:PT{f'{hours}H' if hours else ''}{f'{minutes}M' if minutes else ''}" in unfolded
    assert "SUMMARY:Pierhead Game Library" in unfolded
    assert f"1. {steps['phases'][0]['steps'][0]['title'].replace(',', chr(92) + ',')}" in unfolded


def test_refresh_and_titles_of_a_run(api: Api, demo: str) -> None:
    data = api.get(f"/jobs/{demo}/runs/den/refresh")
    assert (data["window"], data["fixed_hz"]) == ([48, 120], 120)
    at_47 = next(p for p in data["points"] if p["fps"] == 47)
    assert (at_47["state"], at_47["refresh_hz"]) == ("repeated", 94)
    assert {t["name"] for t in data["titles"]} == {"Tide Racer", "Lantern Keep", "Brass Meridian"}
    assert api.get(f"/jobs/{demo}/runs/pc4/refresh", expect=404)["code"] == "no_digital_path"
    assert api.get(f"/jobs/{demo}/runs/nobody/refresh", expect=404)["code"] == "no_such_run"


def states(screen: dict[str, Any]) -> list[str]:
    return [c["state"] for c in screen["cells"]]


def test_a_visited_cell_is_covered_until_another_box_meets_it(api: Api, demo: str) -> None:
    screen = api.get(f"/jobs/{demo}/coverage")[0]
    assert (screen["label"], states(screen)) == ("Den screen", ["open", "open"])
    api.post(f"/jobs/{demo}/ticks", ticked(screen["cells"][0]["key"]))
    again = api.get(f"/jobs/{demo}/coverage")[0]
    assert states(again) == ["set", "open"]
    other = {"op": "set_want", "run": "den", "key": "mode", "value": "2560x1440@120"}
    api.post(f"/jobs/{demo}/changes", change(1, other))
    assert states(api.get(f"/jobs/{demo}/coverage")[0]) == ["stale", "stale"]


def test_a_job_file_keeps_its_ticks(api: Api, demo: str) -> None:
    """What was ticked comes along: a cell set before the file was written is set after it is read."""
    key = api.get(f"/jobs/{demo}/coverage")[0]["cells"][0]["key"]
    api.post(f"/jobs/{demo}/ticks", ticked(key))
    text = api.client.get(f"/api/v1/jobs/{demo}/file").getvalue().decode()
    uid = api.post("/import", {"text": text}, expect=201)["uid"]
    assert states(api.get(f"/jobs/{uid}/coverage")[0]) == ["set", "open"]


def test_the_run_sheet_on_paper(api: Api, demo: str) -> None:
    """A PDF of several pages, in our own fonts; the times of ticks are the job's own."""
    key = sheet(api, demo)["next"]
    api.post(f"/jobs/{demo}/ticks", ticked(key))
    answer = api.client.get(f"/api/v1/jobs/{demo}/runsheet.pdf")
    assert answer["Content-Type"] == "application/pdf"
    assert answer.content.startswith(b"%PDF-")
    assert answer.content.count(b"/Type /Page\n") >= 3
    assert b"wavilex-bold" in answer.content
