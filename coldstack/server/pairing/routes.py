"""Bring a phone: a code to scan, the phones that may come in, and letting one go."""

from __future__ import annotations

from datetime import datetime

import segno
from django.conf import settings
from django.http import Http404, HttpRequest
from django.utils import timezone
from ninja import Router, Status
from ninja.errors import HttpError
from pydantic import BaseModel

from coldstack.core.errors import DomainError
from coldstack.server.api.access import FromOurPage
from coldstack.server.api.errors import Problem
from coldstack.server.pairing.addresses import first_address, pairing_address, phone_address
from coldstack.server.pairing.gate import Hands, phone_here
from coldstack.server.pairing.invitations import invite, remove
from coldstack.server.pairing.models import Phone, Scope
from coldstack.server.sizing.schemas import In

router = Router(tags=["program"])
REFUSALS = frozenset({400, 401, 403, 422})
HERE_ONLY = FromOurPage(hands=("here",), words="Phones are invited at the computer itself.")
ANYBODY: tuple[Hands, ...] = ("here", "everything", "look")


class InviteIn(In):
    """What the phone may do."""

    scope: Scope


class InviteOut(BaseModel):
    """A code that pairs one phone, once: to scan (a picture as a data address) or to type."""

    address: str
    code: str
    picture: str
    ends: datetime


class PhoneOut(BaseModel):
    """A paired phone."""

    id: int
    name: str
    scope: Scope
    paired: datetime
    seen: datetime
    here: bool


class PhonesOut(BaseModel):
    """The phones that may come in, and how they reach this program: without an address it answers on this
    machine only, and has to be started as ``command`` says. ``fingerprint`` is that of the authority that
    phones are to trust, where they come over TLS."""

    phones: list[PhoneOut]
    address: str | None
    command: str | None
    fingerprint: str | None


@router.get("/phones", response=PhonesOut, summary="Paired phones")
def phones(request: HttpRequest) -> PhonesOut:
    """A phone sees itself only."""
    mine, rows = phone_here(request), Phone.objects.filter(removed=None).order_by("paired")
    if mine is not None:
        rows = rows.filter(pk=mine.pk)
    return PhonesOut(
        phones=[_phone_out(x, mine) for x in rows],
        address=phone_address(),
        command=_command() if phone_address() is None else None,
        fingerprint=settings.AUTHORITY.fingerprint if settings.AUTHORITY else None,
    )


@router.post(
    "/phones/invite", auth=HERE_ONLY, response={200: InviteOut, REFUSALS: Problem}, summary="Invite a phone"
)
def invite_phone(request: HttpRequest, data: InviteIn) -> InviteOut:
    """At this machine only: a phone cannot bring others. The code before is good no more."""
    if phone_address() is None:
        raise DomainError("scope", "This program answers on this computer only. Start it with --host first.")
    made = invite(data.scope, now=timezone.now())
    address = pairing_address(made.code) or ""
    picture = segno.make(address, error="m", micro=False).svg_data_uri(border=3, dark="#000", light="#fff")
    return InviteOut(address=address, code=made.code, picture=picture, ends=made.ends)


@router.delete(
    "/phones/{phone_id}",
    auth=FromOurPage(hands=ANYBODY),
    response={204: None, REFUSALS | {404}: Problem},
    summary="Remove a phone",
)
def remove_phone(request: HttpRequest, phone_id: int) -> Status[None]:
    """At this machine any; a phone removes itself only. It gets nothing more from its next request on."""
    mine = phone_here(request)
    if mine is not None and mine.pk != phone_id:
        raise HttpError(403, "A phone removes itself only. Remove others at the computer.")
    if not remove(phone_id, now=timezone.now()):
        raise Http404
    return Status(204, None)


def _phone_out(row: Phone, mine: Phone | None) -> PhoneOut:
    here = mine is not None and mine.pk == row.pk
    scope: Scope = "everything" if row.scope == "everything" else "look"
    return PhoneOut(id=row.pk, name=row.name, scope=scope, paired=row.paired, seen=row.seen, here=here)


def _command() -> str:
    """How to start it so that phones reach it."""
    return f"cold-stack --host {first_address() or 'ADDRESS'}"
