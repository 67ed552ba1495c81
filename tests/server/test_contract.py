"""The API against its own document: any call it describes is answered as documented, never with a 500."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

import pytest
import schemathesis
from django.conf import settings as site
from django.core.signals import request_finished, request_started
from django.db import close_old_connections
from hypothesis import HealthCheck, Phase, given, settings
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import status_code_conformance

from tests.conftest import Api
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


@pytest.mark.django_db
@pytest.mark.parametrize("operation", operations(), ids=lambda o: o.definition.raw["operationId"])
def test_whatever_the_document_allows_is_answered_as_documented(operation: Any, api: Api, demo: str) -> None:
    cookies = {name: morsel.value for name, morsel in api.client.cookies.items()}
    headers = {"X-CSRFToken": cookies[site.CSRF_COOKIE_NAME]}

    seen: set[int] = set()

    @settings(
        max_examples=12, deadline=None, database=None, phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )  # fmt: skip
    @given(case=operation.as_strategy())
    def check(case: Any) -> None:
        if "job_uid" in (case.path_parameters or {}):
            case.path_parameters["job_uid"] = demo  # a job that is there, half the point of asking
        response = case.call(app=application, base_url="http://localhost", headers=headers, cookies=cookies)
        seen.add(response.status_code)
        case.validate_response(response, checks=(not_a_server_error, status_code_conformance))

    with one_connection():
        check()
    assert not seen & {401, 403}, "the calls never got past the door"


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
