"""A simulated charger: a process of its own with ports, programs and refusals, spoken to by the line
protocol of docs/devices.md.

``python -m coldstack.standins.charger --port 8701 --ports 4 --speed 60``
"""

from __future__ import annotations

import argparse
import threading
import time
import uuid
from collections.abc import Callable
from typing import Any

from coldstack.server.devices.line_protocol import UNKNOWN_RUN, Message
from coldstack.standins.charger_port import Port
from coldstack.standins.lines import LineServer, Refusal, wait_idle

PROTOCOL = 1
TICK_S = 0.1


class SimulatedCharger:
    """Ports under one roof; a thread lets their time pass, ``speed`` seconds for one of the clock's."""

    def __init__(
        self,
        name: str,
        ports: int,
        chemistries: tuple[str, ...],
        *,
        balance_a: float = 0.8,
        speed: float = 1.0,
        series_max: int = 6,
        clock: Callable[[], float] = time.monotonic,
    ) -> None:
        self.name, self.chemistries, self.speed, self.series_max = name, chemistries, speed, series_max
        self.clock = clock
        self.ports = [Port(n + 1, balance_a) for n in range(ports)]
        self.lock = threading.Lock()
        self.deaf_until = 0.0

    def answer(self, message: Message) -> Message:
        """The reply to one message.

        Raises
        ------
        Refusal
            For what a charger would not do.
        """
        verbs = {
            "hello": self._hello,
            "detect": self._detect,
            "start": self._start,
            "stop": self._stop,
            "samples": self._samples,
            "ports": self._ports,
            "plug": self._plug,
            "unplug": self._unplug,
            "fault": self._fault,
        }
        verb = verbs.get(str(message.get("do")))
        if verb is None:
            raise Refusal(f"It can do {', '.join(verbs)}.")
        with self.lock:
            return verb(message)

    def pass_time(self, seconds: float) -> None:
        """Let so many of its own seconds pass on every port."""
        with self.lock:
            for port in self.ports:
                try:
                    port.advance(seconds)
                except (ArithmeticError, ValueError):  # one port must not end the time of the others
                    port.break_down()

    def _hello(self, message: Message) -> Message:
        return {
            "protocol": PROTOCOL,
            "name": self.name,
            "ports": len(self.ports),
            "chemistries": list(self.chemistries),
            "series_max": self.series_max,
            "simulated": True,
            "speed": self.speed,
        }

    def _detect(self, message: Message) -> Message:
        return self._port(message).detect()

    def _start(self, message: Message) -> Message:
        port, run = self._port(message), str(message.get("run") or uuid.uuid4())[:64]
        if port.state == "charging" and port.run == run:
            return {"run": run}  # told again, it is the same charge
        if message["cells"] > self.series_max:
            raise Refusal(f"It ends at {self.series_max} cells.")
        port.start(message, run, self.chemistries)
        return {"run": run}

    def _stop(self, message: Message) -> Message:
        port = self._port(message)
        port.stop(str(message.get("why", "stopped by hand")))
        return {"state": port.state}

    def _samples(self, message: Message) -> Message:
        """All samples after a number; the charger keeps those of its last run, so a lost link loses none."""
        port = self._port(message)
        if port.run != message["run"]:
            raise Refusal("This port has begun another charge since.", UNKNOWN_RUN)
        after = int(message.get("after", 0))
        return {
            "state": port.state,
            "ended": port.ended,
            "time_s": port.time_s,
            "samples": port.samples[after : after + 500],
        }

    def _ports(self, message: Message) -> Message:
        return {"ports": [{"port": p.number, "state": p.state, "run": p.run} for p in self.ports]}

    def _plug(self, message: Message) -> Message:
        port = self._port(message)
        if port.state == "charging":
            raise Refusal("This port is charging.")
        port.plug(message["pack"])
        return port.detect()

    def _unplug(self, message: Message) -> Message:
        self._port(message).unplug()
        return {}

    def _fault(self, message: Message) -> Message:
        if message["fault"] == "link_lost":
            self.deaf_until = self.clock() + float(message.get("seconds", 20))
        else:
            self._port(message).put_fault(str(message["fault"]), int(message.get("cell", 0)))
        return {}

    def _port(self, message: Message) -> Port:
        number = message["port"]
        if not isinstance(number, int) or not 1 <= number <= len(self.ports):
            raise Refusal(f"It has ports 1 to {len(self.ports)}.")
        return self.ports[number - 1]


def listen(charger: SimulatedCharger, port: int) -> LineServer:
    """Listen on loopback in a thread of its own; the server that was started, with its port.

    Time stands still for its packs until somebody lets it pass.
    """
    server = LineServer(port, charger.answer)
    threading.Thread(target=server.serve_forever, args=(0.05,), daemon=True).start()
    return server


def serve(charger: SimulatedCharger, port: int) -> LineServer:
    """Listen, and let time pass by its clock in a thread of its own."""
    server = listen(charger, port)

    def run() -> None:
        last = charger.clock()
        while True:
            time.sleep(TICK_S)
            now = charger.clock()
            charger.pass_time((now - last) * charger.speed)
            server.deaf = now < charger.deaf_until
            last = now

    threading.Thread(target=run, daemon=True).start()
    return server


def main(arguments: list[str] | None = None) -> None:
    """The process."""
    parser = argparse.ArgumentParser(description="A simulated charger on loopback.")
    parser.add_argument("--port", type=int, default=8701)
    parser.add_argument("--name", default="Skerry Four")
    parser.add_argument("--ports", type=int, default=4)
    parser.add_argument("--speed", type=float, default=1.0)
    parser.add_argument("--chemistries", default="lipo,lihv,liion,semisolid,lifepo4,nimh")
    given: Any = parser.parse_args(arguments)
    charger = SimulatedCharger(
        given.name, given.ports, tuple(given.chemistries.split(",")), speed=given.speed
    )
    server = serve(charger, given.port)
    print(f"{given.name} listens at 127.0.0.1:{server.port}", flush=True)  # noqa: T201  (its one word to who started it)
    wait_idle(lambda: server.heard, lambda: any(p.state == "charging" for p in charger.ports))


if __name__ == "__main__":
    main()
