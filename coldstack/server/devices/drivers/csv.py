"""A charger that writes a line of numbers for each port every second, as serial loggers do, and takes
commands as words: the protocol of docs/devices.md, *Lines of numbers*. It keeps nothing: what nobody heard is
gone.
"""

from __future__ import annotations

import socket
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass

from coldstack.server.devices.charger import (
    TIMEOUT_S,
    ChargeOrder,
    DeviceRefusal,
    Hello,
    LinkLost,
    PortNow,
    UnknownRun,
)
from coldstack.server.devices.line_protocol import Message

LONGEST_LINE = 2000
IDLE = "I"
STATES = {"C": "charging", "D": "done", "S": "stopped"}
HEAD, FIGURES = 4, 5
"""Fields that every line of a port has, and those that come with a sample before its cells."""
Words = list[str]


@dataclass(frozen=True, slots=True)
class CsvCharger:
    """See `ChargerDevice`; fields of a line stand apart by semicolons."""

    address: str

    def hello(self) -> Hello:
        """See `ChargerDevice`."""
        _, name, ports = self._ask("?")[:3]
        return Hello(name[:80], int(ports) if ports.isdigit() else 1, False, 1.0)

    def detect(self, port: int) -> list[float]:
        """See `ChargerDevice`."""
        return [_float(v) for v in self._ask(f"CELLS;{port}")[1:]]

    def start(self, port: int, order: ChargeOrder, run: str) -> str:
        """See `ChargerDevice`."""
        figures = (order.current_a, order.end_cell_v, order.timer_s, order.cutoff_mah)
        words = (port, run, order.chemistry, order.program, order.cells, *figures)
        self._ask(";".join(map(str, ("START", *words))))
        return run

    def stop(self, port: int, why: str) -> None:
        """See `ChargerDevice`."""
        self._ask(f"STOP;{port}")

    def report(self, port: int, run: str, after: int) -> object:
        """See `ChargerDevice`: the next line of this port, as one sample. Whether it can be believed is not
        decided here."""
        with self._lines() as lines:
            words = next(w for w in lines if w[0] == "P" and len(w) >= HEAD and w[1] == str(port))
        state, its_run, figures = words[2], words[3], words[HEAD:]
        if its_run != run or state == IDLE:
            raise UnknownRun("another charge since" if its_run else "nothing charges on this port")
        said = STATES.get(state, state)
        if len(figures) < FIGURES:  # it has measured nothing yet
            return {"state": said, "ended": "", "time_s": 0.0, "samples": []}
        seq, time_s, milliamps, mah, warmth, *cells = figures
        amps = _or_text(milliamps)
        sample = {
            "seq": int(seq) if seq.isdigit() else seq,
            "time_s": _or_text(time_s),
            "cell_v": [_or_text(v) for v in cells],
            "current_a": amps / 1000 if isinstance(amps, float) else amps,
            "temperature_c": _or_text(warmth) if warmth else None,
            "mah": _or_text(mah),
        }
        ended = "full" if said == "done" else "stopped at the charger" if said == "stopped" else ""
        return {"state": said, "ended": ended, "time_s": sample["time_s"], "samples": [sample]}

    def ports(self) -> list[PortNow]:
        """See `ChargerDevice`: one line of each port."""
        found: dict[int, PortNow] = {}
        with self._lines() as lines:
            for words in lines:
                if words[0] != "P" or len(words) < HEAD or not words[1].isdigit():
                    continue
                if int(words[1]) in found:
                    break
                found[int(words[1])] = PortNow(int(words[1]), words[2] == "C", words[3][:64])
        return list(found.values())

    def plug(self, port: int, pack: Message) -> None:
        """Hands do this."""

    def unplug(self, port: int) -> None:
        """Hands do this."""

    def fault(self, port: int, fault: str, cell: int, seconds: float) -> None:
        """No fault can be put into it."""
        raise DeviceRefusal("No fault can be put into this charger.")

    def _ask(self, command: str) -> Words:
        """The fields of its answer to a command; raises DeviceRefusal with its words."""
        with self._lines(command) as lines:
            words = next(w for w in lines if w[0] in ("OK", "NO"))
        if words[0] == "NO":
            raise DeviceRefusal("; ".join(words[1:])[:200] or "It gave no reason.")
        return words

    @contextmanager
    def _lines(self, command: str = "") -> Iterator[Iterator[Words]]:
        """Its lines as fields, for as long as an answer may take; raises LinkLost after that."""
        host, _, port = self.address.rpartition(":")
        try:
            with socket.create_connection((host, int(port)), TIMEOUT_S) as link:
                if command:
                    link.sendall(command.encode() + b"\n")
                yield _fields(link, time.monotonic() + TIMEOUT_S)
        except (OSError, ValueError, StopIteration, RuntimeError) as error:
            raise LinkLost("it does not answer") from error


def _fields(link: socket.socket, end: float) -> Iterator[Words]:
    kept = b""
    while True:
        line, found, rest = kept.partition(b"\n")
        if found:
            kept = rest
            yield line.decode("ascii", "replace").strip().split(";")
            continue
        left = end - time.monotonic()
        if left <= 0 or len(kept) > LONGEST_LINE:
            raise TimeoutError
        link.settimeout(left)
        more = link.recv(4096)
        if not more:
            raise ConnectionError
        kept += more


def _float(text: str) -> float:
    """Raises ValueError, which is no answer, for what is no number."""
    return float(text)


def _or_text(text: str) -> float | str:
    """The number; as it came where it is none, for who decides what is believed."""
    try:
        return float(text)
    except ValueError:
        return text


def charger(address: str) -> CsvCharger:
    """The charger that listens there."""
    return CsvCharger(address)
