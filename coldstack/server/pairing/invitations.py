"""Inviting a phone, and taking it in."""

from __future__ import annotations

import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cache
from threading import Lock
from typing import Any

from django.contrib.auth.hashers import check_password, make_password
from django.contrib.sessions.models import Session
from django.db import transaction

from coldstack.server.pairing.models import Invitation, Phone, Scope

GOOD_FOR = timedelta(minutes=10)
ALPHABET = "23456789ABCDEFGHJKLMNPQRSTUVWXYZ"
"""Without the signs that are taken for one another: 0 and O, 1 and I."""
LENGTH = 10
SESSION_KEY = "phone"
_hashing = Lock()


class Busy(Exception):
    """Another code is being looked at."""


@dataclass(frozen=True)
class Invited:
    """A code to show, and until when it is good."""

    code: str
    ends: datetime


def invite(scope: Scope, *, now: datetime) -> Invited:
    """A new code. It takes the place of the one before: one is good at a time."""
    code = "".join(secrets.choice(ALPHABET) for _ in range(LENGTH))
    with transaction.atomic():
        Invitation.objects.all().delete()
        row = Invitation.objects.create(secret=make_password(code), scope=scope, ends=now + GOOD_FOR)
    return Invited(f"{code[:5]}-{code[5:]}", row.ends)


def take(code: str, name: str, *, now: datetime) -> Phone | None:
    """The phone that this code pairs; None for a code that is wrong, used or too old.

    A code is compared in constant time, and hashed also where none is open, so that the time tells nothing;
    what cannot be a code is turned away before that. Hashing takes a thread for a while: one at a time does.

    Raises
    ------
    Busy
        While another code is looked at.
    """
    said = "".join(c for c in code.upper() if c in ALPHABET)
    if len(said) != LENGTH:
        return None
    if not _hashing.acquire(blocking=False):
        raise Busy
    try:
        return _taken(said, name, now)
    finally:
        _hashing.release()


def _taken(said: str, name: str, now: datetime) -> Phone | None:
    open_ = Invitation.objects.filter(used=None, ends__gt=now).first()
    right = check_password(said, open_.secret if open_ else _decoy())
    if open_ is None or not right:
        return None
    with transaction.atomic():
        # two that come at once: one gets it
        if not Invitation.objects.filter(pk=open_.pk, used=None).update(used=now):
            return None
        return Phone.objects.create(
            name=name.strip()[:40] or "Phone", scope=open_.scope, paired=now, seen=now
        )


@cache
def _decoy() -> str:
    return make_password(secrets.token_urlsafe())


def phone_of(session: Any) -> Phone | None:
    """The phone that a session belongs to, while it may come in."""
    key = session.get(SESSION_KEY)
    return Phone.objects.filter(pk=key, removed=None).first() if key else None


def remove(pk: int, *, now: datetime) -> bool:
    """Let a phone in no more, from its next request on; False if there is none."""
    with transaction.atomic():
        gone = Phone.objects.filter(pk=pk, removed=None).update(removed=now)
        for session in Session.objects.all():
            if session.get_decoded().get(SESSION_KEY) == pk:
                session.delete()
    return bool(gone)
