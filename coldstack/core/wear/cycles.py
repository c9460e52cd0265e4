"""How many cycles a pack is good for, until it holds 80 %, by chemistry and habit.

House figures from what practitioners report, none read from a source, with the wide range that says so; lying
about full goes by published ageing data (`lying`). Each factor is one on the usual habit: 1C, to full, 80 %
used, cool, far below what the cells can give.
"""

from __future__ import annotations

from dataclasses import dataclass, fields

import numpy as np
from numpy.typing import ArrayLike

from coldstack.core.cells.chemistry import CHEMISTRY_IDS, chemistry
from coldstack.core.discharge.batch import Floats
from coldstack.core.errors import DomainError, require_between
from coldstack.core.rules.house_rules import HouseRules, for_chemistry
from coldstack.core.wear.lying import life_lost_lying

CYCLES: dict[str, tuple[float, float, float]] = {
    "lipo": (300, 150, 500),
    "lihv": (250, 120, 420),
    "liion": (450, 300, 600),
    "semisolid": (350, 180, 550),
    "lifepo4": (1400, 1000, 2000),
    "nimh": (400, 300, 500),
}
"""Cycles to 80 %: the middle, and from which to which, at the usual habit."""
BY_CHARGE = ((0.25, 0.5, 1.0, 2.0, 3.0, 5.0), (1.15, 1.1, 1.0, 0.75, 0.6, 0.45))
"""Charge C, and the factor on the cycles. [1/h]"""
BY_LESS_V = ((0.0, 0.05, 0.10, 0.20), (1.0, 1.4, 1.8, 2.4))
"""Volts a cell below full at which charging ends, and the factor."""
BY_DEPTH = ((0.3, 0.6, 0.8, 0.9, 1.0), (2.2, 1.4, 1.0, 0.8, 0.65))
"""Share used in a run, and the factor."""
BY_HEAT = ((45.0, 55.0, 60.0, 70.0), (1.0, 0.8, 0.6, 0.4))
"""Cells when landing [°C], and the factor."""
BY_LOAD = ((0.5, 1.0, 1.3), (1.0, 0.4, 0.25))
"""What is asked of the cells over what they honestly give, and the factor: hard use is 80 to 150 cycles."""
USED_AT_C = 20.0
"""Where packs mostly lie. [°C]"""
AGE_DAYS = 365.0
"""As old as a pack is on average while it is used: young ones lose more by lying."""


@dataclass(frozen=True, slots=True)
class Habit:
    """How packs are used, shape (N,) or single values: charge C [1/h], volts below full at which charging
    ends [V], share used, cells when landing [°C], load over what they honestly give; days that each lies full
    before a cycle, and how warm. [°C]"""

    charge_c: ArrayLike = 1.0
    less_v: ArrayLike = 0.0
    depth: ArrayLike = 0.8
    landing_c: ArrayLike = 40.0
    load: ArrayLike = 0.5
    full_days: float = 0.0
    lies_at_c: float = USED_AT_C


@dataclass(frozen=True, slots=True)
class Cycles:
    """Cycles to 80 %: the middle, and from which to which; shape (N,)."""

    middle: Floats
    low: Floats
    high: Floats


def rules_habit(chemistry_ids: ArrayLike, label_c: ArrayLike, rules: HouseRules) -> Habit:
    """How the house uses packs, at a middling heat and load: charged as fast as rules and label allow, as
    usual for the chemistry without a label.

    ``chemistry_ids``: positions in CHEMISTRY_IDS; ``label_c``: printed charge C, NaN without; shape (N,).
    """
    index = np.asarray(chemistry_ids, np.int64)
    cells = [chemistry(x) for x in CHEMISTRY_IDS]
    by_rules = [for_chemistry(rules, x) for x in CHEMISTRY_IDS]
    less_v = [max(cell.full_v - x.full_v, 0.0) for cell, x in zip(cells, by_rules, strict=True)]
    usual_c = np.array([cell.usual_charge_c for cell in cells])[index]
    told_c = np.asarray(label_c, float)
    return Habit(
        charge_c=np.minimum(np.where(np.isnan(told_c), usual_c, told_c), rules.charge_c_limit),
        less_v=np.array(less_v)[index],
        depth=np.array([x.start_soc - x.landing_soc for x in by_rules])[index],
    )


def _factor(value: ArrayLike, points: tuple[tuple[float, ...], tuple[float, ...]]) -> Floats:
    """Between the points by ratio, at their ends beyond."""
    return np.asarray(np.exp(np.interp(np.asarray(value, float), points[0], np.log(points[1]))))


def check_habit(h: Habit) -> Habit:
    """The habit itself, if each figure is possible; NaN fails."""
    for f in fields(h):
        given = np.asarray(getattr(h, f.name), float)
        if not np.all(np.isfinite(given)):
            raise DomainError(f.name, "A habit is told in numbers.")
    require_between("full_days", "Days full", h.full_days, low=0, high=3650, unit="days")
    return h


def habit_factor(h: Habit) -> Floats:
    """Cycles over those of the usual habit, but for lying full."""
    check_habit(h)
    return np.asarray(
        _factor(h.charge_c, BY_CHARGE)
        * _factor(h.less_v, BY_LESS_V)
        * _factor(h.depth, BY_DEPTH)
        * _factor(h.landing_c, BY_HEAT)
        * _factor(h.load, BY_LOAD)
    )


def cycles_to_80(chemistry_ids: ArrayLike, habit: Habit) -> Cycles:
    """Cycles until packs hold 80 %, by chemistry and habit.

    Each cycle takes 1 ÷ (cycles × factors) of a life, and what lying full before it takes. ``chemistry_ids``:
    positions in CHEMISTRY_IDS, shape (N,).
    """
    index = np.asarray(chemistry_ids, np.int64)
    factor = habit_factor(habit)
    lying = np.array([_lying(c, habit) for c in CHEMISTRY_IDS])[index]
    ends = []
    for k in range(3):
        usual = np.array([CYCLES[c][k] for c in CHEMISTRY_IDS])[index]
        ends.append(np.asarray(1.0 / (1.0 / (usual * factor) + lying)))
    return Cycles(*ends)


def _lying(chemistry_id: str, h: Habit) -> float:
    """Share of a life that lying full before each cycle takes; nothing where storage does not ask for other
    volts."""
    cell = chemistry(chemistry_id)
    if cell.storage_v is None or not cell.volts_tell or h.full_days == 0:
        return 0.0
    full_v = cell.full_v - float(np.max(np.asarray(h.less_v, float)))
    return life_lost_lying(h.full_days, full_v, middle_of(cell.storage_v), h.lies_at_c, age_days=AGE_DAYS)


def middle_of(ends: tuple[float, float]) -> float:
    """The middle of a range."""
    return (ends[0] + ends[1]) / 2
