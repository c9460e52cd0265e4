"""The app of watt-meter logs."""

from __future__ import annotations

from django.apps import AppConfig


class LogsConfig(AppConfig):
    """Logs of watt meters, and how their columns are to be read."""

    name = "coldstack.server.logs"
    label = "logs"
