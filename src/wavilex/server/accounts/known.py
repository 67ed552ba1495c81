"""Browsers that an account has signed in from before: their attempts are counted apart.

So whoever guesses at an account from the same address (one office, one TLS server not stated as proxy) locks strangers
out, and not the owner at the own computer.
"""

from __future__ import annotations

import secrets
from typing import Any

from django.conf import settings
from django.core import signing
from django.http import HttpRequest, HttpResponse

SEPARATOR = "\x1f"
_SALT = "wavilex.known-browser"
_AGE_SECONDS = 400 * 24 * 3600
_MOST = 8  # accounts that one browser is known to


def _known(request: HttpRequest) -> dict[str, str]:
    """Accounts this browser is known to, each with the mark it was given."""
    try:
        read = signing.loads(request.COOKIES.get(settings.KNOWN_COOKIE_NAME, ""), salt=_SALT, max_age=_AGE_SECONDS)
    except signing.BadSignature:
        return {}
    return read if isinstance(read, dict) else {}


def counted_as(request: HttpRequest, credentials: dict[str, Any] | None) -> str:
    """Under which name failed attempts are counted: the account's, with the browser's mark where it is known."""
    name = str((credentials or {}).get("username", ""))
    mark = _known(request).get(name)
    return f"{name}{SEPARATOR}{mark}" if mark else name


def know(request: HttpRequest, response: HttpResponse, name: str) -> None:
    """Let the browser be known to an account that has just signed in from it."""
    held = {**_known(request)}
    held[name] = held.pop(name, "") or secrets.token_hex(8)
    kept = dict(list(held.items())[-_MOST:])
    response.set_cookie(
        settings.KNOWN_COOKIE_NAME, signing.dumps(kept, salt=_SALT), max_age=_AGE_SECONDS, httponly=True,
        samesite="Lax", secure=settings.TLS, path="/api/v1/session",
    )  # fmt: skip
