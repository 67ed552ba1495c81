"""The API against its own document: any call it describes is answered as documented, never with a 500."""

from __future__ import annotations

import itertools
import subprocess
import sys
import urllib.request
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from http.cookiejar import CookieJar
from pathlib import Path
from typing import Any

import pytest
import schemathesis
from django.conf import settings as site
from django.core.signals import request_finished, request_started
from django.db import close_old_connections
from hypothesis import HealthCheck, Phase, given, settings
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import content_type_conformance, status_code_conformance

from tests.conftest import Api
from tests.server.live import Server
from wavilex.server.api import api as ninja_api
from wavilex.server.config.wsgi import application

SCHEMA = schemathesis.openapi.from_dict(ninja_api.get_openapi_schema())
LEFT_OUT = ("signIn", "enterDemo", "signOut", "takeReadings", "stopMeter")  # sessions and meters have their own tests


@contextmanager
def one_connection() -> Iterator[None]:
    """The test's own transaction must outlive each request; Django's test client undoes this at each call."""
    for signal in (request_started, request_finished):
        signal.disconnect(close_old_connections)
    yield
    for signal in (request_started, request_finished):
        signal.connect(close_old_connections)


def operations() -> list[Any]:
    every = [result.ok() for result in SCHEMA.get_all_operations()]
    return [o for o in every if o.definition.raw["operationId"] not in LEFT_OUT]


CHECKS = (not_a_server_error, status_code_conformance, content_type_conformance)
FOR_ALL = ("ready", "door", "probeHello", "probeResult")  # that nobody needs an account for


def name_of(operation: Any) -> str:
    return str(operation.definition.raw["operationId"])


def statuses(operation: Any, examples: int, jobs: tuple[str, ...], **call: Any) -> set[int]:
    """Call an operation as its document allows it, most times of a job that is there; what was answered."""
    seen: set[int] = set()
    turn = itertools.count()

    @settings(
        max_examples=examples, deadline=None, database=None, phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )  # fmt: skip
    @given(case=operation.as_strategy())
    def check(case: Any) -> None:
        if "job_uid" in (case.path_parameters or {}):
            case.path_parameters["job_uid"] = jobs[next(turn) % len(jobs)]
        response = case.call(**call)
        seen.add(response.status_code)
        case.validate_response(response, checks=CHECKS)

    check()
    return seen


def as_signed_in(api: Api) -> dict[str, Any]:
    cookies = {name: morsel.value for name, morsel in api.client.cookies.items()}
    headers = {"X-CSRFToken": cookies[site.CSRF_COOKIE_NAME]}
    return {"app": application, "base_url": "http://localhost", "headers": headers, "cookies": cookies}


@pytest.mark.django_db
@pytest.mark.parametrize("operation", operations(), ids=name_of)
def test_whatever_the_document_allows_is_answered_as_documented(operation: Any, api: Api, demo: str) -> None:
    with one_connection():
        seen = statuses(operation, 8, (demo,), **as_signed_in(api))
    assert not seen & {401, 403}, "the calls never got past the door"


@pytest.mark.django_db
@pytest.mark.parametrize("operation", operations(), ids=name_of)
def test_a_viewer_and_nobody_are_answered_as_documented(
    operation: Any, make_api: Callable[[str], Api], demo: str
) -> None:
    signed_in = as_signed_in(make_api("viewer"))
    with one_connection():
        viewer = statuses(operation, 1, (demo,), **signed_in)
        nobody = statuses(operation, 1, (demo,), app=application, base_url="http://localhost")
    assert 401 not in viewer
    assert nobody <= {401, 403} or name_of(operation) in FOR_ALL


@pytest.mark.soak
def test_for_long_against_a_live_server(tmp_path: Path) -> None:
    """As technician, viewer and nobody; afterwards every job that is there still opens, and the data is sound."""
    server = Server(tmp_path / "data")
    try:
        callers = {"technician": server.jar, "viewer": viewer_at(server), "nobody": CookieJar()}
        address = f"http://127.0.0.1:{server.port}"
        for operation in operations():
            for role, jar in callers.items():
                cookies = {c.name: c.value or "" for c in jar}
                token = next((v for n, v in cookies.items() if n.startswith("wavilex_token")), "")
                jobs = tuple(j["uid"] for j in server.call("/jobs")["jobs"])[:3] or ("pierhead",)
                call = {"base_url": address, "headers": {"X-CSRFToken": token}, "cookies": cookies}
                seen = statuses(operation, 60, jobs, **call)
                assert role != "nobody" or seen <= {401, 403} or name_of(operation) in FOR_ALL
        for archived in ("false", "true"):
            for job in server.call(f"/jobs?archived={archived}")["jobs"]:
                assert not job["broken"]
                for sheet in ("", "/runsheet", "/handover", "/file", "/settings-plan"):
                    server.call(f"/jobs/{job['uid']}{sheet}")
        words = [sys.executable, "-m", "wavilex.server.manage", "check_data"]
        sound = subprocess.run(words, env=server.env, capture_output=True, text=True, check=False)
        assert sound.returncode == 0, sound.stdout
    finally:
        server.kill()


def viewer_at(server: Server) -> CookieJar:
    """Signed in at a live server as a viewer."""
    words = [sys.executable, "-m", "wavilex.server.manage", "account", "vi", "--role", "viewer"]
    subprocess.run(words, env=server.env, input="a long password\n", text=True, check=True, capture_output=True)
    guest = Server.__new__(Server)
    guest.port, guest.jar = server.port, CookieJar()
    guest.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(guest.jar))
    guest.call("/session/door")
    guest.call("/session/sign-in", {"name": "vi", "password": "a long password"})
    return guest.jar


def test_no_two_shapes_share_a_name() -> None:
    """One of them would silently stand for both in the document."""
    import pkgutil
    import sys
    from collections import defaultdict
    from importlib import import_module

    from ninja import Schema
    from typing_extensions import is_typeddict

    import wavilex.core

    for module in pkgutil.walk_packages(wavilex.core.__path__, "wavilex.core."):
        if module.name.endswith((".shapes", ".ops")):
            import_module(module.name)
    homes: dict[str, set[str]] = defaultdict(set)
    for name, module in list(sys.modules.items()):
        for kind in vars(module).values() if name.startswith("wavilex.") else ():
            if is_typeddict(kind) or (isinstance(kind, type) and issubclass(kind, Schema)):
                homes[kind.__name__].add(kind.__module__)
    own = {name: where for name, where in homes.items() if any(w.startswith("wavilex.") for w in where)}
    assert len(own) > 150
    assert {name: where for name, where in own.items() if len(where) > 1} == {}
