"""Where the program listens: this machine itself, and the network if asked."""

from __future__ import annotations

import os
import socket

from django.core.management.base import CommandError

from coldstack.server.pairing.addresses import own_addresses
from coldstack.server.pairing.gate import is_loopback

PORTS_TO_TRY = 50
LAST_PORT = 65535
LOOPBACK = "127.0.0.1"
EVERYWHERE = ("0.0.0.0", "::")  # noqa: S104  # asked for by its user; only paired phones come in


class Listening:
    """Where it answers: always on this machine itself, without sign-in, and at the host that was asked for.

    Raises CommandError for what is no address of this machine, or no port.
    """

    def __init__(self, asked: str, port: int, *, tls: bool = False) -> None:
        self.host, shown = _host_of(asked)
        if not 1 <= port <= LAST_PORT:
            raise CommandError(f"A port is a number from 1 to {LAST_PORT}, not {port}.")
        everywhere = self.host in EVERYWHERE
        self._asked, self.port = port, port
        self._loopback = self.host if is_loopback(self.host) else LOOPBACK
        self._own = own_addresses() if everywhere else [self.host]
        self._bound = list(dict.fromkeys([self._loopback, self.host]))
        if everywhere:  # which holds loopback; the newer kind of address leaves out the older
            self._bound = list(dict.fromkeys([EVERYWHERE[0], self.host]))
        self.names, self._tls = [shown, *self._own], tls
        outside = [x for x in self._own if not is_loopback(x)]
        self.secured = outside if tls else []
        if tls:  # the plain line is this machine's alone
            self._bound = [self._loopback]
        if tls and not outside:
            raise CommandError("--tls is for phones: say --host and an address of this machine too.")
        self._outside = shown if outside == [self.host] else next(iter(outside), None)

    def settle(self) -> None:
        """Find the port; raises CommandError if none is free."""
        self.port = free_port(self._asked, *self._bound, *self.secured)

    @property
    def listen(self) -> str:
        """Each address and its port."""
        return " ".join(f"{_bracketed(x)}:{self.port}" for x in self._bound)

    @property
    def address(self) -> str:
        """Where this machine itself reaches it."""
        return f"http://{_bracketed(self._loopback)}:{self.port}/"

    @property
    def phones(self) -> str | None:
        """Where phones reach it; None if none can."""
        way = "https" if self._tls else "http"
        return f"{way}://{self._outside}:{self.port}/" if self._outside else None


def _bracketed(address: str) -> str:
    return f"[{address}]" if ":" in address else address


def _host_of(asked: str) -> tuple[str, str]:
    """The address to listen on, and as it stands in an address of the browser.

    Raises
    ------
    CommandError
        If it is no address of this machine.
    """
    try:
        family, _, _, _, place = socket.getaddrinfo(asked, None, type=socket.SOCK_STREAM)[0]
        with socket.socket(family, socket.SOCK_STREAM) as probe:
            probe.bind((place[0], 0))
    except OSError:
        raise CommandError(f"“{asked}” is no address of this machine.") from None
    return str(place[0]), f"[{place[0]}]" if family == socket.AF_INET6 else asked


def free_port(first: int, *hosts: str) -> int:
    """The first port from ``first`` on that nobody listens on at these hosts; without any, on loopback.

    Raises
    ------
    CommandError
        If none of fifty is free.
    """
    for port in range(first, min(first + PORTS_TO_TRY, LAST_PORT + 1)):
        if all(_is_free(port, host) for host in hosts or (LOOPBACK,)):
            return port
    raise CommandError(f"No free port from {first} to {first + PORTS_TO_TRY - 1}.")


def _is_free(port: int, host: str) -> bool:
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    with socket.socket(family, socket.SOCK_STREAM) as probe:
        if os.name == "posix":  # elsewhere it would let two listen on one port
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError:
            return False
        return True
