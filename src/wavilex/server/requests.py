"""What happens to every request: an id, a size check before anything is read, headers."""

from __future__ import annotations

import uuid
from collections.abc import Callable

from django.conf import settings
from django.db import DatabaseError
from django.http import HttpRequest, HttpResponse

from wavilex.server.accounts.asking import note
from wavilex.server.config import limits
from wavilex.server.problems import database_problem, problem
from wavilex.server.upkeep.health import note_memory

_MOST = {
    "/import": limits.FILE_BYTES, "/readings.csv": limits.FILE_BYTES, "/photographs": limits.PHOTOGRAPH_BYTES,
    "/job-packs": limits.FILE_BYTES, "/job-packs/check": limits.FILE_BYTES,
    "/part": limits.FILM_PART_BYTES,
}  # fmt: skip
_PROBE = "/api/v1/probe/"
_READS = ("GET", "HEAD", "OPTIONS")
_SESSION = "/api/v1/session"


class RequestMiddleware:
    """Gives each request an id; refuses bodies over the limit by their stated length."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        note(None)
        request.request_id = uuid.uuid4().hex[:12]  # type: ignore[attr-defined]
        length = request.META.get("CONTENT_LENGTH") or "0"
        most = next((n for ends, n in _MOST.items() if request.path.endswith(ends)), limits.BODY_BYTES)
        if request.path.startswith(_PROBE):
            most = limits.PROBE_BYTES
        if not length.isdigit() or int(length) > most:
            words = (
                f"What was sent is larger than {most // 2**20} MB." if most >= 2**20 else "That is too much at once."
            )
            response: HttpResponse = problem(request, 413, "body_too_large", words)
        elif settings.READ_ONLY and request.method not in _READS and not request.path.startswith(_SESSION):
            response = problem(request, 409, "read_only", settings.READ_ONLY)
        else:
            head = request.method == "HEAD" and request.path.startswith("/api/")
            if head:  # answered as a GET is, without the body
                request.method = "GET"
            try:
                response = self.get_response(request)
            except DatabaseError as error:  # a session that cannot be read, for one
                response = database_problem(request, error)
            if response.status_code == 405 and request.path.startswith("/api/"):
                allowed = response.headers.get("Allow", "")
                response = problem(request, 405, "method_not_allowed", f"This address takes {allowed} only.")
                response["Allow"] = allowed
            if head:
                response = without_body(response)
        if request.method == "POST" and request.path.startswith("/api/"):
            note_memory()
        response["X-Request-Id"] = request.request_id  # type: ignore[attr-defined]
        if request.path.startswith("/api/"):
            response.setdefault("Cache-Control", "no-store")
        return response


def without_body(response: HttpResponse) -> HttpResponse:
    """The answer to a HEAD: what the GET answers, its length told, nothing sent (RFC 9110, 9.3.2)."""
    length = None if response.streaming else len(response.content)
    bare = HttpResponse(status=response.status_code, headers=dict(response.headers))
    if length is not None:
        bare["Content-Length"] = str(length)
    return bare
