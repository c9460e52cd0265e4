"""Offers of shops: read, taken, bought; a friend's pack, taken in and given back; and the lead that a charger
still needs."""

from __future__ import annotations

from typing import Annotated

from django.http import HttpRequest
from ninja import Path, Router, Status

from coldstack.core.labels.offers import Offer, read_offers
from coldstack.core.matching.lead import lead_to_get
from coldstack.server.api.errors import Problem
from coldstack.server.gear import actions, lent
from coldstack.server.gear import schemas as s
from coldstack.server.gear.assemble import bench, charger_of
from coldstack.server.gear.kinds import KINDS, row_of
from coldstack.server.gear.models import Charger
from coldstack.server.life.packs import owned_packs

router = Router(tags=["gear"])
REFUSALS = frozenset({400, 403, 404, 422})


@router.post(
    "/offers/read",
    auth=None,
    response={200: list[s.OfferLine], 400: Problem, 422: Problem},
    summary="Take pasted offers apart",
)
def read(request: HttpRequest, data: s.OffersIn) -> list[s.OfferLine]:
    """A line a pack: what was understood, in which words, what has to be asked. Nothing is kept."""
    return [_line(offer) for offer in read_offers(data.text)]


@router.post("/offers", response={200: s.TakenOut, REFUSALS: Problem}, summary="Take offers")
def take(request: HttpRequest, data: s.OffersTake) -> s.TakenOut:
    """They stand beside what one owns and can buy. All or none; one that stands there already is passed
    over."""
    added, change = actions.take_offers(data.packs)
    return s.TakenOut(added=added, change=s.ChangeOut.of(change) if change else None)


@router.post(
    "/gear/catalogue/{row_id}/buy",
    response={201: s.BoughtOut, REFUSALS: Problem},
    summary="Buy a pack",
)
def buy(request: HttpRequest, row_id: int, data: s.BuyIn) -> Status[s.BoughtOut]:
    """It is owned now, under its tag; an offer is gone with that."""
    pack, change = actions.buy(row_id, data.tag)
    return Status(201, s.BoughtOut(tag=pack.tag, change=s.ChangeOut.of(change)))


@router.post("/lent", response={201: s.LentOut, REFUSALS: Problem}, summary="Take a friend's pack in")
def take_in(request: HttpRequest, data: s.LentIn) -> Status[s.LentOut]:
    """Its past is unknown, and it is run and charged with that care. One that was given back comes with its
    history."""
    found = lent.take_in(data.line, data.key)
    made = s.ChangeOut.of(found.change)
    return Status(201, s.LentOut(tag=found.tag, change=made, assumed=found.assumed, again=found.again))


@router.post("/lent/{tag}/back", response={200: s.ChangeOut, REFUSALS: Problem}, summary="Give a pack back")
def give_back(request: HttpRequest, tag: Annotated[str, Path(max_length=12)]) -> s.ChangeOut:
    """It goes out of the box; its history stays, and comes back with it."""
    return s.ChangeOut.of(lent.give_back(tag))


@router.get(
    "/gear/chargers/{row_id}/lead",
    response={200: s.LeadOut, 404: Problem},
    summary="The lead a charger needs",
)
def lead(request: HttpRequest, row_id: int) -> s.LeadOut:
    """By its output, the packs in the box and what lies on the bench."""
    charger = Charger.live.get(pk=row_id)
    found = lead_to_get(charger_of(row_of(KINDS["chargers"], charger)), owned_packs(fit_only=True), bench())
    if found is None:
        return s.LeadOut(sentence="", row=None)
    packs, device = found.ends
    ends = {"pack_plug": packs.family, "pack_half": packs.half}
    ends |= {"device_plug": device.family, "device_half": device.half}
    lead = {"name": found.name, "kind": "lead", **ends, "length_mm": found.length_mm}
    row = s.PieceIn.model_validate(lead)
    return s.LeadOut(
        sentence=f"Nothing joins {charger.name} to your packs yet: is there a lead with it?", row=row
    )


def _line(offer: Offer) -> s.OfferLine:
    reading = offer.reading
    return s.OfferLine(
        line=offer.line,
        text=offer.text,
        pack=s.CataloguePackIn.model_validate(offer.pack) if offer.pack else None,
        lacking=offer.lacking,
        words=reading.words,
        told=offer.told,
        asked=reading.asked if offer.pack else {},
        assumed=offer.assumed,
        unread=reading.unread,
    )
