"""The addresses at which phones reach this machine."""

from __future__ import annotations

import ipaddress
import socket
from contextlib import suppress
from urllib.parse import quote, urlencode

from django.conf import settings

# any address beyond this machine will do: nothing is sent to it
ELSEWHERE = ("192.0.2.1", 9)


def own_addresses() -> list[str]:
    """IPv4 addresses of this machine in its networks, the one that leads out first; empty without any."""
    found: list[str] = []
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe, suppress(OSError):
        probe.connect(ELSEWHERE)  # refused where no way leads out
        found.append(str(probe.getsockname()[0]))
    with suppress(OSError):  # a machine whose name nobody knows
        found += [str(x[4][0]) for x in socket.getaddrinfo(socket.gethostname(), None, socket.AF_INET)]
    unique = list(dict.fromkeys(found))
    return [x for x in unique if not ipaddress.ip_address(x).is_loopback and x != "0.0.0.0"]  # noqa: S104  # compared


def phone_address() -> str | None:
    """Where phones reach this program; None while it answers on this machine only."""
    address: str | None = settings.PHONE_ADDRESS
    return address


def pairing_address(code: str) -> str | None:
    """The address to scan, with its code."""
    base = phone_address()
    return f"{base}pair?{urlencode({'code': code}, quote_via=quote)}" if base else None
