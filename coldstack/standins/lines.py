"""A line protocol over loopback TCP: one JSON object a line each way.

The server side of the stand-ins. See docs/devices.md.
"""

from __future__ import annotations

import json
import socketserver
import time
from collections.abc import Callable

from coldstack.server.devices.line_protocol import LONGEST_LINE, Message

IDLE_S = 600.0


class Refusal(Exception):
    """What a device will not do, in words for the person who asked; ``kind`` where the program must know
    what it means."""

    def __init__(self, why: str, kind: str = "") -> None:
        super().__init__(why)
        self.kind = kind


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
            kind = {"kind": refusal.kind} if refusal.kind else {}
            return {"ok": False, "id": message.get("id"), "why": str(refusal), **kind}
        except (KeyError, TypeError, ValueError) as error:
            return {"ok": False, "id": message.get("id"), "why": f"This message is not understood: {error}."}
