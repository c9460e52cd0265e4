"""The bench: lay out, plan, start, watch."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router, Status

from coldstack.core.errors import DomainError
from coldstack.server.api.errors import Problem
from coldstack.server.api.versions import ANY, MadeFrom
from coldstack.server.charging import actions, strangers, views
from coldstack.server.charging import replies as r
from coldstack.server.charging import schemas as s
from coldstack.server.charging.assemble import board_sharing, on_bench, sharing_out
from coldstack.server.charging.devices import DeviceRefusal, LinkLost, charger_device
from coldstack.server.charging.models import ACTIVE, Charge
from coldstack.server.charging.plan_out import plan_out
from coldstack.server.gear.schemas import ChangeOut, RemovedOut

router = Router(tags=["bench"])
ASKED = frozenset({400, 422})
WRITTEN = frozenset({400, 403, 404, 422})
SHOWN = 30


@router.get("/bench", response=r.BenchOut, summary="The bench as it was kept")
def bench(request: HttpRequest) -> r.BenchOut:
    """Packs that have gone since are left out."""
    return r.BenchOut(bench=actions.kept_layout(), version=actions.layout_version())


@router.put("/bench", response={200: r.BenchOut, WRITTEN | {412}: Problem}, summary="Keep the bench")
def keep(request: HttpRequest, data: s.BenchIn, if_match: MadeFrom = ANY) -> r.BenchOut:
    """Each part that is given is replaced; one that is left out stays as it is."""
    return r.BenchOut(bench=actions.keep_layout(data, if_match), version=actions.layout_version())


@router.post(
    "/bench/plan", auth=None, response={200: r.BenchPlanOut, ASKED: Problem}, summary="Batches and schedule"
)
def bench_plan(request: HttpRequest, data: s.BenchIn) -> r.BenchPlanOut:
    """Inspections, batches with currents, why not others, the schedule with watts over time.

    Nothing is stored.
    """
    return plan_out(data)


@router.post(
    "/bench/sharing",
    auth=None,
    response={200: r.SharingOut, ASKED: Problem},
    summary="May these share the board?",
)
def share(request: HttpRequest, data: s.SharingIn) -> r.SharingOut:
    """Every reason why not, and the currents at the moment of joining."""
    b = on_bench(data.bench)
    members = [b.member(x) for x in data.packs]
    return sharing_out(members, board_sharing(b, members, balance_first=data.balance_first))


@router.post(
    "/bench/order",
    auth=None,
    response={200: r.OrderOut, ASKED: Problem},
    summary="What to set, and the steps",
)
def order(request: HttpRequest, data: s.StartIn) -> r.OrderOut:
    """For a batch on a port; refused with the reason where it may not be charged."""
    return views.order_out(data)


@router.post(
    "/bench/curves",
    auth=None,
    response={200: r.CurvesOut, ASKED: Problem},
    summary="Plain beside balance charging",
)
def curves(request: HttpRequest, data: s.PackOnChargerIn) -> r.CurvesOut:
    """Cell by cell, from the cells as they were read."""
    return views.curves_out(data)


@router.post("/bench/storage", auth=None, response={200: r.StoragesOut, ASKED: Problem}, summary="To storage")
def storage(request: HttpRequest, data: s.PackOnChargerIn) -> r.StoragesOut:
    """On every charger that takes the pack, and by running it in a model."""
    return views.storages_out(data)


@router.post(
    "/bench/read",
    response={200: r.ReadOut, WRITTEN: Problem},
    summary="Read by the cell checker",
)
def read(request: HttpRequest, data: s.CheckerIn) -> r.ReadOut:
    """The reading is kept, and comes back as one would type it."""
    read = actions.read_by_checker(data.pack)
    cells = " ".join(f"{v:.3f}" for v in read.cell_v or ())
    return r.ReadOut(cells=cells, temperature_c=read.temperature_c, read_at=read.at)


@router.post(
    "/bench/retire",
    response={200: RemovedOut, WRITTEN: Problem},
    summary="Take a pack out of use",
)
def retire(request: HttpRequest, data: s.RetireIn) -> RemovedOut:
    """It is neither charged nor offered any more; it can be undone."""
    made = actions.take_out_of_use(data.pack, data.why)
    return RemovedOut(change=ChangeOut(id=made.pk, label=made.label))


@router.post("/charges", response={201: r.RunningOut, WRITTEN: Problem}, summary="Start a charge")
def start(request: HttpRequest, data: s.StartIn) -> Status[r.RunningOut]:
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
    """Stopped at the charger first; an error if it cannot be reached."""
    return views.charge_out(actions.stop(charge_id))


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
