"""Evidence of a current: pieces, each a median with a spread in logarithms, and all of them together."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from coldstack.core.trial.unknowns import NINE_IN_TEN
from coldstack.core.units import written

CORRECTED_SIGMA = 0.15
"""Of an estimate that starts from what the model's runs drew: of what changed since. House figure."""


@dataclass(frozen=True, slots=True)
class EvidencePiece:
    """One piece of evidence of a current: what it is, in words, its median [A], and σ of its logarithm."""

    id: str
    words: str
    median_a: float
    sigma: float


@dataclass(frozen=True, slots=True)
class Estimate:
    """A current by all pieces of evidence. [A]

    ``shared`` is the σ that all of them have in common, so that no number of pieces takes it away; ``off_by``
    what logged runs drew over what these pieces say, which then counts for more than their spread.
    """

    pieces: tuple[EvidencePiece, ...]
    shared: float = 0.0
    off_by: float | None = None

    @property
    def sigma(self) -> float:
        """Of its logarithm."""
        if self.off_by is not None:
            return CORRECTED_SIGMA
        return math.hypot(1 / math.sqrt(sum(1 / p.sigma**2 for p in self.pieces)), self.shared)

    @property
    def median_a(self) -> float:
        """The product of all. [A]"""
        logs = sum(math.log(p.median_a) / p.sigma**2 for p in self.pieces)
        return (self.off_by or 1.0) * math.exp(logs / sum(1 / p.sigma**2 for p in self.pieces))

    @property
    def low_a(self) -> float:
        """One in twenty draws less. [A]"""
        return self.median_a * math.exp(-NINE_IN_TEN * self.sigma)

    @property
    def high_a(self) -> float:
        """One in twenty draws more. [A]"""
        return self.median_a * math.exp(NINE_IN_TEN * self.sigma)

    @property
    def spread(self) -> float:
        """Two standard deviations as ± (0.1 = ± 10 %)."""
        return math.expm1(2 * self.sigma)

    @property
    def words(self) -> str:
        """ "12 A (8 to 18)"."""
        return f"{written(self.median_a)} A ({written(self.low_a)} to {written(self.high_a)})"


def strongest(pieces: Sequence[EvidencePiece]) -> EvidencePiece:
    """The piece that counts most."""
    return min(pieces, key=lambda p: p.sigma)
