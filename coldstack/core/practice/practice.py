"""Every kind of task, and one of them from a seed."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from coldstack.core.errors import DomainError
from coldstack.core.practice.chance import Chance
from coldstack.core.practice.kinds import (
    accident,
    binds,
    gate,
    go,
    label,
    order,
    plugs,
    settings,
    sharing,
    sick,
    storage,
    which,
)
from coldstack.core.practice.task import Exercise, Given

MOST_SEED = 2**31 - 1
Stage = Literal["gear", "size", "match", "charge", "run", "keep", "safety"]


@dataclass(frozen=True, slots=True)
class Kind:
    """One kind of task: what it practises, the place in the program that does the same for real, how it is
    made, and whether it can be of one's own gear, and of one's own models."""

    id: str
    name: str
    leads_to: Stage
    make: Callable[[Chance, Given], Exercise]
    of_own: bool = False
    of_models: bool = False


KINDS: dict[str, Kind] = {
    k.id: k
    for k in (
        Kind(label.ID, label.NAME, "gear", label.make, of_own=True),
        Kind(settings.ID, settings.NAME, "match", settings.make, of_own=True),
        Kind(order.ID, order.NAME, "charge", order.make),
        Kind(gate.ID, gate.NAME, "charge", gate.make, of_own=True),
        Kind(plugs.ID, plugs.NAME, "match", plugs.make),
        Kind(go.ID, go.NAME, "run", go.make, of_own=True, of_models=True),
        Kind(storage.ID, storage.NAME, "keep", storage.make, of_own=True),
        Kind(accident.ID, accident.NAME, "safety", accident.make),
        Kind(binds.ID, binds.NAME, "match", binds.make, of_own=True),
        Kind(sharing.ID, sharing.NAME, "charge", sharing.make),
        Kind(which.ID, which.NAME, "size", which.make),
        Kind(sick.ID, sick.NAME, "keep", sick.make),
    )
}
"""In the order in which one meets them."""


def known_kind(kind: str) -> Kind:
    """The kind with this id; raises DomainError for one that is not there."""
    if kind not in KINDS:
        raise DomainError("kind", f"Kind must be one of {', '.join(KINDS)}, not “{kind}”.")
    return KINDS[kind]


def exercise(kind: str, given: Given) -> Exercise:
    """The same task for the same seed; raises DomainError for a kind that is not there."""
    made = known_kind(kind)
    return made.make(Chance(kind, given.level, given.seed), given)
