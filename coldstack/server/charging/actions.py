"""What one does at the bench: keep the layout, read, start, look, stop, take out of use.

Each writes in one transaction.
"""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

from django.db import DatabaseError, IntegrityError, transaction
from django.utils import timezone

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.charging import watch
from coldstack.core.charging.bench import Fed, needed_pieces
from coldstack.core.charging.cell_readings import check_reading
from coldstack.core.errors import DomainError
from coldstack.server.api.values import figures
from coldstack.server.api.versions import ANY, require_latest, version_of
from coldstack.server.charging import schemas as s
from coldstack.server.charging.assemble import OnBench, on_bench, pack_tag, typed_reading
from coldstack.server.charging.devices import (
    ChargerDevice,
    DeviceRefusal,
    LinkLost,
    Message,
    Order,
    charger_device,
    checker_device,
)
from coldstack.server.charging.ending import never_began
from coldstack.server.charging.models import ACTIVE, Alarm, Charge, Layout, OnCharger
from coldstack.server.charging.orders import Ordered, ordered
from coldstack.server.charging.watcher import stop as stop_at_charger
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


def _dated(line: s.LaidIn, before: s.LaidIn | None, now: datetime) -> s.LaidIn:
    """With the time of its reading: its own; that of before where it reads as before; else now."""
    if line.read_at is not None or not (line.cells.strip() or line.temperature_c is not None):
        return line
    same = before is not None and (line.cells, line.temperature_c) == (before.cells, before.temperature_c)
    return line.model_copy(update={"read_at": before.read_at if same and before else now})


def _keep_reading(pack: Standing, line: s.LaidIn, now: datetime) -> None:
    """What is typed, as one reading, however often it was mended while it was typed."""
    typed = typed_reading(pack, line, now, {})
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
    found = {x.pack.id: x for x in standings(tags=[pack_tag(x.pack) for x in data.laid], now=now)}
    laid = [_still_holding(x, found[x.pack], now) for x in data.laid if x.pack in found]
    groups = [[x for x in g if x in found] for g in data.groups]
    return data.model_copy(update={"laid": laid, "groups": [g for g in groups if g], "at": None})


def _still_holding(line: s.LaidIn, pack: Standing, now: datetime) -> s.LaidIn:
    life, typed = pack.now.told, typed_reading(pack, line, now, {})
    read_at = line.read_at.timestamp() if line.read_at else now.timestamp()
    used = max((e.at for e in life.events if e.kind in ("charge", "run", "state")), default=0.0)
    if (typed and typed.key in life.gone) or (read_at < used and line.cells.strip()):
        return s.LaidIn(pack=line.pack)
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


def start(data: s.StartIn) -> Charge:
    """Start a batch on a port of a linked charger. It is kept before the charger is told; pressed again
    under the same key it is the same charge.

    Raises
    ------
    DomainError
        For anything that forbids it: inspection, house rules, the charger's own refusal, a wrong cell
        count, steps not ticked.
    """
    key = data.key or new_key()
    known = Charge.objects.filter(key=key).first()
    if known is not None:
        return known
    b = on_bench(data.bench)
    fed = b.fed(data.charger)
    device = charger_device(fed.charger.name)
    if device is None:
        raise DomainError("charger", f"{fed.charger.name} is not linked: set it by hand, and stay with it.")
    here = list(Charge.objects.filter(state__in=ACTIVE, charger_name=fed.charger.name))
    _require_free(data, fed.charger.ports, here, b.busy)
    o = ordered(
        b, data.packs, data.charger, ports_in_use=len(here) + 1, port=data.port, current_a=data.current_a
    )
    missing = [x for x in o.steps if x.id not in data.steps]
    if missing:
        raise DomainError("steps", f"Tick every step first. Next: {missing[0].sentence}")
    try:
        charge, order = _intended(data, b, o, device, key)
    except LinkLost:
        raise DomainError("charger", f"{fed.charger.name} does not answer. Nothing was started.") from None
    except DeviceRefusal as refusal:
        raise DomainError("charger", f"{fed.charger.name} refuses: {refusal}") from None
    return _told(charge, order, device)


def look(charge_id: int) -> Charge:
    """Somebody looked: the pack is cool and flat."""
    charge = Charge.objects.get(pk=charge_id)
    Charge.objects.filter(pk=charge_id, state__in=ACTIVE).update(looked_s=charge.time_s)
    charge.alarms.filter(kind=watch.LOOK, over=False).update(over=True)
    return Charge.objects.get(pk=charge_id)


def stop(charge_id: int) -> Charge:
    """Stop a charge by hand.

    Raises
    ------
    DomainError
        If the charger cannot be reached: somebody must go to it. If it was stopped and that could not be
        stored; the watch does so when it can.
    """
    charge = Charge.objects.get(pk=charge_id)
    try:
        stopped = charge.state not in ACTIVE or stop_at_charger(
            charge, charger_device(charge.charger_name), "stopped by hand"
        )
    except DatabaseError:
        words = "It was stopped at the charger; that could not be stored yet: is the disk full?"
        raise DomainError("charger", words) from None
    if not stopped:
        raise DomainError("charger", f"{charge.charger_name} does not answer. Go to it and stop it there.")
    return Charge.objects.get(pk=charge_id)


@transaction.atomic
def confirm_alarm(alarm_id: int) -> Alarm:
    """Somebody saw to it. Raises Alarm.DoesNotExist for an unknown one."""
    alarm = Alarm.objects.get(pk=alarm_id)
    if alarm.confirmed is None:
        alarm.confirmed = timezone.now()
        alarm.save(update_fields=["confirmed"])
    return alarm


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


def _intended(
    data: s.StartIn, b: OnBench, o: Ordered, device: ChargerDevice, key: str
) -> tuple[Charge, Order]:
    """The charge as it is to be, stored before the charger is told anything that matters."""
    hello = device.hello()
    if hello.simulated:
        device.plug(data.port, _simulated(o, data.simulate))
    if wrong := watch.wrong_count(o.fit.pack.series, len(device.detect(data.port))):
        raise DomainError("port", wrong)
    order, fed = _order(o), b.fed(data.charger)
    expected = watch.check_expected(_expected(o, order, data.look_every_min, fed))
    more = {"minutes": o.slip.minutes, "binding": o.slip.binding, "charger": fed.charger.id}
    try:
        with transaction.atomic():
            charge = Charge.objects.create(
                key=key,
                label=" + ".join(pack_tag(x) for x in data.packs),
                charger_name=fed.charger.name,
                port=data.port,
                run=key,
                settings={**figures(order), **more},
                expected={
                    **figures(expected),
                    "cells": o.cells,
                    "balance_a": o.fit.charger.balance_a,
                    "pieces": needed_pieces(o.batch, o.fit, b.board),
                    "by_volts": chemistry(o.fit.pack.chemistry).charge_method == "cc_cv",
                    "simulated": hello.simulated,
                    "speed": hello.speed,
                },
            )
            say_begun(charge, [b.standings[x] for x in data.packs])
    except IntegrityError:
        words = "Something charges on this port already, or one of these packs elsewhere."
        raise DomainError("port", words) from None
    except DatabaseError:
        words = "It could not be stored: is the disk full? Nothing was started."
        raise DomainError("charger", words) from None
    return charge, order


def _told(charge: Charge, order: Order, device: ChargerDevice) -> Charge:
    """Tell the charger. Where nobody knows whether it heard, the watch finds out."""
    name = charge.charger_name
    try:
        run = device.start(charge.port, order, charge.key)
    except DeviceRefusal as refusal:
        never_began(charge, str(refusal))
        raise DomainError("charger", f"{name} refuses: {refusal}") from None
    except LinkLost:
        words = f"{name} does not answer any more. Look whether it charges; it is asked again and again."
        raise DomainError("charger", words) from None
    try:
        Charge.objects.filter(pk=charge.pk, state="starting").update(state="charging", run=run)
    except DatabaseError:
        device.stop(charge.port, "not kept")
        words = "It could not be stored: is the disk full? It was stopped again."
        raise DomainError("charger", words) from None
    return Charge.objects.get(pk=charge.pk)


def _order(o: Ordered) -> Order:
    """What the charger is told."""
    return Order(
        o.fit.pack.chemistry,
        "balance" if o.fit.balance else "plain",
        o.fit.pack.series,
        o.slip.current_a,
        o.slip.end_cell_v or 0.0,
        60.0 * o.slip.timer_min,
        float(o.slip.cutoff_mah),
    )


def _expected(o: Ordered, order: Order, look_every_min: float, fed: Fed) -> watch.Expected:
    """What the charge is watched by."""
    pack = o.fit.pack
    return watch.Expected(
        pack.chemistry,
        pack.series,
        pack.capacity_ah,
        o.slip.current_a,
        o.slip.end_cell_v or chemistry(pack.chemistry).full_v,
        order.timer_s,
        order.cutoff_mah,
        60.0 * look_every_min,
        fed.charger.dc_min_v if fed.source == "dc" else None,
    )


def say_begun(charge: Charge, packs: list[Standing]) -> None:
    """Each pack is charging from now on, in its life too."""
    charge.members.set([x.pk for x in packs])
    OnCharger.objects.bulk_create(OnCharger(pack_id=x.pk, charge=charge) for x in packs)
    for x in packs:
        cells = x.now.reading
        say(
            x.pk,
            "charging",
            key=f"charging-{charge.pk}-{x.pk}-{charge.run}"[:80],
            by="charger",
            charge=charge.pk,
            cell_v=list(cells.cell_v) if cells else None,
        )


def _require_free(data: s.StartIn, ports: int, here: list[Charge], busy: set[str]) -> None:
    if data.port > ports:
        raise DomainError("port", f"This charger has {ports} port{'s' * (ports > 1)}.")
    if any(c.port == data.port for c in here):
        raise DomainError("port", f"Port {data.port} is charging already.")
    both = [pack_tag(x) for x in data.packs if x in busy]
    if both:
        raise DomainError("packs", f"{both[0]} is being charged already.")


def _simulated(o: Ordered, simulate: str) -> Message:
    mass_g = sum(m.pack.mass_g for m in o.batch.members)
    return {
        "chemistry": o.fit.pack.chemistry,
        "cells": o.cells,
        "mass_g": mass_g,
        "faults": {simulate: 0} if simulate else {},
    }


def _owned(pack_id: str) -> OwnedPack:
    found = OwnedPack.live.filter(tag=pack_tag(pack_id)).first()
    if found is None:
        raise DomainError("pack", f"There is no pack {pack_tag(pack_id)} in the box.")
    return found
