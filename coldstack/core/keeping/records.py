"""What is known of a pack over time: one record a charge, brought to like with like."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from statistics import median

import numpy as np
from numpy.typing import NDArray

from coldstack.core.cells.resistance import temperature_factor
from coldstack.core.errors import DomainError, require_between

Floats = NDArray[np.float64]

LIKE_SOC, WITHIN_SOC = (0.35, 0.9), (0.15, 1.0)
"""Resistances are compared over time only if read in the first band of charge, where it changes them by less
than a tenth; cells within one reading in the second, since it changes them all alike."""
COLDEST_COMPARED_C, HOTTEST_COMPARED_C = -5.0, 45.0


@dataclass(frozen=True, slots=True)
class Record:
    """One charge or check of a pack; what was not measured is None.

    ``day`` counts from any one day. ``cell_mohm`` as read at ``temperature_c`` and charge ``soc``;
    ``rest_cell_v`` at rest; ``capacity_ah`` what a whole charge would have returned; ``balance_min``
    minutes of balancing; ``run_minutes`` of the run before it, in like use, ``landing_soc`` the charge with
    which it landed and ``run_share`` what it took of it, by volts; ``since`` the day on which a charge or run
    last changed its charge before its cells were read; ``end_cell_v`` as the charger read them at its end;
    ``read_by`` who read it, by which its error goes.
    """

    day: float
    cycle: int
    temperature_c: float | None = None
    soc: float | None = None
    cell_mohm: tuple[float, ...] | None = None
    rest_cell_v: tuple[float, ...] | None = None
    capacity_ah: float | None = None
    balance_min: float | None = None
    run_minutes: float | None = None
    since: float | None = None
    end_cell_v: tuple[float, ...] | None = None
    landing_soc: float | None = None
    run_share: float | None = None
    read_by: str = ""


def latest_ratios(records: Sequence[Record]) -> tuple[float, ...]:
    """Each cell's resistance over the pack's middle one, by the newest record that has them; empty if none
    has."""
    read = [r.cell_mohm for r in sorted(records, key=lambda r: r.day) if r.cell_mohm]
    if not read or not median(read[-1]) > 0:
        return ()
    return tuple(r / median(read[-1]) for r in read[-1])


HIGHEST_TYPED_MOHM = 2000.0


def typed_resistances(text: str, series: int) -> tuple[float, ...]:
    """Resistances of the cells from one typed line: "2.4 2.5 2.4", "2,4 2,5 2,4". [mΩ]

    Raises
    ------
    DomainError
        Naming the first word that is no resistance, or another number of cells than the pack has.
    """
    words = [w for w in re.split(r"[\s;/]+", text.strip()) if w]
    found = []
    for word in words:
        if (
            not re.fullmatch(r"\d{1,4}(?:[.,]\d{1,3})?", word)
            or not 0 < float(word.replace(",", ".")) <= HIGHEST_TYPED_MOHM
        ):
            raise DomainError(
                "mohm",
                f"“{word[:20]}” is no cell’s resistance. Type each cell in milliohms, like 2.4 2.5 2.4.",
            )
        found.append(float(word.replace(",", ".")))
    if len(found) != series:
        raise DomainError(
            "mohm",
            f"The pack has {series} cell{'s' * (series > 1)} in series; {len(found)} "
            f"resistance{'s were' if len(found) != 1 else ' was'} given.",
        )
    return tuple(found)


LEAST_SHARE_PUT_IN = 0.5
"""A charge that put in less than this share says too little of the whole capacity. House figure."""


def capacity_by_charge(put_in_mah: float, soc_before: float, soc_full: float) -> float | None:
    """What a whole charge would return: mAh ÷ share of charge put in; None where that was too small a
    share. [Ah]

    Raises
    ------
    DomainError
        For mAh that are not above zero.
    """
    require_between("put_in_mah", "What was put in", put_in_mah, low=1, high=200_000, unit="mAh")
    share = soc_full - soc_before
    return put_in_mah / 1000 / share if share >= LEAST_SHARE_PUT_IN else None


def resistance_at_25_c(record: Record) -> tuple[float, ...] | None:
    """Cell resistances brought to 25 °C, ``R ÷ exp(B·(1/T − 1/298.15 K))``; None if they are not to be
    compared. [mΩ]

    Not compared: read at an unknown temperature, outside −5 to 45 °C, or outside the band of charge.
    """
    if record.cell_mohm is None or record.temperature_c is None:
        return None
    if not COLDEST_COMPARED_C <= record.temperature_c <= HOTTEST_COMPARED_C:
        return None
    if record.soc is not None and not LIKE_SOC[0] <= record.soc <= LIKE_SOC[1]:
        return None
    factor = _factor(record.temperature_c)
    return tuple(r / factor for r in record.cell_mohm)


@lru_cache(maxsize=4096)
def _factor(temperature_c: float) -> float:
    return float(temperature_factor(temperature_c))


def cells_within(record: Record) -> tuple[float, ...] | None:
    """Cell resistances as read, to be compared with each other; None where one may be nearly empty. [mΩ]"""
    if record.cell_mohm is None:
        return None
    low, high = WITHIN_SOC
    return record.cell_mohm if record.soc is None or low <= record.soc <= high else None


def cell_ratios(cells: Sequence[float]) -> tuple[float, ...]:
    """Each cell's resistance over the median of the others; (1.0,) for a single cell."""
    if len(cells) < 2:
        return (1.0,) * len(cells)
    return tuple(r / median([*cells[:k], *cells[k + 1 :]]) for k, r in enumerate(cells))


@dataclass(frozen=True, slots=True)
class Trend:
    """A robust line: its slope with a range, and its value at the last cycle.

    Units are those of the values, per cycle.
    """

    slope: float
    slope_low: float
    slope_high: float
    now: float
    count: int


FEWEST_FOR_TREND = 8
"""Fewer points say nothing of a trend: too early."""


def trend(cycles: Sequence[float], values: Sequence[float]) -> Trend | None:
    """The Theil–Sen line (the median of all slopes between two points), with the middle 95 % of slopes
    by Sen's rank interval.

    None while there are fewer than eight points or they span no cycles: too early.

    Raises
    ------
    DomainError
        For columns of different lengths.
    """
    if len(cycles) != len(values):
        raise DomainError("values", "As many values as cycles are needed.")
    x, y = np.asarray(cycles, float), np.asarray(values, float)
    if len(x) < FEWEST_FOR_TREND or x.min() == x.max():
        return None
    i, j = np.triu_indices(len(x), 1)
    apart = x[j] != x[i]
    slopes = np.sort((y[j] - y[i])[apart] / (x[j] - x[i])[apart])
    slope = float(np.median(slopes))
    n = len(x)
    # Sen (1968): the rank interval from the variance of Kendall's statistic
    half = 1.96 * np.sqrt(n * (n - 1) * (2 * n + 5) / 18)
    low = slopes[max(int((len(slopes) - half) / 2), 0)]
    high = slopes[min(int((len(slopes) + half) / 2), len(slopes) - 1)]
    intercept = float(np.median(y - slope * x))
    return Trend(slope, float(low), float(high), intercept + slope * float(x.max()), n)


def cycles_until(t: Trend, limit: float) -> tuple[int, int, int | None] | None:
    """Cycles from the last one until the trend reaches a limit: middle, low, high (None: not in sight).
    None if it moves away.

    The range is that of the slope.
    """
    gap = limit - t.now
    if gap * t.slope <= 0:
        return None
    steep, flat = (
        (t.slope_high, t.slope_low) if abs(t.slope_high) > abs(t.slope_low) else (t.slope_low, t.slope_high)
    )
    return round(gap / t.slope), round(gap / steep), round(gap / flat) if gap * flat > 0 else None
