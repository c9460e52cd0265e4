"""What volts mean, decided once: over full, damaged, cells apart; and when one figure passes another.

Inspection, limits of a run, boards, signs of health, matching and the watch all ask here. A meter reads to a
hundredth or a thousandth of a volt, so what reads exactly a limit is at it, whatever binary fractions make of
a difference.
"""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import ArrayLike, NDArray

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.rules.house_rules import HouseRules

OVER_FULL_V = 0.03
"""A cell may read so much over full by the meter's error; more is an overcharge, or a wrong chemistry.
House figure."""
TOUCHED_V = 1e-6
"""Volts that differ by less are the same: no meter tells a millionth, and binary fractions leave 1e-15."""
TOUCHED_MM = 1e-6
"""The same of lengths."""

Apart = Literal["close", "watch", "act", "unknown"]
"""How far the cells of a pack are apart at rest, by the house rules; not known where only all of them
together were read."""


def over_full_above_v(chemistry_id: str) -> float:
    """A cell that reads more is over full: its full volts, a meter's error, and what touches it. [V]"""
    return chemistry(chemistry_id).full_v + OVER_FULL_V + TOUCHED_V


def damaged_below_v(chemistry_id: str) -> float:
    """A cell that rests lower is damaged. [V]"""
    return chemistry(chemistry_id).damage_v - TOUCHED_V


def over_full(chemistry_id: str, cell_v: float) -> bool:
    """Whether a cell reads more than full, beyond a meter's error."""
    return over_full_for(chemistry(chemistry_id).full_v, cell_v)


def damaged(chemistry_id: str, rest_cell_v: float) -> bool:
    """Whether a cell rests below what harms it."""
    return not rest_cell_v >= damaged_below_v(chemistry_id)


def over_full_for(end_cell_v: float, cell_v: float) -> bool:
    """Whether a cell reads more than a charge that ends at ``end_cell_v`` gives, beyond a meter's error."""
    return not cell_v <= end_cell_v + OVER_FULL_V + TOUCHED_V


def too_far_apart_to_join(spread_v: float, rules: HouseRules) -> bool:
    """Whether cells that are joined in parallel are farther apart than the house rules allow."""
    return not spread_v <= rules.parallel_spread_v + TOUCHED_V


def watch_above_v(rules: HouseRules) -> float:
    """Highest less lowest cell above which they are to be watched: the rule, with what touches it. [V]"""
    return rules.spread_watch_v - TOUCHED_V


def act_above_v(rules: HouseRules) -> float:
    """Highest less lowest cell above which something is to be done: the rule, with what touches it. [V]"""
    return rules.spread_act_v - TOUCHED_V


def apart(chemistry_id: str, spread_v: float | None, rules: HouseRules) -> Apart:
    """How far cells are apart at rest, highest less lowest being ``spread_v``, None if nobody knows. [V]

    Cells that are charged to their peak in a row cannot be balanced, and their volts say little of their
    charge: however far apart, they are to be watched, and nothing hangs on their not being read.
    """
    if spread_v is None:
        return "unknown" if chemistry(chemistry_id).balanced else "close"
    if spread_v <= watch_above_v(rules):
        return "close"
    return "act" if spread_v > act_above_v(rules) and chemistry(chemistry_id).balanced else "watch"


def snapped(value: ArrayLike, limit: ArrayLike, touched: float) -> NDArray[np.float64]:
    """A value as it is held to a limit: what passes it by no more than what touches it is at it."""
    value, limit = np.asarray(value, float), np.asarray(limit, float)
    return np.where((value > limit) & (value <= limit + touched), limit, value)


def passes_mm(length_mm: float, limit_mm: float) -> bool:
    """Whether a length is above a limit, by more than what touches it."""
    return length_mm > limit_mm + TOUCHED_MM


def passes_volts(volts: ArrayLike, highest_v: ArrayLike) -> NDArray[np.bool_]:
    """Whether a pack's volts are above what electronics may see; shape by broadcasting."""
    return np.asarray(np.asarray(volts, float) > np.asarray(highest_v, float) + TOUCHED_V)


def falls_short_of_volts(volts: ArrayLike, lowest_v: ArrayLike) -> NDArray[np.bool_]:
    """Whether a pack's volts are below what electronics need; shape by broadcasting."""
    return np.asarray(np.asarray(volts, float) < np.asarray(lowest_v, float) - TOUCHED_V)
