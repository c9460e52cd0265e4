"""Taking along: the kits of eight models for a box of sixty packs, from nothing, as a phone asks for them."""

from __future__ import annotations

import time

from django.db import transaction
from django.test import Client

from bench.crowd import PACKS, crowd
from coldstack.server.gear.models import RcModel
from coldstack.server.running.kits import forget_kits

AT_ONCE = 8


def many_kits_lines() -> list[str]:
    """How long all that is asked takes, of how many kits, and what comes. All is taken back."""
    with transaction.atomic():
        crowd()
        forget_kits()
        found = _asked([m.slug for m in RcModel.objects.all()])
        transaction.set_rollback(True)
    return found


def _asked(slugs: list[str]) -> list[str]:
    client, came, size = Client(HTTP_HOST="127.0.0.1"), 0, 0
    begun, marking = time.perf_counter(), 0.0
    for slug in slugs:
        start = time.perf_counter()
        tags = [x["tag"] for x in client.get("/api/run/kits", {"model": slug}).json()["kits"]]
        marking += time.perf_counter() - start
        for k in range(0, len(tags), AT_ONCE):
            reply = client.get("/api/run/kit", {"model": slug, "pack": tags[k : k + AT_ONCE]})
            came, size = came + len(reply.json()["kits"]), size + len(reply.content)
    took = time.perf_counter() - begun
    return [
        f"{came} kits of {len(slugs)} models from a box of {PACKS} packs: {took:.1f} s, "
        f"{1000 * took / max(came, 1):.0f} ms each ({marking:.1f} s of it which hold), {size / 1e6:.1f} MB"
    ]
