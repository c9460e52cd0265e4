"""Why not the cheaper, the lighter, the longer one: a sentence each beside a picked pack."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from coldstack.core.fit.fit import fit_of
from coldstack.core.fit.verdict import FIT_VERDICTS
from coldstack.core.trial.evaluate import Evaluation
from coldstack.core.units import GRAMS, lasting, lower_first, percent
from coldstack.core.units import plain_number as n
from coldstack.core.wear.cost import RunningCost

By = Literal["cheaper", "lighter", "longer"]
WORTH = 0.03
"""What is better by less than this is not worth a sentence. House figure."""


@dataclass(frozen=True, slots=True)
class WhyNot:
    """The next candidate that is better by one figure, and at what price."""

    by: By
    id: str
    sentence: str


def why_not(e: Evaluation, row: int, cost: RunningCost) -> list[WhyNot]:
    """For a picked candidate: the nearest that is cheaper to buy, lighter and longer among those that do the
    job, each with what it gains and what it costs. Nothing where none is."""
    c = e.candidates
    able = e.feasible & e.real
    able[row] = False
    worth: dict[By, np.ndarray] = {
        "cheaper": 1 - c.price / c.price[row],
        "lighter": 1 - c.mass_g / c.mass_g[row],
        "longer": e.minutes / max(e.minutes[row], 1e-9) - 1,
    }
    found = []
    for by, gain in worth.items():
        better = able & (np.nan_to_num(gain, nan=-1.0) > WORTH)
        if better.any():
            other = _nearest(e, cost, row, np.flatnonzero(better))
            able[other] = False  # one that is better twice is told of once
            found.append(WhyNot(by, c.ids[other], _sentence(e, cost, row, other, by)))
    return found


def _nearest(e: Evaluation, cost: RunningCost, row: int, rows: np.ndarray) -> int:
    """Of these rows the one that is least unlike the picked one in what else counts."""
    c = e.candidates
    unlike = np.abs(np.log(c.mass_g[rows] / c.mass_g[row])) + np.abs(
        np.log(np.maximum(e.minutes[rows], 1e-6) / max(e.minutes[row], 1e-6))
    )
    dearer = np.nan_to_num(np.abs(np.log(cost.per_h[rows] / cost.per_h[row])), nan=0.0)
    return int(rows[np.argmin(unlike + dearer)])


def _sentence(e: Evaluation, cost: RunningCost, row: int, other: int, by: By) -> str:
    c = e.candidates
    minutes, grams = float(e.minutes[other] - e.minutes[row]), float(c.mass_g[other] - c.mass_g[row])
    shorter, heavier = minutes < -WORTH * e.minutes[row], grams > WORTH * c.mass_g[row]
    gains = {
        "cheaper": f"{float(c.price[row] - c.price[other]):.2f} cheaper to buy",
        "lighter": f"{n(-grams)}{GRAMS} lighter",
        "longer": f"{lasting(minutes, 2)} longer",
    }
    against = [
        *([f"{lasting(-minutes, 2)} shorter"] if by != "longer" and shorter else []),
        *([f"{n(grams)}{GRAMS} heavier"] if by != "lighter" and heavier else []),
        *_dearer(cost, row, other),
        *_warmer(e, row, other),
        *_less_sure(e, row, other),
    ]
    but = f", but {_listed(against)}" if against else ": it does it as well"
    return f"{c.names[other]} is {gains[by]}{but}."


def _dearer(cost: RunningCost, row: int, other: int) -> list[str]:
    """What it costs an hour beside the picked one, with why: fewer cycles."""
    mine, its = float(cost.per_h[row]), float(cost.per_h[other])
    if not its > (1 + WORTH) * mine:
        return []
    ratio = float(cost.cycles.middle[other] / cost.cycles.middle[row])
    worn = f", good for {100 * ratio:.0f} % of the cycles" if ratio < 1 - WORTH else ""
    return [f"dearer to run ({its:.2f} an hour for {mine:.2f}{worn})"]


def _warmer(e: Evaluation, row: int, other: int) -> list[str]:
    if e.heat[other] <= max(1.15 * e.heat[row], 0.6):
        return []
    return [f"its hottest link at {percent(float(e.heat[other]))}"]


def _less_sure(e: Evaluation, row: int, other: int) -> list[str]:
    mine, its = fit_of(e, row), fit_of(e, other)
    if FIT_VERDICTS.index(its.verdict) <= FIT_VERDICTS.index(mine.verdict) or not its.reasons:
        return []
    return [f"it goes with care ({lower_first(its.reasons[0].short)})"]


def _listed(words: list[str]) -> str:
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"
