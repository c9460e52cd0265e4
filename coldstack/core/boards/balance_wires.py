"""What flows through the balance wires when they are joined before the main leads: one nodal solution.

Currents are positive into a pack.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from coldstack.core.errors import DomainError

Floats = NDArray[np.float64]


def balance_wire_currents(cell_emf_v: Floats, cell_ohm: Floats, wire_ohm: float) -> tuple[Floats, Floats]:
    """Currents when only the balance wires are joined: of each cell (N, S) and of each wire (N, S + 1). [A]

    N packs of S cells; wire k of every pack meets wire k of the others at a common point. A nodal solution:
    the unknowns are the S + 1 common points and the packs' own S + 1 taps; the lowest common point is zero
    volts.

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
