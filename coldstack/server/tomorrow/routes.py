"""The day ahead: what is wanted of which models, and what that takes."""

from __future__ import annotations

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router

from coldstack.server.api.errors import Problem
from coldstack.server.api.versions import ANY, MadeFrom
from coldstack.server.bench.actions import layout_version
from coldstack.server.bench.replies import BenchOut
from coldstack.server.tomorrow import actions
from coldstack.server.tomorrow import replies as r
from coldstack.server.tomorrow.day_out import tomorrow_out

router = Router(tags=["running"])
WRITTEN = frozenset({400, 403, 422})


@router.get("/tomorrow", response=r.KeptDay, summary="The day that is kept")
def kept(request: HttpRequest) -> r.KeptDay:
    """What was asked; null where no day is planned."""
    return actions.kept_day()


@router.post(
    "/tomorrow/plan",
    auth=None,
    response={200: r.TomorrowOut, frozenset({400, 422}): Problem},
    summary="A day of several models",
)
def plan(request: HttpRequest, data: r.TomorrowIn) -> r.TomorrowOut:
    """Which packs fly it, what is charged before and there, what is missing, what is packed; what was flown
    of it is ticked off by the log. Nothing is stored."""
    return tomorrow_out(data, timezone.now())


@router.get(
    "/tomorrow/day",
    response={200: r.TomorrowOut, frozenset({404, 422}): Problem},
    summary="The day that is kept, planned as of now",
)
def day(request: HttpRequest) -> r.TomorrowOut:
    """404 where no day is planned, or it is over."""
    now = timezone.now()
    return tomorrow_out(actions.asked_now(now), now)


@router.put("/tomorrow", response={200: r.KeptDay, WRITTEN | {412}: Problem}, summary="Keep the day")
def keep(request: HttpRequest, data: r.TomorrowIn, if_match: MadeFrom = ANY) -> r.KeptDay:
    """Until it is over, what it counts on is not asked to be brought to storage."""
    return actions.keep_day(data, if_match)


@router.delete("/tomorrow", response={200: r.KeptDay, WRITTEN | {412}: Problem}, summary="Put the day away")
def put_away(request: HttpRequest, if_match: MadeFrom = ANY) -> r.KeptDay:
    """What it was comes back by keeping it again."""
    actions.put_away(if_match)
    return actions.kept_day()


@router.post("/tomorrow/lay", response={200: BenchOut, WRITTEN: Problem}, summary="Lay out what it needs")
def lay(request: HttpRequest, data: r.TomorrowIn) -> BenchOut:
    """The packs to be charged before it, on the bench, which is to be ready when it begins."""
    return BenchOut(bench=actions.lay_out(data), version=layout_version())
