"""Joined packs second by second, many boards at once: small plain steps, as an independent reference."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from coldstack.core.cells.open_circuit import GRID_CELLS, ocv_curve
from coldstack.core.cells.resistance import soc_factor_curve

SPREADING_MOHM_AH, SLOW_S, TRACK_MOHM = 48.0, 30.0, 1.0
"""LiPo's, as docs/model.md gives them."""


@dataclass
class Replayed:
    """By board and pack, (B, N): amps at the first instant, seconds above its limit, most amps."""

    first_a: np.ndarray
    over_s: np.ndarray
    peak_a: np.ndarray


def replay(boards, charge_a, limit_a, full_v=4.2, longest_s=2 * 3600.0) -> Replayed:
    """LiPo packs of laid-out members, board by board, at so many amps a board; ``limit_a`` as lists like
    them."""
    count, packs = len(boards), max(map(len, boards))
    shape = (count, packs, max(m.pack.series for b in boards for m in b))
    soc, cell = np.full(shape, 0.5), np.zeros(shape, bool)
    ah, r0, outside, limit = (np.ones((count, packs)) for _ in range(4))
    here = np.zeros((count, packs), bool)
    for i, members in enumerate(boards):
        for j, m in enumerate(members):
            s = m.pack.series
            soc[i, j, :s], cell[i, j, :s], here[i, j] = m.reading.socs, True, True
            ah[i, j], r0[i, j], limit[i, j] = m.pack.capacity_ah, m.cell_mohm / 1000, limit_a[i][j]
            extra = m.way.extra_mohm if m.way else 0.0
            outside[i, j] = (m.outside_mohm + TRACK_MOHM + extra) / 1000
    found = Replayed(*(np.zeros((count, packs)) for _ in range(3)))
    slow, time = np.zeros((count, packs)), 0.0
    charge = np.array(charge_a, float)
    cells, least = cell.sum(2), np.where(here, limit, np.inf).min(1)
    on = np.arange(count)
    while len(on) and time < longest_s:
        dt = 0.1 if time < 30 else 0.25 if time < 120 else 1.0
        emf = (cell[on] * _at(ocv_curve("lipo"), soc[on])).sum(2) + cells[on] * slow[on]
        factor = (cell[on] * _at(soc_factor_curve(), soc[on])).sum(2)
        siemens = np.where(here[on], 1 / (r0[on] * factor + outside[on]), 0)
        common = (charge[on] + (emf * siemens).sum(1)) / siemens.sum(1)
        amps = (common[:, None] - emf) * siemens
        if time == 0:
            found.first_a[:] = amps
        goes = common < cells[on, 0] * full_v
        if not charge.any():
            goes &= np.abs(amps).max(1) > 0.05 * least[on]
        on, amps = on[goes], amps[goes]
        found.over_s[on] += dt * (np.abs(amps) > limit[on])
        found.peak_a[on] = np.maximum(found.peak_a[on], np.abs(amps))
        slow[on] += (amps * SPREADING_MOHM_AH / 1000 / ah[on] - slow[on]) * dt / SLOW_S
        soc[on] += (amps * dt / 3600 / ah[on])[:, :, None]
        time += dt
    return found


def _at(curve, soc):
    at = np.clip(soc, 0, 1) * GRID_CELLS
    below = np.minimum(at.astype(np.int32), GRID_CELLS - 1)
    low = curve[below]
    return low + (at - below) * (curve[below + 1] - low)
