"""What flows when packs are joined in parallel: through the main leads at once, or through the balance wires.

Sources and resistances only: closed forms and one nodal solution. Currents are positive into a pack.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from coldstack.core.cells.open_circuit import GRID_CELLS, ocv_curve
from coldstack.core.cells.resistance import (
    SLOW_RESISTANCE_FACTOR,
    SLOW_TIME_CONSTANT_S,
    soc_factor_curve,
)
from coldstack.core.errors import DomainError

Floats = NDArray[np.float64]

CALM_A = 1.0
"""Settled: no pack takes or gives more than this."""
LONGEST_SETTLING_S = 4 * 3600.0


def settling_currents(emf_v: Floats, resistance_ohm: Floats) -> tuple[float, Floats]:
    """The common voltage and each pack's current at the moment of joining. [V], [A]

    ``U = Σ(Uᵢ/Rᵢ) ÷ Σ(1/Rᵢ)``, ``Iᵢ = (U − Uᵢ)/Rᵢ``; resistances are the whole way of each pack, shape (N,).

    Raises
    ------
    DomainError
        For a resistance that is not above zero.
    """
    if not np.all(resistance_ohm > 0):
        raise DomainError("resistance_ohm", "Every pack's resistance must be above zero.")
    common = float((emf_v / resistance_ohm).sum() / (1 / resistance_ohm).sum())
    return common, (common - emf_v) / resistance_ohm


def balance_wire_currents(cell_emf_v: Floats, cell_ohm: Floats, wire_ohm: float) -> tuple[Floats, Floats]:
    """Currents when only the balance wires are joined: of each cell (N, S) and of each wire (N, S + 1). [A]

    N packs of S cells; wire k of every pack meets wire k of the others at a common point. A nodal solution: the unknowns
    are the S + 1 common points and the packs' own S + 1 taps; the lowest common point is zero volts.

    Raises
    ------
    DomainError
        For fewer than two packs, or a resistance that is not above zero.
    """
    packs, cells = cell_emf_v.shape
    if packs < 2:
        raise DomainError("packs", "Two packs at least are joined.")
    if not (np.all(cell_ohm > 0) and wire_ohm > 0):
        raise DomainError("resistance_ohm", "Every resistance must be above zero.")
    taps = cells + 1
    size = taps * (packs + 1)
    conductance, source = np.zeros((size, size)), np.zeros(size)

    def join(a: int, b: int, siemens: float) -> None:
        conductance[[a, b], [a, b]] += siemens
        conductance[[a, b], [b, a]] -= siemens

    for i in range(packs):
        own = taps * (i + 1)
        for k in range(taps):
            join(k, own + k, 1 / wire_ohm)
        for k in range(cells):
            siemens = 1 / cell_ohm[i, k]
            join(own + k, own + k + 1, siemens)
            source[own + k] -= cell_emf_v[i, k] * siemens
            source[own + k + 1] += cell_emf_v[i, k] * siemens
    volts = np.zeros(size)
    volts[1:] = np.linalg.solve(conductance[1:, 1:], source[1:])
    own_taps = volts[taps:].reshape(packs, taps)
    wires = (volts[:taps] - own_taps) / wire_ohm
    into_cells = (np.diff(own_taps, axis=1) - cell_emf_v) / cell_ohm
    return into_cells, wires


def settling_seconds(chemistry_id: str, series: int, socs: Floats, capacity_ah: Floats, cell_ohm: Floats, outside_ohm: Floats) -> float:  # fmt: skip
    """Seconds until no pack takes or gives more than 1 A; infinity if that is longer than four hours.

    Packs of equal cells by their mean charge, shape (N,); ``cell_ohm`` at 60 % charge. Each step's currents from the closed
    form with the slow part in it; steps grow by 2 % of the time passed.
    """
    z, slow = socs.astype(float).copy(), np.zeros(len(socs))
    grid, curve, factor = np.linspace(0, 1, GRID_CELLS + 1), ocv_curve(chemistry_id), soc_factor_curve()
    time_s = 0.0
    while time_s < LONGEST_SETTLING_S:
        cell = cell_ohm * np.interp(z, grid, factor)
        emf = series * (np.interp(z, grid, curve) + slow)
        _, current = settling_currents(emf, series * cell + outside_ohm)
        if np.abs(current).max() <= CALM_A:
            return time_s
        dt = max(0.25, 0.02 * time_s)
        fade = math.exp(-dt / SLOW_TIME_CONSTANT_S)
        slow = slow * fade + current * SLOW_RESISTANCE_FACTOR * cell * (1 - fade)
        z = np.clip(z + current * dt / 3600 / capacity_ah, 0.0, 1.0)
        time_s += dt
    return math.inf
