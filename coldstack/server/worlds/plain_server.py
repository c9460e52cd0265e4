"""The plain line: waitress, which takes a whole request before anybody looks at it. Of whoever is neither
this machine nor a phone that came in before it takes no more than a code to pair with."""

from __future__ import annotations

import copy
from typing import Any

from waitress.channel import HTTPChannel
from waitress.parser import HTTPRequestParser
from waitress.server import create_server

from coldstack.server.pairing.gate import STRANGERS_BODY, is_loopback
from coldstack.server.pairing.known import came_in
from coldstack.server.worlds.tls_server import LARGEST_BODY


class WaryParser(HTTPRequestParser):
    """Reads no large body of a stranger: it is refused by its head, before anything is kept of it."""

    def parse_header(self, header_plus: bytes) -> None:
        """See waitress; what may follow goes by the session that the head names."""
        super().parse_header(header_plus)
        if not came_in(self.headers.get("COOKIE", "")):
            self.adj = copy.copy(self.adj)
            self.adj.max_request_body_size = STRANGERS_BODY


class WaryChannel(HTTPChannel):
    """A connection; those of other machines are read warily."""

    def __init__(self, server: Any, sock: Any, addr: Any, adj: Any, map: Any = None) -> None:
        super().__init__(server, sock, addr, adj, map)
        if not is_loopback(str(addr[0])):
            self.parser_class = WaryParser


def plain_server(application: Any, *, listen: str, threads: int) -> Any:
    """Listen, and answer once it is run."""
    listeners: dict[int, Any] = {}
    server = create_server(
        application,
        map=listeners,
        listen=listen,
        threads=threads,
        ident="Cold Stack",
        max_request_body_size=LARGEST_BODY,
    )
    for one in listeners.values():
        if hasattr(one, "channel_class"):
            one.channel_class = WaryChannel
    return server
