"""Copper wire by gauge: resistance, and the current that warms it by 60 K in still air."""

from __future__ import annotations

import math

import numpy as np

from coldstack.core.chain.warmth import HOT_RISE_K, burst_factor
from coldstack.core.errors import require_between
from coldstack.core.units import WARMER

COPPER_OHM_M_AT_20_C = 1.72e-8
COPPER_PER_K = 0.0039
RISE_LIMIT_K = HOT_RISE_K
STILL_AIR_W_PER_M2_K = 12.0
OUTSIDE_MM = {
    30.0: 0.8,
    28.0: 1.2,
    26.0: 1.5,
    24.0: 1.6,
    22.0: 1.7,
    20.0: 1.8,
    18.0: 2.3,
    16.0: 3.0,
    14.0: 3.5,
    12.0: 4.5,
    10.0: 5.5,
    8.0: 6.3,
    6.0: 8.5,
    4.0: 10.5,
}
"""Outside diameter of silicone wire by gauge, as it is mostly sold. Typical."""
USUAL_TABLE_A = {
    30.0: 0.86,
    28.0: 1.4,
    26.0: 2.2,
    24.0: 3.5,
    22.0: 7.0,
    20.0: 11.0,
    18.0: 16.0,
    16.0: 22.0,
    14.0: 32.0,
    12.0: 41.0,
    10.0: 55.0,
    8.0: 73.0,
    6.0: 101.0,
    4.0: 135.0,
}
"""What handbooks of electronics give for a single wire inside a chassis: shown beside the heat, and judges
nothing."""
THIN_AWG, THIN_S = 22.0, 20.0
THICK_AWG, THICK_S = 8.0, 150.0
"""Time constants of a thin and a thick lead; others by their gauge between. The copper alone warms first, and
the insulation after it, so they are shorter than those of the whole. House figures."""
MOST_BURST_FACTOR = 2.5
"""Ten seconds over continuous at most, however slowly a thick lead warms. House figure."""


def wire_diameter_mm(awg: float) -> float:
    """Diameter of the bare copper: ``0.127·92^((36 − AWG)/39)``. [mm]"""
    require_between("awg", "Wire gauge", awg, low=0, high=40, unit="AWG")
    return float(0.127 * 92.0 ** ((36.0 - awg) / 39.0))


def wire_resistance_mohm_per_m(awg: float, *, temperature_c: float = 20.0) -> float:
    """Resistance of one conductor: ρ·L/A with ρ = 1.72e-8·(1 + 0.0039·(T − 20)) Ω·m. [mΩ/m]"""
    area_m2 = math.pi / 4 * (wire_diameter_mm(awg) / 1000.0) ** 2
    resistivity = COPPER_OHM_M_AT_20_C * (1 + COPPER_PER_K * (temperature_c - 20.0))
    return resistivity / area_m2 * 1000.0


def wire_outside_mm(awg: float) -> float:
    """Outside diameter of silicone wire: straight in the gauge between those that are sold, beyond them with
    as much insulation as the last. [mm]"""
    gauges = sorted(OUTSIDE_MM)
    sold = min(max(awg, gauges[0]), gauges[-1])
    beyond = wire_diameter_mm(awg) - wire_diameter_mm(sold)
    return float(np.interp(sold, gauges, [OUTSIDE_MM[g] for g in gauges])) + beyond


def usual_table_a(awg: float) -> float | None:
    """What the usual table of handbooks says of this gauge; None where it has none. [A]"""
    return USUAL_TABLE_A.get(float(awg))


def limit_words(awg: float) -> str:
    """Where the limit of a wire comes from, with the usual table's beside it."""
    table = usual_table_a(awg)
    beside = "" if table is None else f"; the usual table says {table:g} A"
    return f"copper wire, {RISE_LIMIT_K:.0f}{WARMER} warmer than still air{beside}"


def wire_continuous_a(awg: float) -> float:
    """Current that warms the wire by 60 K above 20 °C in still air: I²·R = h·π·d_out·60 K. [A]

    The outside is that of silicone wire. Thin wires shed a little more than this; bundled leads run hotter.
    """
    outside_m = wire_outside_mm(awg) / 1000.0
    shed_w_per_m = STILL_AIR_W_PER_M2_K * math.pi * outside_m * RISE_LIMIT_K
    hot = wire_resistance_mohm_per_m(awg, temperature_c=20.0 + RISE_LIMIT_K) / 1000.0
    return math.sqrt(shed_w_per_m / hot)


def wire_time_constant_s(awg: float) -> float:
    """How quickly a lead warms: in so many seconds to two thirds of a steady rise. [s]"""
    gauge = min(max(awg, THICK_AWG), THIN_AWG)
    per_gauge = math.log(THICK_S / THIN_S) / (THIN_AWG - THICK_AWG)
    return THIN_S * math.exp(per_gauge * (THIN_AWG - gauge))


def wire_burst_a(awg: float) -> float:
    """Current for ten seconds that warms the wire from cold by as much as its continuous one does. [A]"""
    return wire_continuous_a(awg) * min(MOST_BURST_FACTOR, burst_factor(wire_time_constant_s(awg)))


def lead_pair_resistance_mohm(awg: float, length_mm: float) -> float:
    """Plus and minus lead together, each of this length, at 20 °C. [mΩ]"""
    require_between("lead_length_mm", "Lead length", length_mm, low=0, high=5000, unit="mm")
    return 2 * wire_resistance_mohm_per_m(awg) * length_mm / 1000.0


USUAL_GAUGES = (26, 22, 20, 18, 16, 14, 12, 10, 8)
"""Gauges that leads are sold in, thin to thick. [AWG]"""


def usual_awg(current_a: float) -> float:
    """The thinnest usual lead that takes these continuous amps; the thickest where none does. [AWG]"""
    return float(next((g for g in USUAL_GAUGES if wire_continuous_a(g) >= current_a), USUAL_GAUGES[-1]))
