"""Accounts: listed, made, changed, unlocked, removed. A password is asked for, or read from standard input."""

from __future__ import annotations

import getpass
import json
import sys
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from wavilex.server.accounts import services
from wavilex.server.accounts.roles import ROLES, TECHNICIAN
from wavilex.server.prepare import prepare_database
from wavilex.server.problems import ProblemError


class Command(BaseCommand):
    help = "Accounts."
    requires_system_checks = ()

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("name", nargs="?", default="")
        parser.add_argument("--role", choices=ROLES)
        for act in ("--password", "--unlock", "--remove", "--json"):
            parser.add_argument(act, action="store_true")
        parser.add_argument("--sees", default="")

    def handle(self, *args: Any, **options: Any) -> None:
        prepare_database()
        name = options["name"]
        try:
            self.stdout.write(_act(name, options) if name else _listed(as_json=options["json"]))
        except ProblemError as error:
            raise CommandError(error.detail) from None


def _act(name: str, asked: dict[str, Any]) -> str:
    """Do what is asked of one account; in words what was done."""
    there = any(row["name"] == name for row in services.accounts())
    if asked["remove"]:
        services.remove(name)
        return f"{name} may not sign in any more."
    if asked["unlock"]:
        return f"{name} may try again." if services.unlock(name) else f"{name} was not locked."
    if asked["sees"]:
        return f"{name} now sees “{services.let_see(name, asked['sees'])}”."
    if not there:
        role = asked["role"] or TECHNICIAN
        services.make(name, _password(), role)
        return f"{name} may sign in as {role}."
    if asked["password"]:
        services.change_password(name, _password())
    if asked["role"]:
        services.change_role(name, asked["role"])
    if asked["password"] or asked["role"]:
        return f"{name} is changed."
    raise CommandError(
        f"there is an account {name} already; --password, --role, --unlock, --sees or --remove changes it"
    )


def _listed(*, as_json: bool) -> str:
    rows = services.accounts()
    if as_json:
        return json.dumps(rows, indent=2)
    return "\n".join(map(_line, rows)) or "No account yet: make the first one with  wavilex user NAME"


def _line(row: services.AccountRow) -> str:
    seen = f"last signed in {row['last_seen'][:10]}" if row["last_seen"] else "never signed in"
    return f"{row['name']:20} {row['role']:12} {seen}{', locked out somewhere just now' if row['locked'] else ''}"


def _password() -> str:
    return getpass.getpass() if sys.stdin.isatty() else sys.stdin.readline().rstrip("\n")
