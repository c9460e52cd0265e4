"""The one way into a pack's life: say something once, withdraw it, bring it back. Each act is one
transaction of whoever calls; an act said twice is kept once."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import datetime, timedelta
from typing import Any
from uuid import uuid4

from django.db import transaction
from django.db.models import Max
from django.utils import timezone

from coldstack.core.errors import DomainError
from coldstack.server.api.clocks import by_this_clock
from coldstack.server.api.hands import hands_now
from coldstack.server.gear.changes import stamp
from coldstack.server.gear.models import OwnedPack
from coldstack.server.life.kept import tell_anew
from coldstack.server.life.models import Event

BATCH = 500
_LEAST = timedelta(microseconds=1)


def new_key() -> str:
    """A key of an act for which nobody made one."""
    return uuid4().hex


@transaction.atomic
def say(pack_pk: int, kind: str, *, key: str, at: datetime | None = None, **told: Any) -> Event:
    """Keep one event; one that was said before under this key is given back as it was kept then.

    Without a time of its own it is now, and never before what was said of the pack last: a clock that was
    set back turns no order around.

    Raises
    ------
    DomainError
        For a key under which something else was said.
    """
    known = Event.objects.filter(key=key).first()
    if known is not None:
        if (known.pack_id, known.kind) != (pack_pk, kind):
            raise DomainError("key", "Under this key something was said of something else.")
        return known
    moment = now_for([pack_pk])[pack_pk]
    when = {"at": at or moment, "said": moment}
    return Event.objects.create(key=key, pack_id=pack_pk, kind=kind, hands=hands_now(), **when, **told)


def was(at: datetime | None) -> datetime | None:
    """When something was that waited for a line, by this machine's clock; nothing is told of what is to
    come."""
    return None if at is None else min(by_this_clock(at), timezone.now())


@transaction.atomic
def say_all(events: Sequence[Event]) -> tuple[int, int]:
    """Keep many at once, each with its own key and times: how many were new, how many were there."""
    keys = [e.key for e in events]
    there: set[str] = set()
    for start in range(0, len(keys), BATCH):
        part = keys[start : start + BATCH]
        there |= set(Event.objects.filter(key__in=part).values_list("key", flat=True))
    new = {e.key: e for e in reversed(events) if e.key not in there}
    Event.objects.bulk_create(list(new.values())[::-1], batch_size=BATCH)
    tell_anew(sorted({e.pack_id for e in new.values()}))
    return len(new), len(events) - len(new)


def now_for(pack_pks: Iterable[int]) -> dict[int, datetime]:
    """The moment for something said now of each pack: now, or just after what was said of it last."""
    now, pks = timezone.now(), list(pack_pks)
    said = dict(Event.objects.filter(pack_id__in=pks).values_list("pack_id").annotate(last=Max("said")))
    return {pk: max(now, said[pk] + _LEAST) if pk in said else now for pk in pks}


@transaction.atomic
def retold(event: Event, **changes: Any) -> Event:
    """The same event, better known: what was told before is withdrawn, the new telling takes its key."""
    event.withdrawn, old_key = stamp(), event.key
    event.key = f"{old_key[:60]}~{new_key()[:8]}"
    event.save(update_fields=["key", "withdrawn", "changed"])
    fields = {f.attname: getattr(event, f.attname) for f in Event._meta.concrete_fields}
    for name in ("id", "changed"):
        del fields[name]
    return Event.objects.create(**{**fields, "key": old_key, "withdrawn": None, **changes})


@transaction.atomic
def set_withdrawn(ids: Sequence[int], *, withdrawn: bool) -> list[Event]:
    """Withdraw events, or bring them back as they were, all or none; those that are so already stay.

    Raises
    ------
    DomainError
        For one that is not there, or that a charger told: nobody talks a stop for danger away.
    """
    rows = list(Event.objects.filter(pk__in=ids).select_related("pack"))
    if len(rows) < len(set(ids)):
        raise DomainError("events", "This is not in the log.")
    if any(e.by == "charger" for e in rows):
        raise DomainError("events", "What the charger told stays. Note what you know better.")
    for row in rows:
        if withdrawn != (row.withdrawn is not None):
            row.withdrawn = stamp() if withdrawn else None
            row.save(update_fields=["withdrawn", "changed"])
    return rows


def packs_by_tag(tags: Sequence[str], field: str = "packs") -> dict[str, int]:
    """Ids of packs by tag; raises DomainError for a tag that is not there."""
    found = dict(OwnedPack.live.filter(tag__in=tags).values_list("tag", "pk"))
    missing = [t for t in tags if t not in found]
    if missing:
        raise DomainError(field, f"There is no pack {missing[0]} in the box.")
    return found
