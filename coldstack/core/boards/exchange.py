"""Packs on one board, step by step: what each takes or gives while they even out and are charged together.

All packs hang on common volts: ``U = (I + Σ(Uᵢ/Rᵢ)) ÷ Σ(1/Rᵢ)`` with the charger's current I, and each takes
``(U − Uᵢ) ÷ Rᵢ``. At first that divides by resistance; later the slow parts and the charge taken or given
have their say. A pack's current flows through all its cells; each cell has its charge and slow part.

A step's currents are those of its middle: what slow parts and charge grow by up to there counts as
resistance.

Plain numbers and arrays, so that Numba compiles it (`coldstack.core.discharge.compiling`).
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from coldstack.core.boards.board_circuit import FAST, FIRST_A, OCV, OVER_S, Joined, Until
from coldstack.core.discharge.compiling import compiled, inlined
from coldstack.core.units import SECONDS_PER_HOUR as HOUR

Floats = NDArray[np.float64]

SHORTEST_STEP_S, LONGEST_STEP_S, STEP_SHARE = 0.25, 15.0, 0.02
"""A step is so much of the time passed: what evens out does so ever more slowly."""


@inlined
def behind(joined: Joined, i: int, soc: Floats, slow: Floats, step_s: float) -> tuple[float, float]:
    """A pack's volts without its current, and the resistance before them, at the middle of a step."""
    last = joined.curves.shape[1] - 1
    fade = math.exp(-0.5 * step_s / joined.slow_s)
    per_amp = 0.5 * step_s / (HOUR * joined.capacity_ah[i]) * last
    emf, ohm = 0.0, joined.outside_ohm[i]
    for k in range(soc.shape[1]):
        at = min(max(soc[i, k], 0.0), 1.0) * last
        j = min(int(at), last - 1)
        part = at - j
        slope = joined.curves[OCV, j + 1] - joined.curves[OCV, j]
        fast = joined.curves[FAST, j] * (1.0 - part) + joined.curves[FAST, j + 1] * part
        emf += joined.curves[OCV, j] + part * slope + slow[i, k] * fade
        ohm += joined.cell_ohm[i] * fast + joined.slow_ohm[i] * (1.0 - fade) + slope * per_amp
    return emf, ohm


@inlined
def pass_through(joined: Joined, i: int, soc: Floats, slow: Floats, amps: float, step_s: float) -> None:
    """Take a pack's cells through a step at a current."""
    fade = math.exp(-step_s / joined.slow_s)
    for k in range(soc.shape[1]):
        slow[i, k] = slow[i, k] * fade + amps * joined.slow_ohm[i] * (1.0 - fade)
        soc[i, k] += amps * step_s / (HOUR * joined.capacity_ah[i])


@inlined
def divide(joined: Joined, charge_a: float, soc: Floats, slow: Floats, step_s: float, amps: Floats) -> float:
    """Each pack's current at the middle of a step, into ``amps``; the common volts."""
    siemens, source = 0.0, charge_a
    for i in range(soc.shape[0]):
        emf, ohm = behind(joined, i, soc, slow, step_s)
        siemens += 1.0 / ohm
        source += emf / ohm
    common_v = source / siemens
    for i in range(soc.shape[0]):
        emf, ohm = behind(joined, i, soc, slow, step_s)
        amps[i] = (common_v - emf) / ohm
    return common_v


@compiled
def exchange(joined: Joined, until: Until, limit_a: Floats, trace: Floats) -> tuple[Floats, float, int]:
    """What flows until the packs are full together, or calm while nothing charges them.

    Parameters
    ----------
    limit_a : (N,)
        Above which a pack's seconds are counted, in or out. [A]
    trace : (T, N + 1)
        Filled with seconds and currents of the first T moments; may be empty.

    Returns
    -------
    (N, 2)
        Seconds above the limit and first current of each pack. [s], [A]
    float
        Seconds until it ended; infinity if it took longer than was asked.
    int
        Rows of the trace that were filled.
    """
    packs = joined.soc.shape[0]
    soc, slow, amps = joined.soc.copy(), np.zeros_like(joined.soc), np.zeros(packs)
    found = np.zeros((packs, 2))
    time_s, step_s, rows, ended_s = 0.0, 0.0, 0, math.inf
    while time_s < until.longest_s:
        common_v = divide(joined, until.charge_a, soc, slow, step_s, amps)
        most = np.abs(amps).max()
        if step_s == 0.0:
            found[:, FIRST_A] = amps
        if rows < trace.shape[0]:
            trace[rows, 0] = time_s + 0.5 * step_s
            trace[rows, 1:] = amps
            rows += 1
        for i in range(packs):
            if abs(amps[i]) > limit_a[i]:
                found[i, OVER_S] += step_s
        if common_v >= until.full_v or (until.charge_a == 0.0 and most <= until.calm_a):
            ended_s = time_s
            break
        for i in range(packs):
            pass_through(joined, i, soc, slow, amps[i], step_s)
        time_s += step_s
        step_s = min(max(SHORTEST_STEP_S, STEP_SHARE * time_s), LONGEST_STEP_S)
    return found, ended_s, rows
