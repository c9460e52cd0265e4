"""Events out of the database as the core's values."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any

from django.db.models import QuerySet

from coldstack.core.life.events import Event as EventValue
from coldstack.server.life.models import Event

_PLAIN = (
    "kind",
    "by",
    "temperature_c",
    "at_room",
    "soc",
    "capacity_ah",
    "mah",
    "minutes",
    "balance_min",
    "landing_cell_v",
    "pack_v",
    "sure",
    "hands",
    "state",
    "ended",
    "charge",
    "model",
    "text",
    "cycle",
)
_LISTS = ("cell_v", "end_cell_v", "cell_mohm", "signs", "steps")


def event_values(pack_pks: Sequence[int], only: Sequence[int] | None = None) -> dict[int, list[EventValue]]:
    """All events of these packs but notes, withdrawn ones too, or those with these numbers; one query."""
    out: dict[int, list[EventValue]] = {pk: [] for pk in pack_pks}
    rows = Event.objects.filter(pack_id__in=pack_pks).exclude(kind="note").order_by()
    for pk, value in _values(rows if only is None else rows.filter(pk__in=only)):
        out[pk].append(value)
    return out


def latest_values(pack_pk: int, most: int) -> list[EventValue]:
    """The latest events of a pack that stand, but notes; one query."""
    rows = Event.standing.filter(pack_id=pack_pk).exclude(kind="note").order_by("-at", "-id")[:most]
    return [value for _, value in _values(rows)]


def events_of_kinds(pack_pk: int, kinds: Sequence[str]) -> list[EventValue]:
    """Those of some kinds that stand, in order; one query."""
    rows = Event.standing.filter(pack_id=pack_pk, kind__in=kinds).order_by("at", "id")
    return [value for _, value in _values(rows)]


def _values(rows: QuerySet[Event]) -> Iterator[tuple[int, EventValue]]:
    columns = ("pack_id", "pk", "key", "at", "said", "withdrawn", *_PLAIN, *_LISTS)
    for pk, number, key, at, said, withdrawn, *more in rows.values_list(*columns):
        told: dict[str, Any] = dict(zip(_PLAIN, more, strict=False))
        told |= {n: tuple(v or ()) for n, v in zip(_LISTS, more[len(_PLAIN) :], strict=True)}
        told |= {"at": at.timestamp(), "said": said.timestamp(), "withdrawn": withdrawn is not None}
        yield pk, EventValue(key=key, number=number, **told)
