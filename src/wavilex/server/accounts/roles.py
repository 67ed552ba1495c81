"""Who may do what: technicians edit, viewers read."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import AbstractBaseUser, Group
from django.http import HttpRequest
from ninja.security import SessionAuth

from wavilex.server.accounts.asking import note
from wavilex.server.problems import ProblemError

TECHNICIAN, VIEWER = "technician", "viewer"
ROLES = (TECHNICIAN, VIEWER)


def role_of(user: Any) -> str:
    """The user's role; without one, the one that may do less."""
    return TECHNICIAN if user.groups.filter(name=TECHNICIAN).exists() else VIEWER


def give_role(user: Any, role: str) -> None:
    """Make `role` the user's only role."""
    user.groups.set([Group.objects.get_or_create(name=role)[0]])


class RoleAuth(SessionAuth):
    """A signed-in user by session cookie (so CSRF is checked), with the right to edit where asked."""

    def __init__(self, *, edit: bool) -> None:
        super().__init__()
        self.edit = edit

    def authenticate(self, request: HttpRequest, key: str | None) -> AbstractBaseUser | None:
        user = super().authenticate(request, key)
        note(user)
        if user is not None and self.edit and role_of(user) != TECHNICIAN:
            raise ProblemError(403, "viewer", "Viewers read; ask a technician to change this.")
        return user


reader = RoleAuth(edit=False)
editor = RoleAuth(edit=True)
