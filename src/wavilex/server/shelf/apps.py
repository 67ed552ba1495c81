"""The workshop's shelf: boxes kept across jobs."""

from django.apps import AppConfig


class ShelfConfig(AppConfig):
    name = "wavilex.server.shelf"
    label = "shelf"
