"""Between stored records and the core's values of keeping."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from functools import lru_cache
from typing import Any

from django.db.models import Count, Max, OuterRef, Q, Subquery
from django.utils import timezone

from coldstack.core.charging.cell_readings import State
from coldstack.core.errors import DomainError
from coldstack.core.keeping.health import evidence_of
from coldstack.core.keeping.records import Record
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HouseRules
from coldstack.server.gear.assemble import PACK_FIGURES, pack_of
from coldstack.server.gear.models import OwnedPack
from coldstack.server.logbook.models import PackRecord
from coldstack.server.rules.assemble import rules_or_house

FIRST_ROWS, LATEST_ROWS, PACKS_A_QUERY = 12, 12, 100
"""Measured records of each end that are looked at, with all that lie among them: enough for the first and latest five that can be compared."""
_FIELDS = ("cycle", "temperature_c", "soc", "cell_mohm", "rest_cell_v", "capacity_ah", "balance_min", "run_minutes")  # fmt: skip


@dataclass(frozen=True, slots=True)
class Known:
    """A pack with its records, and the state it was last left in."""

    pack: Pack
    tag: str
    records: list[Record]
    state: State | None
    since: datetime | None
    retired: datetime | None = None


def known_of(tag: str, now: datetime) -> Known:
    """One pack, as the shelf knows it; raises OwnedPack.DoesNotExist for an unknown tag."""
    for found in every_known(now, tags=[tag]):
        return found
    raise OwnedPack.DoesNotExist(f"There is no pack {tag} in the box.")


def every_known(now: datetime, *, tags: Sequence[str] | None = None) -> Iterable[Known]:
    """Every pack, or those with these tags, with the records of its first and its latest measurements and all since: where those end is looked up in the index, pack by pack, in one query.

    Runs, readings and noted states lie between measurements; they do not crowd them out.
    """
    of_pack = PackRecord.objects.filter(pack_id=OuterRef("pk"), cell_mohm__isnull=False)
    bounds = {
        "first_to": Subquery(of_pack.order_by("at").values("at")[FIRST_ROWS - 1 : FIRST_ROWS]),
        "latest_from": Subquery(of_pack.order_by("-at").values("at")[LATEST_ROWS - 1 : LATEST_ROWS]),
    }
    wanted_packs = OwnedPack.live.all() if tags is None else OwnedPack.live.filter(tag__in=tags)
    packs = list(
        wanted_packs.annotate(**bounds).values(
            "id", "tag", "fit", "note", "retirement__done", *bounds, *PACK_FIGURES
        )
    )
    by_pack: dict[int, list[Any]] = {}
    for start in range(0, len(packs), PACKS_A_QUERY):
        wanted = Q()
        for p in packs[start : start + PACKS_A_QUERY]:
            ends = Q() if p["first_to"] is None else Q(at__lte=p["first_to"]) | Q(at__gte=p["latest_from"])
            wanted |= Q(pack_id=p["id"]) & ends
        for row in PackRecord.objects.filter(wanted).order_by("pack_id", "at", "id").values_list("pack_id", "at", "state", "source", *_FIELDS, named=True):  # fmt: skip
            by_pack.setdefault(row.pack_id, []).append(row)
    for p in packs:
        found = know(pack_of(p, f"owned:{p['tag']}"), p["tag"], by_pack.get(p["id"], []), now)
        yield replace(found, retired=p["retirement__done"])


def know(pack: Pack, tag: str, rows: Sequence[Any], now: datetime) -> Known:
    records = [_record(x, now) for x in rows]
    left = next((x for x in reversed(rows) if x.state), None)
    since = None
    # noted again and again, a state holds since it was first noted, or since the charge that made it
    for row in reversed(rows):
        if left is not None and (row.source in ("charge", "run") or row.state):
            if row.state != left.state:
                break
            since = row.at
            if row.source in ("charge", "run"):
                break
    return Known(pack, tag, records, left.state if left else None, since)


def _record(row: Any, now: datetime) -> Record:
    data = {name: getattr(row, name) for name in _FIELDS}
    for name in ("cell_mohm", "rest_cell_v"):
        data[name] = tuple(data[name]) if data[name] else None
    return Record(day=(row.at - now) / timedelta(days=1), **data)


def packs_by_tag(tags: list[str]) -> dict[str, int]:
    """Ids of packs by tag; raises DomainError for a tag that is not there."""
    found = dict(OwnedPack.live.filter(tag__in=tags).values_list("tag", "pk"))
    missing = [t for t in tags if t not in found]
    if missing:
        raise DomainError("packs", f"There is no pack {missing[0]} in the box.")
    return found


def condemned() -> dict[str, str]:
    """Packs whose records retire them by the house's rules, by tag, with the worst sign; kept until a
    record or a pack changed."""
    stamps = (
        tuple(PackRecord.objects.aggregate(n=Count("pk"), ids=Max("pk")).values()),
        tuple(OwnedPack.live.aggregate(n=Count("pk"), latest=Max("updated"), ids=Max("pk")).values()),
        rules_or_house(None),
    )
    return dict(_condemned_at(*stamps))


@lru_cache(maxsize=2)
def _condemned_at(
    records: tuple[Any, ...], packs: tuple[Any, ...], rules: HouseRules
) -> tuple[tuple[str, str], ...]:
    found = []
    for k in every_known(timezone.now()):
        evidence, _ = evidence_of(k.pack, k.records, rules=rules)
        if evidence and evidence[0].level == "retire":
            found.append((k.tag, evidence[0].sentence.rstrip(".")))
    return tuple(found)
