"""How far a pack warms while it charges: the heat of its current in its cells, less what the air takes.

One lump: ``m·c·dT/dt = S·I²·R(T) − h·A·(T − T_air)`` with ``R = (R0 + D ÷ Ah)·f(T)``, quick resistance and
what its ions' spreading adds (as in `charge_time`), falling as it warms (`temperature_factor`). The heat of
the reactions themselves is left out: over a charge it comes and goes.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from coldstack.core.cells.chemistry import Spreading
from coldstack.core.cells.resistance import SPREADING, temperature_factor, typical_cell_mohm
from coldstack.core.charging.charge_time import HIGH, MIDDLE, RESISTANCE_FACTORS
from coldstack.core.discharge.batch import HEAT_CAPACITY_J_PER_KG_K, box_area_m2
from coldstack.core.errors import DomainError
from coldstack.core.packs.masses import typical_mass_g
from coldstack.core.packs.pack import Pack

STILL_AIR_W_PER_M2_K = 10.0
"""What still air takes from a pack on a bench, by convection and radiation. Typical; 8 to 12."""
STEP_S = 30.0


@dataclass(frozen=True, slots=True)
class ChargingBody:
    """What warms: a pack, or several on a board, as one lump.

    ``cell_mohm`` is the quick resistance of one cell position at 25 °C, ``spreading`` what the ions'
    spreading adds, ``heat_j_per_k`` what stores the heat and ``loss_w_per_k`` what sheds it.
    """

    series: int
    capacity_ah: float
    cell_mohm: float
    spreading: Spreading
    heat_j_per_k: float
    loss_w_per_k: float

    @classmethod
    def of(
        cls,
        chemistry_id: str,
        series: int,
        capacity_ah: float,
        *,
        cell_mohm: float | None = None,
        mass_g: float | None = None,
        area_m2: float | None = None,
    ) -> ChargingBody:
        """By what is known; typical figures of the chemistry stand in for the rest."""
        mass = mass_g or typical_mass_g(chemistry_id, series, capacity_ah)
        area = area_m2 or _area_m2(None, None, None, mass)
        return cls(
            series,
            capacity_ah,
            cell_mohm or typical_cell_mohm(chemistry_id, capacity_ah),
            SPREADING[chemistry_id],
            mass / 1000 * HEAT_CAPACITY_J_PER_KG_K,
            area * STILL_AIR_W_PER_M2_K,
        )


@dataclass(frozen=True, slots=True)
class Rise:
    """By how much it is warmer than at the start: in the middle, and at most by what is not known of its
    resistances. [K]"""

    middle_k: float
    high_k: float


def charging_rise_k(
    body: ChargingBody, current_a: float, seconds: float, *, start_c: float, air_c: float
) -> Rise:
    """After so long at this current, from ``start_c`` on in air of ``air_c``. [K]

    Raises
    ------
    DomainError
        For a current or a time that is below zero or missing.
    """
    if not (current_a >= 0 and seconds >= 0):
        raise DomainError("current_a", "Current and time must be zero or more.")
    middle, high = (
        _end_c(body, current_a, seconds, start_c, air_c, spread, RESISTANCE_FACTORS[case])
        for case, spread in ((MIDDLE, body.spreading.middle), (HIGH, body.spreading.high))
    )
    return Rise(middle - start_c, high - start_c)


def pack_area_m2(pack: Pack) -> float:
    """Outside of a pack, by its sizes, else by its mass. [m²]"""
    return _area_m2(pack.length_mm, pack.width_mm, pack.height_mm, pack.mass_g)


def _area_m2(
    length_mm: float | None, width_mm: float | None, height_mm: float | None, mass_g: float
) -> float:
    a, b, c = (np.array([math.nan if x is None else x]) for x in (length_mm, width_mm, height_mm))
    return float(box_area_m2(a, b, c, np.array([mass_g]))[0])


def _end_c(
    body: ChargingBody,
    current_a: float,
    seconds: float,
    start_c: float,
    air_c: float,
    spreading_mohm_ah: float,
    resistance_factor: float,
) -> float:
    mohm = body.cell_mohm * resistance_factor + spreading_mohm_ah / body.capacity_ah
    watts_at_25 = body.series * current_a**2 * mohm / 1000
    now_c, left_s = start_c, seconds
    while left_s > 0:
        step_s = min(STEP_S, left_s)
        left_s -= step_s
        # by the resistance that it has in the middle of the step
        middle_c = _towards(now_c, now_c, step_s / 2, body, watts_at_25, air_c)
        now_c = _towards(now_c, middle_c, step_s, body, watts_at_25, air_c)
    return now_c


def _towards(
    now_c: float, resists_at_c: float, step_s: float, body: ChargingBody, watts_at_25: float, air_c: float
) -> float:
    settles_c = air_c + watts_at_25 * float(temperature_factor(resists_at_c)) / body.loss_w_per_k
    fade = math.exp(-step_s * body.loss_w_per_k / body.heat_j_per_k)
    return settles_c + (now_c - settles_c) * fade
