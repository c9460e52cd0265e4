"""Stopping a charge, whoever asks: the charger is told, and what it measures afterwards confirms it.

Until then the charge stays open, and its packs taken.
"""

from __future__ import annotations

from contextlib import suppress

from django.db import DatabaseError, transaction
from django.utils import timezone

from coldstack.core.errors import DomainError
from coldstack.core.watching.alarm import PULL_PLUG
from coldstack.core.watching.reports import PortState
from coldstack.core.watching.stopping import ended, not_known_to_have_stopped, outcome
from coldstack.server.charges.ending import end
from coldstack.server.charges.hearing import Word, hear, told_to_stop
from coldstack.server.charges.models import ACTIVE, Charge
from coldstack.server.charges.seen import Observation, Stop, expected_of, seen_before, speed_of, store
from coldstack.server.devices.asking import charger_device
from coldstack.server.devices.charger import ChargerDevice, DeviceRefusal, LinkLost

BY_HAND = "stopped by hand"
SILENT_AGAIN_S = 5.0
"""A charger that does not answer is told again so often: each time may take as long as an answer. [s]"""


def ask_to_stop(
    charge: Charge, seen: Observation, device: ChargerDevice | None, now: float
) -> PortState | None:
    """Tell the charger, and hear what it measures then: how the charge has ended, None while that is not
    known. An alarm says so then, from the first answer that is no yes, or ten of its seconds on."""
    stop = seen.stop
    assert stop is not None
    if seen.silent_since is None or now - stop.told >= SILENT_AGAIN_S:
        stop.told = now
        stop.answer, stop.refusal = told_to_stop(charge, device, stop.why)
    stop.heeded = stop.heeded or stop.answer == "accepted"
    stop.stands = stop.stands or stop.heeded
    word = Word("silent") if stop.answer == "unheard" else hear(charge, device, seen.last)
    if word.said is not None:
        seen.take(word.said, now, speed_of(charge))
    over = word.said is not None and ended(expected_of(charge), word.state, seen.last)
    asked_s = speed_of(charge) * (now - stop.since)
    says = word.state if word.said is not None else "stopped"  # nothing that it says tells that it goes on
    seen.outcome = outcome(stop.answer, state=says, over=over, asked_s=asked_s)
    alarm = not_known_to_have_stopped(
        seen.outcome, charger=charge.charger_name, refusal=stop.refusal, now_s=seen.time_s
    )
    if alarm is not None:
        seen.alarms.append(alarm)
    return word.state if over else None


def stop_by_hand(charge: Charge) -> Charge:
    """Somebody wants it stopped: said first, so that the watch goes on with it, then told to the charger.

    It comes back stopped where the charger's readings show that; else as *stopping*, with what was answered.

    Raises
    ------
    DomainError
        If it was told, and nothing could be stored.
    """
    if charge.state not in ACTIVE:
        return charge
    device = charger_device(charge.charger_name)
    stored = _say_stopping(charge)
    seen = seen_before(charge, 0.0)
    seen.stop, seen.quiet = Stop(charge.stop_why or BY_HAND, 0.0, stands=True), True
    over = ask_to_stop(charge, seen, device, 0.0)
    seen.alarms = []  # the watch says them; those that stand are closed with the charge
    try:
        if not stored:
            raise DatabaseError
        with transaction.atomic():
            store(charge, seen)
        if over is not None:
            end(charge, "stopped", charge.stop_why or BY_HAND)
    except DatabaseError:
        raise DomainError("charger", _unstored(charge, over)) from None
    return Charge.objects.get(pk=charge.pk)


def pulled(charge: Charge) -> Charge:
    """Somebody pulled the charger's plug, and says so: the one who stands there is believed. What still
    charges there is an alarm of its own.

    Raises
    ------
    DomainError
        For a charge that nobody wants stopped: its readings are better than anybody's word.
    """
    if charge.state not in ACTIVE:
        return charge
    if charge.state != "stopping" and not charge.alarms.filter(kind=PULL_PLUG, over=False).exists():
        raise DomainError("charge", "It charges, and nobody asked for its end. Press Stop first.")
    device = charger_device(charge.charger_name)
    if device is not None and charge.expected.get("simulated") is True:
        with suppress(LinkLost, DeviceRefusal):
            device.unplug(charge.port)
    with transaction.atomic():
        end(charge, "stopped", f"{charge.stop_why or BY_HAND}; its plug was pulled")
        # who pulled it has seen to that; what else was wrong is seen to on its own
        charge.alarms.filter(kind=PULL_PLUG, confirmed=None).update(confirmed=timezone.now())
    return Charge.objects.get(pk=charge.pk)


def _say_stopping(charge: Charge) -> bool:
    """Whether it could be stored that it is to be stopped."""
    try:
        with transaction.atomic():
            rows = Charge.objects.filter(pk=charge.pk, state__in=ACTIVE)
            rows.filter(stop_why="").update(stop_why=BY_HAND, stop_outcome="asked")
            rows.update(state="stopping")
    except DatabaseError:
        return False
    charge.refresh_from_db()
    return True


def _unstored(charge: Charge, over: PortState | None) -> str:
    if over is not None:
        return "It was stopped at the charger; that could not be stored yet: is the disk full?"
    return (
        f"It is not known to have stopped, and nothing could be stored: is the disk full? Go to "
        f"{charge.charger_name} and pull its plug."
    )
