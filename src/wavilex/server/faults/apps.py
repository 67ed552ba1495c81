from django.apps import AppConfig


class FaultsConfig(AppConfig):
    name = "wavilex.server.faults"
    label = "faults"
