"""The app of the packs' lives: one log of all that was done to them, read of them and said of them."""

from django.apps import AppConfig


class LifeConfig(AppConfig):
    """The events."""

    name = "coldstack.server.life"
    label = "life"
