"""The lag bench: sessions, readings, the meter's hub."""

from django.apps import AppConfig


class BenchConfig(AppConfig):
    name = "wavilex.server.bench"
    label = "bench"
