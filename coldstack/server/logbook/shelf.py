"""The shelf: every pack by what to do now."""

from __future__ import annotations

from datetime import datetime, timedelta

from coldstack.core.keeping.health import LEVELS, evidence_of
from coldstack.core.keeping.storage import DOING, Due, storage_due
from coldstack.core.rules.house_rules import HouseRules
from coldstack.server.logbook import replies as r
from coldstack.server.logbook.assemble import Known, every_known


def shelf_out(rules: HouseRules, now: datetime) -> r.ShelfOut:
    """Every pack by what to do now, due soonest first; two queries for every hundred packs, however many records."""
    lines = [line_out(k, rules, now) for k in every_known(now)]
    groups = []
    for doing in DOING:
        here = sorted((x for x in lines if x.doing == doing), key=lambda x: (x.in_h is None, x.in_h or 0, -LEVELS.index(x.level), x.tag))  # fmt: skip
        if here:
            groups.append(r.GroupOut(doing=doing, packs=here))
    return r.ShelfOut(groups=groups, count=len(lines), rules=rules.name, rules_id=rules.id)


def line_out(k: Known, rules: HouseRules, now: datetime) -> r.LineOut:
    """One pack on it."""
    evidence, _ = evidence_of(k.pack, k.records, rules=rules)
    level = evidence[0].level if evidence else "fine"
    since_h = (now - k.since) / timedelta(hours=1) if k.since else 0.0
    due: Due = storage_due(
        k.pack, state=k.state, since_h=since_h, level=level, rules=rules, retired=k.retired is not None
    )
    worst = next((e for e in evidence if e.level != "fine"), None)
    return r.LineOut(
        tag=k.tag, name=k.pack.name, state=k.state, since=k.since, level=level, doing=due.doing, in_h=due.in_h, due=due.sentence,
        sign=worst.sentence if worst else "",
    )  # fmt: skip
