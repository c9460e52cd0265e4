"""The app of keeping: shelf, pages, places. Its tables of before are in the packs' lives now."""

from django.apps import AppConfig


class LogbookConfig(AppConfig):
    """The keeping stage."""

    name = "coldstack.server.keeping"
    label = "logbook"
