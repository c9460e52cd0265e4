"""The pairing page: all that an unpaired machine gets. It is whole in itself: no script, no file."""

from __future__ import annotations

import time

from django.conf import settings
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import render
from django.utils import timezone
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import csrf_protect
from django.views.decorators.http import require_http_methods

from coldstack.server.pairing import gate
from coldstack.server.pairing.invitations import SESSION_KEY, Busy, phone_of, take
from coldstack.server.pairing.throttle import WINDOW_S, Throttle

throttle = Throttle()
LONGEST = 40


@require_http_methods(["GET", "HEAD", "POST"])
@never_cache
@csrf_protect
def pair(request: HttpRequest) -> HttpResponse:
    """Looking uses no code up; the press does."""
    address = request.META.get("REMOTE_ADDR", "")
    # a press said twice, or a machine that is in already
    if gate.is_loopback(address) or phone_of(request.session) is not None:
        return HttpResponseRedirect("/")
    if request.method != "POST":
        return _page(request, code=request.GET.get("code", "")[:LONGEST])
    code, name = request.POST.get("code", "")[:LONGEST], request.POST.get("name", "")[:LONGEST]
    if not throttle.take(address, time.monotonic()):
        words = f"Too many tries. Wait {WINDOW_S / 60:.0f} minutes, then ask the computer for a new code."
        return _page(request, code=code, name=name, wrong=words, status=429)
    try:
        phone = take(code, name, now=timezone.now())
    except Busy:
        words = "Another code is being looked at just now. Try again in a moment."
        return _page(request, code=code, name=name, wrong=words, status=429)
    if phone is None:
        words = "This code is wrong, used, or older than ten minutes. Ask the computer for a new one."
        return _page(request, code=code, name=name, wrong=words, status=422)
    throttle.forgive(address)
    request.session.cycle_key()
    request.session[SESSION_KEY] = phone.pk
    return HttpResponseRedirect("/")


@require_http_methods(["GET", "HEAD"])
def authority(request: HttpRequest) -> HttpResponse:
    """What a phone has to trust before it takes this machine for itself; nothing secret."""
    made = settings.AUTHORITY
    if made is None:
        raise Http404
    reply = HttpResponse(made.authority.read_bytes(), content_type="application/x-x509-ca-cert")
    reply["Content-Disposition"] = 'attachment; filename="cold-stack-authority.crt"'
    return reply


def _page(
    request: HttpRequest, *, code: str, name: str = "", wrong: str = "", status: int = 200
) -> HttpResponse:
    nonce = str(request.csp_nonce)  # type: ignore[attr-defined]
    said = {"code": code, "name": name, "wrong": wrong, "nonce": nonce, "by": settings.AUTHORITY}
    return render(request, "pairing/pair.html", said, status=status)
