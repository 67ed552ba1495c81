"""Jobs: the rig in the database, changes, answers."""

from django.apps import AppConfig


class JobsConfig(AppConfig):
    name = "wavilex.server.jobs"
    label = "jobs"
