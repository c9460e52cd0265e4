"""One port of the simulated charger: the cells plugged in, the charge that runs, and the faults one can put
in."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.counts import MOST_SERIES
from coldstack.core.cells.resistance import temperature_factor
from coldstack.core.charging.charge_time import TAPER_END_C
from coldstack.core.charging.unequal_cells import (
    BALANCE_BAND_V,
    ChargingCells,
    Mode,
    UnequalCells,
    allowed_current,
    bleeding,
)
from coldstack.core.charging.warming import ChargingBody
from coldstack.server.devices.line_protocol import Message
from coldstack.standins.lines import Refusal

SAMPLE_S = 5.0
STEP_S = 1.0
SUPPLY_V, SAGGING_V = 13.6, 9.8
FAULTS = ("weak_cell", "not_following", "warm", "wrong_count", "supply_sag", "refuses_stop", "over_current")
"""What can go wrong on a port; "link_lost" concerns the whole charger."""
RUNAWAY = 4.0
"""Amps over those set, of a port that does what it likes."""


class Port:
    """Cells and charge of one port.

    Times are the charger's own seconds, which may run faster than the world's.
    """

    def __init__(self, number: int, balance_a: float) -> None:
        self.number, self.balance_a = number, balance_a
        self.cells: ChargingCells | None = None
        self.faults: dict[str, int] = {}
        self.run, self.state, self.ended = "", "empty", ""
        self.samples: list[Message] = []
        self._noise = np.random.default_rng(number)

    def plug(self, pack: Message) -> None:
        """Simulation only: put a pack on the port.

        Its cells' charge, capacity and resistance are what it really has.
        """
        if self.state == "charging":
            raise Refusal("This port is charging.")
        cells, known = pack["cells"], ("capacity_ah", "resistance_mohm", "soc")
        if not isinstance(cells, list) or not 1 <= len(cells) <= MOST_SERIES:
            raise Refusal(f"A pack has 1 to {MOST_SERIES} cells.")
        if not all(math.isfinite(float(c[k])) and float(c[k]) >= 0 for c in cells for k in known):
            raise Refusal("A cell’s capacity, resistance and charge are numbers.")
        self.chemistry = chemistry(str(pack["chemistry"]))
        self.truth = UnequalCells(
            self.chemistry.id,
            *(np.array([float(c[k]) for c in cells]) for k in ("capacity_ah", "resistance_mohm", "soc")),
        )
        self.cells, self.faults, self.state, self.run = (
            ChargingCells(self.truth),
            dict(pack.get("faults") or {}),
            "idle",
            "",
        )
        self.air_c = float(pack.get("air_c", 21.0))
        self.temperature_c = float(pack.get("start_c", self.air_c))
        self.body = ChargingBody.of(
            self.chemistry.id,
            len(cells),
            float(self.truth.capacity_ah.mean()),
            mass_g=float(pack.get("mass_g", 100 * len(cells))),
        )
        self.frozen_v: float | None = None

    def detect(self) -> Message:
        """Cells found by the balance plug, and their volts."""
        if self.cells is None:
            return {"cells": 0, "cell_v": []}
        volts = self._seen(self.cells.volts(0.0))
        return {"cells": len(volts), "cell_v": volts}

    def start(self, order: Message, run: str, chemistries: tuple[str, ...]) -> None:
        """Begin a charge as ordered; raises Refusal like a charger's own checks."""
        if self.cells is None:
            raise Refusal("There is no pack on this port.")
        if self.state == "charging":
            raise Refusal("This port is charging already.")
        if order["chemistry"] not in chemistries:
            raise Refusal(f"This charger has no program for {order['chemistry']}.")
        found = self.detect()["cells"]
        if found != order["cells"]:
            raise Refusal(f"Set for {order['cells']} cells, but {found} are found.")
        if float(order["end_cell_v"]) > chemistry(order["chemistry"]).full_v + 1e-9:
            raise Refusal("These end volts are above what the chemistry allows.")
        for name in ("current_a", "end_cell_v", "timer_s", "cutoff_mah"):
            if not math.isfinite(float(order[name])) or float(order[name]) < (name != "end_cell_v") * 1e-6:
                raise Refusal(f"It cannot be set to {name} of {order[name]}.")
        self.order, self.run, self.state, self.ended = order, run, "charging", ""
        self.samples, self.time_s, self.mah, self._next_sample = [], 0.0, 0.0, 0.0

    def stop(self, why: str) -> None:
        """End the charge; the pack stays plugged in."""
        if self.state == "charging" and "refuses_stop" in self.faults:
            raise Refusal("Busy. Ask later.")
        if self.state == "charging":
            self._sample(0.0)
            self.state, self.ended = "stopped", why

    def unplug(self) -> None:
        """Simulation only: pull the plug, whatever it does."""
        self.cells, self.faults, self.run, self.state, self.ended = None, {}, "", "empty", ""

    def break_down(self) -> None:
        """What it was set to, or what is plugged in, cannot be computed: it ends."""
        self.cells, self.state, self.ended = None, "stopped", "the charger broke down"

    def put_fault(self, fault: str, cell: int) -> None:
        """Simulation only."""
        if fault not in FAULTS:
            raise Refusal(f"A fault is one of {', '.join(FAULTS)}, link_lost.")
        if self.cells is None:
            raise Refusal("There is no pack on this port.")
        if not 0 <= cell < len(self.cells.z):
            raise Refusal(f"The pack has {len(self.cells.z)} cells.")
        self.faults[fault] = cell
        if fault == "weak_cell":
            self.cells.ah = self.cells.ah.copy()
            self.cells.r = self.cells.r.copy()
            self.cells.ah[cell] *= 0.6
            self.cells.r[cell] *= 4.0
        if fault == "not_following":
            self.frozen_v = float(self.cells.volts(0.0)[cell])

    def advance(self, seconds: float) -> None:
        """Let so many of the charger's seconds pass."""
        left = seconds
        while left > 1e-9 and self.cells is not None:
            dt = min(STEP_S, left)
            left -= dt
            self._step(dt)

    def _step(self, dt: float) -> None:
        assert self.cells is not None
        amps, heat = 0.0, 12.0 if "warm" in self.faults and self.state == "charging" else 0.0
        if self.state == "charging":
            amps = self._current()
            volts = self.cells.volts(amps)
            heat += self.cells.heat_w(amps) * float(temperature_factor(self.temperature_c))
            balance = self.order["program"] == "balance" and self.chemistry.charge_method == "cc_cv"
            self.cells.step(amps, bleeding(volts, self.balance_a) if balance else np.zeros_like(volts), dt)
            self.mah += amps * dt / 3.6
            self.time_s += dt
            if self.time_s >= self._next_sample - 1e-9:
                self._sample(amps)
                self._next_sample += SAMPLE_S
            self._end(amps, volts)
        body = self.body
        loss = body.loss_w_per_k * (self.temperature_c - self.air_c)
        self.temperature_c += (heat - loss) * dt / body.heat_j_per_k

    def _current(self) -> float:
        assert self.cells is not None
        mode: Mode = "balance" if self.order["program"] == "balance" else "plain"
        set_a = float(self.order["current_a"]) * (0.4 if "supply_sag" in self.faults else 1.0)
        if "over_current" in self.faults:
            return RUNAWAY * set_a
        if self.chemistry.charge_method == "peak":
            return set_a
        return allowed_current(self.cells, set_a, float(self.order["end_cell_v"]), mode)

    def _end(self, amps: float, volts: Any) -> None:
        assert self.cells is not None
        if self.chemistry.charge_method == "peak":
            done = float(self.cells.z.max()) >= 1.02
        else:
            even = self.order["program"] != "balance" or volts.max() - volts.min() <= BALANCE_BAND_V
            done = amps <= TAPER_END_C * float(self.truth.capacity_ah.min()) and even and self.time_s > 30
        if done:
            self.state, self.ended = "done", "full"
        elif self.time_s >= float(self.order["timer_s"]):
            self.state, self.ended = "stopped", "the charger’s own timer"
        elif self.mah >= float(self.order["cutoff_mah"]):
            self.state, self.ended = "stopped", "the charger’s own capacity cut-off"
        if self.state != "charging":
            self._sample(0.0)

    def _sample(self, amps: float) -> None:
        assert self.cells is not None
        mohm = None
        if len(self.samples) == int(60 / SAMPLE_S):
            mohm = [round(1000 * float(r) * self._noise.normal(1, 0.02), 2) for r in self.cells.ohm()]
        self.samples.append(
            {
                "seq": len(self.samples) + 1,
                "time_s": round(self.time_s, 1),
                "cell_v": self._seen(self.cells.volts(amps)),
                "current_a": round(amps, 3),
                "temperature_c": round(self.temperature_c, 1),
                "mah": round(self.mah, 1),
                "supply_v": SAGGING_V if "supply_sag" in self.faults else SUPPLY_V,
                "cell_mohm": mohm,
            }
        )

    def _seen(self, volts: Any) -> list[float]:
        """Volts as its meter reads them: to the millivolt, a fault included."""
        shown = [float(v) for v in volts]
        if "not_following" in self.faults and self.frozen_v is not None:
            shown[self.faults["not_following"]] = self.frozen_v
        if "wrong_count" in self.faults:
            shown = shown[:-1]
        return [round(v + self._noise.normal(0, 0.0005), 3) if math.isfinite(v) else 0.0 for v in shown]
