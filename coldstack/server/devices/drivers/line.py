"""A charger that speaks the line protocol of docs/devices.md: one JSON object a line each way."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.server.devices.charger import (
    ChargeOrder,
    DeviceRefusal,
    Hello,
    Line,
    PortNow,
    number,
    volts_of,
)
from coldstack.server.devices.line_protocol import Message

FASTEST = 1000.0


@dataclass(frozen=True, slots=True)
class LineCharger:
    """A charger that speaks the line protocol."""

    line: Line

    def hello(self) -> Hello:
        """See `ChargerDevice`."""
        said = self.line.ask({"do": "hello"})
        speed = number(said.get("speed", 1), 1.0, FASTEST)
        ports = number(said.get("ports"), 1, 64)
        return Hello(str(said.get("name", ""))[:80], int(ports), said.get("simulated") is True, speed)

    def detect(self, port: int) -> list[float]:
        """See `ChargerDevice`."""
        return volts_of(self.line.ask({"do": "detect", "port": port}))

    def start(self, port: int, order: ChargeOrder, run: str) -> str:
        """See `ChargerDevice`."""
        fields = {name: getattr(order, name) for name in ChargeOrder.__slots__}
        said = self.line.ask({"do": "start", "port": port, "run": run, **fields})
        return str(said.get("run", run))[:64]

    def stop(self, port: int, why: str) -> None:
        """See `ChargerDevice`."""
        self.line.ask({"do": "stop", "port": port, "why": why})

    def report(self, port: int, run: str, after: int) -> object:
        """See `ChargerDevice`."""
        return self.line.ask({"do": "samples", "port": port, "run": run, "after": after})

    def ports(self) -> list[PortNow]:
        """See `ChargerDevice`."""
        try:
            said = self.line.ask({"do": "ports"}).get("ports")
        except DeviceRefusal:
            return []
        rows = [x for x in said if isinstance(x, dict)] if isinstance(said, list) else []
        return [
            PortNow(x["port"], x.get("state") == "charging", str(x.get("run", ""))[:64])
            for x in rows[:64]
            if isinstance(x.get("port"), int) and not isinstance(x.get("port"), bool)
        ]

    def plug(self, port: int, pack: Message) -> None:
        """Simulation only: hands do this with a real one."""
        self.line.ask({"do": "plug", "port": port, "pack": pack})

    def unplug(self, port: int) -> None:
        """Simulation only: hands do this with a real one."""
        self.line.ask({"do": "unplug", "port": port})

    def fault(self, port: int, fault: str, cell: int, seconds: float) -> None:
        """Simulation only."""
        self.line.ask({"do": "fault", "port": port, "fault": fault, "cell": cell, "seconds": seconds})


def charger(address: str) -> LineCharger:
    """The charger that listens there."""
    return LineCharger(Line(address))
