"""The line protocol of docs/devices.md as the program speaks it: one JSON object a line each way, over TCP.

An answer is bounded in bytes and seconds, whoever gives it.
"""

from __future__ import annotations

import json
import socket
import time
from typing import Any

LONGEST_LINE = 256 * 1024
"""500 samples of 14 cells are 150 kB."""
UNKNOWN_RUN = "unknown_run"
"""The kind of a refusal that says: this charge is not known here."""
Message = dict[str, Any]


def asked(address: str, message: Message, timeout_s: float = 1.0) -> Message | None:
    """The reply of who listens there; None if nobody answers in time, all in all, with a line of bearable
    length."""
    host, _, port = address.rpartition(":")
    end = time.monotonic() + timeout_s
    try:
        with socket.create_connection((host, int(port)), timeout_s) as link:
            link.sendall(json.dumps(message).encode() + b"\n")
            reply = json.loads(_one_line(link, end))
    except (OSError, ValueError, RecursionError):
        return None
    return reply if isinstance(reply, dict) else None


def _one_line(link: socket.socket, end: float) -> bytes:
    """Up to the end of a line; raises OSError where that takes too long, ValueError for one that is too
    long."""
    line = b""
    while not line.endswith(b"\n"):
        left = end - time.monotonic()
        if left <= 0:
            raise TimeoutError
        link.settimeout(left)
        more = link.recv(65_536)
        if not more:
            break
        line += more
        if len(line) > LONGEST_LINE:
            raise ValueError("This line is too long.")
    return line or b"null"
