"""Why no candidate can do the job, and what nearest would."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from coldstack.core.trial.candidates import Bools
from coldstack.core.trial.evaluate import Evaluation
from coldstack.core.trial.wording import lacks
from coldstack.core.units import GRAMS, lasting, plain_number


@dataclass(frozen=True, slots=True)
class Relief:
    """What would have to give: the wants by their words, and the candidate that then does it."""

    gives: list[str]
    row: int
    sentence: str


@dataclass(frozen=True, slots=True)
class Conflict:
    """Which wants cannot be met together, or which limits all packs pass, in a sentence; and the smallest
    reliefs."""

    sentence: str
    reliefs: list[Relief]


LEAST_OF_A_WISH = 0.5
"""Of a wish that gives way at least so much is met, or nobody would take it for an answer. House figure."""
ROOM = 1.25
"""Limits that nobody gave are passed by no more than this: what is left is 80 %. House figure."""


@dataclass(frozen=True, slots=True)
class _Group:
    """Checks that give way together: whether they are wishes, and which candidates miss one, shape (N,)."""

    gives: str
    wish: bool
    fails: Bools


def conflict(e: Evaluation) -> Conflict | None:
    """None if something is feasible; else the fewest wishes that have to give (up to three), each with the
    nearest candidate that an expert would take: it passes no limit, and meets at least half of what gives.
    Where a limit is in the way of all, that is said, with what is nearest.

    A set of wishes is in the way if some candidate meets all the others.
    """
    if e.feasible.any():
        return None
    asked = e.real | e.candidates.is_kind("made_up")
    if not asked.any():
        return Conflict(
            f"No pack of these chemistries and cell counts comes within the {e.job.seen_by}’s volts. "
            f"Choose other cells, another chemistry, or check the {e.job.seen_by}’s highest volts.",
            [],
        )
    groups = _groups(e)
    wishes, limits = [g for g in groups if g.wish], [g for g in groups if not g.wish]
    sound = _sound(e) & asked
    for size in (1, 2, 3):
        reliefs = []
        for gives in combinations(wishes, size):
            others = [g.fails for g in groups if g not in gives]
            enough = sound & ~_any(others, len(e.candidates))
            if enough.any():
                reliefs.append(_relief(e, [g.gives for g in gives], enough))
        if reliefs:
            excess = e.excess()
            reliefs.sort(key=lambda r: excess[r.row])
            return Conflict(_wishes_sentence(reliefs, size), reliefs[:3])
    return _limits_conflict(e, limits)


def _any(columns: list[Bools], many: int) -> Bools:
    return np.any(columns, axis=0) if columns else np.zeros(many, bool)


def _groups(e: Evaluation) -> list[_Group]:
    """What would have to give, in words, and which candidates miss it."""
    over, found = e.binding > 1, dict[tuple[str, bool], list[int]]()
    for k, column in enumerate(e.checks):
        if over[k].any():
            found.setdefault((column.spec.gives, column.spec.wish), []).append(k)
    return [_Group(gives, wish, np.asarray(over[rows].any(axis=0))) for (gives, wish), rows in found.items()]


def _sound(e: Evaluation) -> Bools:
    """Candidates that somebody would run: no limit that is known or assumed is far passed, no wish is missed
    by half, and none is weaker than now by a guess."""
    out = ~e.by_a_guess
    for column, loading in zip(e.checks, e.loading, strict=True):
        spec = column.spec
        if spec.wish:
            out &= ~(loading > 1 / LEAST_OF_A_WISH)
        elif spec.required and not spec.in_sight:
            out &= ~((loading > ROOM) & ~column.borne)
    return out


def _relief(e: Evaluation, gives: list[str], enough: NDArray[np.bool_]) -> Relief:
    # a pack that can be had, where one does it
    pool = enough & e.real if (enough & e.real).any() else enough
    row = int(np.argmin(np.where(pool, e.excess(), np.inf)))
    return Relief(gives, row, _nearest_sentence(e, row))


def _nearest_sentence(e: Evaluation, row: int) -> str:
    c = e.candidates
    return (
        f"{c.names[row]} ({plain_number(float(c.mass_g[row]))}{GRAMS}, "
        f"{lasting(float(e.minutes[row]))}): {'; '.join(lacks(e, row))}."
    )


def _wishes_sentence(reliefs: list[Relief], size: int) -> str:
    if size == 1:
        names = [r.gives[0] for r in reliefs]
        return f"No pack meets everything. Giving way on {' or on '.join(names)} alone would be enough."
    return (
        f"No pack meets everything: {_listed(reliefs[0].gives)} stand in each other’s way, "
        f"and at least {size} of the wants have to give."
    )


def _limits_conflict(e: Evaluation, limits: list[_Group]) -> Conflict:
    """What all packs pass, or what together leaves none; with the nearest, and what it passes."""
    pool = e.real if e.real.any() else e.candidates.is_kind("made_up")
    row = int(np.argmin(np.where(pool, e.excess(), np.inf)))
    nearest = Relief([], row, _nearest_sentence(e, row))
    by_all = [g.gives for g in limits if g.fails[pool].all()]
    if by_all:
        verb = "is" if len(by_all) == 1 else "are"
        words = f"Whatever the pack, {_listed(by_all)} {verb} not enough: that has to change first."
    else:
        at_row = [e.checks[k].spec.gives for k in e.failing(row)]
        words = f"No pack meets everything; nearest to it {_listed(at_row)} would have to change."
    return Conflict(words, [nearest])


def _listed(words: list[str]) -> str:
    once = list(dict.fromkeys(words))
    return once[0] if len(once) == 1 else f"{', '.join(once[:-1])} and {once[-1]}"
