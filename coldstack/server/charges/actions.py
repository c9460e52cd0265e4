"""What one does with charges: start, look, stop, confirm an alarm. Each writes in one transaction."""

from __future__ import annotations

from django.db import DatabaseError, IntegrityError, transaction
from django.utils import timezone

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.charging.warming import pack_area_m2
from coldstack.core.errors import DomainError
from coldstack.core.packs.keys import said_of
from coldstack.core.scheduling.bench import needed_pieces
from coldstack.core.watching.alarm import LOOK
from coldstack.core.watching.expected import expected_charge, wrong_count
from coldstack.server.api.values import figures
from coldstack.server.bench import schemas as s
from coldstack.server.bench.assemble import OnBench, on_bench
from coldstack.server.bench.orders import Ordered, ordered
from coldstack.server.charges.ending import never_began
from coldstack.server.charges.hearing import told_to_stop
from coldstack.server.charges.models import ACTIVE, Alarm, Charge, OnCharger
from coldstack.server.charges.stopping import pulled as pulled_of
from coldstack.server.charges.stopping import stop_by_hand
from coldstack.server.devices.asking import charger_device
from coldstack.server.devices.charger import ChargeOrder, ChargerDevice, DeviceRefusal, LinkLost
from coldstack.server.devices.line_protocol import Message
from coldstack.server.life.log import new_key, say
from coldstack.server.life.now import Standing
from coldstack.server.life.volts import volts_said


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
    charge.alarms.filter(kind=LOOK, over=False).update(over=True)
    return Charge.objects.get(pk=charge_id)


def stop(charge_id: int) -> Charge:
    """Stop a charge by hand: it comes back stopped where the charger's readings show it, else as stopping."""
    return stop_by_hand(Charge.objects.get(pk=charge_id))


def pulled(charge_id: int) -> Charge:
    """Somebody pulled the charger's plug; raises DomainError for a charge that nobody wants stopped."""
    return pulled_of(Charge.objects.get(pk=charge_id))


@transaction.atomic
def confirm_alarm(alarm_id: int) -> Alarm:
    """Somebody saw to it. Raises Alarm.DoesNotExist for an unknown one."""
    alarm = Alarm.objects.get(pk=alarm_id)
    if alarm.confirmed is None:
        alarm.confirmed = timezone.now()
        alarm.save(update_fields=["confirmed"])
    return alarm


def _intended(
    data: s.StartIn, b: OnBench, o: Ordered, device: ChargerDevice, key: str
) -> tuple[Charge, ChargeOrder]:
    """The charge as it is to be, stored before the charger is told anything that matters."""
    hello = device.hello()
    if hello.simulated:
        device.plug(data.port, _simulated(o, data.simulate))
    if wrong := wrong_count(o.fit.pack.series, len(device.detect(data.port))):
        raise DomainError("port", wrong)
    order, fed = _order(o), b.fed(data.charger)
    expected = expected_charge(
        o.fit.pack,
        o.settings,
        look_every_s=60.0 * data.look_every_min,
        supply_min_v=fed.charger.dc_min_v if fed.source == "dc" else None,
        area_m2=sum(pack_area_m2(m.pack) for m in o.batch.members),
        balance_a=o.fit.charger.balance_a if o.fit.balance else 0.0,
    )
    more = {"minutes": o.settings.minutes, "binding": o.settings.binding, "charger": fed.charger.id}
    try:
        with transaction.atomic():
            charge = Charge.objects.create(
                key=key,
                label=" + ".join(said_of(x) for x in data.packs),
                charger_name=fed.charger.name,
                port=data.port,
                run=key,
                settings={**figures(order), **more},
                expected={
                    **figures(expected),
                    "cells": o.cells,
                    "pieces": needed_pieces(o.batch, o.fit, b.board),
                    **({"supply": fed.supply.id} if fed.supply else {}),
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


def _told(charge: Charge, order: ChargeOrder, device: ChargerDevice) -> Charge:
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
        Charge.objects.filter(pk=charge.pk).update(run=run)
        Charge.objects.filter(pk=charge.pk, state="starting").update(state="charging")
    except DatabaseError:
        told_to_stop(charge, device, "not kept")
        words = (
            f"It could not be stored: is the disk full? {name} was told to stop again. Look whether it did: "
            "until it has, it is watched."
        )
        raise DomainError("charger", words) from None
    return Charge.objects.get(pk=charge.pk)


def _order(o: Ordered) -> ChargeOrder:
    """What the charger is told."""
    return ChargeOrder(
        o.fit.pack.chemistry,
        "balance" if o.fit.balance else "plain",
        o.fit.pack.series,
        o.settings.current_a,
        o.settings.end_cell_v or 0.0,
        60.0 * o.settings.timer_min,
        float(o.settings.cutoff_mah),
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
            **volts_said(cells),
        )


def _require_free(data: s.StartIn, ports: int, here: list[Charge], busy: set[str]) -> None:
    if data.port > ports:
        raise DomainError("port", f"This charger has {ports} port{'s' * (ports > 1)}.")
    if any(c.port == data.port for c in here):
        raise DomainError("port", f"Port {data.port} is charging already.")
    both = [said_of(x) for x in data.packs if x in busy]
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
