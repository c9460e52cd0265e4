"""The box as a whole: sixty packs in eight models, and what to buy next."""

from __future__ import annotations

import time

from django.db import transaction
from django.test import Client

from bench.crowd import MODELS, PACKS, crowd

ROUNDS = 3


def box_lines() -> list[str]:
    """How long it takes to be answered, the best of a few rounds after a first one. All is taken back."""
    with transaction.atomic():
        crowd()
        client = Client(HTTP_HOST="127.0.0.1")
        took = []
        for _ in range(ROUNDS + 1):
            begun = time.perf_counter()
            found = client.get("/api/keep/box").json()
            took.append(time.perf_counter() - begun)
        transaction.set_rollback(True)
    return [
        f"The box, {PACKS} packs × {MODELS} models, {len(found['proposals'])} proposals: "
        f"{min(took[1:]):.2f} s ({took[0]:.2f} s the first time)"
    ]
