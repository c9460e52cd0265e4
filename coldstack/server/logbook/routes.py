"""The shelf, a pack's page, and noting states."""

from __future__ import annotations

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router

from coldstack.server.api.access import FromOurPage
from coldstack.server.api.errors import Problem
from coldstack.server.logbook import actions
from coldstack.server.logbook import replies as r
from coldstack.server.logbook.assemble import page_out, shelf_out

router = Router(tags=["keeping"])
WRITTEN = frozenset({400, 403, 422})


@router.get("/keep/shelf", response={200: r.ShelfOut, 422: Problem}, summary="The shelf by what to do now")
def shelf(request: HttpRequest, house_rules: str = "steady") -> r.ShelfOut:
    """Every pack with its state, what is due and its worst sign."""
    return shelf_out(house_rules, timezone.now())


@router.get("/keep/packs/{tag}", response={200: r.PageOut, 404: Problem, 422: Problem}, summary="All of one pack")  # fmt: skip
def page(request: HttpRequest, tag: str, house_rules: str = "steady") -> r.PageOut:
    """Health with its evidence, resistance and capacity over time, how to retire it."""
    return page_out(tag, house_rules, timezone.now())


@router.post("/keep/left", response={200: r.LeftOut, WRITTEN: Problem}, auth=FromOurPage(), summary="These packs were left in a state")  # fmt: skip
def left(request: HttpRequest, data: r.LeftIn) -> r.LeftOut:
    """All or none; it can be taken back."""
    records, label = actions.leave(data.packs, data.state)
    return r.LeftOut(records=records, label=label)


@router.post("/keep/left/undo", response={200: r.LeftOut, WRITTEN: Problem}, auth=FromOurPage(), summary="Take that back")  # fmt: skip
def unleft(request: HttpRequest, data: r.UnleftIn) -> r.LeftOut:
    """Only what was noted by hand."""
    actions.unleave(data.records)
    return r.LeftOut(records=[], label="Taken back")
