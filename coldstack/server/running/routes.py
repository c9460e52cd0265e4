"""Go or no go, the day, and the log of runs."""

from __future__ import annotations

from typing import Annotated

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Path, Query, Router

from coldstack.core.running.landings import LANDINGS, Landing
from coldstack.core.running.learned import RunFindings
from coldstack.server.api.errors import Problem
from coldstack.server.running import actions
from coldstack.server.running import replies as r
from coldstack.server.running.day import day_out
from coldstack.server.running.go import go_out, run_out, runs_out
from coldstack.server.running.kits import KITS_AT_ONCE, kit_marks, kits_out
from coldstack.server.running.packs import run_packs_out

router = Router(tags=["running"])
WRITTEN = frozenset({400, 403, 422})
Tags = Annotated[list[str], Query(min_length=1, max_length=KITS_AT_ONCE)]
RunKey = Annotated[str, Path(max_length=40)]


@router.get("/run/packs", response={200: list[r.RunPackOut], 404: Problem}, summary="Packs for a run")
def run_packs(request: HttpRequest, model: str) -> list[r.RunPackOut]:
    """Those that fit the model first, the readiest of them first; packs to be retired are left out."""
    return run_packs_out(model, timezone.now())


@router.post(
    "/run/go",
    auth=None,
    response={200: r.GoOut, 400: Problem, 404: Problem, 422: Problem},
    summary="Go or no go",
)
def go(request: HttpRequest, data: r.GoIn) -> r.GoOut:
    """This pack, as it reads, in this model today; timer, mAh and alarm."""
    return go_out(data, timezone.now())


@router.get("/run/kits", response={200: r.KitMarksOut, 404: Problem}, summary="Which field kits hold now")
def kits(request: HttpRequest, model: str) -> r.KitMarksOut:
    """By their fingerprints: of job, house rules, pack, what was said of it last, and the hour."""
    return kit_marks(model, timezone.now())


@router.get("/run/kit", response={200: r.KitsOut, 404: Problem, 422: Problem}, summary="Field kits of packs")
def kit(request: HttpRequest, model: str, pack: Tags) -> HttpResponse:
    """Of each: limits, timer, mAh and alarm by cells and warmth, to be asked where there is no line. A kit is
    as old as it says, and never more lenient than the check itself."""
    found = kits_out(model, pack, timezone.now())
    # as it is: to be looked over once more would take as long as all the rest
    return HttpResponse(found.model_dump_json(), content_type="application/json")


@router.post(
    "/run/day",
    auth=None,
    response={200: r.DayOut, 400: Problem, 404: Problem, 422: Problem},
    summary="The day",
)
def day(request: HttpRequest, data: r.DayIn) -> r.DayOut:
    """So many packs in turn: when none is ready, and how many packs and ports would keep it going."""
    return day_out(data, timezone.now())


@router.get("/run/landings", response=list[Landing], summary="How a run may end")
def landings(request: HttpRequest) -> list[Landing]:
    """What each tells of the pack, and what to do now."""
    return list(LANDINGS)


@router.get("/runs", response={200: r.RunsOut, 404: Problem}, summary="A model’s runs")
def runs(request: HttpRequest, model: str) -> r.RunsOut:
    """Newest first, at most fifty, with the average draw they teach."""
    return runs_out(model)


@router.post("/runs", response={200: r.RunOut, WRITTEN: Problem}, summary="Log a run")
def log_run(request: HttpRequest, data: r.RunIn) -> r.RunOut:
    """Kept once, however often it is sent."""
    return run_out(actions.log_run(data))


@router.post(
    "/runs/{run_id}/mended",
    response={200: r.RunOut, frozenset({400, 403, 404, 422}): Problem},
    summary="What is better known of a run",
)
def mend_run(request: HttpRequest, run_id: int, data: r.RunMendIn) -> r.RunOut:
    """Completes a run that was logged before it was charged, mends a slip in it, or says that it is none."""
    return run_out(actions.mend_run(run_id, data))


@router.post(
    "/runs/learn",
    response={200: RunFindings, frozenset({400, 403, 404, 422}): Problem},
    summary="Take the draw from the log",
)
def learn(request: HttpRequest, model: str) -> RunFindings:
    """The model’s job then has the average and its spread from its runs, and says so."""
    return actions.learn(model)


@router.post(
    "/runs/{key}/more",
    response={200: r.RunOut, frozenset({400, 403, 404, 422}): Problem},
    summary="What is known of a run besides",
)
def add_to_run(request: HttpRequest, key: RunKey, data: r.RunMoreIn) -> r.RunOut:
    """Volts, mAh, warmth, a note, its hour: told after it was logged. Told twice it is the same."""
    return run_out(actions.add_to_run(key, data))


@router.delete(
    "/runs/{key}",
    response={200: r.RunOut, frozenset({400, 403, 404, 422}): Problem},
    summary="Take a run away",
)
def remove_run(request: HttpRequest, key: RunKey) -> r.RunOut:
    """With what it said of its pack; it can be brought back, and is not kept again if it is sent again."""
    return run_out(actions.set_run_removed(key, removed=True))


@router.post(
    "/runs/{key}/back",
    response={200: r.RunOut, frozenset({400, 403, 404, 422}): Problem},
    summary="Bring a run back",
)
def run_back(request: HttpRequest, key: RunKey) -> r.RunOut:
    """As it was."""
    return run_out(actions.set_run_removed(key, removed=False))
