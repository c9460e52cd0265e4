"""Cell resistance: measured, or worked back from the label; with charge and temperature.

The reference state is 25 °C and 60 % charge, after a second or so ("quick" resistance, as meters read it).
"""

from __future__ import annotations

import math
from functools import cache
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike, NDArray

from coldstack.core.cells.chemistry import CHEMISTRIES, SlowPart, Spreading, chemistry
from coldstack.core.cells.open_circuit import GRID_CELLS
from coldstack.core.errors import DomainError
from coldstack.core.units import KELVIN_AT_0_C

LabelTrust = Literal["as_printed", "cautious", "sceptical"]

HEAT_PER_AH_W = 6.25
"""The trade's rule for an honest current: one cell turns 6.25 W per Ah of capacity into heat."""
BEST_HONEST_C = 40.0
"""The best that cells are met with, whatever their label says: 3.9 mΩ·Ah by the heat rule. House figure."""
TEMPERATURE_B_K = 2600.0
"""Arrhenius constant of the resistance; published cells lie between 2200 and 3000 K."""
CELL_BURST_FACTOR = 1.5
"""Burst over continuous current where the label gives no burst figure. House figure."""
BURST_DURATION_S = 10.0
"""How long a burst rating holds. Labels mean 10 to 15 s; we take the shorter."""

_SOC_FACTOR = (
    (0.0, 3.3),
    (0.03, 2.6),
    (0.07, 1.6),
    (0.12, 1.4),
    (0.2, 1.2),
    (0.4, 1.02),
    (0.6, 1.0),
    (0.8, 1.0),
    (0.9, 1.02),
    (1.0, 1.12),
)
"""Charge, and R0 over that at 60 %: of pulses on nine published cells (docs/model.md)."""


SLOW_PARTS: dict[str, SlowPart] = {c.id: c.slow for c in CHEMISTRIES.values()}
SPREADING: dict[str, Spreading] = {c.id: c.spreading for c in CHEMISTRIES.values()}


def honest_current_a(cell_mohm: ArrayLike, capacity_ah: ArrayLike) -> NDArray[np.float64]:
    """Continuous current by the heat rule, ``2.5·√(Ah ÷ R)`` with R in ohm. [A]

    Resistance and capacity of one cell position (strings in parallel joined). It fixes heat, not
    temperature: see `coldstack.core.trial.spread.thermal_c` for the current that just meets the temperature
    limit.
    """
    r, ah = np.asarray(cell_mohm, float), np.asarray(capacity_ah, float)
    if not (np.all(r > 0) and np.all(ah > 0)):
        raise DomainError("cell_mohm", "Resistance and capacity must be above zero.")
    return np.asarray(np.sqrt(HEAT_PER_AH_W * ah / (r / 1000.0)), dtype=float)


def resistance_from_c_mohm(honest_c: ArrayLike, capacity_ah: ArrayLike) -> NDArray[np.float64]:
    """Cell resistance that makes ``honest_c`` the honest rating: ``6250 ÷ (C²·Ah)``. [mΩ]"""
    c, ah = np.asarray(honest_c, float), np.asarray(capacity_ah, float)
    if not (np.all(c > 0) and np.all(ah > 0)):
        raise DomainError("honest_c", "C rating and capacity must be above zero.")
    return np.asarray(1000.0 * HEAT_PER_AH_W / (c * c * ah))


def typical_cell_mohm(chemistry_id: str, capacity_ah: float) -> float:
    """Quick resistance of one cell position of which nobody knows anything. [mΩ]"""
    cell = chemistry(chemistry_id)
    if cell.typical_resistance_mohm_ah is not None:
        return cell.typical_resistance_mohm_ah / capacity_ah
    return float(resistance_from_c_mohm(cell.typical_label_c, capacity_ah))


BELIEVED_C = 20.0
"""Up to here every trust takes a label as printed. [1/h]"""
BELIEVED_BEYOND: dict[LabelTrust, float] = {"as_printed": 1.0, "cautious": 0.5, "sceptical": 0.25}
"""What of the rest of a label is believed. House figures."""

TRUST_WORDS: dict[LabelTrust, str] = {
    "as_printed": "C ratings are taken as printed",
    "cautious": "above 20C each further C counts half, at most 40C",
    "sceptical": "above 20C each further C counts a quarter, at most 40C",
}
"""The trusts, as they are offered, and what each does."""


def trusted_c(label_c: ArrayLike, trust: LabelTrust) -> NDArray[np.float64]:
    """What a printed C rating is taken for: all of it; or above 20C half of the rest, or a quarter, and never
    more than the best cells give. [1/h]"""
    c = np.asarray(label_c, float)
    if not np.all(c > 0):
        raise DomainError("label_c", "A C rating must be above zero.")
    if trust == "as_printed":
        return np.array(c)
    taken = np.where(c > BELIEVED_C, BELIEVED_C + BELIEVED_BEYOND[trust] * (c - BELIEVED_C), c)
    return np.minimum(taken, BEST_HONEST_C)


def held_for_a(continuous_a: ArrayLike, burst_a: ArrayLike, seconds: float) -> NDArray[np.float64]:
    """What is held for so many seconds: the burst up to BURST_DURATION_S; beyond it what brings no more heat
    over that of the continuous amps than the burst does: ``I·√(1 + ((burst ÷ I)² − 1)·10 s ÷ t)``, which
    nears the continuous amps. [A]"""
    held, burst = np.asarray(continuous_a, float), np.asarray(burst_a, float)
    if seconds <= BURST_DURATION_S:
        return np.array(burst)
    over = (burst / held) ** 2 - 1
    return np.asarray(held * np.sqrt(1 + over * BURST_DURATION_S / seconds))


def less_for(seconds: float) -> str:
    """In words behind a burst limit, that the peak lasts longer than that is for; else empty."""
    if seconds <= BURST_DURATION_S:
        return ""
    if math.isinf(seconds):
        return ", as it never drops: the continuous amps"
    return f", less for a peak of {seconds:g} s"


def label_for_c(needed_c: ArrayLike, trust: LabelTrust) -> NDArray[np.float64]:
    """The printed C that under this trust is taken for so much: what to ask for. Infinite beyond the best
    cells, where no label is believed."""
    c = np.asarray(needed_c, float)
    if trust == "as_printed":
        return np.array(c)
    label = np.where(c > BELIEVED_C, BELIEVED_C + (c - BELIEVED_C) / BELIEVED_BEYOND[trust], c)
    return np.where(c > BEST_HONEST_C * (1 + 1e-9), np.inf, label)


def temperature_factor(temperature_c: ArrayLike) -> NDArray[np.float64]:
    """Resistance at this cell temperature over that at 25 °C: ``exp(B·(1/T − 1/298.15 K))``."""
    kelvin = np.asarray(temperature_c, float) + KELVIN_AT_0_C
    return np.asarray(np.exp(TEMPERATURE_B_K * (1.0 / kelvin - 1.0 / (25.0 + KELVIN_AT_0_C))), dtype=float)


def soc_factor(soc: float) -> float:
    """Resistance at this state of charge over that at 60 %."""
    if not 0 <= soc <= 1:
        raise DomainError("soc", f"State of charge must be from 0 to 1, not {soc:g}.")
    return float(np.interp(soc * GRID_CELLS, np.arange(GRID_CELLS + 1), soc_factor_curve()))


@cache
def soc_factor_curve() -> NDArray[np.float64]:
    """The charge factor on the same grid as the open-circuit curves; smooth and without overshoot."""
    x, y = np.array(_SOC_FACTOR).T
    return _monotone_cubic(x, y, np.linspace(0.0, 1.0, GRID_CELLS + 1))


@cache
def slow_curve(chemistry_id: str) -> NDArray[np.float64]:
    """R1 of the slow part over its own at mid charge, on the grid of the open-circuit curves."""
    grows = SLOW_PARTS[chemistry(chemistry_id).id].grows
    return soc_factor_curve() if grows else np.ones(GRID_CELLS + 1)


def slow_mohm(chemistry_index: NDArray[np.int64], capacity_ah: ArrayLike) -> NDArray[np.float64]:
    """R1 of the slow part of a usual cell position at 25 °C and mid charge, shape (N,). [mΩ]"""
    of = np.array([c.slow.mohm_ah for c in CHEMISTRIES.values()])
    return np.asarray(of[chemistry_index] / np.asarray(capacity_ah, float))


def slow_time_constant_s(chemistry_id: str) -> float:
    """Time constant of the slow part. [s]"""
    return SLOW_PARTS[chemistry(chemistry_id).id].time_constant_s


def _monotone_cubic(
    x: NDArray[np.float64], y: NDArray[np.float64], at: NDArray[np.float64]
) -> NDArray[np.float64]:
    """Cubic through the points that keeps their rises and falls: harmonic-mean slopes within (Fritsch and
    Butland 1984), at the ends the slope of the parabola through three points, which turns neither the sign of
    the last secant nor is more than three times it (Fritsch and Carlson 1980)."""
    h = np.diff(x)
    secant = np.diff(y) / h
    slope = np.zeros_like(y)
    slope[0] = _end_slope(h[0], h[1], secant[0], secant[1])
    slope[-1] = _end_slope(h[-1], h[-2], secant[-1], secant[-2])
    for k in range(1, len(x) - 1):
        if secant[k - 1] * secant[k] > 0:
            w1, w2 = 2 * h[k] + h[k - 1], h[k] + 2 * h[k - 1]
            slope[k] = (w1 + w2) / (w1 / secant[k - 1] + w2 / secant[k])
    left = np.clip(np.searchsorted(x, at, side="right") - 1, 0, len(h) - 1)
    t = (at - x[left]) / h[left]
    rise = y[left] * (1 + 2 * t) * (1 - t) ** 2 + y[left + 1] * t**2 * (3 - 2 * t)
    bend = h[left] * t * (1 - t) * (slope[left] * (1 - t) - slope[left + 1] * t)
    return np.asarray(rise + bend)


def _end_slope(h: float, next_h: float, secant: float, next_secant: float) -> float:
    slope = ((2 * h + next_h) * secant - h * next_secant) / (h + next_h)
    if slope * secant <= 0:
        return 0.0
    return 3 * secant if secant * next_secant < 0 and abs(slope) > 3 * abs(secant) else slope


def honest_c_of(cell_mohm: float, capacity_ah: float) -> float:
    """Honest continuous C of one cell position: honest current ÷ Ah."""
    return math.sqrt(HEAT_PER_AH_W * 1000.0 / (cell_mohm * capacity_ah))
