"""Events of packs' lives for tests: what somebody once said of a pack."""

from __future__ import annotations

from datetime import datetime, timedelta
from itertools import count
from typing import Any

from django.db.models import QuerySet
from django.utils import timezone

from coldstack.server.gear.models import OwnedPack
from coldstack.server.life.models import Event

_numbers = count(1)


def told(
    tag: str | OwnedPack, kind: str, *, at: datetime | None = None, days_ago: float = 0.0, **fields: Any
) -> Event:
    """One event of the pack with this tag, kept as it is given."""
    pack = OwnedPack.live.get(tag=tag) if isinstance(tag, str) else tag
    moment = at or timezone.now() - timedelta(days=days_ago)
    said = fields.pop("said", moment)
    key = fields.pop("key", f"test-event-{next(_numbers):08d}")
    return Event.objects.create(pack=pack, kind=kind, key=key, at=moment, said=said, **fields)


def events(tag: str, **wanted: Any) -> list[Event]:
    """The events of a pack that stand, oldest first."""
    return list(Event.standing.filter(pack__tag=tag, **wanted).order_by("at", "id"))


def forget() -> None:
    """An empty log, as in a database to which a file is brought back."""
    QuerySet(Event).delete()
