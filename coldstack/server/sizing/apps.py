"""The app of the sizing stage; it stores nothing of its own."""

from django.apps import AppConfig


class SizingConfig(AppConfig):
    """Plans, details, logs."""

    name = "coldstack.server.sizing"
    label = "sizing"
