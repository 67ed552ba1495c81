"""The page: the built front end with a nonce for its styles, never cached."""

from __future__ import annotations

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_safe


@require_safe
@never_cache
@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    """Every address that is neither API nor asset is a sheet of the one page."""
    return built(request, "index.html")


@require_safe
@never_cache
def probe_page(request: HttpRequest, code: str = "") -> HttpResponse:
    """The page that a source opens: the same for every code, so that it tells nothing; it sets no cookie."""
    return built(request, "probe.html")


def built(request: HttpRequest, name: str) -> HttpResponse:
    """A page of the built front end, with this request's nonce."""
    file = settings.PACKAGE / "web" / name
    if not file.exists():
        return HttpResponse("The front end is not built: run make setup.", status=503, content_type="text/plain")
    text = file.read_text(encoding="utf-8")
    text = text.replace("__CSP_NONCE__", str(request.csp_nonce))  # type: ignore[attr-defined]
    return HttpResponse(text.replace("__TOKEN_COOKIE__", settings.CSRF_COOKIE_NAME))
