"""The app of the matching stage; it stores nothing of its own."""

from django.apps import AppConfig


class MatchingConfig(AppConfig):
    """A pack in a model and on a charger; the grid of all of them."""

    name = "coldstack.server.matching"
    label = "matching"
