"""A figure that was measured, with how far it may be off; and several of them as one."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

READ_SPREAD = 0.25
"""± of a cell's resistance as a charger or meter reads it, two standard deviations. House figure."""
CHARGED_SPREAD = 0.03
"""± of a pack's capacity by what its charges put in, the same. House figure."""


@dataclass(frozen=True, slots=True)
class Measured:
    """A figure, and ± as a share of it: two standard deviations."""

    value: float
    spread: float


def joined(found: Iterable[Measured]) -> Measured | None:
    """Independent measurements of one figure as one, in logarithms and each by its own error; None of none.

    The more there are the surer it is: ``1 ÷ s² = Σ 1 ÷ sᵢ²``, so that none makes it less sure.
    """
    known = list(found)
    if len(known) <= 1:
        return known[0] if known else None
    weights = [1 / m.spread**2 for m in known]
    middle = sum(w * math.log(m.value) for w, m in zip(weights, known, strict=True)) / sum(weights)
    return Measured(math.exp(middle), 1 / math.sqrt(sum(weights)))
