"""Accounts by command, locks that keep strangers out and owners in, kept jobs, requests sent twice."""

from __future__ import annotations

import io
import json
import re
from collections.abc import Callable
from typing import Any

import pytest
from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.management import CommandError, call_command
from django.test import Client

from tests.conftest import Api
from tests.server.test_access import operations
from wavilex.server.jobs.models import ChangeSet, Job, Sent

GOOD = "several plain words"


def account(monkeypatch: pytest.MonkeyPatch, *words: str, typed: str = GOOD) -> str:
    out = io.StringIO()
    monkeypatch.setattr("sys.stdin", io.StringIO(f"{typed}\n"))
    call_command("account", *words, stdout=out)
    return out.getvalue()


def sign_in(client: Client, name: str, password: str, address: str = "127.0.0.1") -> Any:
    client.get("/api/v1/session/door")
    headers = {"X-CSRFToken": client.cookies[settings.CSRF_COOKIE_NAME].value}
    body = {"name": name, "password": password}
    return client.post(
        "/api/v1/session/sign-in", body, content_type="application/json", headers=headers, REMOTE_ADDR=address
    )


def strict() -> Client:
    return Client(enforce_csrf_checks=True)


@pytest.mark.django_db
def test_accounts_are_made_listed_changed_and_removed(monkeypatch: pytest.MonkeyPatch) -> None:
    assert "No account yet" in account(monkeypatch)
    assert "may sign in as technician" in account(monkeypatch, "ada")
    assert "may sign in as viewer" in account(monkeypatch, "bo", "--role", "viewer")
    assert [(r["name"], r["role"]) for r in json.loads(account(monkeypatch, "--json"))] == [
        ("ada", "technician"), ("bo", "viewer"),
    ]  # fmt: skip
    assert sign_in(strict(), "bo", GOOD).json()["role"] == "viewer"
    account(monkeypatch, "bo", "--role", "technician")
    account(monkeypatch, "bo", "--password", typed="other plain words")
    assert sign_in(strict(), "bo", GOOD).status_code == 401
    signed = strict()
    assert sign_in(signed, "bo", "other plain words").json()["role"] == "technician"
    assert "may not sign in" in account(monkeypatch, "bo", "--remove")
    assert signed.get("/api/v1/session").status_code == 401
    assert sign_in(strict(), "bo", "other plain words").status_code == 401
    assert "bo" not in account(monkeypatch)


@pytest.mark.django_db
@pytest.mark.parametrize(
    ("words", "typed", "said"),
    [
        (["ada", "--remove"], GOOD, "only technician"),
        (["ada", "--role", "viewer"], GOOD, "only technician"),
        (["ada", "--password"], "1234567890", "too common"),
        (["nobody", "--remove"], GOOD, "no account nobody"),
        (["cy"], "short", "too short"),
        (["c y!"], GOOD, "valid username"),
    ],
)
def test_what_is_refused_is_said(words: list[str], typed: str, said: str, monkeypatch: pytest.MonkeyPatch) -> None:
    account(monkeypatch, "ada")
    with pytest.raises(CommandError, match=said):
        account(monkeypatch, *words, typed=typed)
    assert "ada" in account(monkeypatch)


def test_a_removed_account_stays_named_in_the_history(api: Api, demo: str, monkeypatch: pytest.MonkeyPatch) -> None:
    account(monkeypatch, "ada")
    api.post(
        f"/jobs/{demo}/changes", {"base_revision": 1, "uid": "by-somebody", "ops": [{"op": "set_title", "value": "x"}]}
    )
    account(monkeypatch, "technician", "--remove")
    assert ChangeSet.objects.get(uid="by-somebody").actor.get_username() == "technician"
    assert not get_user_model().objects.get(username="technician").is_active
    assert "may sign in" in account(monkeypatch, "technician")


# --- locks -------------------------------------------------------------------------------------------


def lock(name: str, address: str = "127.0.0.1") -> Any:
    stranger = strict()
    for _ in range(settings.AXES_FAILURE_LIMIT):
        answer = sign_in(stranger, name, "a guess", address)
    return answer


@pytest.mark.django_db
def test_a_lock_says_how_long_and_is_taken_away_by_command(monkeypatch: pytest.MonkeyPatch) -> None:
    account(monkeypatch, "ada")
    answer = lock("ada")
    assert answer.status_code == 429
    assert 0 < int(answer["Retry-After"]) <= 600
    assert "Try again in 10 minutes" in answer.json()["detail"]
    assert "locked out" in account(monkeypatch)
    assert "may try again" in account(monkeypatch, "ada", "--unlock")
    assert sign_in(strict(), "ada", GOOD).status_code == 200


@pytest.mark.django_db
def test_a_stranger_elsewhere_locks_only_himself_out(monkeypatch: pytest.MonkeyPatch) -> None:
    account(monkeypatch, "ada")
    assert lock("ada", "10.0.0.9").status_code == 429
    assert sign_in(strict(), "ada", GOOD, "10.0.0.8").status_code == 200


@pytest.mark.django_db
def test_a_stranger_at_the_same_address_does_not_keep_the_owner_out(monkeypatch: pytest.MonkeyPatch) -> None:
    account(monkeypatch, "ada")
    owner = strict()
    assert sign_in(owner, "ada", GOOD).status_code == 200
    assert lock("ada").status_code == 429
    assert sign_in(strict(), "ada", GOOD).status_code == 429  # a browser that nobody knows
    assert sign_in(owner, "ada", GOOD).status_code == 200


@pytest.mark.django_db
def test_a_known_browser_is_limited_too_and_a_forged_one_is_a_stranger(monkeypatch: pytest.MonkeyPatch) -> None:
    account(monkeypatch, "ada")
    known = strict()
    sign_in(known, "ada", GOOD)
    for _ in range(settings.AXES_FAILURE_LIMIT):
        last = sign_in(known, "ada", "a guess")
    assert last.status_code == 429
    forged = strict()
    forged.cookies[settings.KNOWN_COOKIE_NAME] = "eyJhZGEiOiJ4In0:aaaa:bbbb"
    assert sign_in(forged, "ada", GOOD).status_code == 200  # the known browser's failures are not the others'


@pytest.mark.django_db
def test_going_on_guessing_does_not_make_the_lock_longer(monkeypatch: pytest.MonkeyPatch) -> None:
    from axes.models import AccessAttempt

    account(monkeypatch, "ada")
    lock("ada")
    before = AccessAttempt.objects.get().attempt_time
    lock("ada")
    assert AccessAttempt.objects.get().attempt_time == before


def test_cookies_are_named_by_the_installation(make_api: Callable[[str], Api]) -> None:
    """A browser keeps one cookie of a name for a host, whatever the port (RFC 6265, 8.5)."""
    names = {settings.SESSION_COOKIE_NAME, settings.CSRF_COOKIE_NAME, settings.KNOWN_COOKIE_NAME}
    assert all(re.fullmatch(r"wavilex_\w+_[0-9a-f]{8}", n) for n in names)
    assert len(names) == 3


def test_the_forwarded_address_is_trusted_only_from_a_stated_proxy() -> None:
    from wavilex.server.run import trusted

    assert trusted("") == {}
    assert trusted("10.0.0.1")["trusted_proxy"] == "10.0.0.1"


# --- who sees which job ------------------------------------------------------------------------------


@pytest.fixture
def kept(api: Api, demo: str, monkeypatch: pytest.MonkeyPatch) -> str:
    """The demo kept to the technician; with a lag session."""
    account(monkeypatch, "ada")
    session = api.post(f"/jobs/{demo}/lag", {"device": "den-screen"})["uid"]
    got = api.post(f"/jobs/{demo}/access", {"kept": True})
    assert {a["name"]: a["sees"] for a in got["accounts"]} == {"ada": False, "technician": True}
    return str(session)


def another() -> Client:
    client = strict()
    assert sign_in(client, "ada", GOOD).status_code == 200
    return client


@pytest.mark.parametrize(
    ("method", "path"), [o for o in operations() if "{job_uid}" in o[1] or "{session_uid}" in o[1]]
)
def test_a_kept_job_is_not_there_for_others(method: str, path: str, kept: str, demo: str) -> None:
    client = another()
    address = path.replace("{job_uid}", demo).replace("{session_uid}", kept).replace("{layer}", "plan")
    address = re.sub(r"\{[^}]*seq[^}]*\}", "1", address)
    headers = {"X-CSRFToken": client.cookies[settings.CSRF_COOKIE_NAME].value}
    answer = client.generic(
        method, re.sub(r"\{.*?\}", "x", address), json.dumps(BODIES.get(path.rpartition("/")[2], {})),
        content_type="application/json", headers=headers,
    )  # fmt: skip
    if answer.status_code == 422:  # a body of its own was wanted: not let so far as to tell anything of the job
        assert "Pierhead" not in answer.content.decode()
    else:
        assert answer.status_code == 404, answer.content
    assert Job.objects.get(uid=demo).revision == 1


BODIES: dict[str, Any] = {
    "changes": {"base_revision": 1, "uid": "12345678", "ops": [{"op": "set_title", "value": "x"}]},
    "undo": {"uid": "12345678"}, "redo": {"uid": "12345678"}, "try": {"ops": []}, "archive": {"archived": True},
    "access": {"kept": False}, "lag": {"device": "den-screen"}, "conditions": {"condition": "x"},
    "readings": {"condition": "game", "lag_ms": 12}, "discard": {"reason": ""}, "readings.csv": {"text": ""},
    "take": {"meter": "m", "condition": "game", "count": 1}, "plan": {"conditions": ["game"]},
}  # fmt: skip


def test_a_kept_job_is_in_the_lists_of_those_it_is_kept_to(
    api: Api, kept: str, demo: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    assert [j["uid"] for j in another().get("/api/v1/jobs").json()["jobs"]] == []
    assert api.get("/jobs")["jobs"][0]["kept"] is True
    assert "now sees" in account(monkeypatch, "ada", "--sees", demo)
    assert [j["uid"] for j in another().get("/api/v1/jobs").json()["jobs"]] == [demo]
    api.post(f"/jobs/{demo}/access", {"kept": False})
    assert api.get(f"/jobs/{demo}/access")["kept"] is False


def test_the_last_who_sees_a_job_is_not_removed(
    api: Api, kept: str, demo: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    with pytest.raises(CommandError, match="Only technician sees"):
        account(monkeypatch, "technician", "--remove")


def test_a_job_cannot_be_kept_from_oneself(api: Api, demo: str) -> None:
    got = api.post(f"/jobs/{demo}/access", {"kept": True, "names": []})
    assert [a["sees"] for a in got["accounts"] if a["name"] == "technician"] == [True]
    bad = api.post(f"/jobs/{demo}/access", {"kept": True, "names": ["nobody"]}, expect=404)
    assert bad["code"] == "no_such_account"


# --- sent twice, removed for good --------------------------------------------------------------------


def test_what_is_sent_twice_is_done_once(api: Api, demo: str) -> None:
    one = api.post("/jobs", {"title": "New", "uid": "sent-once-1"}, expect=201)["uid"]
    assert api.post("/jobs", {"title": "New", "uid": "sent-once-1"}, expect=201)["uid"] == one
    assert api.post("/jobs", {"title": "New"}, expect=201)["uid"] != one
    text = api.client.get(f"/api/v1/jobs/{demo}/file").getvalue().decode()
    brought = {api.post("/import", {"text": text, "uid": "sent-once-2"}, expect=201)["uid"] for _ in range(2)}
    assert len(brought) == 1
    lag = api.post(f"/jobs/{demo}/lag", {"device": "den-screen"})["uid"]
    api.post(f"/lag/{lag}/warning")
    reading = {"condition": "game", "lag_ms": 12.5, "uid": "sent-once-3"}
    assert [api.post(f"/lag/{lag}/readings", reading, expect=201)["total"] for _ in range(2)] == [1, 1]
    table = {"text": "device,condition,lag_ms\nden-screen,game,13\n", "uid": "sent-once-4"}
    assert [api.post(f"/lag/{lag}/readings.csv", table)["session"]["total"] for _ in range(2)] == [2, 2]
    assert Sent.objects.count() == 4


def test_a_refused_request_may_be_sent_again_with_its_uid(api: Api, demo: str) -> None:
    lag = api.post(f"/jobs/{demo}/lag", {"device": "den-screen"})["uid"]
    reading = {"condition": "game", "lag_ms": 12.5, "uid": "sent-once-5"}
    api.post(f"/lag/{lag}/readings", reading, expect=409)
    api.post(f"/lag/{lag}/warning")
    assert api.post(f"/lag/{lag}/readings", reading, expect=201)["total"] == 1


def test_a_job_is_removed_only_from_what_is_put_away(api: Api, demo: str) -> None:
    step = api.get(f"/jobs/{demo}/runsheet")["next"]
    tick = {"uid": "a-tick-of-it", "key": step, "state": "done", "said_at": "2026-11-02T10:00:00Z"}
    api.post(f"/jobs/{demo}/ticks", tick)
    assert api("DELETE", f"/jobs/{demo}", expect=409)["code"] == "put_away_first"
    api.post(f"/jobs/{demo}/archive", {"archived": True})
    api("DELETE", f"/jobs/{demo}", expect=204)
    api.get(f"/jobs/{demo}", expect=404)
    assert not ChangeSet.objects.exists()


def test_discarded_readings_can_be_removed_for_good(api: Api, demo: str) -> None:
    lag = api.post(f"/jobs/{demo}/lag", {"device": "den-screen"})["uid"]
    api.post(f"/lag/{lag}/warning")
    for n in range(3):
        api.post(f"/lag/{lag}/readings", {"condition": "game", "lag_ms": 12 + n}, expect=201)
    api.post(f"/lag/{lag}/readings/2/discard", {"reason": "walked past"})
    assert [r["seq"] for r in api("DELETE", f"/lag/{lag}/readings", expect=200)["readings"]] == [1, 3]
    api.post(f"/lag/{lag}/readings", {"condition": "game", "lag_ms": 20}, expect=201)
    assert [r["seq"] for r in api.get(f"/lag/{lag}")["readings"]] == [1, 3, 4]


def test_conditions_beyond_what_a_session_holds_are_refused_row_by_row(api: Api, demo: str) -> None:
    lag = api.post(f"/jobs/{demo}/lag", {"device": "den-screen"})["uid"]
    rows = "".join(f"den-screen,mode {n:02},{10 + n}\n" for n in range(30))
    got = api.post(f"/lag/{lag}/readings.csv", {"text": f"device,condition,lag_ms\n{rows}"})
    held = len(got["session"]["conditions"])
    assert held == 24
    assert got["taken"] == 22  # two conditions were there before
    assert [r["line"] for r in got["refused"]] == list(range(24, 32))
    assert "one too many" in got["refused"][0]["why"]
