"""The simulated charger with another tongue: a line of numbers for each port, again and again, and commands
as words. It shows that a driver is one file. See docs/devices.md, *Lines of numbers*.
"""

from __future__ import annotations

import socketserver
import threading

from coldstack.server.devices.line_protocol import Message
from coldstack.standins.charger import SimulatedCharger
from coldstack.standins.lines import Refusal

EVERY_S = 0.2
LETTERS = {"charging": "C", "done": "D", "stopped": "S"}


def line_of(charger: SimulatedCharger, number: int) -> str:
    """What it writes of a port."""
    port = charger.ports[number - 1]
    last = port.samples[-1] if port.samples and port.run else None
    head = f"P;{number};{LETTERS.get(port.state, 'I')};{port.run}"
    if last is None:
        return head
    figures = (
        last["seq"],
        last["time_s"],
        round(1000 * last["current_a"]),
        last["mah"],
        last["temperature_c"],
    )
    return ";".join(map(str, (head, *figures, *last["cell_v"])))


def answered(charger: SimulatedCharger, command: str) -> str:
    """Its answer to a command: OK with figures, or NO with the reason."""
    words = command.strip().split(";")
    try:
        if words[0] == "?":
            return f"OK;{charger.name};{len(charger.ports)}"
        if words[0] == "CELLS":
            found = charger.answer({"do": "detect", "port": int(words[1])})["cell_v"]
            return ";".join(map(str, ("OK", *found)))
        if words[0] == "STOP":
            charger.answer({"do": "stop", "port": int(words[1])})
            return "OK"
        if words[0] == "START":
            charger.answer(_order(words))
            return "OK"
    except (Refusal, ValueError, IndexError, KeyError) as why:
        return f"NO;{why}"
    return "NO;it knows ?, CELLS, START and STOP"


def _order(words: list[str]) -> Message:
    _, port, run, chemistry, program, cells, current_a, end_cell_v, timer_s, cutoff_mah = words
    figures = {"current_a": current_a, "end_cell_v": end_cell_v, "timer_s": timer_s, "cutoff_mah": cutoff_mah}
    numbers = {name: float(value) for name, value in figures.items()}
    order = {"chemistry": chemistry, "program": program, "cells": int(cells), **numbers}
    return {"do": "start", "port": int(port), "run": run, **order}


class _Server(socketserver.ThreadingTCPServer):
    allow_reuse_address = True
    daemon_threads = True
    charger: SimulatedCharger


class _Handler(socketserver.StreamRequestHandler):
    server: _Server

    def handle(self) -> None:
        """Writes to whoever listens, and answers what is said meanwhile."""
        threading.Thread(target=self._hear, daemon=True).start()
        gone = threading.Event()
        while not gone.is_set():
            for number in range(1, len(self.server.charger.ports) + 1):
                try:
                    self.wfile.write(line_of(self.server.charger, number).encode() + b"\n")
                except OSError:
                    return
            gone.wait(EVERY_S)

    def _hear(self) -> None:
        try:
            while line := self.rfile.readline(2000):
                self.wfile.write(
                    answered(self.server.charger, line.decode("ascii", "replace")).encode() + b"\n"
                )
        except (OSError, ValueError):
            return


def listen(charger: SimulatedCharger, port: int) -> _Server:
    """Listen on loopback in a thread of its own."""
    server = _Server(("127.0.0.1", port), _Handler)
    server.charger = charger
    threading.Thread(target=server.serve_forever, args=(0.05,), daemon=True).start()
    return server
