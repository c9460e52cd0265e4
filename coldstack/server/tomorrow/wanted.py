"""The packs that a day which is near counts on."""

from __future__ import annotations

from datetime import datetime

from coldstack.core.keeping.storage import counts_on
from coldstack.server.rules.assemble import rules_or_house
from coldstack.server.tomorrow.models import DayAhead


def wanted_packs(now: datetime) -> frozenset[int]:
    """Their keys; none once the day is over, or while it is further off than a pack may lie full. One
    query, and one for the rules where there is a day."""
    found = list(DayAhead.objects.filter(end__gt=now).values_list("start", "packs"))
    if not found:
        return frozenset()
    rules = rules_or_house(None)
    return frozenset(
        pk for start, pk in found if pk is not None and counts_on((start - now).total_seconds() / 3600, rules)
    )
