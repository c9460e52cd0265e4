"""Times of keeping: the shelf and a pack's page over three years of sixty packs."""

from __future__ import annotations

import time
from datetime import timedelta

from django.db import transaction
from django.utils import timezone

from coldstack.server.gear.models import OwnedPack
from coldstack.server.logbook.models import PackRecord
from coldstack.server.logbook.page import page_out
from coldstack.server.logbook.shelf import shelf_out
from coldstack.server.rules.assemble import rules_or_house

PACKS, RECORDS = 60, 333


def keeping_lines() -> list[str]:
    """Median times on 20,000 records; everything is taken back."""
    with transaction.atomic():
        now, like = timezone.now(), OwnedPack.live.get(tag="07")
        figures = {f.name: getattr(like, f.name) for f in OwnedPack._meta.fields if f.name not in ("id", "tag")}  # fmt: skip
        more = PACKS - OwnedPack.live.count()
        OwnedPack.objects.bulk_create(OwnedPack(**figures, tag=f"B{i}") for i in range(more))
        PackRecord.objects.all().delete()
        PackRecord.objects.bulk_create(
            (
                PackRecord(pack=p, at=now - timedelta(days=1100 * (1 - k / RECORDS)), cycle=k, temperature_c=20, soc=0.6, cell_mohm=[2.5] * p.series, rest_cell_v=[3.8] * p.series, capacity_ah=0.98 * p.capacity_ah)
                for p in OwnedPack.live.all()
                for k in range(RECORDS)
            ),
            batch_size=1000,
        )  # fmt: skip
        shelf, page = (_median(lambda: shelf_out(rules_or_house(None), now)), _median(lambda: page_out("07", rules_or_house(None), now)))  # fmt: skip
        transaction.set_rollback(True)
    return [f"{PACKS} packs, {PACKS * RECORDS} records: shelf {shelf:.0f} ms, a pack’s page {page:.0f} ms"]


def _median(call) -> float:
    times = []
    for _ in range(7):
        start = time.perf_counter()
        call()
        times.append((time.perf_counter() - start) * 1e3)
    return sorted(times)[3]
