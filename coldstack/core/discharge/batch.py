"""The packs of a batch as columns, ready to be stepped together."""

from __future__ import annotations

from dataclasses import dataclass, fields
from enum import IntEnum
from typing import Any

import numpy as np
from numpy.typing import NDArray

from coldstack.core.errors import DomainError

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

HEAT_CAPACITY_J_PER_KG_K = 1000.0
"""Specific heat of a whole pack; pouch cells and cylindrical cells measure 900 to 1100."""
PACK_DENSITY_G_PER_CM3 = 2.0
"""Density to assume where the box is not known."""


ABOVE_ZERO = ("series", "capacity_ah", "cell_mohm", "mass_g", "area_m2", "slow_mohm", "slow_s")


@dataclass(frozen=True, slots=True)
class CellColumns:
    """Cells of N packs that differ, in G groups of cells alike, shape (N, G).

    ``count`` cells in series make up each group; a group of none repeats another. Capacity and
    resistance stand for those of the pack's column. [Ah], [mΩ at 25 °C and 60 %], charge from 0 to 1
    """

    count: Floats
    capacity_ah: Floats
    resistance_mohm: Floats
    start_soc: Floats

    def take(self, rows: NDArray[np.int64] | NDArray[np.bool_]) -> CellColumns:
        """The chosen rows, in the order given."""
        return CellColumns(*(getattr(self, f.name)[rows] for f in fields(self)))

    def check(self, n: int) -> None:
        """Raises DomainError unless every column is finite and in range, with a row for each of n packs."""
        shape = (n, self.count.shape[1] if self.count.ndim == 2 else 0)
        for f in fields(self):
            column = getattr(self, f.name)
            if column.shape != shape or not np.all(np.isfinite(column)):
                raise DomainError("cells", f"{f.name} must be a finite number for each cell of {n} packs.")
        if not (
            np.all(self.capacity_ah > 0) and np.all(self.resistance_mohm > 0) and np.all(self.count >= 0)
        ):
            raise DomainError("cells", "Capacity and resistance of every cell must be above zero.")
        if not (np.all(self.start_soc >= 0) and np.all(self.start_soc <= 1)):
            raise DomainError("cells", "State of charge of every cell must be from 0 to 1.")


@dataclass(frozen=True, slots=True)
class PackColumns:
    """N packs, each reduced to one cell position (its strings in parallel joined). Every column has
    shape (N,).

    Attributes
    ----------
    chemistry_index
        Position in CHEMISTRY_IDS.
    series
        Cells in series.
    capacity_ah
        Capacity of the pack. [Ah]
    cell_mohm
        Quick resistance of one cell position at 25 °C and 60 % charge. [mΩ]
    outside_mohm
        Leads and plug, for the whole pack. [mΩ]
    mass_g, area_m2
        What stores and sheds the heat of the cells. [g], [m²]
    start_soc, landing_soc
        State of charge at the start and at the landing point, 0 to 1.
    alarm_cell_v, cutoff_cell_v
        Volts per cell under load at which the alarm sounds and the controller stops. [V]
    slow_mohm
        R1 of the slow part of one cell position at 25 °C and 60 % charge, whatever its R0; None for the
        chemistry's usual one. [mΩ]
    slow_s
        Time constant of the slow part; None for the chemistry's usual. [s]
    ocv_shift_v
        Resting volts of a cell above the chemistry's curve; None for 0. [V]
    warmer_k
        Air and pack warmer than the surroundings say; None for 0. [K]
    start_c
        Each pack's own warmth at the start, before ``warmer_k``; None for the surroundings'. [°C]
    cells
        Cells that differ; None where all cells of a pack are alike.
    """

    chemistry_index: Ints
    series: Floats
    capacity_ah: Floats
    cell_mohm: Floats
    outside_mohm: Floats
    mass_g: Floats
    area_m2: Floats
    start_soc: Floats
    landing_soc: Floats
    alarm_cell_v: Floats
    cutoff_cell_v: Floats
    slow_mohm: Floats | None = None
    slow_s: Floats | None = None
    ocv_shift_v: Floats | None = None
    warmer_k: Floats | None = None
    start_c: Floats | None = None
    cells: CellColumns | None = None

    def __len__(self) -> int:
        return len(self.series)

    def take(self, rows: NDArray[np.int64] | NDArray[np.bool_]) -> PackColumns:
        """The chosen rows, in the order given."""
        return PackColumns(*(_rows_of(getattr(self, f.name), rows) for f in fields(self)))

    def check(self) -> None:
        """Raises DomainError unless every column is finite, in range and of one length."""
        n = len(self)
        for f in fields(self):
            column = getattr(self, f.name)
            if column is None or f.name == "cells":
                continue
            if column.shape != (n,) or not np.all(np.isfinite(column)):
                raise DomainError(f.name, f"{f.name} must be a finite number for each of {n} packs.")
        for name in ABOVE_ZERO:
            column = getattr(self, name)
            if column is not None and not np.all(column > 0):
                raise DomainError(name, f"{name} must be above zero.")
        if not (np.all(self.start_soc <= 1) and np.all(self.landing_soc >= 0)):
            raise DomainError("start_soc", "State of charge must be from 0 to 1.")
        if self.cells is not None:
            self.cells.check(n)


def _rows_of(column: Any, rows: NDArray[np.int64] | NDArray[np.bool_]) -> Any:
    if column is None:
        return None
    return column.take(rows) if isinstance(column, CellColumns) else column[rows]


@dataclass(frozen=True, slots=True)
class Surroundings:
    """The air around the packs: its temperature, theirs at the start, and how well the bay sheds heat.

    [°C], [W/m²K]
    """

    air_c: float = 20.0
    start_c: float = 20.0
    transfer_w_per_m2_k: float = 12.0


class Ending(IntEnum):
    """Why a discharge ended: the landing point of the first cell, the controller, a load beyond what the
    pack can give, heat, time."""

    REACHED_LANDING = 0
    REACHED_CUTOFF = 1
    CANNOT_DELIVER = 2
    CELL_TOO_HOT = 3
    RAN_TOO_LONG = 4


@dataclass(frozen=True, slots=True)
class Discharge:
    """What became of each pack, shape (N,). Currents are the pack's, volts its loaded terminals after
    leads and plug.

    ``end_soc`` is of the emptiest cell, ``end_temperature_c`` of the hottest. ``alarm_s`` is NaN where the
    alarm never sounded. ``energy_wh`` is delivered, ``heat_wh`` lost in cells, leads and plug.
    """

    ending: Ints
    duration_s: Floats
    used_ah: Floats
    end_soc: Floats
    average_current_a: Floats
    rms_current_a: Floats
    peak_current_a: Floats
    lowest_voltage_v: Floats
    mean_voltage_v: Floats
    landing_voltage_v: Floats
    energy_wh: Floats
    heat_wh: Floats
    end_temperature_c: Floats
    alarm_s: Floats

    def take(self, rows: NDArray[np.int64] | NDArray[np.bool_]) -> Discharge:
        """The chosen rows, in the order given."""
        return Discharge(*(getattr(self, f.name)[rows] for f in fields(self)))


def box_area_m2(length_mm: Floats, width_mm: Floats, height_mm: Floats, mass_g: Floats) -> Floats:
    """Outside of the pack's box; where a side is unknown (NaN), of a cube of its mass at 2.0 g/cm³. [m²]"""
    box = 2 * (length_mm * width_mm + length_mm * height_mm + width_mm * height_mm) * 1e-6
    cube = 6 * (mass_g / PACK_DENSITY_G_PER_CM3 * 1e-6) ** (2 / 3)
    return np.asarray(np.where(np.isnan(box), cube, box))
