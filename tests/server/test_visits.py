"""Visits: states kept and compared, regular checks, answers after an update, the logbook and its search."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

import icalendar
import pytest
from django.contrib.auth import get_user_model
from django.utils import timezone
from hypothesis import given
from hypothesis import strategies as st

from tests.arrivals import settled
from tests.conftest import Api
from tests.rigs import s14, setting
from wavilex.core.rig.changes import apply
from wavilex.core.rig.jobfile import Job as CoreJob
from wavilex.server.config import limits
from wavilex.server.files.services import import_job
from wavilex.server.jobs import log
from wavilex.server.jobs.cache import rig_of
from wavilex.server.jobs.folding import fold
from wavilex.server.jobs.models import Job, KeptState, LogEntry
from wavilex.server.jobs.services import change_job, step_history
from wavilex.server.problems import ProblemError
from wavilex.server.upkeep.health import faults
from wavilex.server.visits import services

pytestmark = pytest.mark.django_db
NOW = "2026-05-03T10:00:00Z"


@pytest.fixture
def user(api: Api) -> Any:
    """The account that `api` speaks for."""
    return get_user_model().objects.get(username="technician")


@pytest.fixture
def job() -> Job:
    rig = apply(settled(s14()), [{"op": "set_device", "device": "tv", "firmware": "3.1"},
                                 {"op": "set_fact", "device": "tv", "path": "updated", "value": None}])[0]  # fmt: skip
    return import_job(job=CoreJob("s14", "S14 lounge", "UTC", rig))


def _change(job: Job, user: Any, *ops: Any, uid: str = "change-0001") -> None:
    fresh = Job.objects.get(pk=job.pk)
    change_job(job_uid=job.uid, base=fresh.revision, uid=uid, ops=list(ops), actor=user)


def test_a_visit_keeps_the_state_it_found_and_the_one_it_left(api: Api, user: Any, job: Job) -> None:
    api.post(f"/jobs/{job.uid}/visits", {"uid": "visit-0001", "title": "Spring check"})
    api.post(f"/jobs/{job.uid}/visits/visit-0001/state", {"state": "open"})
    _change(job, user, setting("tv", "hdmi1;range=sdr", "light", "44", "found"),
            {"op": "set_device", "device": "tv", "firmware": "3.4"})  # fmt: skip
    told = api.post(f"/jobs/{job.uid}/visits/visit-0001/state", {"state": "closed"})
    assert {d["kind"]: d["count"] for d in told["visits"][0]["did"]} == {"update": 1}
    between = api.get(f"/jobs/{job.uid}/compare?a=visit-0001/open&b=visit-0001/close")
    assert [(r["kind"], r["was"], r["now"]) for r in between["rows"]] == [
        ("firmware", "3.1", "3.4"), ("setting", "30", "44"),
    ]  # fmt: skip
    assert api.get(f"/jobs/{job.uid}/compare?a=visit-0001/close")["rows"] == []
    text = api.client.get(f"/api/v1/jobs/{job.uid}/compare.txt?a=visit-0001/open&b=visit-0001/close").content.decode()
    assert "TV, HDMI 1, standard range: Panel light: 30 → 44" in text


def test_two_jobs_are_compared_by_the_names_of_their_boxes(api: Api, user: Any, job: Job) -> None:
    other = import_job(job=CoreJob("other", "Another", "UTC", apply(s14(), [{"op": "remove_run", "run": "disc"}])[0]))
    rows = api.get(f"/jobs/{job.uid}/compare?a=now&b=job/{other.uid}&layer=plan")["rows"]
    assert ("verdict", "disc", "not there") in [(r["kind"], r["what"], r["now"]) for r in rows]
    assert not [r for r in rows if r["kind"] == "box"]  # the same boxes, though each job has its own


def test_a_state_that_did_not_change_is_kept_once(job: Job) -> None:
    for uid in ("visit-0001", "visit-0002"):
        services.plan_visit(job_uid=job.uid, uid=uid, title="", who="", note="", planned_for=None)
        services.move_visit(job_uid=job.uid, uid=uid, state="open")
        services.move_visit(job_uid=job.uid, uid=uid, state="closed")
    assert KeptState.objects.filter(job=job).count() == 1


@pytest.mark.parametrize(("was", "to"), [("planned", "closed"), ("closed", "planned"), ("dropped", "open")])
def test_a_visit_goes_only_the_ways_visits_go(job: Job, was: str, to: str) -> None:
    ways = {"planned": [], "closed": ["open", "closed"], "dropped": ["dropped"]}
    services.plan_visit(job_uid=job.uid, uid="visit-0001", title="", who="", note="", planned_for=None)
    for state in ways[was]:
        services.move_visit(job_uid=job.uid, uid="visit-0001", state=state)
    with pytest.raises(ProblemError, match="cannot be made"):
        services.move_visit(job_uid=job.uid, uid="visit-0001", state=to)


def test_only_one_visit_is_under_way(job: Job) -> None:
    for uid in ("visit-0001", "visit-0002"):
        services.plan_visit(job_uid=job.uid, uid=uid, title="", who="", note="", planned_for=None)
    services.move_visit(job_uid=job.uid, uid="visit-0001", state="open")
    with pytest.raises(ProblemError, match="under way"):
        services.move_visit(job_uid=job.uid, uid="visit-0002", state="open")


def test_regular_checks_are_due_from_the_last_visit_on(api: Api, user: Any, job: Job) -> None:
    assert api.post(f"/jobs/{job.uid}/regular", {"every_days": 90})["due_in_days"] == 90
    services.plan_visit(job_uid=job.uid, uid="visit-0001", title="", who="", note="", planned_for=None)
    for state in ("open", "closed"):
        services.move_visit(job_uid=job.uid, uid="visit-0001", state=state)
    Job.objects.filter(pk=job.pk).update(due=timezone.now() - timedelta(days=3))
    (row,) = [j for j in api.get("/jobs")["jobs"] if j["uid"] == job.uid]
    assert row["due_in_days"] == -3
    events = icalendar.Calendar.from_ical(api.client.get("/api/v1/visits.ics").content).walk("VEVENT")
    (check,) = [e for e in events if "look in" in e["SUMMARY"]]
    assert check["RRULE"].to_ical() == b"FREQ=DAILY;INTERVAL=90"


def test_a_planned_visit_stands_in_the_calendar_at_its_time(api: Api, user: Any, job: Job) -> None:
    at = datetime(2026, 6, 1, 9, 30, tzinfo=UTC)
    services.plan_visit(
        job_uid=job.uid, uid="visit-0001", title="Firmware", who="", note="bring a stick", planned_for=at
    )
    (event,) = icalendar.Calendar.from_ical(api.client.get(f"/api/v1/visits.ics?job_uid={job.uid}").content).walk(
        "VEVENT"
    )
    assert event.decoded("DTSTART") == at
    assert str(event["DESCRIPTION"]) == "bring a stick"


def _look(api: Api, job: Job, told: Any, outcome: str, back: Any = (), uid: str = "look-00001") -> Any:
    body = {"uid": uid, "version": "3.4", "key": told["key"], "outcome": outcome, "back": list(back), "said_at": NOW}
    return api.post(f"/jobs/{job.uid}/devices/tv/update", body)


def test_looks_after_an_update_are_kept_undone_and_planned_again(api: Api, user: Any, job: Job) -> None:
    _change(job, user, {"op": "set_device", "device": "tv", "firmware": "3.4"})
    (box,) = api.get(f"/jobs/{job.uid}/updates")["boxes"]
    assert (box["was"], box["version"]) == ("3.1", "3.4")
    assert box["full"] * 0.4 >= len(box["steps"]) > 0
    page = next(s for s in box["steps"] if any("|warmth" in v for v in s["values"]))
    scope = next(v for v in page["values"] if v.endswith("|warmth")).partition("|")[0]
    back = [{"scope": scope, "setting": "warmth", "value": "cool"}]
    after = _look(api, job, page, "came_back", back)
    assert {v["outcome"] for v in after["values"] if v["setting"] == "warmth"} == {"came_back", "presumed"}
    assert _look(api, job, page, "came_back", back) == after  # the same words again: kept once
    steps = [s["title"] for p in api.get(f"/jobs/{job.uid}/runsheet")["phases"] for s in p["steps"] if s["open"]]
    assert any("Colour temperature → warm" in t for t in steps)
    step_history(job_uid=job.uid, uid="undo-00001", actor=user, kind="undo")
    (box,) = api.get(f"/jobs/{job.uid}/updates")["boxes"]
    assert {v["outcome"] for v in box["values"]} == {"open"}


def test_a_look_of_another_list_is_refused(api: Api, user: Any, job: Job) -> None:
    body = {"uid": "look-00001", "version": "3.4", "key": "look-x", "outcome": "stays", "back": [], "said_at": NOW}
    assert api.post(f"/jobs/{job.uid}/devices/tv/update", body, expect=409)["code"] == "other_version"


def test_a_proof_made_on_another_version_is_open_again(api: Api, user: Any, job: Job) -> None:
    """Ticked, updated: the step says since when it counts no more. Undone: it counts again."""

    def proof() -> Any:
        sheet = api.get(f"/jobs/{job.uid}/runsheet")
        return next(s for p in sheet["phases"] for s in p["steps"] if s["title"].startswith("stick: prove"))

    body = {"uid": "tick-00001", "key": proof()["key"], "state": "done", "said_at": NOW}
    api.post(f"/jobs/{job.uid}/ticks", body)
    assert not proof()["open"]
    _change(job, user, {"op": "set_device", "device": "tv", "firmware": "3.4"})
    assert proof()["open"]
    assert "since then firmware of TV went from 3.1 to 3.4" in proof()["why"]
    step_history(job_uid=job.uid, uid="undo-00001", actor=user, kind="undo")
    assert not proof()["open"]


def test_the_newest_version_is_the_first_step_by_itself(api: Api, user: Any, job: Job) -> None:
    first = api.get(f"/jobs/{job.uid}/runsheet")["phases"]
    titles = [s["title"] for p in first if p["id"] == "firmware" for s in p["steps"]]
    assert titles == ["Update TV from 3.1 to 3.4"]


def test_what_the_client_keeps_is_turned_by_no_advice(api: Api, user: Any, job: Job) -> None:
    body = {"uid": "kept-00001", "scope": "hdmi1", "setting": "game", "value": "off", "because": "flickers in films",
            "said_at": NOW}  # fmt: skip
    (kept,) = api.post(f"/jobs/{job.uid}/devices/tv/kept", body)["kept"]
    assert (kept["value"], kept["because"]) == ("off", "flickers in films")
    value = rig_of(Job.objects.get(pk=job.pk)).settings["tv", "hdmi1", "game"]
    assert (value.found, value.plan) == ("off", "off")
    plan = api.get(f"/jobs/{job.uid}/settings-plan")
    rows = [
        r
        for b in plan["boxes"]
        for r in b["rows"]
        if b["device"] == "tv" and (r["scope"], r["key"]) == ("hdmi1", "game")
    ]
    assert [r["value"] for r in rows] == ["off"]
    assert "flickers in films" in rows[0]["why"]
    assert not [op for op in plan["ops"] if op.get("key") == "game" and op.get("scope") == "hdmi1"]
    told = api.post(f"/jobs/{job.uid}/devices/tv/kept", {**body, "uid": "kept-00002", "because": ""})
    assert told["kept"] == []


def test_every_change_tick_and_photograph_is_a_line_of_the_book(api: Api, user: Any, job: Job) -> None:
    _change(job, user, setting("tv", "hdmi1;range=sdr", "light", "44"))
    step_history(job_uid=job.uid, uid="undo-00001", actor=user, kind="undo")
    lines = api.get(f"/jobs/{job.uid}/log")["lines"]
    assert lines[0]["words"].startswith("taken back: ")
    assert lines[1]["words"] == "TV, HDMI 1, standard range: Panel light → 44, planned"
    assert {x["by"] for x in lines[:2]} == {"technician"}


def test_lines_are_found_by_the_beginnings_of_their_words(api: Api, user: Any, job: Job) -> None:
    _change(job, user, setting("tv", "hdmi1;range=sdr", "light", "44"))
    _change(job, user, {"op": "set_device", "device": "k1", "room": "den"}, uid="change-0002")

    def found(**asked: str) -> int:
        query = "&".join(f"{k}={v}" for k, v in asked.items())
        return len(api.get(f"/jobs/{job.uid}/log?{query}")["lines"])

    assert found(words="panel 44") == 1
    assert found(words="pan") == 1
    assert found(words="anel") == 0
    assert found(device="k1") == 1
    assert found(device="k1", words="panel") == 0
    assert found(kinds="visit") == 0
    assert found(since="2099-01-01T00:00:00Z", words="panel") == 0


def test_a_type_of_box_is_followed_over_all_jobs_one_may_see(api: Api, user: Any, job: Job) -> None:
    other = import_job(job=CoreJob("other", "Another", "UTC", s14()))
    for n, one in enumerate((job, other)):
        _change(one, user, setting("tv", "hdmi1;range=sdr", "light", str(40 + n)), uid=f"change-10{n}0")
    profile = rig_of(job).devices["tv"].profile
    lines = api.get(f"/log?profile={profile.id}&name={profile.name}")["lines"]
    assert {x["job"] for x in lines} == {job.uid, other.uid}
    Job.objects.filter(pk=other.pk).update(kept=True)  # to nobody: the book of another's job is not read either
    lines = api.get(f"/log?profile={profile.id}&name={profile.name}")["lines"]
    assert {x["job"] for x in lines} == {job.uid}


@pytest.mark.parametrize("words", ['"', "a AND", "NEAR(", "*", "x -y", "tags:job1", "é ß", "'; DROP"])
def test_nothing_that_is_typed_is_an_operator(job: Job, words: str) -> None:
    log.write(job, "change", "plain words x y a AND tags job1 é ß drop")
    assert log.find(job=job, words=words)["lines"] is not None


@given(words=st.text(max_size=60))
def test_any_words_are_a_question(words: str) -> None:
    parts = log._match(None, words, (), "", "")
    assert parts.count('"') % 2 == 0


def test_a_page_of_the_book_goes_on_where_the_last_ended(job: Job) -> None:
    LogEntry.objects.bulk_create(log.line(job, "change", f"line {n} of many") for n in range(150))
    seen: list[str] = []
    more: int | None = None
    while True:
        page = log.find(job=job, words="many", before=more)
        seen += [x["words"] for x in page["lines"]]
        more = page["more"]
        if more is None:
            break
    assert seen == [f"line {n} of many" for n in range(149, -1, -1)]


# --- old history folded -----------------------------------------------------------------------------------


@pytest.fixture
def long(job: Job, user: Any, monkeypatch: pytest.MonkeyPatch) -> Job:
    """Ten changes, a visit begun, three more; two of the latest are never folded."""
    monkeypatch.setattr(limits, "CHANGES_UNFOLDED", 2)
    for n in range(10):
        _change(job, user, setting("tv", "hdmi1;range=sdr", "light", str(40 + n)), uid=f"before-{n:04}")
    services.plan_visit(job_uid=job.uid, uid="visit-0001", title="", who="", note="", planned_for=None)
    services.move_visit(job_uid=job.uid, uid="visit-0001", state="open")
    for n in range(3):
        _change(job, user, setting("tv", "hdmi1;range=sdr", "light", str(60 + n)), uid=f"visit-{n:05}")
    fold(job_pk=job.pk)
    return Job.objects.get(pk=job.pk)


def test_what_the_present_visit_did_can_be_undone_after_folding(long: Job, user: Any) -> None:
    assert long.folded_to == 10
    for n in range(3):
        step_history(job_uid=long.uid, uid=f"undo-{n:05}", actor=user, kind="undo")
    assert rig_of(Job.objects.get(pk=long.pk)).settings["tv", "hdmi1;range=sdr", "light"].plan == "49"
    with pytest.raises(ProblemError, match="nothing to undo"):
        step_history(job_uid=long.uid, uid="undo-00009", actor=user, kind="undo")
    assert list(faults()) == []


def test_a_folded_change_sent_again_is_still_done_once(long: Job, user: Any) -> None:
    before = long.revision
    _change(long, user, setting("tv", "hdmi1;range=sdr", "light", "40"), uid="before-0000")
    assert Job.objects.get(pk=long.pk).revision == before


def test_a_page_from_before_the_visit_is_told_to_look_again(long: Job, user: Any) -> None:
    ops = [setting("tv", "hdmi1;range=sdr", "light", "1")]
    with pytest.raises(ProblemError, match="before the last visit"):
        change_job(job_uid=long.uid, base=4, uid="late-00001", ops=ops, actor=user)


def test_the_book_keeps_what_folded_changes_did(long: Job) -> None:
    assert long.changes.filter(kind="folded").count() == 10
    assert len(log.find(job=long, words="panel 44")["lines"]) == 1


def test_what_the_shelf_learned_of_such_a_box_is_asked(api: Api, user: Any, job: Job) -> None:
    """Another job's box came back after this version: here it is told, and its setting comes first."""
    _change(job, user, {"op": "set_device", "device": "tv", "firmware": "3.4"})
    page = next(s for s in api.get(f"/jobs/{job.uid}/updates")["boxes"][0]["steps"] if "colour" in s["title"])
    scope = page["values"][0].partition("|")[0]
    _look(api, job, page, "came_back", [{"scope": scope, "setting": "warmth", "value": "cool"}])
    profile = api.get(f"/jobs/{job.uid}/devices/tv/profile")["data"]
    api.post("/shelf", {"data": profile})
    api.post(f"/jobs/{job.uid}/devices/tv/shelf", {"paths": ["after_update.3-4.warmth"]})
    rig = apply(settled(s14()), [{"op": "set_device", "device": "tv", "firmware": "3.1"}])[0]
    other = import_job(job=CoreJob("other", "Another", "UTC", rig))
    told = api.get(f"/jobs/{other.uid}/devices/tv/update?version=3.4")
    assert any("came back to cool with firmware 3.4" in k["words"] for k in told["known"])
    assert any(v.endswith("|warmth") for v in told["steps"][0]["values"])
    assert {v["outcome"] for v in told["values"]} == {"open"}
