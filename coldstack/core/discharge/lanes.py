"""The packs that are being stepped, as lanes of one table."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from coldstack.core.cells.chemistry import chemistry_column
from coldstack.core.cells.open_circuit import GRID_CELLS, STACK_MARGIN, STACK_STRIDE
from coldstack.core.discharge.batch import HEAT_CAPACITY_J_PER_KG_K, Floats, PackColumns, Surroundings
from coldstack.core.draw.scaling import PhaseLoad
from coldstack.core.units import SECONDS_PER_HOUR

SHRINK_BELOW = 0.8
"""Ended lanes are dropped once fewer than this share still runs."""


class LaneRows:
    """The rows of the table, one column a lane. Volts, resistance, energy and heat are of one cell position; charge is ``z``,
    in steps of the stacked curves.
    """

    # what a pack is
    step_per_as: Floats
    r25: Floats
    r_out: Floats
    z_land: Floats
    z_zero: Floats
    z_floor: Floats
    alarm_v: Floats
    cutoff_v: Floats
    series: Floats
    rise_per_j: Floats
    settle_per_w: Floats
    # its state, and the same at the start of the stretch (z_start, warmed_from) and block
    z: Floats
    v_slow: Floats
    current: Floats
    temperature: Floats
    below_s: Floats
    z_start: Floats
    z_block: Floats
    v_block: Floats
    warmed_from: Floats
    # sums and extremes so far; those of the present block and stretch
    charge: Floats
    square: Floats
    energy: Floats
    heat: Floats
    block_heat: Floats
    stretch_heat: Floats
    stretch_low: Floats
    peak: Floats
    lowest: Floats
    alarm_s: Floats
    # scratch
    emf: Floats
    r: Floats
    rt: Floats
    work: Floats
    spare: Floats
    step_z: Floats
    current_sum: Floats
    volts_sum: Floats
    volts_first: Floats
    r_sum: Floats
    r_warm: Floats


ROWS: tuple[str, ...] = tuple(LaneRows.__annotations__)


class LaneTable(LaneRows):
    """The packs that still run, one column each; the rows of ``table`` are reached by name."""

    def __init__(
        self, packs: PackColumns, blocks: list[PhaseLoad], surroundings: Surroundings, rows: NDArray[np.int64]
    ) -> None:
        n = len(packs)
        self.surroundings, self.rows = surroundings, rows
        self.durations, self.laws = [b.duration_s for b in blocks], [b.law for b in blocks]
        self.table = np.zeros((len(ROWS), n))
        self.alive, self.running = np.ones(n, bool), n
        nominal = chemistry_column("nominal_v")[packs.chemistry_index]
        # per block: the load, and the current that it would take at nominal volts, to place the first mid-step
        self.loads = np.array([_per_cell(b, packs.series) for b in blocks])
        self.guesses = np.array([_guess(b.law, x, nominal) for b, x in zip(blocks, self.loads, strict=True)])
        self._name_rows()
        self.z_zero[:] = packs.chemistry_index * STACK_STRIDE + STACK_MARGIN + 0.5
        self.z_floor[:] = self.z_zero - 0.8 * STACK_MARGIN
        self.step_per_as[:] = GRID_CELLS / (packs.capacity_ah * SECONDS_PER_HOUR)
        self.r25[:] = packs.resistance_mohm / 1000.0
        self.r_out[:] = packs.outside_mohm / 1000.0 / packs.series
        self.z[:] = packs.start_soc * GRID_CELLS + self.z_zero
        self.z_land[:] = packs.landing_soc * GRID_CELLS + self.z_zero
        self.alarm_v[:], self.cutoff_v[:] = packs.alarm_cell_v, packs.cutoff_cell_v
        self.series[:] = packs.series
        # the heat of one cell position counts for all of them
        heat_capacity = packs.mass_g / 1000.0 * HEAT_CAPACITY_J_PER_KG_K
        loss = surroundings.transfer_w_per_m2_k * packs.area_m2
        self.rise_per_j[:] = loss / heat_capacity
        self.settle_per_w[:] = packs.series / loss
        self.temperature[:] = surroundings.start_c
        self.lowest[:] = self.stretch_low[:] = np.inf
        self.alarm_s[:] = np.nan
        self.time_s = 0.0

    def _name_rows(self) -> None:
        for name, row in zip(ROWS, self.table, strict=True):
            setattr(self, name, row)
        self.index = np.empty(self.table.shape[1], dtype=np.intp)
        self.fades: dict[float, Floats] = {}

    def shrink(self) -> None:
        """Drop the ended lanes if they have become many."""
        if self.running < SHRINK_BELOW * len(self.alive):
            keep = self.alive
            self.rows = self.rows[keep]
            self.loads, self.guesses = self.loads[:, keep], self.guesses[:, keep]
            self.table, self.alive = self.table[:, keep], self.alive[keep]
            self._name_rows()


def _per_cell(load: PhaseLoad, series: Floats) -> Floats:
    """The load as one cell position meets it: watts are shared by the cells in series, volts multiplied by them."""
    if load.law == "power":
        return np.asarray(load.value / series)
    if load.law == "throttle1":
        return np.asarray(load.value * series)
    if load.law == "throttle2":
        return np.asarray(load.value * series * series)
    return load.value


def _guess(law: str, load: Floats, volts: Floats) -> Floats:
    """The current at these volts per cell, by the law and the load of one cell position. [A]"""
    if law == "amps":
        return load
    return np.asarray(load / volts if law == "power" else load * volts ** int(law[-1]))
