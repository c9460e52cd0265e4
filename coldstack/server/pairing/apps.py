"""Phones that may come in."""

from django.apps import AppConfig


class PairingConfig(AppConfig):
    """Invitations and the phones that took them."""

    name = "coldstack.server.pairing"
    label = "pairing"
