"""Where the packs lie: asked for, kept, and what to mind there."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated, Any

from django.db import transaction
from django.http import HttpRequest
from ninja import Router
from pydantic import BaseModel, Field

from coldstack.core.keeping.place import Container, Place, place_cautions, place_sentence
from coldstack.core.safety.cautions import Caution
from coldstack.server.api.errors import Problem
from coldstack.server.api.versions import ANY, MadeFrom, require_latest, version_of
from coldstack.server.rules.assemble import house
from coldstack.server.rules.models import Household
from coldstack.server.sizing.schemas import In

router = Router(tags=["keeping"])
WRITTEN = frozenset({400, 403, 422})


class PlaceIn(In):
    """Where packs lie, how warm it is there now and at the hottest, and in what."""

    place: Annotated[str, Field(max_length=60)] = ""
    now_c: Annotated[float, Field(ge=-60, le=90)] | None = None
    hottest_c: Annotated[float, Field(ge=-60, le=90)] | None = None
    container: Container = ""


class PlaceOut(BaseModel):
    """The same, with what to mind there."""

    place: str
    now_c: float | None
    hottest_c: float | None
    container: Container
    sentence: str
    cautions: list[Caution]
    version: str


def place_of(row: Household) -> Place:
    """Where packs lie."""
    container: Any = row.container  # one of the containers: it was checked on its way in
    return Place(row.place, row.place_c, row.place_hottest_c, container)


@transaction.atomic
def keep(data: PlaceIn, made_from: str = ANY) -> None:
    """Keep where packs lie; raises DomainError for temperatures that cannot be, ChangedElsewhere where it
    is not as it was when this was made from it."""
    row = house()
    require_latest(made_from, asdict(place_of(row)))
    row.place, row.place_c, row.place_hottest_c, row.container = (
        data.place,
        data.now_c,
        data.hottest_c,
        data.container,
    )
    place_cautions(place_of(row))
    row.save()


@router.get("/keep/place", response=PlaceOut, summary="Where packs lie")
def place(request: HttpRequest) -> PlaceOut:
    """With what to mind there."""
    return _place_out()


@router.put(
    "/keep/place",
    response={200: PlaceOut, WRITTEN | {412}: Problem},
    summary="Say where packs lie",
)
def keep_place(request: HttpRequest, data: PlaceIn, if_match: MadeFrom = ANY) -> PlaceOut:
    """Name, warmth now and at the hottest, and what they lie in."""
    keep(data, if_match)
    return _place_out()


def _place_out() -> PlaceOut:
    here = place_of(house())
    return PlaceOut(
        place=here.name,
        now_c=here.now_c,
        hottest_c=here.hottest_c,
        container=here.container,
        sentence=place_sentence(here),
        cautions=list(place_cautions(here)),
        version=version_of(asdict(here)),
    )
