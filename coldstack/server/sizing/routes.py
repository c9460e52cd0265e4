"""Plans, details, logs, and the lists to choose from. All compute from plain values; nothing is stored."""

from __future__ import annotations

from django.http import HttpRequest
from django.views.decorators.csrf import ensure_csrf_cookie
from ninja import Router
from ninja.decorators import decorate_view

from coldstack.core.sizing.detail import details
from coldstack.core.sizing.plan import pick
from coldstack.server.api.errors import Problem
from coldstack.server.life.packs import stock
from coldstack.server.sizing import replies as r
from coldstack.server.sizing import schemas as s
from coldstack.server.sizing.assemble import choices_out, detail_out, fineness_of, job_of
from coldstack.server.sizing.estimate import EstimateOut, estimate_out
from coldstack.server.sizing.planned import planned

router = Router(tags=["sizing"])


@router.post(
    "/sizing/plan",
    auth=None,
    response={200: r.PlanOut, 422: Problem, 400: Problem},
    summary="Size a pack for a job",
)
def make_plan(request: HttpRequest, data: s.PlanIn) -> r.PlanOut:
    """All candidates of the stock and of a generic grid, evaluated in one pass; shortlist, near misses,
    shopping line; one of them in full where that is asked for."""
    return planned(data)


@router.post(
    "/sizing/details",
    auth=None,
    response={200: list[r.DetailOut], 422: Problem, 400: Problem},
    summary="Candidates in full",
)
def make_details(request: HttpRequest, data: s.DetailsIn) -> list[r.DetailOut]:
    """Up to four candidates: stack, trace, what to set, ranges and workings. Unknown ids are left out."""
    job = job_of(data.job)
    chosen = pick(job, stock(), data.ids, fineness_of(data.fineness))
    return [detail_out(d) for d in details(job, chosen)] if len(chosen) else []


@router.post(
    "/sizing/estimate",
    auth=None,
    response={200: EstimateOut, 422: Problem, 400: Problem},
    summary="The draw by estimate",
)
def make_estimate(request: HttpRequest, data: s.EstimateIn) -> EstimateOut:
    """Average and peak by class, pack, controller and physics, held against the log; which propeller or
    gearing suits one cell more or fewer. Nothing is kept."""
    return estimate_out(data)


@router.get("/choices", response=r.ChoicesOut, summary="Lists that fields choose from")
@decorate_view(ensure_csrf_cookie)
def choices(request: HttpRequest) -> r.ChoicesOut:
    """Motions, chemistries, plugs, house rules, label trust, airflow, aims."""
    return choices_out()
