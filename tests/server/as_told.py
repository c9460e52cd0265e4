"""What the program says of every pack of a data folder, as JSON: run as a process of its own, which brings
the folder's database up to date first. ``python -m tests.server.as_told FOLDER`` (its demo world)."""

from __future__ import annotations

import json
import os
import sys
from unittest import mock


def main() -> None:
    """Counts of events by kind, the shelf, and of each page what is counted and forecast."""
    os.environ |= {
        "COLD_STACK_DATA": sys.argv[1],
        "COLD_STACK_WORLD": "demo",
        "DJANGO_SETTINGS_MODULE": "coldstack.server.config.settings",
    }
    import django

    django.setup()
    from django.conf import settings
    from django.core.management import call_command
    from django.test import Client

    from tests.clock import START

    settings.ALLOWED_HOSTS = ["testserver"]
    mock.patch("django.utils.timezone.now", lambda: START).start()
    call_command("migrate", verbosity=0)
    from coldstack.server.charges.models import Charge
    from coldstack.server.gear.models import OwnedPack
    from coldstack.server.life.models import Event

    def get(path):
        return Client().get(path).json()

    groups = get("/api/keep/shelf")["groups"]
    lines = {p["tag"]: p for g in groups for p in g["packs"]}
    pages = {tag: get(f"/api/keep/packs/{tag}") for tag in lines}
    kinds = Event.objects.values_list("kind", flat=True)
    told = {
        "kinds": {k: sum(1 for x in kinds if x == k) for k in sorted(set(kinds))},
        "withdrawn": Event.objects.exclude(withdrawn=None).count(),
        "shelf": lines,
        "pages": pages,
        "charges": [[c.label, c.packs, c.state] for c in Charge.objects.order_by("pk")],
        "bench": get("/api/bench")["bench"]["laid"],
        "learned": get("/api/runs?model=stoat")["learned"],
        "cell_mohm": OwnedPack.objects.exclude(cell_mohm=None).count(),
        "gone": Event.objects.filter(pack__tag="24").count(),
    }
    print(json.dumps(told))


if __name__ == "__main__":
    main()
