"""Codes of probes: what one lets in, and everything that is refused with nothing written."""

from __future__ import annotations

import json
from collections.abc import Iterator
from datetime import timedelta
from fractions import Fraction
from typing import Any

import pytest
from django.test import Client
from django.utils import timezone

from tests.conftest import Api
from tests.core.test_probe import clock
from tests.server.test_prove import first_run, prove
from wavilex.server.config import limits
from wavilex.server.probe.models import Probe
from wavilex.server.probe.services import RESULTS, WRONG

J = "/jobs/pierhead"
FRAMES = {"kind": "frames", "times_us": clock(Fraction(144), 4, quantum_us=100)}


@pytest.fixture(autouse=True)
def _fresh_pace() -> Iterator[None]:
    yield
    WRONG.forget()
    RESULTS.forget()


def opened(api: Api) -> dict[str, Any]:
    made: dict[str, Any] = api.post(f"{J}/runs/{first_run(api)}/probes", expect=201)
    return made


def send(code: str, data: Any = FRAMES, uid: str = "result-0001", expect: int = 200, raw: bytes = b"") -> Any:
    """As the page on the source sends it: no session, no cookie, no token."""
    body = raw or json.dumps({"uid": uid, "data": data}).encode()
    answer = Client(enforce_csrf_checks=True).post(f"/api/v1/probe/{code}", body, content_type="application/json")
    assert answer.status_code == expect, answer.content[:300]
    return json.loads(answer.content)


def revision(api: Api) -> int:
    return int(api.get(J)["revision"])


def test_the_source_measures_itself(api: Api, demo: str) -> None:
    code = opened(api)["code"]
    kept = send(code)["lines"]
    assert kept[0] == {"label": "frames a second", "observed": "144 Hz", "predicted": None, "cause": ""}
    card = next(c for c in prove(api, first_run(api))["cards"] if c["kind"] == "probe")
    seen = {x["label"]: x["seen"] for x in card["lines"]}
    assert seen["frame cadence"]["observed"].startswith("144.00 Hz")
    assert seen["frames a second"]["by"] == "technician, by the probe"
    assert api.get(f"{J}/probes")[0]["results"] == 1


def test_frames_otherwise_than_predicted_name_the_stage(api: Api, demo: str) -> None:
    """Without variable refresh the rate is predicted; a browser held to half of it says so."""
    run = first_run(api)
    op = {"op": "set_want", "run": run, "key": "vrr", "value": False}
    api.post(f"{J}/changes", {"base_revision": 1, "uid": "want-0001", "ops": [op]})
    kept = send(opened(api)["code"], {"kind": "frames", "times_us": clock(Fraction(72), 4)})["lines"]
    assert (kept[0]["observed"], kept[0]["predicted"]) == ("72 Hz", "144 Hz")
    assert "every frame twice" in kept[0]["cause"]
    assert prove(api, run)["differ"] == 1


def test_the_code_is_told_once_and_kept_as_a_digest(api: Api, demo: str) -> None:
    made = opened(api)
    assert made["code"] in made["address"]
    assert made["qr_svg"].startswith("<svg")
    assert made["here_only"] is False  # the test client's host is no loopback name
    assert made["code"] not in json.dumps(api.get(f"{J}/probes"))
    assert made["code"] not in str(list(Probe.objects.values()))


def test_its_page_sets_no_cookie_and_tells_nothing(api: Api, demo: str) -> None:
    client = Client()
    first, second = client.get(f"/p/{opened(api)['code']}"), client.get("/p/none")
    assert first.status_code == second.status_code == 200
    assert not first.cookies
    assert len(first.content) == len(second.content)


@pytest.mark.parametrize("spoilt", ["expired", "revoked", "archived", "none", "shifted"])
def test_a_code_that_does_not_count_is_refused_and_nothing_written(api: Api, demo: str, spoilt: str) -> None:
    made = opened(api)
    code = made["code"]
    row = Probe.objects.get(uid=made["probe"]["uid"])
    if spoilt == "expired":
        Probe.objects.filter(pk=row.pk).update(expires_at=timezone.now() - timedelta(seconds=1))
    elif spoilt == "revoked":
        api.post(f"{J}/probes/{row.uid}/revoke")
    elif spoilt == "archived":
        api.post(f"{J}/archive", {"archived": True})
    elif spoilt == "none":
        code = "abcdefghjk"
    else:
        code = code[:-1] + ("2" if code[-1] != "2" else "3")
    before = revision(api)
    assert send(code, expect=404)["code"] == "no_such_code"
    assert Client().get(f"/api/v1/probe/{code}").status_code == 404
    assert revision(api) == before
    assert Probe.objects.get(pk=row.pk).results == 0


def test_it_adds_to_its_own_run_alone(api: Api, demo: str) -> None:
    """There is no way to name another run; what it brings stands at its own."""
    send(opened(api)["code"])
    runs = [r["uid"] for r in api.get(J)["runs"]]
    with_probe = [r for r in runs if any(c["kind"] == "probe" for c in prove(api, r)["cards"])]
    assert with_probe == [first_run(api)]
    # and its code opens nothing else
    client = Client(headers={"Authorization": f"Bearer {opened(api)['code']}"})
    assert client.get(f"/api/v1{J}").status_code == 401
    assert client.get(f"/api/v1{J}/probes").status_code == 401


def test_the_same_result_again_is_refused(api: Api, demo: str) -> None:
    code = opened(api)["code"]
    send(code)
    before = revision(api)
    assert send(code, expect=409)["code"] == "already_kept"
    assert send(code, {**FRAMES, "hidden": 3}, expect=409)["code"] == "already_kept"
    assert revision(api) == before


@pytest.mark.parametrize(
    "data",
    [
        {"kind": "frames", "times_us": []},
        {"kind": "frames", "times_us": [1.5, 2.5]},
        {"kind": "frames", "times_us": [0, 1], "run": "den"},
        {"kind": "frames", "times_us": [0] * 20_001},
        {"kind": "frames", "times_us": [-1, 4]},
        {"kind": "browser", "width": 0, "height": 1080, "ratio_thousandths": 1000},
        {"kind": "pattern", "pattern": "x", "answer": "y"},
        {"kind": "note", "text": "hello"},
        None,
    ],
)
def test_what_is_no_result_is_refused(api: Api, demo: str, data: Any) -> None:
    code = opened(api)["code"]
    before = revision(api)
    send(code, data, expect=422)
    assert revision(api) == before


def test_too_large_is_refused_unread(api: Api, demo: str) -> None:
    code = opened(api)["code"]
    before = revision(api)
    assert send(code, raw=b"[" + b"0," * limits.PROBE_BYTES, expect=413)["code"] == "body_too_large"
    assert revision(api) == before


def test_guessing_codes_is_slowed_down(api: Api, demo: str) -> None:
    answers = [send("wrongwrong", uid=f"guess-{n:04}", expect=404 if n < limits.PROBE_WRONG_A_MINUTE else 429)
               for n in range(limits.PROBE_WRONG_A_MINUTE + 3)]  # fmt: skip
    assert answers[-1]["code"] == "too_often"


def test_results_come_at_a_pace(api: Api, demo: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(RESULTS, "most", 3)
    code = opened(api)["code"]
    browser = {"kind": "browser", "width": 1920, "height": 1080, "ratio_thousandths": 1000}
    for n in range(3):
        send(code, browser, f"result-{n:04}")
    before = revision(api)
    assert send(code, browser, "result-9999", expect=429)["code"] == "too_often"
    assert revision(api) == before


def test_a_code_brings_so_many_results_and_no_more(api: Api, demo: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(limits, "PROBE_RESULTS", 1)
    code = opened(api)["code"]
    send(code)
    assert send(code, uid="result-0002", expect=404)


def test_viewers_open_no_codes(make_api: Any, demo: str) -> None:
    viewer = make_api("viewer")
    viewer.post(f"{J}/runs/{first_run(viewer)}/probes", expect=403)
    viewer.post(f"{J}/probes/x/revoke", expect=403)


def test_codes_of_a_job_are_few(api: Api, demo: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(limits, "PROBES_OPEN", 1)
    opened(api)
    answer = api.post(f"{J}/runs/{first_run(api)}/probes", expect=422)
    assert answer["code"] == "too_many_probes"
