"""The app of the bench: readings, what is laid out, charges that run and the log of those that ended."""

from django.apps import AppConfig


class BenchConfig(AppConfig):
    """The charging stage."""

    name = "coldstack.server.charges"
    label = "bench"
