"""What the program asks of a charger, whoever drives it: the interface that a real one implements, what it is
set to, what may come back, and the one line and answer by which simple devices are asked.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

from coldstack.server.devices.line_protocol import UNKNOWN_RUN, Message, asked

TIMEOUT_S = 2.0


class LinkLost(Exception):
    """The device does not answer."""


class DeviceRefusal(Exception):
    """The device will not do it, or not now: its words, for a person. What they mean nobody reads out of
    them."""


class UnknownRun(DeviceRefusal):
    """The device knows no charge of this name on that port: its own word, and the only one that ends a
    charge of which it measures nothing."""


@dataclass(frozen=True, slots=True)
class Hello:
    """What a charger says of itself.

    ``speed`` is above 1 where a simulated one runs faster than the world.
    """

    name: str
    ports: int
    simulated: bool
    speed: float


@dataclass(frozen=True, slots=True)
class ChargeOrder:
    """What a charger is set to."""

    chemistry: str
    program: str
    cells: int
    current_a: float
    end_cell_v: float
    timer_s: float
    cutoff_mah: float


@dataclass(frozen=True, slots=True)
class PortNow:
    """What a port does: its number, whether it charges, and the charger's name for that charge."""

    port: int
    charging: bool
    run: str


class ChargerDevice(Protocol):
    """A charger with ports. Every method raises LinkLost if it does not answer in time, or with nothing that
    can be understood, DeviceRefusal if it will not.

    What it measured is handed on as it came: `core.watching.reports` decides what of it is believed, for
    every driver alike. Whether a charge has stopped is decided by what is measured after it, never by an
    answer (`core.watching.stopping`): a driver must go on to tell the amps of a port whose charge has ended.
    """

    def hello(self) -> Hello:
        """What it is."""

    def detect(self, port: int) -> list[float]:
        """Volts of the cells it finds on a port; empty without a pack."""

    def start(self, port: int, order: ChargeOrder, run: str) -> str:
        """Begin a charge under this name, once: told again it is the same charge. The charger's own name for
        it, where it knows no others."""

    def stop(self, port: int, why: str) -> None:
        """End it at once. That it returns says that the charger was told and said yes, no more."""

    def report(self, port: int, run: str, after: int) -> object:
        """Samples of a charge after a number; a charger keeps those of its last charge on each port. Raises
        UnknownRun where the charger says that it knows no such charge."""

    def ports(self) -> list[PortNow]:
        """What each port does; empty for a charger that cannot say."""

    def plug(self, port: int, pack: Message) -> None:
        """Simulation only: hands do this with a real one."""

    def unplug(self, port: int) -> None:
        """Simulation only: hands do this with a real one."""

    def fault(self, port: int, fault: str, cell: int, seconds: float) -> None:
        """Simulation only."""


@dataclass(frozen=True, slots=True)
class Line:
    """One question, one answer, one connection: nothing to mend when a link comes back."""

    address: str

    def ask(self, message: Message) -> Message:
        """The reply's fields; raises LinkLost or DeviceRefusal."""
        reply = asked(self.address, message, TIMEOUT_S)
        if reply is None:
            raise LinkLost("it does not answer")
        if reply.get("ok") is not True:
            refusal = UnknownRun if reply.get("kind") == UNKNOWN_RUN else DeviceRefusal
            raise refusal(str(reply.get("why", "It gave no reason."))[:200])
        return reply


def number(value: object, low: float, high: float) -> float:
    """A finite number within bounds; raises LinkLost for anything else: what says such things is not
    understood."""
    if isinstance(value, bool) or not isinstance(value, (int, float)) or not low <= value <= high:
        raise LinkLost("it answers, but not understandably")
    return float(value)


def volts_of(said: Message) -> list[float]:
    """Volts of cells in a reply; raises LinkLost for what are none."""
    cells = said.get("cell_v")
    if not isinstance(cells, list):
        raise LinkLost("it answers, but not understandably")
    return [number(v, 0.0, 6.0) for v in cells[:60]]
