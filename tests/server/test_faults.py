"""What breaking it on purpose showed: an error means nothing was written, one bad job is one bad row, restores hold."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest

from tests.conftest import Api
from wavilex.core.gear.profile import profile_data
from wavilex.library import starter_profiles
from wavilex.server.jobs.models import ChangeSet, Job, Want
from wavilex.server.jobs.services import fill_summaries

pytestmark = pytest.mark.django_db

MakeApi = Callable[[str], Api]


def edit(base: int, *ops: dict[str, Any], uid: str = "change-0001", **more: Any) -> dict[str, Any]:
    return {"base_revision": base, "uid": uid, "ops": list(ops), "label": "an edit", **more}


def title(value: str) -> dict[str, Any]:
    return {"op": "set_title", "value": value}


@pytest.mark.parametrize("modes", [["3840x2160@120", "vic:97"], ["vic:97", "1920x1080@60"], ["3840x2160@60"]])
def test_either_spelling_of_a_mode_works_in_either_place(modes: list[str], api: Api, demo: str) -> None:
    """A screen whose list mixes addresses and modes locked everybody out of every job."""
    for number, (gear, role) in enumerate((("yarrowby-50w", "screen"), ("kelpine-k1", "source"))):
        data = profile_data(starter_profiles()[gear])
        data["id"] = f"own-{role}"
        data["video"]["modes"] = modes
        device = {"uid": f"own-{role}", "label": role, "profile": data}
        api.post(
            f"/jobs/{demo}/changes", edit(1 + number, {"op": "add_device", "device": device}, uid=f"add-{role}-01")
        )
    ends = [{"device": "own-source", "port": "hdmi"}, {"device": "own-screen", "port": "hdmi1"}]
    lead = {"uid": "own", "label": "Own", "grade": "ultra", "length_mm": 1000, "found": ends, "plan": ends}
    run = {"uid": "own", "label": "own", "source": "own-source", "sink": "own-screen", "want": {"mode": "3840x2160@60"}}
    ops = ({"op": "add_lead", "lead": lead}, {"op": "add_run", "run": run})
    view = api.post(f"/jobs/{demo}/changes", edit(3, *ops, uid="wire-0001"))
    assert any(r["uid"] == "own" for r in view["runs"])
    assert api.get("/jobs")["total"] == 1
    assert api.get(f"/jobs/{demo}/runs/own/table")["rows"]


def test_an_edit_that_cannot_be_worked_out_is_not_written(api: Api, demo: str, monkeypatch: pytest.MonkeyPatch) -> None:
    before = api.get(f"/jobs/{demo}")

    def fails(*_: Any) -> Any:
        raise ArithmeticError

    with monkeypatch.context() as broken:
        broken.setattr("wavilex.server.jobs.views.job_view", fails)
        api.post(f"/jobs/{demo}/changes", edit(1, title("lost")), expect=500)
        api.post("/jobs", {"title": "lost too", "time_zone": "UTC"}, expect=500)
    assert api.get(f"/jobs/{demo}") == before
    assert (Job.objects.count(), ChangeSet.objects.filter(job__uid=demo).count()) == (1, 1)
    again = api.post(f"/jobs/{demo}/changes", edit(1, title("kept")))
    assert (again["title"], again["revision"]) == ("kept", 2)


def test_one_bad_job_is_one_bad_row_with_a_way_back(api: Api, demo: str) -> None:
    """As a fault in an older version, or a hand in the database, may leave it."""
    fine = api.post("/jobs", {"title": "Fine", "time_zone": "UTC"}, expect=201)["uid"]
    op = {"op": "set_want", "run": "den", "key": "mode", "value": "1920x1080@60"}
    api.post(f"/jobs/{demo}/changes", edit(1, op))
    Want.objects.filter(run__uid="den").update(mode="99999x99999@999")
    Job.objects.filter(uid=demo).update(mark="bent", summary=None)
    assert fill_summaries() == 1
    rows = {row["uid"]: row for row in api.get("/jobs")["jobs"]}
    assert rows[demo]["broken"]
    assert rows[fine]["broken"] == ""
    told = api.get(f"/jobs/{demo}", expect=422)
    assert (told["code"], told["can_undo"], told["job_title"]) == (
        "cannot_work_out",
        "an edit",
        "Pierhead Game Library",
    )
    assert [h["label"] for h in told["history"]] == ["an edit", "start"]
    file = api.get(f"/jobs/{demo}/file")
    assert next(r for r in file["runs"] if r["uid"] == "den")["want"]["mode"] == "99999x99999@999"
    back = api.post(f"/jobs/{demo}/undo", {"uid": "undo-0001", "revision": told["revision"], "line": told["line"]})
    assert back["revision"] == 3
    assert api.get("/jobs")["jobs"][0]["broken"] == ""


def test_a_profile_that_no_longer_reads_leaves_its_file(api: Api, demo: str) -> None:
    job = Job.objects.get(uid=demo)
    device = job.devices.get(uid="den-screen")
    device.profile = {**device.profile, "role": "kettle"}
    device.digest = "bent"
    device.save()
    Job.objects.filter(uid=demo).update(mark="bent")
    assert api.get(f"/jobs/{demo}", expect=422)["code"] == "cannot_work_out"
    assert api.get(f"/jobs/{demo}/file")["profiles"]["bent"]["role"] == "kettle"
    assert api.get("/jobs")["total"] == 1


def test_what_was_made_on_another_history_is_refused(api: Api, demo: str) -> None:
    """After a restore revisions may come again with other content: neither answers nor edits cross over."""
    line = api.get(f"/jobs/{demo}")["line"]
    api.post(f"/jobs/{demo}/changes", edit(1, title("before"), line=line))
    told = api.get(f"/jobs/{demo}/handover")
    assert told["title"] == "before"
    # as a restore leaves it: the same revision, another line, another content
    Job.objects.filter(uid=demo).update(line="restored", mark="restored", title="after")
    assert api.get(f"/jobs/{demo}/handover")["title"] == "after"
    refused = api.post(f"/jobs/{demo}/changes", edit(2, title("late"), uid="late-0001", line=line), expect=409)
    assert refused["code"] == "put_back"
    assert api.post(f"/jobs/{demo}/undo", {"uid": "late-undo", "line": line}, expect=409)["code"] == "put_back"


def test_undo_takes_back_what_was_seen_and_ones_own(api: Api, make_api: MakeApi, demo: str) -> None:
    view = api.post(f"/jobs/{demo}/changes", edit(1, title("mine")))
    seen = {"revision": view["revision"], "line": view["line"]}
    from django.contrib.auth import get_user_model

    from wavilex.server.accounts.roles import give_role

    other = get_user_model().objects.create_user(username="vera", password="a long password")
    give_role(other, "technician")
    vera = make_api("")
    vera.post("/session/sign-in", {"name": "vera", "password": "a long password"})
    op = {"op": "set_survey", "key": "annoys", "value": "hum"}
    vera.post(f"/jobs/{demo}/changes", edit(2, op, uid="change-0002"))
    assert api.post(f"/jobs/{demo}/undo", {"uid": "undo-0001", **seen}, expect=409)["code"] == "moved_on"
    seen["revision"] = 3
    asks = api.post(f"/jobs/{demo}/undo", {"uid": "undo-0002", **seen}, expect=409)
    assert (asks["code"], asks["by"], asks["label"]) == ("of_another", "vera", "an edit")
    assert api.get(f"/jobs/{demo}")["revision"] == 3
    assert api.post(f"/jobs/{demo}/undo", {"uid": "undo-0003", **seen, "others": True})["revision"] == 4
