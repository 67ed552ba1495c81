"""Errors as RFC 9457 problem documents: stable code, a sentence, the place, a request id."""

from __future__ import annotations

import logging
from typing import Any

from django.core.exceptions import BadRequest, RequestDataTooBig
from django.db import DatabaseError
from django.http import HttpRequest, HttpResponse, JsonResponse
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError

from wavilex.core import refused
from wavilex.core.errors import ChangeError, JobFileError, PackError, ProfileError, WavilexError
from wavilex.core.plain import PlainError
from wavilex.server.data_state import in_words

log = logging.getLogger("wavilex.problems")


class ProblemError(Exception):
    """Raised by services for a refusal that is no rule of the core (not found, clash, no right)."""

    def __init__(self, status: int, code: str, detail: str, where: str = "", **extra: Any) -> None:
        super().__init__(detail)
        self.status, self.code, self.detail, self.where, self.extra = status, code, detail, where, extra


_STATUS: dict[type[WavilexError], int] = {
    ChangeError: 422,
    JobFileError: 422,
    PackError: 422,
    ProfileError: 422,
    WavilexError: 422,
}
_TITLES = {
    400: "The request cannot be read",
    401: "Sign in first",
    403: "Not allowed",
    404: "Not found",
    405: "Not possible here",
    409: "Somebody else changed this",
    413: "Too large",
    415: "The request cannot be read",
    422: "Not accepted",
    429: "Too many attempts",
    500: "Something went wrong here",
    503: "Not ready",
}


def problem(request: HttpRequest, status: int, code: str, detail: str, where: str = "", **extra: Any) -> JsonResponse:
    """A problem document. `where` is the place of the fault, "" when the whole request is meant."""
    body = {
        "type": f"urn:wavilex:problem:{code}",
        "title": _TITLES.get(status, "Problem"),
        "status": status,
        "code": code,
        "detail": detail,
        "where": where,
        "request_id": getattr(request, "request_id", ""),
        **extra,
    }
    return JsonResponse(body, status=status, content_type="application/problem+json")


def not_found_view(request: HttpRequest, exception: Exception | None = None) -> JsonResponse:
    return problem(request, 404, "not_found", "There is nothing at this address.")


def bad_request_view(request: HttpRequest, exception: Exception | None = None) -> JsonResponse:
    return problem(request, 400, "request_unreadable", "The request cannot be read, or names a host this is not.")


def server_error_view(request: HttpRequest) -> JsonResponse:
    return problem(request, 500, "internal", "Wavilex failed at this. Nothing was changed; the log has the details.")


def csrf_failure(request: HttpRequest, reason: str = "") -> JsonResponse:
    return problem(request, 403, "csrf", "This page is out of date. Load it again and repeat.")


_AGAIN = ("locked", "no such table", "disk is full", "readonly", "unable to open", "disk i/o")


def database_problem(request: HttpRequest, error: DatabaseError) -> JsonResponse:
    """A database that is busy, full or away: nothing was saved, and it may be asked again. Else it is our fault."""
    if not any(part in str(error).lower() for part in _AGAIN):
        log.exception("the database at %s", request.path, exc_info=error)
        return server_error_view(request)
    log.warning("not saved at %s: %s", request.path, error)
    response = problem(request, 503, "not_saved", f"{in_words(error)} Nothing was saved.")
    response["Retry-After"] = "1"
    return response


def _sentence(words: str) -> str:
    return words[:1].upper() + words[1:]


def connect_handlers(api: NinjaAPI) -> None:
    """The one map from errors to problems."""

    @api.exception_handler(WavilexError)
    def _core(request: HttpRequest, error: WavilexError) -> JsonResponse:
        status = next(s for kind, s in _STATUS.items() if isinstance(error, kind))
        extra = {"line": error.line} if isinstance(error, ProfileError) else {}
        return problem(request, status, error.code, error.message, error.where, **extra)

    @api.exception_handler(ProblemError)
    def _problem(request: HttpRequest, error: ProblemError) -> JsonResponse:
        return problem(request, error.status, error.code, error.detail, error.where, **error.extra)

    @api.exception_handler(ValidationError)
    def _invalid(request: HttpRequest, error: ValidationError) -> JsonResponse:
        first = error.errors[0]
        where = refused.place(first, skip=("body", "payload", "query", "path"))
        detail = f"{where or 'what was sent'} {refused.words(first)}."
        return problem(request, 422, "request_invalid", _sentence(detail), where)

    @api.exception_handler(AuthenticationError)
    def _unknown(request: HttpRequest, error: AuthenticationError) -> JsonResponse:
        return problem(request, 401, "not_signed_in", "Sign in to use this.")

    @api.exception_handler(RequestDataTooBig)
    def _too_big(request: HttpRequest, error: RequestDataTooBig) -> JsonResponse:
        return problem(request, 413, "body_too_large", "What was sent is too large.")

    @api.exception_handler(HttpError)
    def _http(request: HttpRequest, error: HttpError) -> JsonResponse:
        if isinstance(error.__cause__, PlainError):
            cause = error.__cause__
            return problem(request, 400, "request_unreadable", f"{_sentence(cause.message)}.", cause.where)
        code = "csrf" if error.status_code == 403 else "request_unreadable"
        return problem(request, error.status_code, code, str(error))

    @api.exception_handler(BadRequest)
    def _bad(request: HttpRequest, error: BadRequest) -> JsonResponse:
        return problem(request, 400, "request_unreadable", "The request cannot be read.")

    @api.exception_handler(DatabaseError)
    def _database(request: HttpRequest, error: DatabaseError) -> HttpResponse:
        return database_problem(request, error)

    @api.exception_handler(Exception)
    def _unforeseen(request: HttpRequest, error: Exception) -> JsonResponse:
        log.exception("unforeseen at %s, request %s", request.path, getattr(request, "request_id", ""))
        return server_error_view(request)
