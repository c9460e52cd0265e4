"""Whether a pack goes into the bay, and can lie where the model balances."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from coldstack.core.checks import CAUTION_FROM
from coldstack.core.readings.tolerance import TOUCHED_MM, snapped
from coldstack.core.trial.balance import allowed_off_mm, pack_position_mm
from coldstack.core.trial.candidates import Candidates
from coldstack.core.trial.checks.spec import CheckColumn, Miss, Spec, every
from coldstack.core.trial.job import BAY_CLEARANCE_MM, Job
from coldstack.core.trial.lying import inside_mm, lying
from coldstack.core.units import MM, plain_number


def _side(key: str, title: str, too: str) -> Spec:
    def lacks(m: Miss) -> str:
        return f"{plain_number(m.value - m.limit, 2)}{MM} too {too}"

    return Spec(f"bay.{key}", f"{title} in the bay", "mm", lacks, "the bay", where=f"bay.{key}_mm")


LENGTH, WIDTH, HEIGHT = (
    _side("length", "Length", "long"),
    _side("width", "Width", "wide"),
    _side("height", "Height", "high"),
)
BALANCE = Spec(
    "bay.balance",
    "Pack off the bay’s middle, to balance",
    "mm",
    lambda m: f"{plain_number(m.value - m.limit, 2)}{MM} too far off to balance",
    "the bay",
    required=False,
    caution_from=CAUTION_FROM,
    where="bay.balance_at_mm",
)


FLY_BALANCE = Spec(
    "fly.balance",
    "Balance point off, wherever the pack lies",
    "mm",
    lambda m: f"its balance point {plain_number(m.value, 2)}{MM} off wherever it lies in the bay",
    "the bay",
    short="out of balance",
    where="bay.balance_at_mm",
)
IN_THE_BAY = frozenset(spec.id for spec in (LENGTH, WIDTH, HEIGHT, BALANCE, FLY_BALANCE))
"""Ids of what tells whether a pack goes in."""


SIDES_OF_THE_BAY = frozenset(spec.id for spec in (LENGTH, WIDTH, HEIGHT))


def bay_columns(job: Job, c: Candidates) -> Iterator[CheckColumn]:
    """The sides for which the bay is measured, and the balance where that is known."""
    bay, box = job.bay, lying(job, c)
    source = f"bay less {BAY_CLEARANCE_MM:g}{MM} a side"
    sides = (
        (LENGTH, box.length_mm, bay.length_mm),
        (WIDTH, box.width_mm, bay.width_mm),
        (HEIGHT, box.height_mm, bay.height_mm),
    )
    for spec, size, room in sides:
        if room:
            inside = every(len(c), inside_mm(room))
            yield CheckColumn(spec, snapped(size, inside, TOUCHED_MM), inside, source)
    if None not in (bay.balance_at_mm, bay.empty_balance_mm, bay.centre_mm) and bay.length_mm:
        off = np.abs(pack_position_mm(job, c.mass_g) - (bay.centre_mm or 0.0))
        slack = np.maximum((bay.length_mm - box.length_mm) / 2, 0.0)
        yield CheckColumn(BALANCE, snapped(off, slack, TOUCHED_MM), slack, "room to slide in the bay")
        if job.motion.flies:
            total = job.mass_g + c.mass_g
            error = np.maximum(off - slack, 0.0) * c.mass_g / total
            yield CheckColumn(FLY_BALANCE, error, allowed_off_mm(total), "what a balance point may be off")
