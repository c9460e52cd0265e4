"""What is known of a figure: what one may expect of it, and what was measured, each with how far it may be
off; and all of it as one."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

SIGMAS = 2.0
"""A figure told as ± spans so many standard deviations to either side. House figure."""
CHARGED_SPREAD = 0.03
"""± of a pack's capacity by what its charges put in, two standard deviations. House figure."""
EXPECTED_SPREAD = (1.00, 0.06)
"""± of resistance and capacity of a pack known by its label, size and chemistry only: two packs printed 100C
differ by as much. House figure."""
METER_SPREAD = {"": 0.25, "hand": 0.25, "file": 0.25, "charger": 0.30, "checker": 0.20}
"""± of a cell's resistance by who read it: a charger's amps and leads are its own, a checker pulls a known
current for a second; of what was typed nobody knows the meter. House figures."""
EASING_SPREAD = 0.60
"""± more of a reading of high-energy cells: how much easier their reactions go under the currents of a run
than under a meter's is not told by it. House figure."""
LOG_SPREAD = 0.30
"""± of a resistance by one log, beside the fit's own: the circuit is not the cell, and logs of one pack
differ by as much. House figure."""


WIDE = 0.5
"""From here a share to either side says it badly."""


@dataclass(frozen=True, slots=True)
class Measured:
    """A figure, and ± as a share of it: two standard deviations of its logarithm, to the greater side."""

    value: float
    spread: float

    @property
    def sigma(self) -> float:
        """Standard deviation of its logarithm."""
        return math.log1p(self.spread) / SIGMAS


def about(spread: float) -> str:
    """How far off a figure may be, in words: ± a share, or the factor either way where that is large."""
    return f"± {100 * spread:.0f} %" if spread < WIDE else f"a factor of {1 + spread:.2g} either way"


def spread_of(sigma: ArrayLike) -> NDArray[np.float64]:
    """± as a share, of standard deviations of a logarithm."""
    return np.asarray(np.expm1(SIGMAS * np.asarray(sigma, float)))


def both(*spreads: float) -> float:
    """± of what is off by each of several causes at once."""
    return float(spread_of(math.hypot(*(math.log1p(s) / SIGMAS for s in spreads))))


def joined(found: Iterable[Measured]) -> Measured | None:
    """Independent evidence of one figure as one, in logarithms and each by its own error; None of none.

    The more there is the surer it is: ``1 ÷ σ² = Σ 1 ÷ σᵢ²``, so that none makes it less sure.
    """
    known = list(found)
    if len(known) <= 1:
        return known[0] if known else None
    weights = [1 / m.sigma**2 for m in known]
    middle = sum(w * math.log(m.value) for w, m in zip(weights, known, strict=True)) / sum(weights)
    return Measured(math.exp(middle), float(spread_of(1 / math.sqrt(sum(weights)))))


def with_expected(
    expected: ArrayLike, expected_spread: ArrayLike, value: ArrayLike, spread: ArrayLike
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """What one may expect of N figures, joined with what was measured of them, and ± of it, shape (N,); NaN
    where nobody measured.

    What a measurement contradicts is believed that much less: it counts as being as far off as they are
    apart. So a label shifts a reading by a few per cent at most, and never makes it less sure.
    """
    prior, sigma = np.asarray(expected, float), np.log1p(np.asarray(expected_spread, float)) / SIGMAS
    known = ~np.isnan(np.asarray(value, float))
    seen = np.log1p(np.where(known, spread, 1.0)) / SIGMAS
    apart = np.where(known, np.log(np.where(known, value, prior) / prior), 0.0)
    weight = np.where(known, 1 / seen**2, 0.0)
    total = 1 / np.maximum(sigma, np.abs(apart)) ** 2 + weight
    return prior * np.exp(apart * weight / total), spread_of(1 / np.sqrt(total))
