"""Devices that are linked: where their addresses stand, and how each is spoken to.

A driver for a real charger is one file in `drivers`, which implements `charger.ChargerDevice`. The checker
here speaks the line protocol of docs/devices.md.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from pathlib import Path

from django.conf import settings

from coldstack.server.devices.charger import ChargerDevice, Line, number, volts_of
from coldstack.server.devices.drivers import driven
from coldstack.server.devices.line_protocol import Message


@dataclass(frozen=True, slots=True)
class LineChecker:
    """A cell checker that speaks the line protocol."""

    line: Line

    def read(self, about: Message) -> tuple[list[float], float | None]:
        """Volts of each cell and the temperature of the pack held to it; ``about`` helps a simulated one.
        Raises LinkLost, DeviceRefusal."""
        said = self.line.ask({"do": "read", "pack": about})
        warmth = said.get("temperature_c")
        return volts_of(said), None if warmth is None else number(warmth, -40.0, 150.0)


def devices_file() -> Path:
    """Where the addresses of linked devices stand: ``{"chargers": {name: "host:port"}, "checker":
    "host:port"}``."""
    return Path(settings.DATA_DIR) / "devices.json"


def linked() -> Message:
    """The addresses, empty where no device was linked."""
    try:
        said = json.loads(devices_file().read_text())
    except (OSError, ValueError):
        return {}
    return said if isinstance(said, dict) else {}


def charger_device(name: str) -> ChargerDevice | None:
    """The linked charger of this name, by the driver that its address names; None without a link, or without
    such a driver."""
    address = (linked().get("chargers") or {}).get(name)
    return driven(address) if isinstance(address, str) and address else None


def checker_device() -> LineChecker | None:
    """The linked cell checker, if there is one."""
    address = linked().get("checker")
    return LineChecker(Line(address)) if address else None
