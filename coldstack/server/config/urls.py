"""Addresses: the API, and the single-page application for everything else."""

from __future__ import annotations

from django.urls import path, re_path

from coldstack.server.api.api import api
from coldstack.server.config.spa import spa
from coldstack.server.pairing.page import authority, pair

urlpatterns = [
    path("api/", api.urls),
    path("pair", pair),
    path("pair/authority.crt", authority),
    re_path(r"^(?!api(?:/|$)|static/).*$", spa),
]
