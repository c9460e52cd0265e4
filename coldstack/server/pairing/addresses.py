"""The addresses at which phones reach this machine."""

from __future__ import annotations

import ipaddress
import socket
from collections.abc import Iterator
from contextlib import suppress
from urllib.parse import quote, urlencode

from django.conf import settings

# any address beyond this machine will do: nothing is sent to it
ELSEWHERE = ("192.0.2.1", 9)


def own_addresses() -> list[str]:
    """IPv4 addresses of this machine in its networks, the one that leads out first; empty without any."""
    return list(dict.fromkeys(_found()))


def first_address() -> str | None:
    """The one that leads out, found without asking any network for names; None without one."""
    return next(_found(), None)


def _found() -> Iterator[str]:
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe, suppress(OSError):
        probe.connect(ELSEWHERE)  # refused where no way leads out
        yield from _outside(str(probe.getsockname()[0]))
    with suppress(OSError):  # a machine whose name nobody knows
        for found in socket.getaddrinfo(socket.gethostname(), None, socket.AF_INET):
            yield from _outside(str(found[4][0]))


def _outside(address: str) -> Iterator[str]:
    found = ipaddress.ip_address(address)
    if not (found.is_loopback or found.is_unspecified):
        yield address


def phone_address() -> str | None:
    """Where phones reach this program; None while it answers on this machine only."""
    address: str | None = settings.PHONE_ADDRESS
    return address


def pairing_address(code: str) -> str | None:
    """The address to scan, with its code."""
    base = phone_address()
    return f"{base}pair?{urlencode({'code': code}, quote_via=quote)}" if base else None
