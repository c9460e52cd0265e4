"""Charges and alarms: start, watch, stop."""

from __future__ import annotations

from typing import Annotated

from django.http import HttpRequest
from ninja import Path, Router, Status

from coldstack.core.errors import DomainError
from coldstack.server.api.errors import Problem
from coldstack.server.bench.schemas import StartIn
from coldstack.server.charges import actions, strangers, views
from coldstack.server.charges import replies as r
from coldstack.server.charges import schemas as s
from coldstack.server.charges.levels import level_out, take_level_back, tell_level
from coldstack.server.charges.models import ACTIVE, Charge
from coldstack.server.devices.asking import charger_device
from coldstack.server.devices.charger import DeviceRefusal, LinkLost

router = Router(tags=["bench"])
WRITTEN = frozenset({400, 403, 404, 422})
SHOWN = 30


@router.post("/charges", response={201: r.RunningOut, WRITTEN: Problem}, summary="Start a charge")
def start(request: HttpRequest, data: StartIn) -> Status[r.RunningOut]:
    """On a linked charger, once every step is ticked; refused by the core's rules and the charger's own."""
    return Status(201, views.charge_out(actions.start(data)))


@router.get("/charges", response=list[r.ChargeLine], summary="Charges that run, and the log")
def charges(request: HttpRequest) -> list[r.ChargeLine]:
    """Running ones first, then the latest, at most thirty."""
    begun = Charge.objects.exclude(state="refused").prefetch_related("members")
    return [views.charge_line(c) for c in sorted(begun[:SHOWN], key=lambda c: c.state not in ACTIVE)]


@router.get("/charges/glance", response=list[r.GlanceOut], summary="Charges that run, at a glance")
def glance(request: HttpRequest) -> list[r.GlanceOut]:
    """The worst first: an alarm, a look that is due, then the look that is due soonest."""
    return views.glances_out()


@router.get("/alarms", response=r.AlarmsOut, summary="What is wrong now, anywhere")
def alarms(request: HttpRequest) -> r.AlarmsOut:
    """Alarms that stand, and those that stopped a charge until somebody has confirmed them; what to do now,
    in order. And how many charges run."""
    return views.alarms_out()


@router.post(
    "/alarms/{alarm_id}/confirm",
    response={200: r.AlarmsOut, WRITTEN: Problem},
    summary="I saw to it",
)
def confirm(request: HttpRequest, alarm_id: int) -> r.AlarmsOut:
    """It is kept with its time; an alarm that still holds stays."""
    actions.confirm_alarm(alarm_id)
    return views.alarms_out()


@router.post(
    "/alarms/{alarm_id}/stop",
    response={200: r.AlarmsOut, WRITTEN: Problem},
    summary="Stop a charge that was not begun here",
)
def stop_stranger(request: HttpRequest, alarm_id: int) -> r.AlarmsOut:
    """At its charger; an error if that does not do it."""
    strangers.stop_stranger(alarm_id)
    return views.alarms_out()


@router.post(
    "/alarms/{alarm_id}/take-over",
    response={201: r.RunningOut, WRITTEN: Problem},
    summary="Watch a charge that was not begun here",
)
def take_over(request: HttpRequest, alarm_id: int, data: s.TakeOverIn) -> Status[r.RunningOut]:
    """As a charge of one of the packs, by what that pack may take; who asks has looked at it."""
    return Status(201, views.charge_out(strangers.take_over(alarm_id, data.pack, data.look_every_min)))


@router.get("/charges/{charge_id}", response={200: r.RunningOut, 404: Problem}, summary="One charge")
def charge(request: HttpRequest, charge_id: int) -> r.RunningOut:
    """Measured beside expected, alarms, the next look."""
    return views.charge_out(Charge.objects.get(pk=charge_id))


@router.post(
    "/charges/{charge_id}/look",
    response={200: r.RunningOut, WRITTEN: Problem},
    summary="I looked: cool and flat",
)
def look(request: HttpRequest, charge_id: int) -> r.RunningOut:
    """The next look is due after the set time again."""
    return views.charge_out(actions.look(charge_id))


@router.post(
    "/charges/{charge_id}/stop",
    response={200: r.RunningOut, WRITTEN: Problem},
    summary="Stop a charge",
)
def stop(request: HttpRequest, charge_id: int) -> r.RunningOut:
    """Told to the charger. *Stopped* where its readings show that nothing flows; else *stopping*, with what
    came of it: it is told again until that is known."""
    return views.charge_out(actions.stop(charge_id))


@router.post(
    "/charges/{charge_id}/pulled",
    response={200: r.RunningOut, WRITTEN: Problem},
    summary="I pulled the charger’s plug",
)
def pulled(request: HttpRequest, charge_id: int) -> r.RunningOut:
    """For a charge that is not known to have stopped: who stands there is believed."""
    return views.charge_out(actions.pulled(charge_id))


@router.post(
    "/charges/{charge_id}/fault",
    response={200: r.RunningOut, WRITTEN: Problem},
    summary="Put in a fault (simulated chargers)",
)
def fault(request: HttpRequest, charge_id: int, data: s.FaultIn) -> r.RunningOut:
    """To see what an alarm looks like."""
    found = Charge.objects.get(pk=charge_id)
    device = charger_device(found.charger_name)
    try:
        if device is None:
            raise LinkLost
        device.fault(found.port, data.fault, data.cell, data.seconds)
    except DeviceRefusal as refusal:
        raise DomainError("fault", str(refusal)) from None
    except LinkLost:
        raise DomainError("fault", "The charger does not answer.") from None
    return views.charge_out(found)


@router.post(
    "/supplies/{supply_id}/level",
    response={200: r.LevelOut, WRITTEN: Problem},
    summary="How full a field battery is",
)
def level(request: HttpRequest, supply_id: int, data: s.LevelIn) -> r.LevelOut:
    """As per cent, watt-hours or volts at rest; charges from it count down from there."""
    tell_level(supply_id, data.told, data.kind, data.key)
    return level_out(supply_id)


@router.delete(
    "/supplies/{supply_id}/level/{key}",
    response={200: r.LevelOut, WRITTEN: Problem},
    summary="Take a level back",
)
def level_back(request: HttpRequest, supply_id: int, key: Annotated[str, Path(max_length=64)]) -> r.LevelOut:
    """What was told before it holds again."""
    take_level_back(key)
    return level_out(supply_id)
