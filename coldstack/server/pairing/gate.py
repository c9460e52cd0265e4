"""The gate before everything: this machine itself comes in, a paired phone comes in, nobody else."""

from __future__ import annotations

import ipaddress
from collections.abc import Callable
from datetime import timedelta
from typing import Literal

from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.utils import timezone

from coldstack.server.api.errors import problem
from coldstack.server.api.hands import PHONE, THIS_COMPUTER, in_hands
from coldstack.server.pairing.invitations import phone_of
from coldstack.server.pairing.known import remember
from coldstack.server.pairing.models import Phone

Hands = Literal["here", "look", "everything"]
"""Whose hands these are: at this machine, or a phone's that may look only or do everything."""

PAGE = "/pair"
AUTHORITY = "/pair/authority.crt"
NOT_PAIRED = "This device is not paired. At the computer open Find or do, Bring a phone."
STRANGERS_BODY = 4096
"""Bytes that a machine that is not paired may send: a code and a name. House figure."""
TOO_MUCH = "This device is not paired. It may send a code, and nothing else."
SEEN_EVERY = timedelta(minutes=10)


class Gate:
    """Says of each request whose hands it comes from, and turns strangers to the pairing page."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Loopback needs no sign-in; everybody else needs the session of a paired phone."""
        if is_loopback(request.META.get("REMOTE_ADDR", "")):
            _put(request, "here", None)
            with in_hands(THIS_COMPUTER):
                return self.get_response(request)
        phone = phone_of(request.session)
        if phone is None:
            return self._turned_away(request)
        remember(request.session.session_key)
        _seen(request, phone)
        _put(request, "everything" if phone.scope == "everything" else "look", phone)
        with in_hands(PHONE + phone.name):
            return self.get_response(request)

    def _turned_away(self, request: HttpRequest) -> HttpResponse:
        if request.path in (PAGE, AUTHORITY):
            if request.method not in ("GET", "HEAD") and not _small_form(request):
                # nothing of it is read, let alone kept
                return HttpResponse(TOO_MUCH, status=413, content_type="text/plain; charset=utf-8")
            return self.get_response(request)
        if request.path.startswith("/api"):
            return problem(401, "Not paired", NOT_PAIRED)
        return HttpResponseRedirect(PAGE)


def _small_form(request: HttpRequest) -> bool:
    """Whether it can be no more than a code and a name, in a form without files."""
    length = request.META.get("CONTENT_LENGTH") or ""
    return (
        request.content_type == "application/x-www-form-urlencoded"
        and length.isdecimal()
        and int(length) <= STRANGERS_BODY
    )


def is_loopback(address: str) -> bool:
    """Whether a request comes from this machine, by the address of its socket and nothing that it says."""
    try:
        found = ipaddress.ip_address(address.partition("%")[0])
    except ValueError:
        return False
    mapped = getattr(found, "ipv4_mapped", None)
    return bool((mapped or found).is_loopback)


def hands_of(request: HttpRequest) -> Hands:
    """Whose hands; the gate has said it."""
    hands: Hands = request.hands  # type: ignore[attr-defined]
    return hands


def phone_here(request: HttpRequest) -> Phone | None:
    """The paired phone that asks; None at this machine."""
    phone: Phone | None = request.phone  # type: ignore[attr-defined]
    return phone


def _put(request: HttpRequest, hands: Hands, phone: Phone | None) -> None:
    request.hands, request.phone = hands, phone  # type: ignore[attr-defined]


def _seen(request: HttpRequest, phone: Phone) -> None:
    """Now and then: when it was here last, and its session lives on."""
    now = timezone.now()
    if now - phone.seen > SEEN_EVERY:
        Phone.objects.filter(pk=phone.pk).update(seen=now)
        request.session.modified = True
