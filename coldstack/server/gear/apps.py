"""The app of what a person owns and can buy."""

from django.apps import AppConfig


class GearConfig(AppConfig):
    """Models, packs, catalogue, cell types."""

    name = "coldstack.server.gear"
    label = "gear"
