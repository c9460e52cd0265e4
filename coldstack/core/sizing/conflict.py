"""Why no candidate can do the job, and what nearest would."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from coldstack.core.trial.evaluate import Evaluation
from coldstack.core.trial.wording import lack
from coldstack.core.units import plain_number


@dataclass(frozen=True, slots=True)
class Relief:
    """What would have to give: the wants by their words, and the candidate that then does it."""

    gives: list[str]
    row: int
    sentence: str


@dataclass(frozen=True, slots=True)
class Conflict:
    """Which wants cannot be met together, in a sentence, and the smallest reliefs."""

    sentence: str
    reliefs: list[Relief]


def conflict(e: Evaluation) -> Conflict | None:
    """None if something is feasible; else the fewest wants that have to give (up to three), each with the
    nearest candidate.

    A set of wants is in the way if some candidate meets all the others.
    """
    if e.feasible.any():
        return None
    if not len(e.candidates):
        return Conflict(
            "No pack of these chemistries and cell counts comes within the controller’s volts. "
            "Choose other cells, another chemistry, or check the controller’s highest volts.",
            [],
        )
    groups, fails = _failures_by_group(e)
    for size in (1, 2, 3):
        reliefs = []
        for gives in combinations(range(len(groups)), size):
            others = np.delete(fails, gives, axis=0)
            enough = np.logical_not(others.any(axis=0))
            if enough.any():
                reliefs.append(_relief(e, [groups[g] for g in gives], enough))
        if reliefs:
            excess = e.excess()
            reliefs.sort(key=lambda r: excess[r.row])
            return Conflict(_sentence(reliefs, size), reliefs[:3])
    row = int(np.argmin(e.excess()))
    nearest = Relief([], row, _nearest_sentence(e, row))
    return Conflict("More than three of the wants and limits stand in each other’s way.", [nearest])


def _failures_by_group(e: Evaluation) -> tuple[list[str], NDArray[np.bool_]]:
    """What would have to give, in words, and which candidates miss it, shape (groups, N)."""
    over = e.binding > 1
    groups: dict[str, list[int]] = {}
    for k, column in enumerate(e.checks):
        if over[k].any():
            groups.setdefault(column.spec.gives, []).append(k)
    return list(groups), np.array([over[rows].any(axis=0) for rows in groups.values()])


def _relief(e: Evaluation, gives: list[str], enough: NDArray[np.bool_]) -> Relief:
    # a pack that can be had, where one does it
    pool = enough & e.real if (enough & e.real).any() else enough
    row = int(np.argmin(np.where(pool, e.excess(), np.inf)))
    return Relief(gives, row, _nearest_sentence(e, row))


def _nearest_sentence(e: Evaluation, row: int) -> str:
    lacks = "; ".join(lack(e, k, row) for k in e.failing(row))
    c = e.candidates
    return (
        f"{c.names[row]} ({plain_number(float(c.mass_g[row]))} g, "
        f"{plain_number(float(e.minutes[row]))} min): {lacks}."
    )


def _sentence(reliefs: list[Relief], size: int) -> str:
    if size == 1:
        names = [r.gives[0] for r in reliefs]
        return f"No pack meets everything. Giving way on {' or on '.join(names)} alone would be enough."
    return (
        f"No pack meets everything: {_joined(reliefs[0].gives)} stand in each other’s way, "
        f"and at least {size} of the wants have to give."
    )


def _joined(words: list[str]) -> str:
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"
