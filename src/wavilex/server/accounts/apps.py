"""Accounts and roles on Django's own users."""

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    name = "wavilex.server.accounts"
    label = "accounts"
