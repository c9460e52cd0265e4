"""The bench: lay out, plan, start, watch."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router, Status

from coldstack.core.errors import DomainError
from coldstack.server.api.access import FromOurPage
from coldstack.server.api.errors import Problem
from coldstack.server.bench import actions, views
from coldstack.server.bench import replies as r
from coldstack.server.bench import schemas as s
from coldstack.server.bench.assemble import board_sharing, on_bench, plan_out, sharing_out
from coldstack.server.bench.devices import DeviceRefusal, LinkLost, charger_device
from coldstack.server.bench.models import Charge
from coldstack.server.gear.schemas import ChangeOut, RemovedOut

router = Router(tags=["bench"])
ASKED = frozenset({400, 422})
WRITTEN = frozenset({400, 403, 404, 422})
SHOWN = 30


@router.get("/bench", response=r.BenchOut, summary="The bench as it was kept")
def bench(request: HttpRequest) -> r.BenchOut:
    """Packs that have gone since are left out."""
    return r.BenchOut(bench=actions.kept_layout())


@router.put(
    "/bench", response={200: r.BenchOut, WRITTEN: Problem}, auth=FromOurPage(), summary="Keep the bench"
)
def keep(request: HttpRequest, data: s.BenchIn) -> r.BenchOut:
    """The whole layout is replaced."""
    actions.keep_layout(data)
    return r.BenchOut(bench=data)


@router.post("/bench/plan", response={200: r.BenchPlanOut, ASKED: Problem}, summary="Batches and schedule")
def plan(request: HttpRequest, data: s.BenchIn) -> r.BenchPlanOut:
    """Inspections, batches with currents, why not others, the schedule with watts over time. Nothing is stored."""
    return plan_out(data)


@router.post(
    "/bench/sharing", response={200: r.SharingOut, ASKED: Problem}, summary="May these share the board?"
)
def share(request: HttpRequest, data: s.SharingIn) -> r.SharingOut:
    """Every reason why not, and the currents at the moment of joining."""
    b = on_bench(data.bench)
    members = [b.member(x) for x in data.packs]
    return sharing_out(members, board_sharing(b, members, balance_first=data.balance_first))


@router.post("/bench/order", response={200: r.OrderOut, ASKED: Problem}, summary="What to set, and the steps")
def order(request: HttpRequest, data: s.StartIn) -> r.OrderOut:
    """For a batch on a port; refused with the reason where it may not be charged."""
    return views.order_out(data)


@router.post(
    "/bench/curves", response={200: r.CurvesOut, ASKED: Problem}, summary="Plain beside balance charging"
)
def curves(request: HttpRequest, data: s.PackOnChargerIn) -> r.CurvesOut:
    """Cell by cell, from the cells as they were read."""
    return views.curves_out(data)


@router.post("/bench/storage", response={200: r.StoragesOut, ASKED: Problem}, summary="To storage")
def storage(request: HttpRequest, data: s.PackOnChargerIn) -> r.StoragesOut:
    """On every charger that takes the pack, and by running it in a model."""
    return views.storages_out(data)


@router.post("/bench/read", response={200: r.ReadOut, WRITTEN: Problem}, auth=FromOurPage(), summary="Read by the cell checker")  # fmt: skip
def read(request: HttpRequest, data: s.CheckerIn) -> r.ReadOut:
    """The reading is kept, and comes back as one would type it."""
    volts, temperature = actions.read_by_checker(data.pack)
    return r.ReadOut(cells=" ".join(f"{v:.3f}" for v in volts), temperature_c=temperature)


@router.post("/bench/retire", response={200: RemovedOut, WRITTEN: Problem}, auth=FromOurPage(), summary="Take a pack out of use")  # fmt: skip
def retire(request: HttpRequest, data: s.RetireIn) -> RemovedOut:
    """It is neither charged nor offered any more; it can be undone."""
    made = actions.take_out_of_use(data.pack, data.why)
    return RemovedOut(change=ChangeOut(id=made.pk, label=made.label))


@router.post("/charges", response={201: r.RunningOut, WRITTEN: Problem}, auth=FromOurPage(), summary="Start a charge")  # fmt: skip
def start(request: HttpRequest, data: s.StartIn) -> Status[r.RunningOut]:
    """On a linked charger, once every step is ticked; refused by the core's rules and the charger's own."""
    return Status(201, views.charge_out(actions.start(data)))


@router.get("/charges", response=list[r.ChargeLine], summary="Charges that run, and the log")
def charges(request: HttpRequest) -> list[r.ChargeLine]:
    """Running ones first, then the latest, at most thirty."""
    rows = list(Charge.objects.all()[:SHOWN])
    return [views.charge_line(c) for c in sorted(rows, key=lambda c: c.state != "charging")]


@router.get("/charges/{charge_id}", response={200: r.RunningOut, 404: Problem}, summary="One charge")
def charge(request: HttpRequest, charge_id: int) -> r.RunningOut:
    """Measured beside expected, alarms, the next look."""
    return views.charge_out(Charge.objects.get(pk=charge_id))


@router.post("/charges/{charge_id}/look", response={200: r.RunningOut, WRITTEN: Problem}, auth=FromOurPage(), summary="I looked: cool and flat")  # fmt: skip
def look(request: HttpRequest, charge_id: int) -> r.RunningOut:
    """The next look is due after the set time again."""
    return views.charge_out(actions.look(charge_id))


@router.post("/charges/{charge_id}/stop", response={200: r.RunningOut, WRITTEN: Problem}, auth=FromOurPage(), summary="Stop a charge")  # fmt: skip
def stop(request: HttpRequest, charge_id: int) -> r.RunningOut:
    """Stopped at the charger first; an error if it cannot be reached."""
    return views.charge_out(actions.stop(charge_id))


@router.post("/charges/{charge_id}/fault", response={200: r.RunningOut, WRITTEN: Problem}, auth=FromOurPage(), summary="Put in a fault (simulated chargers)")  # fmt: skip
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
