"""One pack between its model and a charger, and the grid of all of them. Nothing is stored."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router

from coldstack.server.api.errors import Problem
from coldstack.server.matching import replies as r
from coldstack.server.matching import schemas as s
from coldstack.server.matching.assemble import grid_out, match_out

router = Router(tags=["matching"])


@router.post(
    "/match", auth=None, response={200: r.MatchOut, 400: Problem, 422: Problem}, summary="Match a pack"
)
def match(request: HttpRequest, data: s.MatchIn) -> r.MatchOut:
    """Both chains with each joint's loading, what to get or make, the charger settings; by the gear that is
    stored."""
    return match_out(data)


@router.post(
    "/match/grid",
    auth=None,
    response={200: r.GridOut, 400: Problem, 422: Problem},
    summary="My packs against my models and chargers",
)
def grid(request: HttpRequest, data: s.GridIn) -> r.GridOut:
    """A verdict for every pair."""
    return grid_out(data)
