"""Make an account; the password is asked for, or read from standard input when it is no terminal."""

from __future__ import annotations

import getpass
import sys
from typing import Any

from django.contrib.auth import get_user_model
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError, CommandParser

from wavilex.server.accounts.roles import ROLES, give_role
from wavilex.server.prepare import prepare_database


class Command(BaseCommand):
    help = "Make an account with a role."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("name")
        parser.add_argument("--role", choices=ROLES, default=ROLES[0])

    def handle(self, *args: Any, **options: Any) -> None:
        prepare_database()
        users = get_user_model().objects
        if users.filter(username=options["name"]).exists():
            raise CommandError(f"there is an account {options['name']} already")
        password = getpass.getpass() if sys.stdin.isatty() else sys.stdin.readline().rstrip("\n")
        user = get_user_model()(username=options["name"])
        try:
            user.full_clean(exclude=["password"])
            validate_password(password, user)
        except ValidationError as error:
            raise CommandError(" ".join(error.messages)) from None
        user.set_password(password)
        user.save()
        give_role(user, options["role"])
        self.stdout.write(f"{options['name']} may sign in as {options['role']}.")
