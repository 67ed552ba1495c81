"""A port without TLS that serves the probe's page and takes its results, and nothing else.

Some boxes have browsers that refuse a certificate of one's own making. What goes over this port can be read and changed
by anybody in the house network: so nothing goes over it but results of a probe, by a code that can do nothing else.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from typing import Any

_PAGE = re.compile(r"/p(/[^/]*)?$")
_RESULT = re.compile(r"/api/v1/probe/[^/]+$")
_FONT = re.compile(r"/static/assets/[\w.-]+\.woff2?$")
_NAMED = re.compile(r'"(/static/[\w./-]+)"')
WHY = (
    "This port serves nothing but the page that measures: it is not encrypted. Everything else is at the encrypted "
    "address that Wavilex said when it started.\n"
)
Wsgi = Callable[[dict[str, Any], Callable[..., Any]], Iterable[bytes]]


def parts_of(page: str) -> frozenset[str]:
    """The files that the built page names: its scripts and styles."""
    return frozenset(_NAMED.findall(page))


def allowed(method: str, path: str, parts: frozenset[str]) -> bool:
    """May this be asked without encryption?"""
    if method in ("GET", "HEAD"):
        return path in parts or any(rule.match(path) for rule in (_PAGE, _RESULT, _FONT))
    return method == "POST" and _RESULT.match(path) is not None


def probe_only(application: Wsgi, page: str) -> Wsgi:
    """The application, with everything but the probe shut; no cookie goes in or out. page: the probe's, as built."""
    parts = parts_of(page)

    def only(environ: dict[str, Any], start: Callable[..., Any]) -> Iterable[bytes]:
        if not allowed(str(environ.get("REQUEST_METHOD", "")), str(environ.get("PATH_INFO", "")), parts):
            start("404 Not Found", [("Content-Type", "text/plain; charset=utf-8")])
            return [WHY.encode()]
        environ.pop("HTTP_COOKIE", None)

        def bare(status: str, headers: list[tuple[str, str]], *more: Any) -> Any:
            return start(status, [h for h in headers if h[0].lower() != "set-cookie"], *more)

        return application(environ, bare)

    return only
