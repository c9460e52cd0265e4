"""Times of keeping: the shelf and a pack's page over three years of sixty packs."""

from __future__ import annotations

import time
from datetime import datetime, timedelta

from django.db import transaction
from django.utils import timezone

from coldstack.core.rules.house_rules import HouseRules
from coldstack.server.gear.models import OwnedPack
from coldstack.server.keeping.page import page_out
from coldstack.server.keeping.shelf import shelf_out
from coldstack.server.life.log import new_key, say
from coldstack.server.life.models import Event
from coldstack.server.rules.assemble import rules_or_house
from coldstack.server.running.day import day_out
from coldstack.server.running.go import go_out
from coldstack.server.running.replies import DayIn, GoIn
from tests.lives import forget

PACKS, EVENTS = 60, 333


def keeping_lines() -> list[str]:
    """Median times on 20,000 events; everything is taken back."""
    with transaction.atomic():
        now, like = timezone.now(), OwnedPack.live.get(tag="07")
        figures = {
            f.name: getattr(like, f.name) for f in OwnedPack._meta.fields if f.name not in ("id", "tag")
        }
        more = PACKS - OwnedPack.live.count()
        OwnedPack.objects.bulk_create(OwnedPack(**figures, tag=f"B{i}") for i in range(more))
        forget()
        for pack in OwnedPack.live.all():
            Event.objects.bulk_create((_charge(pack, k, now) for k in range(EVENTS)), batch_size=500)
        rules = rules_or_house(None)
        start = time.perf_counter()
        shelf_out(rules, now)
        first = (time.perf_counter() - start) * 1e3
        told = _median(lambda: _said_and_shown(rules, now))
        day = DayIn(model="ptarmigan", pack="04", packs=2, own=["01", "04"], ports=1)
        go = GoIn(model="ptarmigan", pack="04", cells="4.19 4.19 4.19 4.19")
        day_ms, go_ms = _median(lambda: day_out(day, now)), _median(lambda: go_out(go, now))
        shelf, page = (
            _median(lambda: shelf_out(rules, now)),
            _median(lambda: page_out("07", rules, now)),
        )
        transaction.set_rollback(True)
    return [
        f"{PACKS} packs, {PACKS * EVENTS} events: shelf {shelf:.0f} ms ({first:.0f} ms the first time, "
        f"{told:.0f} ms after something was said), a pack’s page {page:.0f} ms, day {day_ms:.0f} ms, "
        f"go {go_ms:.0f} ms"
    ]


def _charge(pack: OwnedPack, k: int, now: datetime) -> Event:
    at = now - timedelta(days=1100 * (1 - k / EVENTS))
    return Event(
        key=f"bench-{pack.pk}-{k}",
        pack=pack,
        at=at,
        said=at,
        kind="charge",
        by="charger",
        ended="done",
        temperature_c=20,
        soc=0.6,
        cell_mohm=[2.5] * pack.series,
        cell_v=[3.8] * pack.series,
        capacity_ah=0.98 * pack.capacity_ah,
    )


def _said_and_shown(rules: HouseRules, now: datetime) -> None:
    say(OwnedPack.live.get(tag="07").pk, "state", key=new_key(), state="stored")
    shelf_out(rules, now)


def _median(call) -> float:
    times = []
    for _ in range(7):
        start = time.perf_counter()
        call()
        times.append((time.perf_counter() - start) * 1e3)
    return sorted(times)[3]
