"""Why no candidate can do the job, and what nearest would."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from coldstack.core.sizing.evaluate import Evaluation
from coldstack.core.sizing.wording import lack
from coldstack.core.units import plain_number

GROUPS: dict[str, str] = {
    "want.minutes": "the minutes",
    "want.mass": "the weight",
    "want.volts": "the volts wanted",
    "want.rpm": "the motor speed wanted",
    "want.lively": "being as lively as now",
    "bay": "the bay",
    "window": "the controller’s volts",
    "drive": "the propeller or gearing",
    "cells": "the current from the cells",
    "leads": "the leads",
    "plug": "the plug",
    "controller": "the controller’s amps",
    "motor": "the motor’s amps",
    "run": "the charge given before the controller stops",
}


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
    """None if something is feasible; else the fewest wants that have to give (up to three), each with the nearest candidate.

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
            reliefs.sort(key=lambda r: _excess(e, r.row))
            return Conflict(_sentence(reliefs, size), reliefs[:3])
    row = int(np.argmin([_excess(e, r) for r in range(len(e.candidates))]))
    nearest = Relief([], row, _nearest_sentence(e, row))
    return Conflict("More than three of the wants and limits stand in each other’s way.", [nearest])


def _failures_by_group(e: Evaluation) -> tuple[list[str], NDArray[np.bool_]]:
    over = e.binding > 1
    names: list[str] = []
    rows = []
    for group in GROUPS:
        mask = np.array([_group(c.id) == group for c in e.checks])
        if mask.any() and over[mask].any():
            names.append(group)
            rows.append(over[mask].any(axis=0))
    return names, np.array(rows)


def _group(check_id: str) -> str:
    return check_id if check_id.startswith("want.") else check_id.split(".")[0]


def _excess(e: Evaluation, row: int) -> float:
    column = e.binding[:, row]
    over = column[column > 1]
    return float(np.sum(np.log(np.minimum(over, 1e6))))


def _relief(e: Evaluation, gives: list[str], enough: NDArray[np.bool_]) -> Relief:
    over = np.where(e.binding > 1, np.minimum(e.binding, 1e6), 1.0)
    # a pack that can be had, where one does it
    pool = enough & e.real if (enough & e.real).any() else enough
    excess = np.where(pool, np.log(over).sum(axis=0), np.inf)
    row = int(np.argmin(excess))
    return Relief([GROUPS[g] for g in gives], row, _nearest_sentence(e, row))


def _nearest_sentence(e: Evaluation, row: int) -> str:
    lacks = "; ".join(lack(e, k, row) for k in e.failing(row))
    c = e.candidates
    return f"{c.names[row]} ({plain_number(float(c.mass_g[row]))} g, {plain_number(float(e.minutes[row]))} min): {lacks}."


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
