"""Prove through the API: what was seen is kept once, can be taken back, grows stale, proves rates; photographs."""

from __future__ import annotations

import base64
import json
from io import BytesIO
from pathlib import Path
from typing import Any

import pytest
from django.conf import settings as site
from PIL import Image

from tests.conftest import Api
from tests.server.test_jobs import change
from wavilex.server.config import limits

R = "/jobs/pierhead/runs/{run}"
AT = "2026-11-29T09:00:00Z"


@pytest.fixture(autouse=True)
def _own_data(tmp_path: Path, settings: Any) -> None:
    settings.DATA = tmp_path


def prove(api: Api, run: str = "match", stage: str = "") -> dict[str, Any]:
    found: dict[str, Any] = api.get(f"{R.format(run=run)}/prove?stage={stage}")
    return found


def lines(told: dict[str, Any]) -> dict[str, dict[str, Any]]:
    return {x["key"]: x for c in told["cards"] for x in c["lines"]}


def line(told: dict[str, Any], ends: str) -> dict[str, Any]:
    return next(x for k, x in lines(told).items() if k.endswith(ends))


def see(api: Api, key: str, answer: str = "as_predicted", uid: str = "seen-0001", run: str = "match",
        expect: int = 200, **more: str) -> Any:  # fmt: skip
    body = {"uid": uid, "said_at": AT, "seen": [{"line": key, "answer": answer, **more}]}
    return api.post(f"{R.format(run=run)}/seen", body, expect=expect)


def picture(size: tuple[int, int] = (60, 40), kind: str = "JPEG", where: bool = False) -> bytes:
    """A photograph; where: with the place it was taken at among its data."""
    image, out = Image.new("RGB", size, (90, 40, 200)), BytesIO()
    exif = Image.Exif()
    if where:
        exif[0x010F] = "a maker"  # who made the camera
        exif.get_ifd(0x8825)[2] = (51.0, 30.0, 0.0)  # GPS latitude
    image.save(out, kind, **({"exif": exif} if kind == "JPEG" else {}))
    return out.getvalue()


def send(api: Api, data: bytes, expect: int = 201, job: str = "pierhead") -> Any:
    token = {"X-CSRFToken": api.client.cookies[site.CSRF_COOKIE_NAME].value}
    response = api.client.generic("POST", f"/api/v1/jobs/{job}/photographs", data, content_type="image/jpeg",
                                  headers=token)  # fmt: skip
    assert response.status_code == expect, response.content[:300]
    return json.loads(response.content)


def kept_picture(api: Api, job: str) -> str:
    return str(send(api, picture(), job=job)["name"])


def first_run(api: Api) -> str:
    return str(api.get("/jobs/pierhead")["runs"][0]["uid"])


def test_what_is_seen_is_kept_once_with_whom_and_when(api: Api, demo: str) -> None:
    run = first_run(api)
    key = line(prove(api, run), "banner/mode")["key"]
    first = see(api, key, run=run)
    again = see(api, key, run=run)
    assert lines(first)[key]["seen"] == lines(again)[key]["seen"]
    seen = lines(first)[key]["seen"]
    assert (seen["by"], seen["at"], seen["differs"]) == ("technician", AT, False)
    assert api.get("/jobs/pierhead")["revision"] == 2
    assert api.get("/jobs/pierhead")["rail"]["prove"]["text"] == "1 seen"


def test_nobody_signs_for_another(api: Api, demo: str) -> None:
    run = first_run(api)
    data = {"uid": "o1", "run": run, "device": "x", "line": "x", "place": "", "label": "", "answer": "seen",
            "observed": "y", "at": AT, "by": "the owner"}  # fmt: skip
    api.post("/jobs/pierhead/changes", change(1, {"op": "observe", "observation": data}))
    also = prove(api, run)["also"]
    assert [o["by"] for o in also] == ["technician"]


def test_undo_takes_it_back_with_what_it_proved(api: Api, demo: str) -> None:
    run = first_run(api)
    leads = {x["uid"]: x["proved"] for x in api.get("/jobs/pierhead")["leads"]}
    key = line(prove(api, run), "title/held")["key"]
    see(api, key, run=run)
    after = {x["uid"]: x["proved"] for x in api.get("/jobs/pierhead")["leads"]}
    changed = {u for u in leads if leads[u] != after[u]}
    assert changed, "a title that held proves its lead"
    assert all(after[u].startswith(("tmds:", "frl:")) for u in changed)
    api.post("/jobs/pierhead/undo", {"uid": "undo-0001"})
    assert {x["uid"]: x["proved"] for x in api.get("/jobs/pierhead")["leads"]} == leads
    assert lines(prove(api, run))[key]["seen"] is None


def test_not_looked_forgets_it_and_only_it(api: Api, demo: str) -> None:
    run = first_run(api)
    told = prove(api, run)
    mode, held = line(told, "banner/mode")["key"], line(told, "title/held")["key"]
    see(api, held, run=run, uid="seen-0001")
    see(api, mode, run=run, uid="seen-0002")
    proved = {x["uid"]: x["proved"] for x in api.get("/jobs/pierhead")["leads"]}
    back = {"uid": "back-0001", "seen": "seen-0001.0"}
    told = api.post(f"{R.format(run=run)}/not-seen", back)
    assert told == api.post(f"{R.format(run=run)}/not-seen", back)
    assert lines(told)[held]["seen"] is None
    assert lines(told)[mode]["seen"]["observed"] == lines(told)[mode]["says"]
    assert {x["uid"]: x["proved"] for x in api.get("/jobs/pierhead")["leads"]} != proved
    assert api.post(f"{R.format(run=run)}/not-seen", {"uid": "back-0002", "seen": "seen-9999.0"}, expect=404)


def test_it_grows_stale_and_says_since_when(api: Api, demo: str) -> None:
    told = prove(api, "den")
    key = next(k for k, x in lines(told).items() if x["says"] is not None)
    see(api, key, run="den")
    lead = next(x for x in api.get("/jobs/pierhead?layer=found")["leads"] if x["uid"] == "B1")
    move = {"op": "move_lead", "layer": "found", "lead": lead["uid"], "end": "b", "to": None}
    api.post("/jobs/pierhead/changes", change(2, move))
    api.post("/jobs/pierhead/undo", {"uid": "undo-0002"})
    assert lines(prove(api, "den"))[key]["seen"]["stale"] == []
    api.post("/jobs/pierhead/redo", {"uid": "redo-0002"})
    told = prove(api, "den")
    seen = next(o for o in [*told["also"], *(x["seen"] for x in lines(told).values() if x["seen"])] if o["line"] == key)
    assert seen["stale"][0]["what"].startswith("lead")
    assert seen["stale"][0]["since"] is not None


def test_a_rate_test_is_kept_and_proves_the_leads(api: Api, demo: str) -> None:
    run = first_run(api)
    proof = prove(api, run)["proof"]
    ask = next(t for t in proof["tests"] if t["next"])
    told = see(api, f"rate/{ask['over']}", "seen", run=run, observed="held")
    assert next(t for t in told["proof"]["tests"] if t["over"] == ask["over"])["outcome"] == "held"
    assert told["proof"]["at_most"] < proof["at_most"]
    assert any(x["proved"] == ask["over"] for x in api.get("/jobs/pierhead")["leads"])
    assert see(api, f"rate/{ask['over']}", "seen", "seen-0009", run, 422, observed="perhaps")["code"] == "no_outcome"


def test_a_revert_is_an_observation(api: Api, demo: str) -> None:
    op = {"op": "set_setting", "layer": "plan", "device": "den-console", "scope": "", "key": "fast_refresh",
          "value": "off"}  # fmt: skip
    api.post("/jobs/pierhead/changes", change(1, op))
    sheet = api.get("/jobs/pierhead/runsheet")
    step = next(s for p in sheet["phases"] for s in p["steps"] if s["title"].startswith("Den console: 120 Hz output"))
    tick = {"uid": "tick-00001", "key": step["key"], "state": "reverted", "said_at": AT}
    api.post("/jobs/pierhead/ticks", tick)
    seen = prove(api, "den")["also"]
    assert [o["observed"] for o in seen] == ["not allowed reverted, by the box itself or by its path"]
    api.post("/jobs/pierhead/ticks", {**tick, "uid": "tick-00002", "state": "undone"})
    assert prove(api, "den")["also"] == []


@pytest.mark.parametrize(
    ("key", "answer", "more", "status"),
    [
        ("nowhere/x/list/mode", "differs", {}, 404),
        ("rate/frl:9x9", "seen", {"observed": "held"}, 404),
        ("{line}", "perhaps", {}, 422),
        ("{line}", "differs", {"observed": "x" * 201}, 422),
        ("{line}", "differs", {"photo": "0123456789.jpg"}, 422),
        ("{card}/photo", "seen", {}, 422),
    ],
)
def test_what_makes_no_sense_is_refused(
    api: Api, demo: str, key: str, answer: str, more: dict[str, str], status: int
) -> None:
    run = first_run(api)
    told = prove(api, run)
    key = key.format(line=line(told, "banner/mode")["key"], card=told["cards"][0]["key"])
    see(api, key, answer, run=run, expect=status, **more)
    assert api.get("/jobs/pierhead")["revision"] == 1


def test_viewers_look_on(make_api: Any, demo: str) -> None:
    viewer = make_api("viewer")
    run = first_run(viewer)
    key = line(prove(viewer, run), "banner/mode")["key"]
    see(viewer, key, run=run, expect=403)
    send(viewer, picture(), expect=403)


# --- photographs


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "WEBP"])
def test_a_photograph_keeps_its_picture_and_nothing_else(api: Api, demo: str, kind: str) -> None:
    data = picture(kind=kind, where=kind == "JPEG")
    name = send(api, data)["name"]
    answer = api.client.get(f"/api/v1/jobs/pierhead/photographs/{name}")
    with Image.open(BytesIO(answer.content)) as kept:
        assert (kept.format, kept.size) == ("JPEG", (60, 40))
        assert not kept.getexif()
        assert "exif" not in kept.info
    assert b"a maker" in data or kind != "JPEG", "the check would see it"
    assert b"a maker" not in answer.content
    assert answer["X-Content-Type-Options"] == "nosniff"


def test_a_large_photograph_is_made_smaller(api: Api, demo: str) -> None:
    name = send(api, picture((4000, 1000)))["name"]
    answer = api.client.get(f"/api/v1/jobs/pierhead/photographs/{name}")
    with Image.open(BytesIO(answer.content)) as kept:
        assert kept.size == (limits.PHOTOGRAPH_SIDE, limits.PHOTOGRAPH_SIDE // 4)


@pytest.mark.parametrize("data", [b"", b"GIF89a" + bytes(40), b"<svg xmlns='x'><script/></svg>", picture()[:200]])
def test_what_is_no_photograph_is_refused(api: Api, demo: str, data: bytes) -> None:
    assert send(api, data, 422)["code"] == "photograph_invalid"


def test_a_bomb_is_refused_before_it_is_unpacked(api: Api, demo: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(limits, "PHOTOGRAPH_PIXELS", 1000)
    assert send(api, picture(), 422)["code"] == "photograph_large"


def test_no_path_leads_out_of_the_folder(api: Api, demo: str) -> None:
    send(api, picture())
    for name in ("..%2F..%2Fsecret_key", "%2Fetc%2Fpasswd", "none.jpg"):
        assert api.client.get(f"/api/v1/jobs/pierhead/photographs/{name}").status_code == 404


def test_photographs_travel_with_the_job_and_go_with_it(api: Api, demo: str, tmp_path: Path) -> None:
    run = first_run(api)
    name = kept_picture(api, "pierhead")
    card = prove(api, run)["cards"][0]["key"]
    told = see(api, f"{card}/photo", "seen", run=run, photo=name)
    assert [p["photo"] for p in told["cards"][0]["photos"]] == [name]
    text = api.client.get("/api/v1/jobs/pierhead/file").getvalue().decode()
    assert base64.b64decode(json.loads(text)["photographs"][name])[:2] == b"\xff\xd8"
    made = api.post("/import", {"uid": "import-0001", "text": text}, expect=201)["uid"]
    photos = api.get(f"/jobs/{made}/runs/{run}/prove")["cards"][0]["photos"]
    assert api.client.get(f"/api/v1/jobs/{made}/photographs/{photos[0]['photo']}").status_code == 200
    api.post(f"/jobs/{made}/archive", {"archived": True})
    api("DELETE", f"/jobs/{made}", expect=204)
    assert len(list((tmp_path / "photographs").rglob("*.jpg"))) == 1, "those of the other job stay"


def test_a_job_file_with_a_false_photograph_is_refused_whole(api: Api, demo: str) -> None:
    data = json.loads(api.client.get("/api/v1/jobs/pierhead/file").getvalue())
    data["photographs"] = {"x.jpg": base64.b64encode(b"no picture").decode()}
    before = api.get("/jobs")["total"]
    body = {"uid": "import-0002", "text": json.dumps(data)}
    assert api.post("/import", body, expect=422)["code"] == "photograph_invalid"
    assert api.get("/jobs")["total"] == before
