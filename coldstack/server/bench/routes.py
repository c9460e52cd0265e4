"""The bench: lay out, plan, order."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router

from coldstack.server.api.errors import Problem
from coldstack.server.api.versions import ANY, MadeFrom
from coldstack.server.bench import actions, views
from coldstack.server.bench import replies as r
from coldstack.server.bench import schemas as s
from coldstack.server.bench.assemble import board_sharing, on_bench, sharing_out
from coldstack.server.bench.plan_out import plan_out
from coldstack.server.gear.schemas import ChangeOut, RemovedOut

router = Router(tags=["bench"])


ASKED = frozenset({400, 422})


WRITTEN = frozenset({400, 403, 404, 422})


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
    return RemovedOut(change=ChangeOut.of(made))
