"""Fixtures for every test that needs the server."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Any

import pytest
from django.conf import settings as site
from django.contrib.auth import get_user_model
from django.test import Client
from hypothesis import HealthCheck, settings
from pytest_django.plugin import DjangoDbBlocker

# A busy machine may stall for a second: how long an example takes says nothing about what it shows.
settings.register_profile("house", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("house")


@pytest.fixture(autouse=True)
def _fresh_cache() -> None:
    """Rows come again under the same ids in each test."""
    from wavilex.server.jobs.cache import forget

    forget()


class Api:
    """The test client speaking JSON, with the CSRF token a page would send."""

    def __init__(self, client: Client) -> None:
        self.client = client

    def __call__(self, method: str, path: str, body: Any = None, expect: int = 200) -> Any:
        token = self.client.cookies[site.CSRF_COOKIE_NAME].value if site.CSRF_COOKIE_NAME in self.client.cookies else ""
        response = self.client.generic(
            method, f"/api/v1{path}", body if isinstance(body, bytes) else json.dumps(body) if body is not None else "",
            content_type="application/json", headers={"X-CSRFToken": token},
        )  # fmt: skip
        text = response.getvalue().decode()
        assert response.status_code == expect, f"{response.status_code}: {text[:400]}"
        if expect >= 400:
            assert response["Content-Type"] == "application/problem+json"
            assert {"type", "title", "status", "code", "detail", "where", "request_id"} <= set(json.loads(text))
        return json.loads(text) if text else None

    def get(self, path: str, expect: int = 200) -> Any:
        return self("GET", path, expect=expect)

    def post(self, path: str, body: Any = None, expect: int = 200) -> Any:
        return self("POST", path, body if body is not None else {}, expect=expect)


@pytest.fixture
def make_api(db: None) -> Callable[[str], Api]:
    """An API client signed in with a role; \"\" for nobody. CSRF is enforced."""
    from wavilex.server.accounts.roles import give_role

    def make(role: str) -> Api:
        api = Api(Client(enforce_csrf_checks=True))
        api.get("/session/door")
        if role:
            user, made = get_user_model().objects.get_or_create(username=role)
            if made:
                user.set_password("a long password")
                user.save()
                give_role(user, role)
            api.post("/session/sign-in", {"name": role, "password": "a long password"})
        return api

    return make


@pytest.fixture
def api(make_api: Callable[[str], Api]) -> Api:
    """Signed in as a technician."""
    return make_api("technician")


@pytest.fixture(scope="session")
def django_db_setup(django_db_setup: None, django_db_blocker: DjangoDbBlocker) -> None:
    """The demo is seeded once, before any test's transaction."""
    from django.core.management import call_command

    with django_db_blocker.unblock():
        call_command("seed_demo")


@pytest.fixture
def demo(db: None) -> str:
    """The demo job's uid, seeded; again where a test without a transaction emptied the tables."""
    from django.core.management import call_command

    from wavilex.library.pierhead import DEMO_UID
    from wavilex.server.jobs.models import Job

    if not Job.objects.filter(uid=DEMO_UID).exists():
        call_command("seed_demo")
    return DEMO_UID
