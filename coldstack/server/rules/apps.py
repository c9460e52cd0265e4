"""The app of house rules."""

from __future__ import annotations

from django.apps import AppConfig


class RulesConfig(AppConfig):
    """Sets of rules, and which of them the house goes by."""

    name = "coldstack.server.rules"
    label = "rules"
