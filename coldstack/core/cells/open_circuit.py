"""Resting voltage of a cell against state of charge, on a uniform grid so that a lookup is an index.

Sources are in the header of ``core/data/ocv.csv``; NiMH is the trade's flat table. Semi-solid pouches have
no published curve that we know of: they take the NMC811 curve above 2.80 V, since their positive electrode is
of that family. Typical, not measured.
"""

from __future__ import annotations

from functools import cache
from importlib.resources import files

import numpy as np
from numpy.typing import NDArray

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.errors import DomainError, require_between

GRID_CELLS = 4096
"""Grid steps from empty to full.

At the steepest end of the curves (25 V per unit charge) half a step is 3 mV.
"""


@cache
def ocv_curve(chemistry_id: str) -> NDArray[np.float64]:
    """Resting volts at GRID_CELLS + 1 equal steps of charge from 0 to 1; rises strictly. [V]"""
    grid = np.linspace(0.0, 1.0, GRID_CELLS + 1)
    cell, table = chemistry(chemistry_id), _published()
    charge, volts = table["soc"], table[cell.curve or cell.id]
    if not cell.curve:
        return np.asarray(np.interp(grid, charge, volts), dtype=float)
    bottom = np.interp(cell.damage_v, volts, charge)
    return np.interp(bottom + (1 - bottom) * grid, charge, volts)


def resting_voltage(chemistry_id: str, soc: float) -> float:
    """Resting volts of a cell at a state of charge from 0 to 1, at 25 °C. [V]"""
    require_between("soc", "State of charge", soc, low=0, high=1)
    return float(np.interp(soc * GRID_CELLS, _steps(), ocv_curve(chemistry_id)))


def soc_when_charged(chemistry_id: str, end_cell_v: float) -> float:
    """State of charge where a charge ends: by its end volts; NiMH goes to its peak, and its volts on the
    charger say nothing. 0 to 1."""
    return 1.0 if chemistry(chemistry_id).charge_method == "peak" else soc_at_rest(chemistry_id, end_cell_v)


def soc_at_rest(chemistry_id: str, cell_v: float) -> float:
    """State of charge, 0 to 1, of a cell that rests at ``cell_v``; 0 or 1 beyond the ends of the curve.

    The inverse of `resting_voltage`. On the flat part of LiFePO4 and NiMH a few millivolts are many per
    cent: a poor gauge there.
    """
    if not cell_v > 0:
        raise DomainError("cell_v", f"Cell volts must be above zero, not {cell_v:g} V.")
    curve = ocv_curve(chemistry_id)
    return float(np.interp(cell_v, curve, _steps())) / GRID_CELLS


@cache
def _steps() -> NDArray[np.float64]:
    return np.arange(GRID_CELLS + 1, dtype=float)


@cache
def _published() -> dict[str, NDArray[np.float64]]:
    text = (files("coldstack.core") / "data" / "ocv.csv").read_text()
    lines = [line for line in text.splitlines() if not line.startswith("#")]
    columns = np.array([[float(x) for x in line.split(",")] for line in lines[1:]]).T
    return dict(zip(lines[0].split(","), columns, strict=True))
