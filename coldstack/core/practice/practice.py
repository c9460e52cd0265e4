"""Every kind of task, and one of them from a seed."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

from coldstack.core.errors import DomainError
from coldstack.core.practice.chance import Chance
from coldstack.core.practice.kinds import label, order, plugs, settings, sharing, storage
from coldstack.core.practice.task import Exercise, Level
from coldstack.core.rules.house_rules import HouseRules

MOST_SEED = 2**31 - 1


class Maker(Protocol):
    """How a kind makes an exercise of a level by chance."""

    def __call__(self, by: Chance, seed: int, level: Level, rules: HouseRules) -> Exercise: ...


@dataclass(frozen=True, slots=True)
class Kind:
    """One kind of task, by what it practises; ``leads_to`` is the stage that does the same for real."""

    id: str
    name: str
    leads_to: str
    make: Maker


KINDS: dict[str, Kind] = {
    k.id: k
    for k in (
        Kind(label.ID, label.NAME, "gear", label.make),
        Kind(settings.ID, settings.NAME, "match", settings.make),
        Kind(order.ID, order.NAME, "charge", order.make),
        Kind(sharing.ID, sharing.NAME, "charge", sharing.make),
        Kind(plugs.ID, plugs.NAME, "match", plugs.make),
        Kind(storage.ID, storage.NAME, "keep", storage.make),
    )
}
"""In the order in which one meets them."""


def exercise(kind: str, level: Level, seed: int, rules: HouseRules) -> Exercise:
    """The same task for the same seed; raises DomainError for a kind that is not there."""
    if kind not in KINDS:
        raise DomainError("kind", f"Kind must be one of {', '.join(KINDS)}, not “{kind}”.")
    return KINDS[kind].make(Chance(kind, level, seed), seed, level, rules)
