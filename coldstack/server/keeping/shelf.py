"""The shelf: every pack by what to do now."""

from __future__ import annotations

from collections.abc import Collection
from datetime import datetime

from coldstack.core.keeping.storage import DOING, due_of
from coldstack.core.keeping.verdict import verdict_words
from coldstack.core.packs.health import LEVELS
from coldstack.core.rules.house_rules import HouseRules
from coldstack.server.keeping import replies as r
from coldstack.server.life.now import Standing, standings
from coldstack.server.life.replies import now_fields
from coldstack.server.tomorrow.wanted import wanted_packs


def shelf_out(rules: HouseRules, now: datetime) -> r.ShelfOut:
    """Every pack by what to do now, due soonest first."""
    wanted = wanted_packs(now)
    lines = [line_out(s, now, wanted) for s in standings(rules=rules, now=now)]
    groups = []
    for doing in DOING:
        here = sorted(
            (x for x in lines if x.doing == doing),
            key=lambda x: (x.in_h is None, x.in_h or 0, -LEVELS.index(x.level), x.tag),
        )
        if here:
            groups.append(r.GroupOut(doing=doing, packs=here))
    return r.ShelfOut(groups=groups, count=len(lines), rules=rules.name, rules_id=rules.id)


def line_out(s: Standing, now: datetime, wanted: Collection[int]) -> r.LineOut:
    """One pack on it; ``wanted`` are those that a day which is near counts on."""
    due = due_of(s.now, now.timestamp(), wanted=s.pk in wanted)
    return r.LineOut(
        **now_fields(s),
        tag=s.tag,
        name=s.pack.name,
        doing=due.doing,
        in_h=due.in_h,
        due=due.sentence,
        due_short=due.short or due.sentence,
        verdict=verdict_words(s.now, due),
    )
