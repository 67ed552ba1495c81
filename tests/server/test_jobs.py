"""Jobs over the API: edits, clashes, undo, import and export, bad input."""

from __future__ import annotations

import contextlib
import itertools
import json
from collections.abc import Callable
from typing import Any

import pytest
from django.conf import settings as site
from django.db import connection
from django.test.utils import CaptureQueriesContext
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter

from tests.conftest import Api
from wavilex.server.jobs.cache import forget, memory
from wavilex.server.jobs.models import ChangeSet, Device, Job
from wavilex.server.jobs.services import fill_summaries
from wavilex.server.jobs.shapes import ChangedView, ViewOut

_numbers = itertools.count(1)
FORMAT = {"op": "set_setting", "layer": "plan", "device": "den-receiver", "scope": "game", "key": "format"}
WIDEST = {**FORMAT, "value": "widest"}


def change(base: int, *ops: dict[str, Any], uid: str | None = None) -> dict[str, Any]:
    return {"base_revision": base, "uid": uid or f"test-{next(_numbers):06}", "ops": list(ops)}


def verdicts(view: dict[str, Any]) -> dict[str, str]:
    return {r["uid"]: r["verdict"] for r in view["runs"]}


def test_the_demo_job_has_its_runs(api: Api, demo: str) -> None:
    view = api.get(f"/jobs/{demo}")
    said = verdicts(view)
    assert {uid: said[uid] for uid in ("match", "den", "museum")} == {
        "match": "fits", "den": "blocked", "museum": "blocked",
    }  # fmt: skip
    museum = [d for d in view["devices"] if d["room"] == "Museum corner"]
    assert sum(d["role"] == "source" for d in museum) == 12
    assert sum(d["kind"] == "switch" for d in museum) == 2
    assert sum(d["role"] == "screen" for d in museum) == 3
    assert len(api.get("/jobs")["jobs"][0]["runs"]) == 17
    assert view["can_undo"] is None  # how the job began is no edit


def test_the_sheets_data_has_the_documented_shape(api: Api, demo: str) -> None:
    """The view is sent as text already written: here it is held against its type, tried and kept alike."""
    for body in (api.get(f"/jobs/{demo}"), api.get(f"/jobs/{demo}?layer=found"),
                 api.post(f"/jobs/{demo}/try", {"ops": [WIDEST]})):  # fmt: skip
        assert TypeAdapter(ViewOut).validate_python(body) == body


def test_an_edit_is_kept_and_answered(api: Api, demo: str) -> None:
    view = api.post(f"/jobs/{demo}/changes", change(1, WIDEST))
    assert (view["revision"], verdicts(view)["den"]) == (2, "fits")
    forget()
    again = api.get(f"/jobs/{demo}")
    assert again["runs"] == view["runs"]
    assert again["devices"] == view["devices"]


def test_the_same_change_sent_twice_is_done_once(api: Api, demo: str) -> None:
    body = change(1, WIDEST)
    first, second = (api.post(f"/jobs/{demo}/changes", body) for _ in range(2))
    assert first["revision"] == second["revision"] == 2
    assert ChangeSet.objects.filter(job__uid=demo).count() == 2


def test_disjoint_edits_of_two_tabs_both_stay(api: Api, demo: str) -> None:
    api.post(f"/jobs/{demo}/changes", change(1, WIDEST))
    want = {"op": "set_want", "run": "den", "key": "vrr", "value": False}
    view = api.post(f"/jobs/{demo}/changes", change(1, want))
    assert view["revision"] == 3
    assert verdicts(view)["den"] == "fits"
    assert next(r for r in view["runs"] if r["uid"] == "den")["want"]["vrr"] is False


def test_a_clash_shows_both_versions_and_writes_nothing(api: Api, demo: str) -> None:
    api.post(f"/jobs/{demo}/changes", change(1, WIDEST))
    problem = api.post(f"/jobs/{demo}/changes", change(1, {**FORMAT, "value": "basic"}), expect=409)
    clash = problem["clashes"][0]
    assert (clash["yours"]["value"], clash["theirs"]["value"], clash["by"]) == ("basic", "widest", "technician")
    assert api.get(f"/jobs/{demo}")["revision"] == 2


def test_undo_and_redo_walk_the_history(api: Api, demo: str) -> None:
    start = api.get(f"/jobs/{demo}")
    swap = {"op": "swap_leads", "end": "b", "leads": ["C1", "C2"],
            "select": [{"device": "museum-screen", "value": "hdmi1"}]}  # fmt: skip
    after = [api.post(f"/jobs/{demo}/changes", change(n, op)) for n, op in ((1, WIDEST), (2, swap))]
    undone = [api.post(f"/jobs/{demo}/undo", {"uid": f"undo-{n:05}"}) for n in range(2)]
    assert undone[0]["runs"] == after[0]["runs"]
    assert (undone[1]["runs"], undone[1]["devices"]) == (start["runs"], start["devices"])
    assert api.post(f"/jobs/{demo}/undo", {"uid": "undo-99999"}, expect=409)["code"] == "nothing_to_undo"
    assert api.post(f"/jobs/{demo}/redo", {"uid": "redo-00001"})["runs"] == after[0]["runs"]
    assert api.post(f"/jobs/{demo}/redo", {"uid": "redo-00002"})["runs"] == after[1]["runs"]
    assert api.post(f"/jobs/{demo}/redo", {"uid": "redo-00003"}, expect=409)["code"] == "nothing_to_redo"


def test_removing_a_box_and_undoing_brings_all_back(api: Api, demo: str) -> None:
    before = api.get(f"/jobs/{demo}")
    gone = api.post(f"/jobs/{demo}/changes", change(1, {"op": "remove_device", "device": "den-screen"}))
    assert "den" not in verdicts(gone)
    back = api.post(f"/jobs/{demo}/undo", {"uid": "undo-aaaaa"})
    by_uid = lambda view, key: sorted(view[key], key=lambda x: x["uid"])  # noqa: E731  (a one-line helper)
    for key in ("devices", "leads", "runs"):
        assert by_uid(back, key) == by_uid(before, key)


def test_trying_writes_nothing(api: Api, demo: str) -> None:
    tried = api.post(f"/jobs/{demo}/try", {"ops": [WIDEST]})
    assert verdicts(tried)["den"] == "fits"
    assert verdicts(api.get(f"/jobs/{demo}"))["den"] == "blocked"
    assert Job.objects.get(uid=demo).revision == 1


@pytest.mark.parametrize(
    ("body", "where"),
    [
        ({}, "base_revision"),
        (change(1), "ops"),
        (change(1, {"op": "explode"}), "ops.0.op"),
        (change(1, {**WIDEST, "scope": 3}), "ops.0.scope"),
        (change(1, {**WIDEST, "colour": "red"}), "ops.0.colour"),
        (change(1, WIDEST, {**FORMAT, "value": "huge"}), "ops.1"),
        ({**change(1, WIDEST), "base_revision": False}, "base_revision"),
        ({**change(1, WIDEST), "uid": "no"}, "uid"),
        ({**change(1, WIDEST), "ops": "all"}, "ops"),
        ("text", "base_revision"),
    ],
)
def test_a_malformed_change_is_refused_and_nothing_is_half_written(body: Any, where: str, api: Api, demo: str) -> None:
    problem = api.post(f"/jobs/{demo}/changes", body, expect=422)
    assert problem["where"] == where
    assert (Job.objects.get(uid=demo).revision, ChangeSet.objects.count()) == (1, 1)


def test_what_is_no_json_and_what_is_too_large(api: Api, demo: str) -> None:
    token = api.client.cookies[site.CSRF_COOKIE_NAME].value
    for text, status in (("{", 400), ("[" * 100_000, 400), ("x" * 3_000_000, 413)):
        response = api.client.post(
            f"/api/v1/jobs/{demo}/changes", text, content_type="application/json", headers={"X-CSRFToken": token}
        )
        assert response.status_code == status
        assert response["Content-Type"] == "application/problem+json"


_JSON = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats(allow_nan=False) | st.text(max_size=8),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=8), inner, max_size=3),
    max_leaves=8,
)
_KEYS = st.sampled_from(["device", "lead", "run", "title", "key", "value", "scope", "layer", "end", "to", "leads",
                         "select", "path", "grade", "length_mm", "label", "provenance"])  # fmt: skip


@settings(max_examples=150, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.data())
def test_any_change_is_applied_or_refused_plainly(data: st.DataObject) -> None:
    """Whatever JSON an op holds: a new rig or a ChangeError, never anything else."""
    from tests.rigs import s03
    from wavilex.core.errors import ChangeError
    from wavilex.core.rig.changes import apply
    from wavilex.core.rig.ops import KINDS

    known = st.sampled_from(["tv", "base", "A1", "base", "format", "hdmi1", "plan", "b", {"uid": "n", "label": "n"}])
    op = data.draw(st.dictionaries(_KEYS, _JSON | known, max_size=8))
    with contextlib.suppress(ChangeError):
        apply(s03(), [{**op, "op": data.draw(st.sampled_from(KINDS))}])


def test_a_job_goes_out_and_comes_in_whole(api: Api, demo: str) -> None:
    api.post(f"/jobs/{demo}/changes", change(1, WIDEST))
    text = json.dumps(api.get(f"/jobs/{demo}/file"))
    made = api.post("/import", {"text": text}, expect=201)
    original = api.get(f"/jobs/{demo}")
    assert made["uid"] != demo
    for key in ("title", "devices", "leads", "runs", "titles", "survey"):
        assert made[key] == original[key]
    assert {**json.loads(text), "uid": ""} == {**api.get(f"/jobs/{made['uid']}/file"), "uid": ""}


@pytest.mark.parametrize(
    ("spoil", "where"),
    [
        (lambda d: d.update(wavilex_job=99), "wavilex_job"),
        (lambda d: d["leads"][2].update(grade="gold"), "leads.2"),
        (lambda d: d["runs"][0].update(sink="nobody"), "runs.0"),
        (lambda d: d["profiles"].clear(), "devices.0.profile"),
    ],
)
def test_a_broken_job_file_is_refused_and_leaves_nothing(
    spoil: Callable[[Any], None], where: str, api: Api, demo: str
) -> None:
    data = api.get(f"/jobs/{demo}/file")
    spoil(data)
    boxes = Device.objects.count()
    assert api.post("/import", {"text": json.dumps(data)}, expect=422)["where"] == where
    assert (Job.objects.count(), Device.objects.count()) == (1, boxes)


def test_a_broken_profile_names_its_line(api: Api) -> None:
    problem = api.post("/library/read", {"text": "wavilex_profile: 1\nid: x\nrole: hammer\n"}, expect=422)
    assert problem["code"] == "profile_invalid"
    assert problem["line"] in (1, 3)


def test_answers_about_a_run(api: Api, demo: str) -> None:
    fixes = api.get(f"/jobs/{demo}/runs/den/fixes")
    assert fixes["proved"]
    assert fixes["ways"][0]["label"] == "Den receiver, Game: Input format → widest"
    table = api.get(f"/jobs/{demo}/runs/den/table")
    assert table["rows"][0]["mode"] == "3840x2160@120"
    told = api.get(f"/jobs/{demo}/runs/match/explain?mode=2560x1440@144&encoding=rgb&bits=8")
    assert "Fits with" in told["sentence"]
    ranked = api.get(f"/jobs/{demo}/inputs?device=den-console&port=hdmi")
    assert ranked[0]["name"] == "Den screen · HDMI 4"
    api.get(f"/jobs/{demo}/runs/none/fixes", expect=404)
    api.get(f"/jobs/{demo}/inputs?device=den-console&port=none", expect=422)
    api.get(f"/jobs/{demo}?layer=dream", expect=422)
    api.get("/jobs/none", expect=404)


def test_reading_a_job_costs_a_bounded_number_of_queries(api: Api, demo: str) -> None:
    forget()
    with CaptureQueriesContext(
        connection,
    ) as cold:
        api.get(f"/jobs/{demo}")
    with CaptureQueriesContext(connection) as warm:
        api.get(f"/jobs/{demo}")
    assert len(cold) <= 16
    assert len(warm) <= 5


def test_the_handover_holds_wiring_signals_settings_and_cautions(api: Api, demo: str) -> None:
    api.post(f"/jobs/{demo}/changes", change(1, WIDEST))
    page = api.get(f"/jobs/{demo}/handover")
    den = next(r for r in page["runs"] if r["label"] == "Den console")
    assert (den["signal"], den["verdict"]) == ("2160p120 RGB 10-bit", "fits")
    assert "91.9 %" in den["why"]
    to_make = [s for s in page["settings"] if s["make"]]
    assert ("Den receiver", "Game", "widest") in {(s["device"], s["socket"], s["plan"]) for s in to_make}
    assert any("photosensitive" in c for c in page["cautions"])
    assert {row["label"] for row in page["wiring"]} >= {"A1", "B1", "B2", "C1", "V1"}


def test_an_archived_job_leaves_the_list_and_comes_back(api: Api, demo: str) -> None:
    api.post(f"/jobs/{demo}/archive", {"archived": True})
    assert api.get("/jobs")["jobs"] == []
    assert api.get("/jobs?archived=true")["jobs"][0]["uid"] == demo
    api.post(f"/jobs/{demo}/archive", {"archived": False})
    assert api.get("/jobs")["jobs"][0]["uid"] == demo


def merged(before: dict[str, Any], answer: dict[str, Any]) -> dict[str, Any]:
    """What a page shows after a change: what it had, with what was sent over it, in the order sent."""
    whole = {k: v for k, v in answer.items() if k != "order"}
    for kind, uids in answer["order"].items():
        rows = {row["uid"]: row for row in (*before[kind], *answer[kind])}
        whole[kind] = [rows[uid] for uid in uids]
    return whole


@pytest.mark.parametrize(
    "op",
    [
        WIDEST,
        {"op": "set_want", "run": "den", "key": "bits", "value": 8},
        {"op": "remove_run", "run": "museum"},
        {"op": "replace_lead", "lead": "B2", "label": "B2 new"},
        {"op": "set_title", "value": "Another name"},
    ],
)
def test_what_changed_over_what_was_is_what_is(op: dict[str, Any], api: Api, demo: str) -> None:
    """The answer to a change, laid over what the page had, equals the job read afresh; unchanged runs are not sent."""
    before = api.get(f"/jobs/{demo}")
    answer = api.post(f"/jobs/{demo}/changes?known={before['mark']}", change(1, op))
    assert TypeAdapter(ChangedView).validate_python(answer) == answer
    assert len(answer["runs"]) <= 3
    forget()
    assert merged(before, answer) == api.get(f"/jobs/{demo}")


def test_all_is_sent_where_the_known_content_is_forgotten(api: Api, demo: str) -> None:
    mark = api.get(f"/jobs/{demo}")["mark"]
    forget()
    answer = api.post(f"/jobs/{demo}/changes?known={mark}", change(1, WIDEST))
    assert [r["uid"] for r in answer["runs"]] == answer["order"]["runs"]


def test_a_thousand_jobs_list_without_working_any_out(api: Api, demo: str, monkeypatch: pytest.MonkeyPatch) -> None:
    """The list reads what is kept with each job: two queries a page, no rig loaded."""
    summary = Job.objects.get(uid=demo).summary
    Job.objects.bulk_create(Job(uid=f"job-{n}", title=f"Job {n}", summary=summary) for n in range(1000))
    monkeypatch.setattr("wavilex.server.jobs.cache.load_rig", None)
    forget()
    with CaptureQueriesContext(connection) as queries:
        page = api.get("/jobs?page=3")
    assert (len(page["jobs"]), page["page"], page["pages"], page["total"]) == (50, 3, 21, 1001)
    assert page["jobs"][0]["runs"] == summary["runs"]
    assert len(queries) <= 4  # account and session among them
    assert api.get("/jobs?page=99")["page"] == 21


def test_verdicts_in_the_list_follow_each_change(api: Api, demo: str) -> None:
    def of(label: str) -> str:
        rows = api.get("/jobs")["jobs"][0]["runs"]
        return str(next(r["verdict"] for r in rows if r["label"] == label))

    assert of("Den console") == "blocked"
    api.post(f"/jobs/{demo}/changes", change(1, WIDEST))
    assert of("Den console") == "fits"
    api.post(f"/jobs/{demo}/undo", {"uid": "undo-0001"})
    assert of("Den console") == "blocked"


def test_a_new_job_stands_in_the_list_with_no_run_yet(api: Api) -> None:
    api.post("/jobs", {"title": "Quay arcade"}, expect=201)
    row = api.get("/jobs")["jobs"][0]
    assert (row["title"], row["boxes"], row["runs"]) == ("Quay arcade", 0, [])


def test_summaries_of_another_version_are_worked_out_again(demo: str) -> None:
    kept = Job.objects.get(uid=demo).summary
    for stale in (None, {**kept, "version": "0.0.9", "boxes": 1}):
        Job.objects.filter(uid=demo).update(summary=stale)
        assert fill_summaries() == 1
        assert Job.objects.get(uid=demo).summary == kept
    assert fill_summaries() == 0


def test_what_is_remembered_stays_within_its_bound(api: Api, demo: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(memory, "_most", 400_000)
    forget()
    for n in range(12):
        api.post(f"/jobs/{demo}/changes", change(n + 1, {**FORMAT, "value": ("wide", "widest")[n % 2]}))
    standing = memory.standing()
    assert standing.held_bytes <= standing.most_bytes == 400_000
    assert standing.entries > 10
