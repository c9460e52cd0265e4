"""What packs usually weigh, by chemistry, cells, capacity, C and case; and what the packs that somebody has
weighed say of others like them.

LiPo by a table of what is met (``core/data/typical_masses.csv``): Wh per kg grow with the size and fall a
little with C. The others by their Wh per kg, from the least of small packs to the most of large ones. A scale
wins over all of it.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache, lru_cache
from importlib.resources import files

import numpy as np
from numpy.typing import ArrayLike, NDArray

from coldstack.core.cells.chemistry import CHEMISTRIES, chemistry

Floats = NDArray[np.float64]

MORE_C = ((45.0, 75.0, 100.0, 150.0), (1.0, 1.08, 1.10, 1.11))
"""How much heavier a LiPo pack of high C is: C, and the factor. House figures."""
HARD_CASE_G = {2: 60.0, 3: 75.0, 4: 90.0}
"""What a hard case adds, by cells; those of more cells have none. [g]"""
GROWS_AH = (0.5, 10.0)
"""Capacity from which to which Wh per kg grow, of chemistries without a table. House figure."""


def typical_mass_g(
    chemistry_id: str, series: int, capacity_ah: float, c: float | None = None, *, hard: bool = False
) -> float:
    """Mass of a usual pack; without its C of a medium one. [g]"""
    usual = float(typical_masses_g(chemistry_id, series, capacity_ah, 0.0 if c is None else c))
    return usual + (HARD_CASE_G.get(series, 0.0) if hard else 0.0)


def typical_masses_g(chemistry_id: str, series: int, capacity_ah: ArrayLike, c: ArrayLike) -> Floats:
    """The same of many capacities and Cs at once, without hard cases; shape as theirs together. [g]"""
    cell, ah = chemistry(chemistry_id), np.asarray(capacity_ah, float)
    if not cell.polymer:
        small, large = np.log(GROWS_AH)
        density = np.interp(np.log(ah), (small, large), cell.pack_wh_per_kg)
        return np.asarray(1000.0 * series * cell.nominal_v * ah / density + 0.0 * np.asarray(c))
    lipo = CHEMISTRIES["lipo"]
    per_wh = np.mean(np.divide(lipo.pack_wh_per_kg, cell.pack_wh_per_kg)) * cell.nominal_v / lipo.nominal_v
    return np.asarray(per_wh * _lipo_g(series, ah) * np.interp(np.asarray(c, float), *MORE_C))


def _lipo_g(series: int, ah: Floats) -> Floats:
    """Of medium C, by the table; cell counts that it has not from their neighbours, cell by cell."""
    known = sorted(_table())
    below = max((s for s in known if s <= series), default=known[0])
    above = min((s for s in known if s >= series), default=known[-1])
    share = 0.0 if above == below else (series - below) / (above - below)
    each = (1 - share) * _each_g(below, ah) + share * _each_g(above, ah)
    return np.asarray(series * each)


def _each_g(series: int, ah: Floats) -> Floats:
    """Mass a cell in packs of so many, straight in logarithms between the table's capacities and on. [g]"""
    rows = _table()[series]
    if len(rows) == 1:
        # one figure tells the level, the next cell count the shape
        (known_ah, grams), *_ = rows
        following = min(s for s in _table() if s > series)
        return np.asarray(_each_g(following, ah) * grams / series / _each_g(following, np.asarray(known_ah)))
    x, y = np.log([r[0] for r in rows]), np.log([r[1] / series for r in rows])
    at = np.log(ah)
    slopes = np.diff(y) / np.diff(x)
    inside = np.interp(at, x, y)
    beyond = slopes[0] * np.minimum(at - x[0], 0.0) + slopes[-1] * np.maximum(at - x[-1], 0.0)
    return np.asarray(np.exp(inside + beyond))


@cache
def _table() -> dict[int, list[tuple[float, float]]]:
    """Capacity [Ah] and mass [g] by cells in series."""
    found: dict[int, list[tuple[float, float]]] = {}
    text = (files("coldstack.core") / "data" / "typical_masses.csv").read_text(encoding="utf-8")
    for line in text.splitlines():
        if line and not line.startswith("#"):
            series, mah, grams = line.split("|")
            found.setdefault(int(series), []).append((float(mah) / 1000, float(grams)))
    return found


@dataclass(frozen=True, slots=True)
class Weighed:
    """A pack that somebody put on a scale: what it weighs over what such packs usually do."""

    chemistry: str
    series: int
    capacity_ah: float
    ratio: float


NEAR_SIZE = 0.6
"""How far a weighed pack speaks for others, in logarithms of the energy. House figure."""
OF_OTHER_CELLS = 0.5
"""What it counts for packs of other cell counts."""
PRIOR = 0.5
"""What the table counts against one weighed pack of the same size. House figure."""
MOST_OFF = 1.4
"""A scale that tells more than so many times the usual, or less, speaks of a slip or of another make."""


@lru_cache(maxsize=4096)
def weighed(
    chemistry_id: str, series: int, capacity_ah: float, mass_g: float, label_c: float | None
) -> Weighed | None:
    """What one pack on the scale tells; None where it is too far from any such pack to be believed. A hard
    case explains what it weighs more."""
    usual = typical_mass_g(chemistry_id, series, capacity_ah, label_c)
    if mass_g / usual > 1.12 and series in HARD_CASE_G and capacity_ah >= HARD_FROM_AH:
        usual = typical_mass_g(chemistry_id, series, capacity_ah, label_c, hard=True)
    ratio = mass_g / usual
    return Weighed(chemistry_id, series, capacity_ah, ratio) if 1 / MOST_OFF <= ratio <= MOST_OFF else None


HARD_FROM_AH = 3.0
"""Smaller packs have no hard case. [Ah]"""


def pulled(known: Sequence[Weighed], chemistry_id: str, series: ArrayLike, capacity_ah: ArrayLike) -> Floats:
    """By how much typical packs of these sizes are heavier than the table has them, in the light of those
    weighed: a factor, nearer to theirs the nearer their energy; shape as ``capacity_ah``."""
    s, ah = np.asarray(series, float), np.asarray(capacity_ah, float)
    total, logs = np.full(ah.shape, PRIOR), np.zeros(ah.shape)
    for w in known:
        if w.chemistry != chemistry_id:
            continue
        apart = np.log(s * ah / (w.series * w.capacity_ah))
        weight = np.exp(-((apart / NEAR_SIZE) ** 2) / 2) * np.where(s == w.series, 1.0, OF_OTHER_CELLS)
        total, logs = total + weight, logs + weight * math.log(w.ratio)
    return np.asarray(np.exp(logs / total))
