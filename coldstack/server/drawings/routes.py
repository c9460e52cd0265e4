"""What is drawn: the bay and the wiring. Nothing is stored."""

from __future__ import annotations

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router

from coldstack.server.api.errors import Problem
from coldstack.server.bench.schemas import StartIn
from coldstack.server.drawings import assemble, packs, plugs
from coldstack.server.drawings import replies as r
from coldstack.server.drawings import schemas as s
from coldstack.server.rules.assemble import rules_or_house

router = Router(tags=["drawings"])
MOST_TYPED = 200


@router.post(
    "/drawings/bay",
    auth=None,
    response={200: list[r.BayOut], 400: Problem, 422: Problem},
    summary="Packs in a model’s bay",
)
def bays(request: HttpRequest, data: s.BaysIn) -> list[r.BayOut]:
    """Up to four candidates in the bay, in millimetres, with the balance; unknown ids are left out."""
    return assemble.bays_out(data)


@router.post(
    "/drawings/wiring",
    auth=None,
    response={200: r.WiringsOut, 400: Problem, 422: Problem},
    summary="A pack’s wiring",
)
def wiring(request: HttpRequest, data: s.WiringIn) -> r.WiringsOut:
    """Into its model and to a charger: parts, plugs, wires, what is live at each step, what must not be."""
    return assemble.wirings_out(data)


@router.post(
    "/drawings/bench",
    auth=None,
    response={200: r.WiringOut, 400: Problem, 422: Problem},
    summary="The wiring of a batch on a port",
)
def bench(request: HttpRequest, data: StartIn) -> r.WiringOut:
    """Packs on a board, or one alone, as the bench would start them."""
    return assemble.bench_wiring_out(data)


@router.get("/drawings/plugs", auth=None, response=list[r.PlugOut], summary="Plugs as they look")
def plug_faces(request: HttpRequest) -> list[r.PlugOut]:
    """Every family from the front, in millimetres, with what it is taken for and what tells them apart."""
    return plugs.plugs_out()


@router.post(
    "/drawings/which-plug",
    auth=None,
    response={200: r.WhichPlugOut, 400: Problem, 422: Problem},
    summary="Which plug is this?",
)
def which(request: HttpRequest, data: s.WhichPlugIn) -> r.WhichPlugOut:
    """Families that fit what was seen, measured, and what it must go into."""
    return plugs.which_plug_out(data)


@router.get(
    "/drawings/packs/{path:tag}",
    response={200: r.PackDrawnOut, 404: Problem, 422: Problem},
    summary="A pack as it is, cell by cell",
)
def pack(request: HttpRequest, tag: str, cells: str = "", house_rules: str | None = None) -> r.PackDrawnOut:
    """Its cells by the latest readings or by ``cells`` as typed; its pins with what a meter reads."""
    return packs.pack_out(tag, cells[:MOST_TYPED], rules_or_house(house_rules), timezone.now())
