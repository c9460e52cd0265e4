"""A simulated cell checker: a process of its own that reads the cells of the pack one holds to it.

``python -m coldstack.standins.checker --port 8702``
"""

from __future__ import annotations

import argparse
import threading
from typing import Any
from zlib import crc32

import numpy as np

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.server.devices.line_protocol import Message
from coldstack.standins.lines import LineServer, Refusal, wait_idle

LOW_SOC, HIGH_SOC = 0.18, 0.32


def reading_of(pack: Message) -> Message:
    """What it reads of a pack: made up from its tag, so that the same pack reads the same until it was
    charged.

    Simulation only is what the message tells of the pack: ``tag``, ``chemistry``, ``cells``, and ``soc``
    where it is known.

    Raises
    ------
    Refusal
        For more cells than it has pins for.
    """
    cells, chance = int(pack["cells"]), np.random.default_rng(crc32(str(pack["tag"]).encode()))
    if not 1 <= cells <= 14:
        raise Refusal("It reads 1 to 14 cells.")
    kind = chemistry(str(pack["chemistry"])).id
    given = pack.get("soc")
    soc = chance.uniform(LOW_SOC, HIGH_SOC) if given is None else float(given)
    volts = [resting_voltage(kind, min(max(soc + chance.normal(0, 0.004), 0.0), 1.0)) for _ in range(cells)]
    if pack.get("lazy"):
        volts[-1] = resting_voltage(kind, max(soc - 0.12, 0.0))
    return {"cell_v": [round(v, 3) for v in volts], "temperature_c": round(chance.uniform(17, 22), 1)}


def answer(message: Message) -> Message:
    """The reply to one message; raises Refusal for what it cannot do."""
    if message.get("do") == "hello":
        return {"protocol": 1, "name": "Cairn cell checker", "simulated": True}
    if message.get("do") == "read":
        return reading_of(message["pack"])
    raise Refusal("It can do hello, read.")


def serve(port: int) -> LineServer:
    """Listen on loopback in threads of their own."""
    server = LineServer(port, answer)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    return server


def main(arguments: list[str] | None = None) -> None:
    """The process."""
    parser = argparse.ArgumentParser(description="A simulated cell checker on loopback.")
    parser.add_argument("--port", type=int, default=8702)
    given: Any = parser.parse_args(arguments)
    server = serve(given.port)
    print(f"Cell checker listens at 127.0.0.1:{server.port}", flush=True)  # noqa: T201
    wait_idle(lambda: server.heard)


if __name__ == "__main__":
    main()
