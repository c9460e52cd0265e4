"""The app of practice."""

from __future__ import annotations

from django.apps import AppConfig


class PracticeConfig(AppConfig):
    """People by name, what they answered, and courses."""

    name = "coldstack.server.practice"
    label = "practice"
