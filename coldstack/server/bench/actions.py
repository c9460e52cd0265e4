"""What one does at the bench: keep the layout, read, take out of use. Each writes in one transaction."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone

from coldstack.core.errors import DomainError
from coldstack.core.packs.keys import said_of
from coldstack.core.readings.cells import check_reading
from coldstack.server.api.versions import ANY, require_latest, version_of
from coldstack.server.bench import schemas as s
from coldstack.server.bench.assemble import on_bench, typed_event
from coldstack.server.charges.models import Layout
from coldstack.server.devices.asking import checker_device
from coldstack.server.devices.charger import DeviceRefusal, LinkLost
from coldstack.server.gear.actions import record
from coldstack.server.gear.models import Change, OwnedPack
from coldstack.server.life.log import new_key, say, set_withdrawn
from coldstack.server.life.models import Event
from coldstack.server.life.now import Standing, standing_of, standings

DRAFT = timedelta(minutes=10)
"""What is typed again within this time mends what was typed: it is one reading."""


@transaction.atomic
def keep_layout(data: s.BenchIn, made_from: str = ANY) -> s.BenchIn:
    """Keep the bench as it is laid out, and what was read into the life of each pack. What is left out of it
    stays as it was.

    Raises
    ------
    DomainError
        For packs, boards or rules that are not known. Readings that cannot be understood are kept as typed.
    ChangedElsewhere
        If it was made from another version than the one that is kept.
    """
    require_latest(made_from, _document())
    stored = _stored()
    data = stored.model_copy(update={name: getattr(data, name) for name in data.model_fields_set})
    now, before = timezone.now(), {x.pack: x for x in stored.laid}
    laid = [_dated(line, before.get(line.pack), now) for line in data.laid]
    data = data.model_copy(update={"laid": laid})
    b = on_bench(data)
    for line in laid:
        _keep_reading(b.standings[line.pack], line, now)
    Layout.objects.update_or_create(pk=1, defaults={"document": data.model_dump(mode="json")})
    return data


def _dated(line: s.BenchPackIn, before: s.BenchPackIn | None, now: datetime) -> s.BenchPackIn:
    """With the time of its reading: its own; that of before where it reads as before; else now."""
    if line.read_at is not None or not (line.cells.strip() or line.temperature_c is not None):
        return line
    same = before is not None and (line.cells, line.temperature_c) == (before.cells, before.temperature_c)
    return line.model_copy(update={"read_at": before.read_at if same and before else now})


def _keep_reading(pack: Standing, line: s.BenchPackIn, now: datetime) -> None:
    """What is typed, as one reading, however often it was mended while it was typed."""
    typed = typed_event(pack, line, now, {})
    if typed is None or Event.objects.filter(key=typed.key).exists():
        return
    drafts = Event.standing.filter(
        pack_id=pack.pk, key__startswith=f"bench-{pack.pk}-", at__gt=now - DRAFT
    ).values_list("pk", flat=True)
    set_withdrawn(list(drafts), withdrawn=True)
    say(
        pack.pk,
        "reading",
        key=typed.key,
        at=datetime.fromtimestamp(typed.at, UTC),
        cell_v=list(typed.cell_v) or None,
        pack_v=typed.pack_v,
        temperature_c=typed.temperature_c,
    )


def layout_version() -> str:
    """Which version of the bench is kept."""
    return version_of(_document())


def _document() -> dict[str, Any] | None:
    return Layout.objects.filter(pk=1).values_list("document", flat=True).first()


def _stored() -> s.BenchIn:
    document = _document()
    return s.BenchIn() if document is None else s.BenchIn(**document)


def kept_layout() -> s.BenchIn:
    """The bench as it was kept, without packs that have gone since, and without readings that do not hold
    any more: they are in the packs' lives."""
    data, now = _stored(), timezone.now()
    found = {x.pack.id: x for x in standings(tags=[said_of(x.pack) for x in data.laid], now=now)}
    laid = [_still_holding(x, found[x.pack], now) for x in data.laid if x.pack in found]
    groups = [[x for x in g if x in found] for g in data.groups]
    return data.model_copy(update={"laid": laid, "groups": [g for g in groups if g], "at": None})


def _still_holding(line: s.BenchPackIn, pack: Standing, now: datetime) -> s.BenchPackIn:
    life, typed = pack.now.told, typed_event(pack, line, now, {})
    read_at = line.read_at.timestamp() if line.read_at else now.timestamp()
    if (typed and typed.key in life.gone) or (read_at < life.used_at and line.cells.strip()):
        return s.BenchPackIn(pack=line.pack)
    return line


def read_by_checker(pack_id: str) -> Event:
    """Volts of each cell by the linked checker, kept as a reading.

    Raises
    ------
    DomainError
        Without a checker, or if it does not answer.
    """
    pack, checker = _owned(pack_id), checker_device()
    if checker is None:
        raise DomainError("pack", "No cell checker is linked. Type the cells, like 3.82 3.83 3.79.")
    expected = standing_of(pack.tag).now.told.socs
    try:
        volts, temperature = checker.read(
            {
                "tag": pack.tag,
                "chemistry": pack.chemistry,
                "cells": pack.series,
                "lazy": "lazy" in pack.note,
                "soc": sum(expected) / len(expected) if expected else None,
            }
        )
    except LinkLost:
        raise DomainError(
            "pack", "The cell checker does not answer. Type the cells, like 3.82 3.83 3.79."
        ) from None
    except DeviceRefusal as refusal:
        raise DomainError("pack", str(refusal)) from None
    # a device is trusted no more than a person: what no such pack can read is not kept
    reading = check_reading(pack.chemistry, pack.series, tuple(volts))
    return say(
        pack.pk,
        "reading",
        key=new_key(),
        by="checker",
        cell_v=list(reading.cell_v),
        temperature_c=temperature,
    )


@transaction.atomic
def take_out_of_use(pack_id: str, why: str) -> Change:
    """Mark a pack as not to be charged or run again; it can be undone."""
    pack = _owned(pack_id)
    before = {"fit": pack.fit, "note": pack.note}
    pack.fit, pack.note = (
        False,
        (f"{pack.note}; {why}" if pack.note and why not in pack.note else pack.note or why)[:200],
    )
    pack.save()
    return record(f"Took pack {pack.tag} out of use", [{"kind": "packs", "id": pack.pk, "before": before}])


def _owned(pack_id: str) -> OwnedPack:
    found = OwnedPack.live.filter(tag=said_of(pack_id)).first()
    if found is None:
        raise DomainError("pack", f"There is no pack {said_of(pack_id)} in the box.")
    return found
