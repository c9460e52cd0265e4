"""Charging a pack whose cells are not equal, second by second: plain, and with balancing.

Plain charging looks at the whole pack: while one cell lags, the others pass their full volts. Balancing
lets the fullest cells bleed and holds the charge back at the highest one.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from coldstack.core.cells.open_circuit import GRID_CELLS, ocv_curve
from coldstack.core.cells.resistance import SPREADING, slow_time_constant_s
from coldstack.core.charging.charge_time import TAPER_END_C
from coldstack.core.errors import DomainError

Floats = NDArray[np.float64]
Mode = Literal["plain", "balance"]

STEP_S = 2.0
LONGEST_S = 8 * 3600.0
OVERCHARGE_SLOPE_V = 1.2
"""Volts per unit of charge above full: the curve goes on about as steep as it ends.

Only to show that it passes full.
"""
BALANCE_BAND_V = 0.005
"""A charger takes cells for even within so much. Typical."""


@dataclass(frozen=True, slots=True)
class UnequalCells:
    """The cells of one pack, shape (S,): capacity, quick resistance at 60 % charge, charge from 0 to 1."""

    chemistry: str
    capacity_ah: Floats
    resistance_mohm: Floats
    soc: Floats


@dataclass(frozen=True, slots=True)
class CellCurves:
    """Samples of a charge: times (T,), cell volts (T, S), current (T,). ``highest_v`` is of any cell at any
    moment.

    ``ended``: why it ended, "taper_down", "even" or "too_long". ``over_full`` lists the cells (from 0) that
    passed their full volts.
    """

    time_s: Floats
    cell_v: Floats
    current_a: Floats
    highest_v: float
    over_full: tuple[int, ...]
    ended: str
    end_soc: Floats


class ChargingCells:
    """Cells under charge, one step at a time: the physics of `cell_curves`, and of the simulated charger."""

    def __init__(self, cells: UnequalCells) -> None:
        if not (np.all(cells.capacity_ah > 0) and np.all(cells.resistance_mohm > 0)):
            raise DomainError("cells", "Capacity and resistance of every cell must be above zero.")
        self.ah, self.r = cells.capacity_ah, cells.resistance_mohm / 1000
        self.z, self.slow = cells.soc.astype(float).copy(), np.zeros(len(cells.soc))
        self._grid, self._ocv = np.linspace(0, 1, GRID_CELLS + 1), ocv_curve(cells.chemistry)
        self._spreading_ohm_ah = SPREADING[cells.chemistry].middle / 1000
        self._tau_s = slow_time_constant_s(cells.chemistry)

    def ohm(self) -> Floats:
        """Quick resistance: while it charges a cell's is about that at mid charge. [Ω]"""
        return np.asarray(self.r)

    def emf(self) -> Floats:
        """Resting volts and the slow part; above full the curve goes on straight. [V]"""
        over = np.maximum(self.z - 1, 0) * OVERCHARGE_SLOPE_V
        return np.asarray(np.interp(self.z, self._grid, self._ocv) + over + self.slow)

    def volts(self, current_a: float) -> Floats:
        """Terminal volts of each cell at a charging current. [V]"""
        return self.emf() + current_a * self.ohm()

    def heat_w(self, current_a: float) -> float:
        """What they turn into heat at a charging current, at 25 °C: in the quick resistance, and in the slow
        part, whose volts the current goes against. [W]"""
        return float((current_a**2 * self.ohm() + current_a * self.slow).sum())

    def step(self, current_a: float, bleed_a: Floats, dt: float) -> None:
        """Take the cells through a step; ``bleed_a`` is drawn from each cell beside the charging current."""
        into = current_a - bleed_a
        fade = math.exp(-dt / self._tau_s)
        self.slow = self.slow * fade + into * self._spreading_ohm_ah / self.ah * (1 - fade)
        self.z = np.maximum(self.z + into * dt / 3600 / self.ah, 0.0)


def allowed_current(cells: ChargingCells, set_a: float, full_cell_v: float, mode: Mode) -> float:
    """The charging current now: what is set, or what holds the pack (plain) or its highest cell (balance) at
    full. [A]"""
    emf, ohm = cells.emf(), cells.ohm()
    if mode == "plain":
        by_volts = (full_cell_v * len(emf) - emf.sum()) / ohm.sum()
    else:
        by_volts = float(((full_cell_v - emf) / ohm).min())
    return float(min(set_a, max(by_volts, 0.0)))


def bleeding(cell_v: Floats, balance_a: float) -> Floats:
    """Amps that a balancer draws from the cells above the lowest one, in proportion up to its full current.
    [A]"""
    above = np.asarray(cell_v - cell_v.min() - BALANCE_BAND_V / 2)
    return np.clip(above / BALANCE_BAND_V, 0.0, 1.0) * balance_a


def _require_currents(current_a: float, balance_a: float, mode: Mode) -> None:
    if not current_a > 0:
        raise DomainError("current_a", f"The current must be above zero, not {current_a:g} A.")
    if mode == "balance" and not balance_a > 0:
        raise DomainError("balance_a", "Balancing needs a balance current above zero.")


def cell_curves(
    cells: UnequalCells,
    *,
    current_a: float,
    full_cell_v: float,
    mode: Mode,
    balance_a: float = 0.0,
    sample_s: float = 30.0,
) -> CellCurves:
    """A whole charge. Plain ends when the current has come down to C/20; balancing goes on until the cells
    are even.

    Raises
    ------
    DomainError
        If the current, a capacity or a resistance is not above zero, or balancing has no current.
    """
    _require_currents(current_a, balance_a, mode)
    pack, end_a = ChargingCells(cells), TAPER_END_C * float(cells.capacity_ah.min())
    end_a = min(end_a, current_a)
    times, volts, amps, highest, next_sample, ended = [], [], [], np.zeros(len(cells.soc)), 0.0, "too_long"
    for k in range(int(LONGEST_S / STEP_S)):
        now = allowed_current(pack, current_a, full_cell_v, mode)
        cell_v = pack.volts(now)
        highest = np.maximum(highest, cell_v)
        done = now <= end_a * (1 + 1e-9) and k > 0
        even = mode == "plain" or cell_v.max() - cell_v.min() <= BALANCE_BAND_V
        if k * STEP_S >= next_sample - 1e-9 or (done and even):
            times.append(k * STEP_S)
            volts.append(cell_v)
            amps.append(now)
            next_sample += sample_s
        if done and even:
            ended = "taper_down" if mode == "plain" else "even"
            break
        pack.step(now, bleeding(cell_v, balance_a) if mode == "balance" else np.zeros_like(cell_v), STEP_S)
    over = tuple(int(i) for i in np.flatnonzero(highest > full_cell_v + 0.002))
    return CellCurves(
        np.array(times), np.array(volts), np.array(amps), float(highest.max()), over, ended, pack.z.copy()
    )
