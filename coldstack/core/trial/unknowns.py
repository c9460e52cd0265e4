"""What nobody knows of a pack and its run, as a small set of draws that is the same for every pack.

Each is told as ±, of which two standard deviations are meant: nineteen in twenty lie within.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cache
from statistics import NormalDist

import numpy as np

from coldstack.core.discharge.batch import Floats, Ints, PackColumns
from coldstack.core.packs.health import Level
from coldstack.core.packs.measured import SIGMAS

DRAWS = 64
_SEED = 20
NINE_IN_TEN = 1.645
"""Standard deviations to either side that hold nine in ten."""
SLOW_SPREAD, SLOW_TIME_OVER = 0.40, 1.25
"""Of R1, log-normal, and by how much more of τ: published cells of one chemistry differ by as much, see
docs/model.md."""
OCV_SPREAD_V = 0.010
CELL_SPREAD = 0.02
"""Capacity of single cells of a pack; the weakest one ends the run."""
TEMPERATURE_SPREAD_K = 4.0
AGEING: dict[Level, float] = {"fine": 0.1, "again": 0.15, "watch": 0.15, "light": 0.25, "retire": 0.4}
"""Capacity that a pack of this health may have lost, at most, since it was last known. House figures."""

Unknown = str
UNKNOWNS: tuple[Unknown, ...] = (
    "resistance",
    "capacity",
    "draw",
    "slow part",
    "slow part’s time",
    "resting volts",
    "weakest cell",
    "ageing",
    "temperature",
)


@dataclass(frozen=True, slots=True)
class Spreads:
    """How far the known figures of N packs may be off, shape (N,); of one job ``draw``. ``ageing`` is
    the share lost at most, ``slow`` of R1; its time constant may be off by SLOW_TIME_OVER times that."""

    resistance: Floats
    capacity: Floats
    draw: float
    ageing: Floats
    slow: Floats


@cache
def draws() -> Floats:
    """Standard normal draws, shape (DRAWS, unknowns): each unknown in equal strata, in an order of its own
    (Latin hypercube)."""
    rng = np.random.default_rng(_SEED)
    strata = [NormalDist().inv_cdf((k + 0.5) / DRAWS) for k in range(DRAWS)]
    return np.stack([rng.permutation(strata) for _ in UNKNOWNS], axis=1)


@cache
def _weakest(series: int) -> Floats:
    """The lowest of so many standard normal figures, by the draws of its own unknown."""
    normal = NormalDist()
    lowest = [normal.inv_cdf(1 - (1 - normal.cdf(x)) ** (1 / series)) for x in _column("weakest cell")]
    return np.array(lowest)


def _column(unknown: Unknown) -> Floats:
    return draws()[:, UNKNOWNS.index(unknown)]


def every_draw(n: int) -> tuple[Ints, Ints]:
    """Of n packs each draw, pack by pack: which pack, and which draw; shape (n · DRAWS,)."""
    return np.repeat(np.arange(n), DRAWS), np.tile(np.arange(DRAWS), n)


def drawn(
    packs: PackColumns, spreads: Spreads, which: tuple[Ints, Ints] | None = None
) -> tuple[PackColumns, Floats]:
    """Packs as draws have them, and the factors on their loads: every draw of each, or ``which`` of which
    pack."""
    rows, at = every_draw(len(packs)) if which is None else which
    many = packs.take(rows)
    assert many.slow_mohm is not None and many.slow_s is not None

    def along(unknown: Unknown) -> Floats:
        return _column(unknown)[at]

    def lognormal(spread: Floats | float, unknown: Unknown) -> Floats:
        return np.asarray(np.exp(np.log1p(spread) / SIGMAS * along(unknown)))

    kinds, kind = np.unique(np.maximum(packs.series, 1).astype(int), return_inverse=True)
    by_series = np.array([_weakest(s) for s in kinds.tolist()]).reshape(len(kinds), DRAWS)
    weakest = by_series[kind[rows], at]
    lost = spreads.ageing[rows] * _lost()[at]
    capacity = 1 + spreads.capacity[rows] / SIGMAS * along("capacity")
    capacity *= (1 + CELL_SPREAD / SIGMAS * weakest) * (1 - lost)
    ohm = lognormal(spreads.resistance[rows], "resistance")
    cells = many.cells
    if cells is not None:
        cells = replace(
            cells,
            capacity_ah=cells.capacity_ah * capacity[:, None],
            resistance_mohm=cells.resistance_mohm * ohm[:, None],
        )
    return replace(
        many,
        cells=cells,
        cell_mohm=many.cell_mohm * ohm,
        capacity_ah=many.capacity_ah * capacity,
        slow_mohm=many.slow_mohm * lognormal(spreads.slow[rows], "slow part"),
        slow_s=many.slow_s * lognormal(SLOW_TIME_OVER * spreads.slow[rows], "slow part’s time"),
        ocv_shift_v=OCV_SPREAD_V / SIGMAS * along("resting volts"),
        warmer_k=TEMPERATURE_SPREAD_K / SIGMAS * along("temperature"),
    ), lognormal(spreads.draw, "draw")


@cache
def _lost() -> Floats:
    """The draws of ageing, evenly spread from nothing lost to all that may be."""
    return np.array([NormalDist().cdf(x) for x in _column("ageing")])


def contributions(minutes: Floats) -> Floats:
    """Half of what each unknown alone spreads the minutes by, 5th to 95th percentile; shape (unknowns,
    N) from (DRAWS, N). [min]

    By a straight line through the draws for all unknowns at once.
    """
    return np.asarray(np.abs((_line_through() @ minutes)[1:]) * NormalDist().inv_cdf(0.95))


@cache
def _line_through() -> Floats:
    """What makes the level and the slopes of a straight line, by least squares, from figures of the draws."""
    return np.linalg.pinv(np.column_stack([np.ones(DRAWS), draws()]))
