"""The listener for phones over TLS.

waitress, which serves the plain line, speaks no TLS. cheroot does, with its own threads: a phone that stalls
it stalls phones, never the page at the computer.
"""

from __future__ import annotations

import threading
from collections.abc import Callable, Sequence
from typing import Any

from cheroot.ssl.builtin import BuiltinSSLAdapter
from cheroot.wsgi import Server

from coldstack.server.pairing.authority import Certified

THREADS = 6
TIMEOUT_S = 10
SHUTDOWN_S = 1
LARGEST_BODY = 70 * 1024 * 1024
LARGEST_HEADER = 64 * 1024


def start(application: Callable[..., Any], at: Sequence[tuple[str, int]], by: Certified) -> list[Server]:
    """Listen at each address, each in threads of its own, until stopped: they hold the process open."""
    servers = []
    for address in at:
        server = Server(address, application, numthreads=THREADS, server_name="Cold Stack", timeout=TIMEOUT_S)
        server.ssl_adapter = BuiltinSSLAdapter(str(by.certificate), str(by.key))
        server.max_request_body_size, server.max_request_header_size = LARGEST_BODY, LARGEST_HEADER
        server.shutdown_timeout = SHUTDOWN_S
        server.prepare()
        threading.Thread(target=server.serve, daemon=True).start()
        servers.append(server)
    return servers


def stop(servers: Sequence[Server]) -> None:
    """Answer no more; what is under way has a second to end."""
    for server in servers:
        server.stop()
