"""Lives as they are kept beside their events: told on with what was said since, told anew where that does not
hold, kept again as the program starts, and proved equal to all events by a command."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime
from functools import lru_cache
from hashlib import sha256
from typing import Any

from django.db import transaction
from django.db.models import OuterRef, QuerySet, Subquery
from django.utils import timezone
from pydantic import TypeAdapter

from coldstack.core.keeping.records import Record
from coldstack.core.life.kept import (
    MADE,
    KeptLife,
    KeptState,
    KeptTail,
    kept_of,
    restored,
    told_again,
)
from coldstack.core.life.told import PackHistory, told, told_with
from coldstack.core.packs.keys import owned_key
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HouseRules
from coldstack.server.gear.assemble import OWNED_FIGURES, pack_of
from coldstack.server.gear.models import OwnedPack
from coldstack.server.life.models import Event
from coldstack.server.life.models import KeptLife as Row
from coldstack.server.life.values import event_values
from coldstack.server.rules.assemble import rules_or_house

Mark = tuple[datetime | None, datetime]
"""Stamp of a pack's latest event and of its row: what was told holds while both stay."""

MOST_BEHIND = 200
"""Beyond so many events that are not kept yet, all of a pack are told."""
_now = TypeAdapter(KeptState)
_tail = TypeAdapter(KeptTail)
_measured = TypeAdapter(list[tuple[Record, str]])


@lru_cache(maxsize=32)
def made_by(rules: HouseRules) -> str:
    """A mark of these rules, and of how lives are told."""
    return sha256(f"{MADE} {rules!r}".encode()).hexdigest()


def kept_lives(
    wanted: Sequence[tuple[Mark, int, Pack]], rules: HouseRules, at: float
) -> dict[int, PackHistory]:
    """Those of these packs that are kept, told on with what was said since; without those of which something
    was changed, or told late. One query, and two more where something was said."""
    packs = {pk: (mark, pack) for mark, pk, pack in wanted}
    rows = Row.objects.filter(pack_id__in=packs, made=made_by(rules))
    found, behind = dict[int, PackHistory](), dict[int, datetime | None]()
    for pk, changed, updated, now in rows.values_list("pack_id", "changed", "updated", "now"):
        mark, pack = packs[pk]
        if mark == (changed, updated):
            found[pk] = restored(pack, rules, _now.validate_json(now), Whole(pk, pack, rules))
        elif mark[1] == updated:
            behind[pk] = changed
    return found | _caught_up(behind, {pk: pack for pk, (_, pack) in packs.items()}, rules, at)


def _caught_up(
    behind: Mapping[int, datetime | None], packs: Mapping[int, Pack], rules: HouseRules, at: float
) -> dict[int, PackHistory]:
    """Kept lives with what was said since they were kept, where that came after all of it."""
    if not behind:
        return {}
    since = Event.objects.filter(pack_id__in=behind)
    first = min((c for c in behind.values() if c is not None), default=None)
    if first is not None:
        since = since.filter(changed__gt=first)
    numbers: dict[int, list[int]] = {pk: [] for pk in behind}
    for pk, number, changed in since.values_list("pack_id", "pk", "changed"):
        known = behind[pk]
        if known is None or changed > known:
            numbers[pk].append(number)
    few = {pk: n for pk, n in numbers.items() if len(n) <= MOST_BEHIND}
    new = event_values(list(few), only=[n for part in few.values() for n in part])
    out = {}
    for row in Row.objects.filter(pk__in=few, made=made_by(rules)):
        again = told_again(packs[row.pk], rules, _parsed(row), at)
        keys = again.gone | {e.key for e in (*again.events, *again.ahead)}
        if any(e.key in keys for e in new[row.pk]):
            continue  # something that was told already was changed, or brought back
        life = told_with(again, new[row.pk], at)
        if life is not None:
            out[row.pk] = life
    return out


class Whole:
    """The whole of a kept life, brought when it is asked for, once."""

    def __init__(self, pk: int, pack: Pack, rules: HouseRules) -> None:
        self.pk, self.pack, self.rules = pk, pack, rules
        self.known: PackHistory | None = None

    def life(self) -> PackHistory:
        """Told with its latest events at hand; told anew where it is not kept any more."""
        if self.known is None:
            bring([self])
        if self.known is None:
            events, now = event_values([self.pk])[self.pk], timezone.now().timestamp()
            self.known = told(self.pack, events, rules=self.rules, now=now)
        return self.known

    def __call__(self) -> list[tuple[Record, str]]:
        """All that was measured."""
        return self.life().measured


def bring(wholes: Iterable[Whole]) -> None:
    """All of these at once; one query."""
    wanted = {w.pk: w for w in wholes if w.known is None}
    if wanted:
        made, now = {made_by(w.rules) for w in wanted.values()}, timezone.now().timestamp()
        for row in Row.objects.filter(pk__in=wanted, made__in=made):
            whole = wanted[row.pack_id]
            whole.known = told_again(whole.pack, whole.rules, _parsed(row), now)


def whole_of(life: PackHistory) -> Whole | None:
    """Where the whole of a restored life comes from; None for one that was told from all events."""
    return life.load if isinstance(life.load, Whole) else None


def tell_anew(pack_pks: Sequence[int] | None = None) -> int:
    """Tell the lives of these packs, or of all, from all of their events, and keep them; how many. Each is a
    transaction of its own where there is none: who writes meanwhile waits for one pack, not for all."""
    rules, rows = rules_or_house(None), OwnedPack.live.all()
    packs = marked(rows if pack_pks is None else rows.filter(pk__in=pack_pks))
    for (_, updated), pk, _, pack in packs:
        with transaction.atomic():
            changed = _latest(pk)
            made = kept_of(pack, rules, event_values([pk])[pk], timezone.now().timestamp())
            told = {"now": _text(_now, made.now), "tail": _text(_tail, made.tail)}
            told |= {"measured": _text(_measured, made.measured), "made": made_by(rules)}
            Row.objects.update_or_create(pk=pk, defaults={**told, "changed": changed, "updated": updated})
    return len(packs)


def unlike() -> list[str]:
    """Tags of packs whose kept life is not what all of its events tell; those that do not hold are no
    matter."""
    rules, now, found = rules_or_house(None), timezone.now().timestamp(), []
    for mark, pk, tag, pack in marked(OwnedPack.live.all()):
        row = Row.objects.filter(pk=pk, made=made_by(rules)).first()
        if row is None or (row.changed, row.updated) != mark:
            continue
        life, kept = kept_of(pack, rules, event_values([pk])[pk], now), _parsed(row)
        whole = told_again(pack, rules, kept, now)
        if (life.now, told_again(pack, rules, life, now).measured) != (kept.now, whole.measured):
            found.append(tag)
    return found


def stale() -> list[int]:
    """Packs whose kept life does not hold; two queries."""
    rows = Row.objects.filter(made=made_by(rules_or_house(None)))
    kept = {pk: mark for pk, *mark in rows.values_list("pack_id", "changed", "updated")}
    return [pk for mark, pk, _, _ in marked(OwnedPack.live.all()) if kept.get(pk) != list(mark)]


def marked(rows: QuerySet[OwnedPack]) -> list[tuple[Mark, int, str, Pack]]:
    """These packs with the marks by which what was told of them holds, their keys and tags; one query."""
    latest = Event.objects.filter(pack_id=OuterRef("pk")).order_by("-changed").values("changed")[:1]
    found = rows.annotate(changed=Subquery(latest)).values("id", "tag", "updated", "changed", *OWNED_FIGURES)
    return [
        ((row["changed"], row["updated"]), row["id"], row["tag"], pack_of(row, owned_key(row["tag"])))
        for row in found
    ]


def _latest(pack_pk: int) -> datetime | None:
    """The stamp of a pack's latest event."""
    stamps = Event.objects.filter(pack_id=pack_pk).order_by("-changed")
    return stamps.values_list("changed", flat=True).first()


def _parsed(row: Row) -> KeptLife:
    return KeptLife(
        _now.validate_json(row.now), _tail.validate_json(row.tail), _measured.validate_json(row.measured)
    )


def _text(adapter: TypeAdapter[Any], value: Any) -> str:
    return adapter.dump_json(value, exclude_defaults=True).decode()
