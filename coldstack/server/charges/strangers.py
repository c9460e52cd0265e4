"""Charges that nobody here began: stopped, or watched here from now on."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django.db import DatabaseError, IntegrityError, transaction
from django.utils import timezone

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.errors import DomainError
from coldstack.core.packs.keys import said_of
from coldstack.core.watching.expected import Expected
from coldstack.core.watching.reports import believed
from coldstack.core.watching.strangers import STRANGER, expected_of_stranger, minutes_at_most
from coldstack.server.api.values import figures
from coldstack.server.charges.actions import say_begun
from coldstack.server.charges.models import Alarm, Charge
from coldstack.server.devices.asking import charger_device
from coldstack.server.devices.charger import ChargeOrder, ChargerDevice, DeviceRefusal, Hello, LinkLost
from coldstack.server.gear.models import OwnedPack
from coldstack.server.life.now import Standing, standing_of
from coldstack.server.rules.assemble import rules_or_house


@dataclass(frozen=True, slots=True)
class _There:
    """Where a stranger charges."""

    name: str
    port: int
    device: ChargerDevice


def stop_stranger(alarm_id: int) -> Alarm:
    """Stop a charge that nobody here began.

    Raises
    ------
    DomainError
        For an alarm of another kind, or a charger that does not do it.
    """
    alarm, there = _found(alarm_id)
    try:
        there.device.stop(there.port, "stopped by hand")
        at_rest = any(p.port == there.port and not p.charging for p in there.device.ports())
    except (LinkLost, DeviceRefusal):
        at_rest = False
    if not at_rest:
        raise DomainError("alarm", f"{there.name} does not stop it. Go to it and pull its plug.")
    try:
        return _over(alarm, "It was stopped.")
    except DatabaseError:
        words = "It was stopped at the charger; that could not be stored: is the disk full?"
        raise DomainError("alarm", words) from None


def take_over(alarm_id: int, pack_id: str, look_every_min: float) -> Charge:
    """Watch it here from now on, as a charge of this pack; said twice it is one. Who says so stands at it:
    that is a look.

    Raises
    ------
    DomainError
        For a pack that is barred or charges elsewhere, whose cells are not those that the charger reads, or
        that gets more than it may.
    """
    alarm, there = _found(alarm_id)
    try:
        run = next((p.run for p in there.device.ports() if p.port == there.port and p.charging), None)
        if run is None:
            raise DomainError("alarm", "It does not charge any more.")
        key = f"taken-{run}"[:64]
        known = Charge.objects.filter(key=key, label=said_of(pack_id)).first()
        if known is not None:
            return known
        pack = _pack(pack_id)
        said = believed(there.device.report(there.port, run, 0), cells=pack.pack.series, before=None)
        hello = there.device.hello()
    except (LinkLost, DeviceRefusal):
        raise DomainError("alarm", f"{there.name} does not answer. Go to it and stop it there.") from None
    if said.doubts:
        raise DomainError("pack", f"This is not what {pack.tag} reads on a charger: {said.doubts[0]}.")
    rules = rules_or_house(None)
    expected = expected_of_stranger(pack.pack, said.samples, rules, look_every_s=60 * look_every_min)
    try:
        with transaction.atomic():
            charge = Charge.objects.create(
                key=key,
                run=run,
                label=pack.tag,
                charger_name=there.name,
                port=there.port,
                state="charging",
                time_s=said.time_s,
                looked_s=said.time_s,
                **_watched_by(expected, hello),
            )
            say_begun(charge, [pack])
            _over(alarm, f"It is watched here as a charge of {pack.tag}.")
    except IntegrityError:
        words = f"{pack.tag} is on a charger already, or this charge is watched already."
        raise DomainError("pack", words) from None
    return charge


def _watched_by(e: Expected, hello: Hello) -> dict[str, Any]:
    """What it is watched by, told as settings too: those of the charger nobody here knows."""
    order = ChargeOrder(
        e.chemistry, "as set there", e.series, e.current_a, e.full_cell_v, e.timer_s, float(e.cutoff_mah)
    )
    more = {"minutes": minutes_at_most(e), "binding": "set at the charger", "charger": ""}
    return {
        "settings": {**figures(order), **more},
        "expected": {
            **figures(e),
            "cells": [],
            "by_volts": chemistry(e.chemistry).charge_method == "cc_cv",
            "simulated": hello.simulated,
            "speed": hello.speed,
        },
    }


def _found(alarm_id: int) -> tuple[Alarm, _There]:
    alarm = Alarm.objects.get(pk=alarm_id)
    name, _, port = alarm.where.rpartition(", port ")
    if alarm.kind != STRANGER or not port.isdigit():
        raise DomainError("alarm", "This is about a charge that is seen to at its own place.")
    device = charger_device(name)
    if device is None:
        raise DomainError("alarm", f"{name} is not linked any more. Go to it and pull its plug.")
    return alarm, _There(name, int(port), device)


def _pack(pack_id: str) -> Standing:
    try:
        pack = standing_of(said_of(pack_id))
    except OwnedPack.DoesNotExist as unknown:
        raise DomainError("pack", str(unknown)) from None
    if pack.now.bars:
        raise DomainError("pack", f"{pack.now.bars} Stop it.")
    if pack.now.state == "charging":
        raise DomainError("pack", f"{pack.tag} is charging on another port.")
    return pack


def _over(alarm: Alarm, done: str) -> Alarm:
    """It holds no longer; who did that has seen to it."""
    alarm.over, alarm.done, alarm.confirmed = True, done, timezone.now()
    alarm.save(update_fields=["over", "done", "confirmed"])
    return alarm
