"""What to buy next: the one, two or three purchases that let most be run, as a front of money and minutes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations_with_replacement

import numpy as np

from coldstack.core.box.served_solver import Floats, Served, served

MOST_BOUGHT = 3
LOOKED_AT = 10
"""Of so many purchases the best are put together: of more, one that is best alone nearly always leads."""
WORTH_MIN = 10.0
"""Minutes a month below which nothing is bought. House figure."""
MISSED_MIN = 1.0
"""Minutes a month below which a pack is not missed."""
FEW, FURTHER = 6, 1.12
"""So many points are shown of a front, each with so many times the minutes of the one before."""


@dataclass(frozen=True, slots=True)
class Purchase:
    """What could be bought: minutes of each model on it (0 where it does not run), its price; None where
    nobody gave one."""

    id: str
    name: str
    minutes: tuple[float, ...]
    price: float | None


@dataclass(frozen=True, slots=True)
class Proposal:
    """Purchases together: what they cost (None where one has no price), minutes a month that the box then
    runs more, and how many more packs each model has on a day."""

    ids: tuple[str, ...]
    price: float | None
    more_minutes: float
    more_packs: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Box:
    """Minutes of each pack in each model, shape (packs, models), 0 where it is not run; runs on a day, days a
    month of each model."""

    minutes: Floats
    runs_a_day: tuple[int, ...]
    days_a_month: tuple[float, ...]

    def served(self, more: Sequence[tuple[float, ...]] = (), without: int | None = None) -> Served:
        """What it runs, with packs more or one less."""
        minutes = self.minutes if without is None else np.delete(self.minutes, without, axis=0)
        if more:
            minutes = np.vstack([minutes, np.array(more)])
        return served(minutes, self.runs_a_day, self.days_a_month)


def what_to_buy(box: Box, shop: Sequence[Purchase]) -> list[Proposal]:
    """The front: no other proposal of up to three purchases costs less and lets more be run; those without a
    price by their number. The fewest purchases first.

    Exact over the LOOKED_AT purchases that gain most alone, for the money, and for each model; others are
    left out.
    """
    before = box.served()
    differing = _best_of_alike(shop)
    gains = {p.id: box.served([p.minutes]).minutes - before.minutes for p in differing}
    able = [p for p in differing if gains[p.id] >= WORTH_MIN]
    tried = _worth_trying(able, gains)
    found = []
    for count in range(1, MOST_BOUGHT + 1):
        for chosen in combinations_with_replacement(tried, count):
            found.append(_proposal(box, before, chosen))
    return _front([p for p in found if p.more_minutes >= WORTH_MIN])


def _proposal(box: Box, before: Served, chosen: Sequence[Purchase]) -> Proposal:
    after = box.served([p.minutes for p in chosen])
    prices = [p.price for p in chosen]
    price = None if any(x is None for x in prices) else float(sum(x for x in prices if x is not None))
    more = tuple(after.packs_of(m) - before.packs_of(m) for m in range(len(box.runs_a_day)))
    return Proposal(tuple(sorted(p.id for p in chosen)), price, after.minutes - before.minutes, more)


def _best_of_alike(shop: Sequence[Purchase]) -> list[Purchase]:
    """Without those that another is as good as in every model, and no dearer."""
    order = sorted(
        (p for p in shop if any(p.minutes)),
        key=lambda p: (p.price is None, p.price or 0.0, [-m for m in p.minutes], p.id),
    )
    kept: list[Purchase] = []
    for p in order:
        if not any(_as_good(k, p) for k in kept):
            kept.append(p)
    return kept


def _as_good(one: Purchase, other: Purchase) -> bool:
    """Whether one is no worse in any model, and no dearer as far as prices are known."""
    known = one.price is not None or other.price is None
    return known and all(a >= b for a, b in zip(one.minutes, other.minutes, strict=True))


def _worth_trying(able: Sequence[Purchase], gains: dict[str, float]) -> list[Purchase]:
    """Those that gain most, that gain most for their money, and the best of each model."""

    def per_money(p: Purchase) -> float:
        return gains[p.id] / p.price if p.price else 0.0

    by_gain = sorted(able, key=lambda p: -gains[p.id])
    by_money = sorted((p for p in able if p.price), key=lambda p: -per_money(p))
    cheapest = sorted((p for p in able if p.price), key=lambda p: p.price or 0.0)
    models = range(len(able[0].minutes)) if able else range(0)
    of_models = [max(able, key=lambda p: (p.minutes[m] > 0, per_money(p), gains[p.id])) for m in models]
    ranked = [x for row in in_turn(by_gain, by_money, cheapest, of_models) for x in row]
    return list({p.id: p for p in ranked}.values())[:LOOKED_AT]


def in_turn(*lists: Sequence[Purchase]) -> list[list[Purchase]]:
    """The first of each list, then the second of each, and so on."""
    longest = max((len(x) for x in lists), default=0)
    return [[x[k] for x in lists if k < len(x)] for k in range(longest)]


def _front(found: list[Proposal]) -> list[Proposal]:
    """Of those with prices none that another beats in money and minutes, thinned to a few that differ; of
    those without, none that another of as few purchases beats. The cheapest, and the fewest, first."""
    priced = sorted((p for p in found if p.price is not None), key=lambda p: (p.price or 0, -p.more_minutes))
    unpriced = sorted((p for p in found if p.price is None), key=lambda p: (len(p.ids), -p.more_minutes))
    front = _thinned(_rising(priced, 0.0))
    most = front[-1].more_minutes if front else 0.0
    return [*front, *_thinned(_rising(unpriced, most + WORTH_MIN))]


def _rising(ordered: list[Proposal], most: float) -> list[Proposal]:
    """Those that let more be run than any before them."""
    kept = []
    for p in ordered:
        if p.more_minutes > most * (1 + 1e-9) + 1e-6:
            kept.append(p)
            most = p.more_minutes
    return kept


def _thinned(front: list[Proposal]) -> list[Proposal]:
    """A few points that differ, with the last among them; of many the steps are longer."""
    further = FURTHER
    while True:
        kept: list[Proposal] = []
        for p in front:
            if not kept or p.more_minutes >= further * kept[-1].more_minutes:
                kept.append(p)
        if front and kept[-1] is not front[-1]:
            kept[-1] = front[-1]
        if len(kept) <= FEW:
            return kept
        further *= FURTHER


def lost_without(box: Box) -> list[float]:
    """Minutes a month that are run no more if a pack is sold or retired, of each. [min]"""
    whole = box.served().minutes
    return [max(whole - box.served(without=row).minutes, 0.0) for row in range(len(box.minutes))]
