"""The current that a load takes from a sagging source: closed forms for one instant.

The readable statement of what `stepping.solve` does in place (a test holds the two together).
All of them work on one cell position of a pack (``emf_v``, ``resistance_ohm`` per cell in series), or on a whole pack.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

from coldstack.core.errors import DomainError


def pack_voltage_under_load(
    cell_emf_v: ArrayLike, current_a: ArrayLike, *, cells_in_series: int, pack_resistance_mohm: float
) -> NDArray[np.float64]:
    """Voltage at the pack's terminals while it delivers a current: ``n·E − I·R``. [V]

    ``cell_emf_v`` is the resting voltage of a cell less its slow sag. Current is positive while discharging.

    Raises
    ------
    DomainError
        Fewer than one cell, or a negative or missing resistance.
    """
    if cells_in_series < 1:
        raise DomainError("series", f"A pack has at least one cell, not {cells_in_series}.")
    if not pack_resistance_mohm >= 0:
        raise DomainError(
            "resistance_mohm", f"Resistance must be zero or more, not {pack_resistance_mohm:g} mΩ."
        )
    emf = cells_in_series * np.asarray(cell_emf_v, float)
    return np.asarray(emf - np.asarray(current_a, float) * pack_resistance_mohm / 1000.0)


def current_for_power_a(
    emf_v: ArrayLike, resistance_ohm: ArrayLike, power_w: ArrayLike
) -> NDArray[np.float64]:
    """Current at which the terminals deliver a power: ``(E − √(E² − 4RP)) ÷ 2R``; NaN if they cannot. [A]"""
    e, r, p = (np.asarray(x, float) for x in (emf_v, resistance_ohm, power_w))
    disc = e * e - 4 * r * p
    with np.errstate(invalid="ignore"):
        # 2P ÷ (E + √…) is the same root, and stays exact when R goes to zero.
        return np.where(disc >= 0, 2 * p / (e + np.sqrt(disc)), np.nan)


def current_for_throttle_a(
    emf_v: ArrayLike, resistance_ohm: ArrayLike, factor: ArrayLike, exponent: int
) -> NDArray[np.float64]:
    """Current that follows the loaded volts, ``I = a·V^k`` with V = E − I·R, for k of 1 or 2. [A]"""
    e, r, a = (np.asarray(x, float) for x in (emf_v, resistance_ohm, factor))
    if exponent == 1:
        return np.asarray(a * e / (1 + a * r))
    if exponent != 2:
        raise DomainError("throttle_exponent", f"The throttle law is 1 or 2, not {exponent}.")
    volts = 2 * e / (1 + np.sqrt(1 + 4 * a * r * e))
    return np.asarray(a * volts * volts)
