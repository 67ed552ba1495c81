"""Accounts made, changed, unlocked and removed. Each function owns its transaction."""

from __future__ import annotations

from typing import Any, TypedDict

from axes.models import AccessAttempt
from django.conf import settings
from django.contrib.auth import get_user_model
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import transaction
from django.db.models import Q
from django.utils import timezone

from wavilex.server.accounts.known import SEPARATOR
from wavilex.server.accounts.roles import TECHNICIAN, give_role, role_of
from wavilex.server.problems import ProblemError


class AccountRow(TypedDict):
    """An account. last_seen: of its last sign-in, ISO 8601; locked: attempts from some place are refused just now."""

    name: str
    role: str
    last_seen: str | None
    locked: bool


def accounts() -> list[AccountRow]:
    """Every account that may sign in, by name."""
    users = get_user_model().objects.filter(is_active=True).order_by("username")
    return [_row(user) for user in users]


def _row(user: Any) -> AccountRow:
    name = user.get_username()
    return {
        "name": name,
        "role": role_of(user),
        "last_seen": user.last_login.isoformat() if user.last_login else None,
        "locked": _attempts(name).filter(_locking()).exists(),
    }


def _attempts(name: str) -> Any:
    return AccessAttempt.objects.filter(Q(username=name) | Q(username__startswith=f"{name}{SEPARATOR}"))


def _locking() -> Q:
    since = timezone.now() - settings.AXES_COOLOFF_TIME
    return Q(failures_since_start__gte=settings.AXES_FAILURE_LIMIT, attempt_time__gte=since)


def account(name: str) -> Any:
    """The account of a name, or a 404 problem."""
    found = get_user_model().objects.filter(username=name, is_active=True).first()
    if found is None:
        raise ProblemError(404, "no_such_account", f"There is no account {name}.", "name")
    return found


@transaction.atomic
def make(name: str, password: str, role: str) -> Any:
    """A new account. One that was removed and whose name stands in some history is opened again."""
    users = get_user_model().objects
    if users.filter(username=name, is_active=True).exists():
        raise ProblemError(409, "account_there", f"There is an account {name} already.", "name")
    user = users.filter(username=name).first() or get_user_model()(username=name)
    user.is_active = True
    try:
        user.full_clean(exclude=["password"])
    except ValidationError as error:
        raise ProblemError(422, "name_refused", " ".join(error.messages), "name") from None
    _set_password(user, password)
    give_role(user, role)
    return user


@transaction.atomic
def change_password(name: str, password: str) -> None:
    """A new password; whoever is signed in with the old one is signed out."""
    _set_password(account(name), password)


def _set_password(user: Any, password: str) -> None:
    try:
        validate_password(password, user)
    except ValidationError as error:
        raise ProblemError(422, "password_refused", " ".join(error.messages), "password") from None
    user.set_password(password)
    user.save()


@transaction.atomic
def change_role(name: str, role: str) -> None:
    user = account(name)
    if role != TECHNICIAN:
        _another_technician(user)
    give_role(user, role)


def unlock(name: str) -> int:
    """Let attempts be made again from everywhere; how many records were taken away."""
    return int(_attempts(account(name).get_username()).delete()[0])


@transaction.atomic
def let_see(name: str, job_uid: str) -> str:
    """Let an account see a job that is kept to named ones; the job's title."""
    user = account(name)
    job = user.jobs_seen.model.objects.filter(uid=job_uid).first()
    if job is None:
        raise ProblemError(404, "no_such_job", f"There is no job {job_uid}.", "sees")
    job.readers.add(user)
    return str(job.title)


@transaction.atomic
def remove(name: str) -> None:
    """Nobody signs in with it any more. Where its name stands in a history, the name stays there."""
    user = account(name)
    _another_technician(user)
    only = [j.title for j in user.jobs_seen.filter(kept=True) if j.readers.filter(is_active=True).count() == 1]
    if only:
        titles = ", ".join(f"“{title}”" for title in only[:5])
        raise ProblemError(409, "last_reader", f"Only {name} sees {titles}: let somebody else see it first.", "name")
    _attempts(name).delete()
    user.jobs_seen.clear()
    if user.changeset_set.exists() or user.stepevent_set.exists():
        user.is_active = False
        user.set_unusable_password()
        user.groups.clear()
        user.save()
    else:
        user.delete()


def _another_technician(user: Any) -> None:
    others = get_user_model().objects.filter(is_active=True, groups__name=TECHNICIAN).exclude(pk=user.pk)
    if role_of(user) == TECHNICIAN and not others.exists():
        raise ProblemError(409, "last_technician", f"{user.get_username()} is the only technician.", "name")
