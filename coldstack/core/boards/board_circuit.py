"""Packs on a board as plain numbers and arrays, for `exchange`."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

OCV, FAST = 0, 1
"""Rows of the curves."""
OVER_S, FIRST_A = 0, 1
"""Columns of what `exchange` finds for a pack: seconds above its limit, in or out; the current at the first
instant, positive into it."""


class Joined(NamedTuple):
    """N packs of S cells as they are joined: charge (N, S), capacity [Ah], a cell's quick resistance at mid
    charge and what its slow part grows to, and what lies outside the cells, (N,). [Ω]

    ``curves`` of the chemistry over even steps of charge, shape (2, K): resting volts, and the charge factor
    of the quick resistance; ``slow_s`` its time constant.
    """

    soc: Floats
    capacity_ah: Floats
    cell_ohm: Floats
    slow_ohm: Floats
    outside_ohm: Floats
    curves: Floats
    slow_s: float


class Until(NamedTuple):
    """What charges them and when it ends: amps in all; the common volts at which a charger lets go; amps
    below which every pack is calm, while nothing charges them; seconds at most."""

    charge_a: float
    full_v: float
    calm_a: float
    longest_s: float
