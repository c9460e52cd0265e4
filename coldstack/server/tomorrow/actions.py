"""What one does with the day ahead: keep it, put it away, lay out what it needs. Each is one transaction."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone

from coldstack.core.errors import DomainError
from coldstack.core.packs.keys import said_of
from coldstack.server.api.versions import ANY, require_latest, version_of
from coldstack.server.bench import schemas as bench
from coldstack.server.bench.actions import keep_layout, kept_layout
from coldstack.server.bench.assemble import as_written
from coldstack.server.gear.models import OwnedPack
from coldstack.server.tomorrow import replies as r
from coldstack.server.tomorrow.assemble import needed, planned_day
from coldstack.server.tomorrow.models import DayAhead


def _document() -> dict[str, Any] | None:
    return DayAhead.objects.filter(pk=1).values_list("document", flat=True).first()


def kept_day() -> r.KeptDay:
    """The day that is kept."""
    row, document = DayAhead.objects.filter(pk=1).first(), _document()
    over = row is not None and row.end <= timezone.now()
    asked = None if document is None else r.TomorrowIn(**document)
    return r.KeptDay(asked=asked, version=version_of(document), over=over)


def asked_now(now: datetime) -> r.TomorrowIn:
    """What was asked, as of now by the clock of whoever asked it.

    Raises
    ------
    DayAhead.DoesNotExist
        Where no day is planned, or it is over.
    """
    row = DayAhead.objects.get(end__gt=now)
    asked = r.TomorrowIn(**row.document)
    at = as_written(asked.start) - (row.start - now)
    return asked.model_copy(update={"at": at.replace(second=0, microsecond=0)})


def keep_day(data: r.TomorrowIn, made_from: str = ANY) -> r.KeptDay:
    """Keep what is wanted, and which packs that takes.

    Raises
    ------
    DomainError
        For a day that cannot be, a model or a charger that is not there.
    ChangedElsewhere
        If it was made from another version than the one that is kept.
    """
    # planned before: nobody who writes waits for it
    now = timezone.now()
    found = planned_day(data, now)
    start = now + (as_written(data.start) - found.at)
    kept = data.model_copy(update={"at": None}).model_dump(mode="json")
    times = {"start": start, "end": start + timedelta(hours=data.hours)}
    with transaction.atomic():
        require_latest(made_from, _document())
        row, _ = DayAhead.objects.update_or_create(pk=1, defaults={"document": kept, **times})
        row.packs.set(OwnedPack.live.filter(tag__in=[said_of(x) for x in needed(found)]))
    return kept_day()


@transaction.atomic
def put_away(made_from: str = ANY) -> None:
    """Plan no day any more; said twice it is done once."""
    require_latest(made_from, _document())
    DayAhead.objects.all().delete()


def lay_out(data: r.TomorrowIn) -> bench.BenchIn:
    """Lay out what the day wants charged before, and let the bench be ready when it begins.

    Raises
    ------
    DomainError
        Where nothing is to be charged before, or as for the day itself.
    """
    found = planned_day(data, timezone.now())
    wanted = {p.id for p in found.plan.day.packs if p.before} & needed(found)
    if not wanted:
        raise DomainError("start", "Nothing is to be charged before it.")
    with transaction.atomic():
        layout = kept_layout()
        there = {line.pack for line in layout.laid}
        more = [bench.BenchPackIn(pack=x) for x in sorted(wanted - there)]
        changed: dict[str, Any] = {"laid": [*layout.laid, *more], "ready_by": as_written(data.start)}
        if data.attended is not None:
            changed["attended"] = data.attended
        changed |= {"pace": "gently", "at": None}
        return keep_layout(bench.BenchIn(**{**layout.model_dump(), **changed}))
