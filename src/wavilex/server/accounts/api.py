"""Signing in and out."""

from __future__ import annotations

from axes.models import AccessAttempt
from django.conf import settings
from django.contrib.auth import authenticate, get_user_model, login, logout
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from django.utils import timezone
from ninja import Field, Router, Schema, Status
from ninja.utils import check_csrf

from wavilex.server.accounts.known import counted_as, know
from wavilex.server.accounts.roles import TECHNICIAN, give_role, reader, role_of
from wavilex.server.problems import ProblemError, problem
from wavilex.server.schemas import ProblemOut

router = Router()
DEMO_USER = "demo"


class SessionOut(Schema):
    name: str
    role: str
    demo: bool


class SignIn(Schema):
    name: str = Field(min_length=1, max_length=150)
    password: str = Field(min_length=1, max_length=200)


def locked_out(request: HttpRequest, credentials: dict[str, str] | None = None, **_: object) -> HttpResponse:
    """What too many failed attempts get."""
    left = seconds_locked(request, credentials)
    words = f"{-(-left // 60)} minutes" if left > 60 else f"{left} seconds"
    response = problem(request, 429, "locked_out", f"Too many failed attempts. Try again in {words}.")
    response["Retry-After"] = str(left)
    return response


def seconds_locked(request: HttpRequest, credentials: dict[str, str] | None) -> int:
    """How long the lock still holds: from the last attempt that counted."""
    whole = int(settings.AXES_COOLOFF_TIME.total_seconds())
    last = (
        AccessAttempt.objects.filter(
            username=counted_as(request, credentials), ip_address=request.META.get("REMOTE_ADDR")
        )
        .order_by("-attempt_time")
        .first()
    )
    gone = (timezone.now() - last.attempt_time).total_seconds() if last else 0
    return max(1, whole - int(gone))


def _same_site(request: HttpRequest) -> None:
    if check_csrf(request) is not None:
        raise ProblemError(403, "csrf", "This page is out of date. Load it again and repeat.")


def _session(request: HttpRequest) -> SessionOut:
    user = request.user
    return SessionOut(name=user.get_username(), role=role_of(user), demo=settings.DEMO)


class Door(Schema):
    """What may be known before signing in."""

    demo: bool


@router.get("/door", auth=None, operation_id="door", response=Door)
def door(request: HttpRequest) -> Door:
    """Is this a demo? Also sets the CSRF cookie."""
    get_token(request)
    return Door(demo=settings.DEMO)


@router.get("", operation_id="session", response={200: SessionOut, 401: ProblemOut})
def session(request: HttpRequest) -> SessionOut:
    """Who is signed in."""
    return _session(request)


_REFUSED = dict.fromkeys((400, 401, 403, 413, 422, 429), ProblemOut)


@router.post("/sign-in", auth=None, operation_id="signIn", response={200: SessionOut, **_REFUSED})
def sign_in(request: HttpRequest, payload: SignIn, response: HttpResponse) -> SessionOut | HttpResponse:
    """Sign in with name and password."""
    _same_site(request)
    user = authenticate(request, username=payload.name, password=payload.password)
    if getattr(request, "axes_locked_out", False):
        return locked_out(request, {"username": payload.name})
    if user is None:
        raise ProblemError(401, "wrong_password", "Name and password do not belong together.")
    login(request, user)
    know(request, response, user.get_username())
    return _session(request)


@router.post("/demo", auth=None, operation_id="enterDemo", response={200: SessionOut, 403: ProblemOut})
def enter_demo(request: HttpRequest) -> SessionOut:
    """Enter as the demo technician. Only where the demo was started, and only from this machine."""
    _same_site(request)
    if not settings.DEMO or request.META.get("REMOTE_ADDR") not in ("127.0.0.1", "::1"):
        raise ProblemError(403, "no_demo", "This is no demo.")
    user, made = get_user_model().objects.get_or_create(username=DEMO_USER)
    if made:
        user.set_unusable_password()
        user.save()
        give_role(user, TECHNICIAN)
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return _session(request)


@router.post("/sign-out", auth=reader, operation_id="signOut", response={204: None, 401: ProblemOut, 403: ProblemOut})
def sign_out(request: HttpRequest) -> Status[None]:
    """Sign out."""
    logout(request)
    return Status(204, None)
