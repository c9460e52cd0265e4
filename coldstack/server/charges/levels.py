"""What field batteries hold now: as it was told, less what charges took since. Whoever plans with a supply
asks here."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime

from django.db import transaction
from django.db.models import Max, OuterRef, Q, Subquery
from django.utils import timezone

from coldstack.core.charging.charger import Supply as SupplyValue
from coldstack.core.charging.level import BatteryKind, drawn_wh, left_wh, told_level
from coldstack.core.errors import DomainError
from coldstack.server.charges import replies as r
from coldstack.server.charges.models import Charge, Sample, SupplyLevel
from coldstack.server.charges.seen import expected_of
from coldstack.server.gear import assemble as gear
from coldstack.server.gear.models import Supply


@dataclass(frozen=True, slots=True)
class Level:
    """What a battery holds now, and when that was told. [Wh]"""

    left_wh: float
    at: datetime
    by_volts: bool


def levels() -> dict[str, Level]:
    """Of each supply of which somebody told it, by its id; three queries, one where nobody
    did."""
    latest = SupplyLevel.objects.filter(supply=OuterRef("supply"), withdrawn=None).order_by("-at", "-id")
    rows = list(SupplyLevel.objects.filter(pk=Subquery(latest.values("pk")[:1])))
    if not rows:
        return {}
    first = min(r.at for r in rows)
    since = Charge.objects.filter(Q(ended=None) | Q(ended__gt=first), expected__has_key="supply")
    charges = list(since)
    running = {c.pk for c in charges if c.ended is None}
    so_far = dict(
        Sample.objects.filter(charge_id__in=running).values_list("charge_id").annotate(mah=Max("mah"))
    )
    out = {}
    for row in rows:
        own = [
            c
            for c in charges
            if str(c.expected["supply"]) == str(row.supply_id) and (c.ended is None or c.ended > row.at)
        ]
        drawn = 0.0
        for c in own:
            e, mah = expected_of(c), so_far.get(c.pk) or c.summary.get("mah", 0.0)
            drawn += drawn_wh(mah, e.series * e.full_cell_v)
        out[str(row.supply_id)] = Level(left_wh(row.left_wh, drawn), row.at, row.by_volts)
    return out


def supplies_now() -> list[SupplyValue]:
    """Every supply, with what it holds now where that is known."""
    found = levels()
    return [replace(x, energy_wh=found[x.id].left_wh) if x.id in found else x for x in gear.supplies()]


@transaction.atomic
def tell_level(supply_id: int, text: str, kind: BatteryKind | None, key: str) -> SupplyLevel:
    """Keep what somebody told, once.

    Raises
    ------
    DomainError
        For what is no level of this supply.
    Supply.DoesNotExist
        For an unknown one.
    """
    known = SupplyLevel.objects.filter(key=key).first()
    if known is not None:
        if known.supply_id != supply_id:
            raise DomainError("key", "Under this key something was said of something else.")
        return known
    row = Supply.live.filter(pk=supply_id).values().get()
    told = told_level(gear.supply_of(dict(row), str(supply_id)), text, kind)
    return SupplyLevel.objects.create(
        supply_id=supply_id, key=key, at=timezone.now(), left_wh=told.left_wh, by_volts=told.by_volts
    )


@transaction.atomic
def take_level_back(key: str) -> None:
    """Withdraw what was told; raises SupplyLevel.DoesNotExist for an unknown key."""
    row = SupplyLevel.objects.get(key=key)
    row.withdrawn = row.withdrawn or timezone.now()
    row.save(update_fields=["withdrawn"])


def level_out(supply_id: int) -> r.LevelOut:
    """What one holds now; raises Supply.DoesNotExist for an unknown one."""
    row, known = Supply.live.get(pk=supply_id), levels().get(str(supply_id))
    return r.LevelOut(
        supply=str(supply_id),
        left_wh=known.left_wh if known else row.energy_wh,
        of_wh=row.energy_wh,
        at=known.at if known else None,
        by_volts=known.by_volts if known else False,
    )
