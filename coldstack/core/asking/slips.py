"""What makes a figure a likely slip: another one, a turn of the finger or a unit away, suits all the rest far
better.

How well figures suit each other is a sum of squares: how far each ratio of two of them is from the usual one,
in its own standard deviations; halved and negative, it is the logarithm of how likely they are together. A
slip is asked where putting it right gains much; a figure that is odd by itself, and that no turn puts right,
is somebody's odd gear, and never asked.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass

TENFOLD = (0.1, 10.0, 0.01, 100.0, 0.001, 1000.0)
"""A point misplaced, a nought too many or left out, thousandths for units."""
MASSES = (*TENFOLD, 28.35, 1 / 28.35, 453.6, 1 / 453.6)
"""The same, and ounces or pounds for grams and the other way round."""
LENGTHS = (*TENFOLD, 25.4, 1 / 25.4)
"""The same, and inches for millimetres."""
TIMES = (0.1, 10.0, 60.0, 1 / 60)
"""The same, and seconds for minutes."""
GAINS = 4.0
"""So much likelier in logarithms (50 times) all figures together must be with it put right. House figure."""
ODD = 3.0
"""Times that where its owner was sure of another figure of it. House figure."""
RARER = 0.7
"""What each further nought costs, and a unit mistaken: of two turns the simpler one. House figure."""
SUITS = 8.0
"""Put right, all together must be no odder than this; else the turn explains too little. House figure."""
CAP = 12.0
"""No single ratio tells more than this: made of many pieces, gear is odder than any law. House figure."""

Figures = Mapping[str, float]


@dataclass(frozen=True, slots=True)
class SlippedFigure:
    """A figure as it was told, and as it was likely meant."""

    field: str
    told: float
    meant: float
    gain: float


def likely_slip(
    figures: Figures,
    turns: Mapping[str, tuple[float, ...]],
    fit: Callable[[Figures], float],
    *,
    sure: Collection[str] = (),
) -> SlippedFigure | None:
    """The one figure whose slip would explain the most; None where nothing need be asked.

    ``turns`` are the factors that may have slipped into each field that somebody gave; ``fit`` tells how well
    figures suit each other, 0 for perfectly and negative for less. Who was ``sure`` of one figure has odd
    gear, and is asked of another only where far more speaks for it.
    """
    told, least = fit(figures), GAINS * (ODD if sure else 1.0)
    if -told < least:  # nothing can suit better than perfectly
        return None
    best: SlippedFigure | None = None
    for field in (name for name in turns if name not in sure):
        for by in turns[field]:
            meant = figures[field] * by
            found = fit({**figures, field: meant})
            gain = found - told - _rarity(by)
            if gain >= least and found >= -SUITS and (best is None or gain > best.gain):
                best = SlippedFigure(field, figures[field], meant, gain)
    return best


def off(ratio: float, usual: float, sigma: float) -> float:
    """How far a ratio is from the usual one: 0 at it, negative elsewhere."""
    return -min((math.log(ratio / usual) / sigma) ** 2 / 2, CAP)


def outside(value: float, low: float, high: float, sigma: float) -> float:
    """How far a figure lies outside a range: 0 within."""
    beyond = max(math.log(low / value), math.log(value / high), 0.0)
    return -min((beyond / sigma) ** 2 / 2, CAP)


def _rarity(by: float) -> float:
    noughts = abs(math.log10(by))
    return RARER * (noughts - 1) if abs(noughts - round(noughts)) < 1e-9 else RARER
