"""A line protocol over loopback TCP: one JSON object a line each way.

The server side of the stand-ins. See docs/devices.md.
"""

from __future__ import annotations

import json
import socket
import socketserver
import time
from collections.abc import Callable
from typing import Any

LONGEST_LINE = 256 * 1024
"""500 samples of 14 cells are 150 kB."""
IDLE_S = 600.0
Message = dict[str, Any]


class Refusal(Exception):
    """What a device will not do, in words for the person who asked."""


class LineServer(socketserver.ThreadingTCPServer):
    """Answers each line by ``answer``; a refusal becomes ``{"ok": false, "why": …}``.

    While ``deaf`` it hangs up at once.
    """

    allow_reuse_address = True
    daemon_threads = True

    def __init__(self, port: int, answer: Callable[[Message], Message]) -> None:
        super().__init__(("127.0.0.1", port), _Handler)
        self.answer, self.deaf, self.heard = answer, False, time.monotonic()

    @property
    def port(self) -> int:
        """Where it listens."""
        return int(self.server_address[1])


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


def wait_idle(
    last_heard: Callable[[], float], busy: Callable[[], bool] = lambda: False, idle_s: float = IDLE_S
) -> None:
    """Return once nobody has asked anything for so long: a stand-in that was left behind ends by itself, but
    for a charge."""
    while busy() or time.monotonic() - last_heard() < idle_s:
        time.sleep(min(5.0, idle_s))


class _Handler(socketserver.StreamRequestHandler):
    server: LineServer

    def handle(self) -> None:
        """Line by line until the other side hangs up."""
        while line := self.rfile.readline(LONGEST_LINE):
            if self.server.deaf:
                return
            self.server.heard = time.monotonic()
            self.wfile.write(json.dumps(self._reply(line)).encode() + b"\n")

    def _reply(self, line: bytes) -> Message:
        try:
            message = json.loads(line)
        except ValueError:
            return {"ok": False, "why": "This line is not JSON."}
        if not isinstance(message, dict):
            return {"ok": False, "why": "A message is a JSON object."}
        try:
            return {"ok": True, "id": message.get("id"), **self.server.answer(message)}
        except Refusal as refusal:
            return {"ok": False, "id": message.get("id"), "why": str(refusal)}
        except (KeyError, TypeError, ValueError) as error:
            return {"ok": False, "id": message.get("id"), "why": f"This message is not understood: {error}."}
