"""Accounts: every call needs one, roles hold, CSRF is on, attempts are limited, headers are safe."""

from __future__ import annotations

import re
from collections.abc import Callable

import pytest
from django.conf import settings
from django.test import Client

from tests.conftest import Api
from wavilex.server.api import api as ninja_api

OPEN = {
    "/api/v1/ready", "/api/v1/session/door", "/api/v1/session/sign-in", "/api/v1/session/demo",
    "/api/v1/probe/{code}",  # by its code
}  # fmt: skip


def operations() -> list[tuple[str, str]]:
    paths = ninja_api.get_openapi_schema()["paths"]
    return [(method.upper(), path) for path, ops in paths.items() for method in ops if path not in OPEN]


@pytest.mark.django_db
@pytest.mark.parametrize(("method", "path"), operations())
def test_nobody_gets_in_without_an_account(method: str, path: str, make_api: Callable[[str], Api]) -> None:
    address = re.sub(r"\{[^}]*seq[^}]*\}", "1", path.removeprefix("/api/v1"))
    make_api("")(method, re.sub(r"\{.*?\}", "x", address), {} if method == "POST" else None, expect=401)


def test_a_viewer_reads_and_tries_but_does_not_write(make_api: Callable[[str], Api], demo: str) -> None:
    viewer = make_api("viewer")
    assert viewer.get(f"/jobs/{demo}")["title"] == "Pierhead Game Library"
    op = {"op": "set_title", "value": "Mine"}
    assert viewer.post(f"/jobs/{demo}/try", {"ops": [op]})["title"] == "Mine"
    change = {"base_revision": 1, "uid": "12345678", "ops": [op]}
    assert viewer.post(f"/jobs/{demo}/changes", change, expect=403)["code"] == "viewer"
    assert viewer.post("/import", {"text": "{}"}, expect=403)["code"] == "viewer"
    assert viewer.get(f"/jobs/{demo}")["title"] == "Pierhead Game Library"


def test_a_write_without_the_token_is_refused(api: Api, demo: str) -> None:
    response = api.client.post(f"/api/v1/jobs/{demo}/undo", {"uid": "12345678"}, content_type="application/json")
    assert response.status_code == 403
    assert response.json()["code"] == "csrf"


def test_sign_in_is_checked_and_limited(make_api: Callable[[str], Api]) -> None:
    make_api("technician")
    stranger = make_api("")
    for _ in range(settings.AXES_FAILURE_LIMIT - 1):
        got = stranger.post("/session/sign-in", {"name": "technician", "password": "guess"}, expect=401)
        assert got["code"] == "wrong_password"
    stranger.post("/session/sign-in", {"name": "technician", "password": "guess"}, expect=429)
    locked = stranger.post("/session/sign-in", {"name": "technician", "password": "a long password"}, expect=429)
    assert locked["code"] == "locked_out"


def test_signing_out_ends_it(api: Api) -> None:
    assert api.get("/session")["role"] == "technician"
    api("POST", "/session/sign-out", expect=204)
    api.get("/session", expect=401)


def test_the_demo_door_opens_only_in_a_demo(make_api: Callable[[str], Api], settings: object) -> None:
    assert make_api("").post("/session/demo")["name"] == "demo"
    settings.DEMO = False  # type: ignore[attr-defined]
    assert make_api("").post("/session/demo", expect=403)["code"] == "no_demo"


def test_the_page_has_a_strict_policy_and_no_inline_script(client: Client, db: None) -> None:
    response = client.get("/jobs/pierhead/signal")
    policy = response["Content-Security-Policy"]
    scripts = re.search(r"script-src ([^;]*)", policy)
    assert scripts
    assert scripts[1].strip() == "'self'"
    assert "default-src 'none'" in policy
    assert "<script>" not in response.content.decode()
    assert "no-cache" in response["Cache-Control"]
    assert response["X-Frame-Options"] == "DENY"
    assert response["X-Content-Type-Options"] == "nosniff"


@pytest.mark.parametrize("path", ["/api/v1/nothing", "/api/", "/api/v2/jobs", "/static/nothing.js"])
def test_an_address_that_is_none_is_a_problem_document(path: str, client: Client, db: None) -> None:
    response = client.get(path)
    assert (response.status_code, response["Content-Type"]) == (404, "application/problem+json")


def test_a_strange_host_is_refused(client: Client, db: None) -> None:
    response = client.get("/api/v1/ready", headers={"host": "elsewhere.example"})
    assert (response.status_code, response["Content-Type"]) == (400, "application/problem+json")


def test_settings_are_those_of_a_real_installation() -> None:
    assert settings.DEBUG is False
    assert len(settings.SECRET_KEY) > 60
    assert (settings.DATA / "secret_key").stat().st_mode & 0o077 == 0
    from django.db import connection

    assert connection.settings_dict["OPTIONS"]["transaction_mode"] == "IMMEDIATE"
    assert "synchronous=FULL" in connection.settings_dict["OPTIONS"]["init_command"]
