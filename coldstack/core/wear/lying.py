"""What a cell loses by lying about: more the fuller and the warmer it lies.

Capacity lost = α·t^0.75, t in days, α = (7.543·V − 23.75)·10⁶·e^(−6976 ÷ T): Schmalstieg and others, *A
holistic aging model for Li(NiMnCo)O₂ based 18650 lithium-ion batteries* (2014). It is of another chemistry
than a LiPo's: here it serves to weigh one habit against another.
"""

from __future__ import annotations

import math

from coldstack.core.errors import require_between
from coldstack.core.units import KELVIN_AT_0_C

SLOPE, OFFSET, ACTIVATION_K = 7.543, 23.75, 6976.0
LAW = 0.75
END_OF_LIFE = 0.20
"""Capacity lost at which a pack has done its flying."""
LEAST_V, MOST_V = 3.3, 4.4


def lying_rate(cell_v: float, temperature_c: float) -> float:
    """α: the share of its capacity that a cell at rest at these volts loses in the first day."""
    require_between("cell_v", "Volts of a cell", cell_v, low=LEAST_V, high=MOST_V, unit="V")
    require_between("temperature_c", "Temperature", temperature_c, low=-40, high=80, unit="°C")
    volts = max(SLOPE * cell_v - OFFSET, 0.0)
    return volts * 1e6 * math.exp(-ACTIVATION_K / (temperature_c + KELVIN_AT_0_C))


def lost_lying(days: float, cell_v: float, temperature_c: float, *, age_days: float = 0.0) -> float:
    """Share of its capacity that a cell loses while it lies for so many days, as old as it is then."""
    require_between("days", "Days", days, low=0, high=36_500)
    require_between("age_days", "Age", age_days, low=0, high=36_500, unit="days")
    stay = (age_days + days) ** LAW - age_days**LAW
    return float(lying_rate(cell_v, temperature_c) * stay)


def life_lost_lying(
    days: float, cell_v: float, stored_v: float, temperature_c: float, *, age_days: float = 0.0
) -> float:
    """Share of a pack's life that lying at these volts costs more than lying at its storage volts."""
    high = lost_lying(days, cell_v, temperature_c, age_days=age_days)
    low = lost_lying(days, stored_v, temperature_c, age_days=age_days)
    return max(high - low, 0.0) / END_OF_LIFE
