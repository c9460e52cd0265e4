"""The feasible candidates ordered: the front, the shortlists by aim, and the near misses."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from coldstack.core.discharge.batch import Floats
from coldstack.core.fit.fit import verdicts
from coldstack.core.fit.verdict import FIT_VERDICTS
from coldstack.core.packs.kinds import kind_column
from coldstack.core.trial.evaluate import Evaluation
from coldstack.core.wear.cost import running_cost

Aim = Literal["all_round", "longest", "lightest", "coolest", "cheapest"]
AIMS: dict[str, str] = {
    "all_round": "Best for its weight",
    "longest": "Longest",
    "lightest": "Lightest",
    "coolest": "Coolest",
    "cheapest": "Cheapest to run",
}
SHORTLIST_ROWS = 7
NEAR_MISS_ROWS = 5
LOOKED_AT = 60
NEAR = 1.35
"""A near miss is at most this far over each limit it fails. House figure."""


OFFER_ROWS = 24
"""Offers listed whether they do the job or not: nobody compares more."""


@dataclass(frozen=True, slots=True)
class NearMiss:
    """A candidate that fails one or two checks narrowly; ``failing`` are positions of checks, the worst
    first."""

    row: int
    failing: list[int]


def front(mass_g: Floats, minutes: Floats) -> NDArray[np.intp]:
    """Rows than which no other is both lighter and longer, the lightest first. O(N log N)."""
    order = np.lexsort((-minutes, mass_g))
    best_before = np.concatenate(([-np.inf], np.maximum.accumulate(minutes[order])[:-1]))
    return np.asarray(order[minutes[order] > best_before])


def score(e: Evaluation, aim: Aim) -> Floats:
    """How well each candidate serves an aim; higher is better, NaN where it cannot be told (no price).

    all_round: what does the job with the fewest grams. The log of minutes counts little beyond those wanted
    (or those of now), up to MORE_MINUTES times, and much below; less the log of grams, less half the log of
    the hottest loading (below COLD all are cold enough); a pack that has yet to be joined or built counts 5
    or 10 % less, unless the model runs on two already.
    """
    minutes = np.maximum(e.minutes, 1e-6)
    mass = e.candidates.mass_g
    if aim == "longest":
        return minutes
    if aim == "lightest":
        return -mass
    if aim == "coolest":
        return -np.maximum(e.heat, 1e-6)
    if aim == "cheapest":
        return -running_cost(e).per_h
    effort = kind_column("effort")[e.candidates.kind_index]
    if e.job.now is not None and e.job.now.joined:
        effort = np.where(e.candidates.is_kind("joined"), 0.0, effort)
    worth = _worth_of(minutes, e.job.wants.minutes or e.now.minutes)
    return np.asarray(worth - np.log(mass) - 0.5 * np.log(np.maximum(e.heat, COLD)) - effort)


MORE_MINUTES = 1.3
COLD = 0.8
"""Loading of the hottest link below which none is better than another. House figure."""
BEYOND, BELOW = 0.3, 3.0
"""What a share of minutes counts beyond the wanted ones, and below them. House figures."""


def _worth_of(minutes: Floats, enough: float | None) -> Floats:
    """What minutes are worth, in logs, beside ``enough``; without that each share counts alike."""
    if not enough:
        return np.log(minutes)
    ratio = np.log(minutes / enough)
    return np.asarray(BEYOND * np.clip(ratio, 0.0, np.log(MORE_MINUTES)) + BELOW * np.minimum(ratio, 0.0))


def best_row(e: Evaluation) -> int:
    """The one candidate to begin with: of the best verdict that there is, the best for its weight."""
    found = np.array([FIT_VERDICTS.index(v) for v in verdicts(e)])
    ranked = np.nan_to_num(score(e, "all_round"), nan=-np.inf)
    return int(np.lexsort((-ranked, found, e.by_a_guess))[0])


def shortlist(e: Evaluation, ranked: Floats, rows: int = SHORTLIST_ROWS) -> list[int]:
    """The best feasible candidates by their `score`, the best first, those weaker than the pack of now by a
    guess behind all others; made-up ones only where nothing real does it. What it runs on now stands among
    them wherever it does the job."""
    pool = e.feasible & e.real
    if not pool.any():
        pool = e.feasible
    candidates = np.flatnonzero(pool & ~np.isnan(ranked))
    order = candidates[np.lexsort((-ranked[candidates], e.by_a_guess[candidates]))]
    if len(order) <= rows:
        return [int(r) for r in order]
    taken = _varied(e, order, rows)
    best_of_kind = _best_of_each(e, order)
    kept = [r for r in taken if r not in best_of_kind][: max(rows - len(best_of_kind), 0)]
    chosen = {*kept, *best_of_kind}
    return [r for r in order.tolist() if r in chosen][:rows]


def _best_of_each(e: Evaluation, order: NDArray[np.intp]) -> list[int]:
    """The best row of each chemistry, the best owned pack and the best offer: people want to see these
    beside the rest."""
    first: dict[object, int] = {}
    for row in order.tolist():
        first.setdefault(int(e.candidates.chemistry_index[row]), row)
        if (kind := e.candidates.kind(row)).seen:
            first.setdefault(kind.id, row)
        if row == e.now_row:
            first.setdefault("now", row)
    return list(dict.fromkeys(first.values()))


def _varied(e: Evaluation, order: NDArray[np.intp], rows: int) -> list[int]:
    """The first rows, at most two of one build (same cell type or same pack in other numbers), so that a
    list offers a choice."""
    taken: list[int] = []
    seen: dict[str, int] = {}
    for row in order.tolist():
        family = _family(e.candidates.ids[row])
        if seen.get(family, 0) < 2:
            seen[family] = seen.get(family, 0) + 1
            taken.append(row)
        if len(taken) == rows:
            break
    return taken


def _family(candidate_id: str) -> str:
    kind, _, rest = candidate_id.partition(":")
    return f"{kind}:{rest.split(':')[0]}" if kind == "cells" else candidate_id


def offers(e: Evaluation, ranked: Floats, rows: int = OFFER_ROWS) -> list[int]:
    """What shops offer, all of it: those that do the job by their `score`, then the others by how far they
    are from it."""
    found = np.flatnonzero(e.candidates.is_kind("offered"))
    able = e.feasible[found]
    behind = np.where(able, -np.nan_to_num(ranked[found], nan=-1e9), e.excess(found))
    return [int(r) for r in found[np.lexsort((behind, ~able))][:rows]]


def near_misses(e: Evaluation, rows: int = NEAR_MISS_ROWS) -> list[NearMiss]:
    """Real candidates that fail one or two checks by little, the nearest first; before them the pack of now
    where it does not do the job."""
    count = np.count_nonzero(e.binding > 1, axis=0)
    near = (count >= 1) & (count <= 2) & ~np.any(e.binding > NEAR, axis=0) & e.real
    order = np.flatnonzero(near)
    order = order[np.argsort(e.excess(order), kind="stable")]
    near_rows = [NearMiss(row, e.failing(row)) for row in _varied(e, order, LOOKED_AT)]
    now = e.now_row
    found = [m for m in _one_of_each_lack(near_rows, rows) if m.row != now]
    # what it runs on now stands in every list, with what it lacks
    return found if now is None or e.feasible[now] else [NearMiss(now, e.failing(now)), *found][:rows]


def _one_of_each_lack(misses: list[NearMiss], rows: int) -> list[NearMiss]:
    """The nearest of each kind of lack before the second nearest of any: they tell more together."""
    seen: dict[int, int] = {}
    ranked = []
    for at, miss in enumerate(misses):
        turn = seen[miss.failing[0]] = seen.get(miss.failing[0], 0) + 1
        ranked.append((turn, at, miss))
    return [miss for _, _, miss in sorted(ranked, key=lambda r: r[:2])][:rows]
