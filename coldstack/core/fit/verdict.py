"""The verdict of a pack in a model, and its reasons: one set of words for every stage."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

FitVerdict = Literal["does", "care", "unknown", "wont"]
FIT_VERDICTS: tuple[FitVerdict, ...] = ("does", "care", "unknown", "wont")
"""From the best to the worst: does the job; goes, with care; not known; will not do."""


@dataclass(frozen=True, slots=True)
class FitReason:
    """One thing that speaks against a pack in a model.

    ``value`` and ``limit`` are None for a fact that holds or does not. ``where`` is the field where it can
    be changed: of the job ("wants.minutes"), of the pack ("pack.plug") or of the house rules. ``grave``:
    while it is not known, the pack is not run.
    """

    id: str
    verdict: FitVerdict
    sentence: str
    words: str
    """The same within a sentence."""
    short: str
    value: float | None
    limit: float | None
    unit: str
    loading: float
    where: str
    grave: bool = False

    @property
    def bars(self) -> bool:
        """Whether it alone keeps the pack from being run in the model."""
        return self.verdict == "wont" or (self.verdict == "unknown" and self.grave)


def worst_verdict(reasons: tuple[FitReason, ...]) -> FitVerdict:
    """That of the worst reason; it does the job without any."""
    return max((r.verdict for r in reasons), key=FIT_VERDICTS.index, default="does")
