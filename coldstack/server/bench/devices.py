"""Devices on the bench: what the program asks of a charger and a cell checker, and how it speaks to those that are linked.

A driver for a real device implements `ChargerDevice` or `CellChecker`; the ones here speak the line protocol of docs/devices.md.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Protocol

from django.conf import settings

from coldstack.standins.lines import asked

TIMEOUT_S = 2.0
Message = dict[str, Any]


class LinkLost(Exception):
    """The device does not answer."""


class DeviceRefusal(Exception):
    """The device will not do it; its words."""


@dataclass(frozen=True, slots=True)
class Hello:
    """What a charger says of itself. ``speed`` is above 1 where a simulated one runs faster than the world."""

    name: str
    ports: int
    simulated: bool
    speed: float


@dataclass(frozen=True, slots=True)
class Order:
    """What a charger is set to."""

    chemistry: str
    program: str
    cells: int
    current_a: float
    end_cell_v: float
    timer_s: float
    cutoff_mah: float


@dataclass(frozen=True, slots=True)
class Report:
    """A port's state ("charging", "done", "stopped"), why it ended, its own clock, and samples after the number asked for."""

    state: str
    ended: str
    time_s: float
    samples: list[Message]


class ChargerDevice(Protocol):
    """A charger with ports. Every method raises LinkLost if it does not answer, DeviceRefusal if it will not."""

    def hello(self) -> Hello:
        """What it is."""

    def detect(self, port: int) -> list[float]:
        """Volts of the cells it finds on a port; empty without a pack."""

    def start(self, port: int, order: Order) -> str:
        """Begin a charge; the charger's own name for it."""

    def stop(self, port: int, why: str) -> None:
        """End it at once."""

    def report(self, port: int, run: str, after: int) -> Report:
        """Samples of a charge after a number; a charger keeps those of its last charge on each port."""


class CellChecker(Protocol):
    """A cell checker. Raises LinkLost, DeviceRefusal."""

    def read(self, about: Message) -> tuple[list[float], float | None]:
        """Volts of each cell and the temperature of the pack held to it; ``about`` helps a simulated one."""


@dataclass(frozen=True, slots=True)
class Line:
    """One question, one answer, one connection: nothing to mend when a link comes back."""

    address: str

    def ask(self, message: Message) -> Message:
        """The reply's fields; raises LinkLost or DeviceRefusal."""
        reply = asked(self.address, message, TIMEOUT_S)
        if reply is None:
            raise LinkLost("it does not answer")
        if not reply.get("ok"):
            raise DeviceRefusal(str(reply.get("why", "It gave no reason.")))
        return reply


@dataclass(frozen=True, slots=True)
class LineCharger:
    """A charger that speaks the line protocol."""

    line: Line

    def hello(self) -> Hello:
        """See `ChargerDevice`."""
        said = self.line.ask({"do": "hello"})
        return Hello(said["name"], said["ports"], bool(said.get("simulated")), float(said.get("speed", 1)))

    def detect(self, port: int) -> list[float]:
        """See `ChargerDevice`."""
        return [float(v) for v in self.line.ask({"do": "detect", "port": port})["cell_v"]]

    def start(self, port: int, order: Order) -> str:
        """See `ChargerDevice`."""
        fields = {name: getattr(order, name) for name in Order.__slots__}
        return str(self.line.ask({"do": "start", "port": port, **fields})["run"])

    def stop(self, port: int, why: str) -> None:
        """See `ChargerDevice`."""
        self.line.ask({"do": "stop", "port": port, "why": why})

    def report(self, port: int, run: str, after: int) -> Report:
        """See `ChargerDevice`."""
        said = self.line.ask({"do": "samples", "port": port, "run": run, "after": after})
        return Report(said["state"], said["ended"], float(said["time_s"]), said["samples"])

    def plug(self, port: int, pack: Message) -> None:
        """Simulation only: hands do this with a real one."""
        self.line.ask({"do": "plug", "port": port, "pack": pack})

    def fault(self, port: int, fault: str, cell: int, seconds: float) -> None:
        """Simulation only."""
        self.line.ask({"do": "fault", "port": port, "fault": fault, "cell": cell, "seconds": seconds})


@dataclass(frozen=True, slots=True)
class LineChecker:
    """A cell checker that speaks the line protocol."""

    line: Line

    def read(self, about: Message) -> tuple[list[float], float | None]:
        """See `CellChecker`."""
        said = self.line.ask({"do": "read", "pack": about})
        return [float(v) for v in said["cell_v"]], said.get("temperature_c")


def devices_file() -> Path:
    """Where the addresses of linked devices stand: ``{"chargers": {name: "host:port"}, "checker": "host:port"}``."""
    return Path(settings.DATA_DIR) / "devices.json"


def linked() -> Message:
    """The addresses, empty where no device was linked."""
    try:
        said = json.loads(devices_file().read_text())
    except (OSError, ValueError):
        return {}
    return said if isinstance(said, dict) else {}


def charger_device(name: str) -> LineCharger | None:
    """The linked charger of this name, if there is one."""
    address = (linked().get("chargers") or {}).get(name)
    return LineCharger(Line(address)) if address else None


def checker_device() -> LineChecker | None:
    """The linked cell checker, if there is one."""
    address = linked().get("checker")
    return LineChecker(Line(address)) if address else None
