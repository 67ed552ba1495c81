from django.apps import AppConfig


class ProbeConfig(AppConfig):
    name = "wavilex.server.probe"
    label = "probe"
