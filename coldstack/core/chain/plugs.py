"""Plug families of packs: what a mated pair carries. Typical figures; the maker's sheet wins.

Two figures because sellers quote the second as if it were the first. Sources: the trade's usual ratings.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from coldstack.core.errors import DomainError


@dataclass(frozen=True, slots=True)
class PlugFamily:
    """A mated pair: continuous and burst current [A], resistance of both poles together [mΩ]."""

    id: str
    name: str
    continuous_a: float
    burst_a: float
    resistance_mohm: float
    keyed: bool = True
    """Whether the shape forbids plugging in the wrong way round; single bullets do not."""
    wired_either_way: bool = False
    """Sold by different makers with plus on either pin."""
    on_packs: bool = True
    recommended: bool = True
    """Whether to name it as a cure; old blocks and odd plugs are not."""


PLUGS: dict[str, PlugFamily] = {
    p.id: p
    for p in (
        PlugFamily("xt30", "XT30", 15, 30, 1.4),
        PlugFamily("xt60", "XT60", 30, 60, 1.0),
        PlugFamily("xt90", "XT90", 45, 90, 0.6),
        PlugFamily("ec2", "EC2", 20, 30, 1.4),
        PlugFamily("ec3", "EC3", 35, 60, 1.0),
        PlugFamily("ec5", "EC5", 60, 120, 0.5),
        PlugFamily("t_plug", "T-plug", 25, 50, 1.2),
        PlugFamily("bullet_2", "2 mm bullet", 15, 25, 1.6, keyed=False, recommended=False),
        PlugFamily("bullet_3_5", "3.5 mm bullet", 35, 60, 0.8, keyed=False),
        PlugFamily("bullet_4", "4 mm bullet", 50, 80, 0.5, keyed=False),
        PlugFamily("bullet_5_5", "5.5 mm bullet", 80, 130, 0.3, keyed=False),
        PlugFamily("bullet_8", "8 mm bullet", 140, 220, 0.2, keyed=False),
        PlugFamily("rcy", "RCY", 3, 5, 20, wired_either_way=True),
        PlugFamily("sm", "SM", 3, 4, 20, wired_either_way=True, recommended=False),
        PlugFamily("ph_2", "PH 2 mm", 2, 4.5, 25, wired_either_way=True, recommended=False),
        PlugFamily("block_large", "white two-pin block, large", 10, 18, 10, recommended=False),
        PlugFamily("block_small", "white two-pin block, small", 5, 10, 18, recommended=False),
        PlugFamily("integrated", "integrated-balance plug", 50, 80, 1.0, recommended=False),
        PlugFamily("m6", "six-pin M6", 20, 30, 2, recommended=False),
        PlugFamily("banana_4", "4 mm banana", 20, 30, 1.5, keyed=False, on_packs=False),
    )
}
LOOK_ALIKES = frozenset(
    frozenset(pair)
    for pair in (("xt30", "xt60"), ("ec2", "ec3"), ("ec3", "ec5"), ("rcy", "sm"), ("xh", "eh"))
)
"""Neighbours that are bought by mistake for each other."""

PLUG_IDS: tuple[str, ...] = tuple(PLUGS)


def plug_family(plug_id: str) -> PlugFamily:
    """The family with this id; raises DomainError for an unknown one."""
    if plug_id not in PLUGS:
        raise DomainError("plug", f"Plug must be one of {', '.join(PLUGS)}, not “{plug_id}”.")
    return PLUGS[plug_id]


@cache
def plug_column(name: str) -> NDArray[np.float64]:
    """One figure of every family, in the order of PLUG_IDS: index it by a batch's plug indices."""
    return np.array([getattr(p, name) for p in PLUGS.values()], dtype=float)


Half = Literal["pack", "device"]
"""Packs carry one half of a family (its live contacts covered), models and chargers the other."""


@dataclass(frozen=True, slots=True)
class PlugEnd:
    """One loose end: a family and which of its halves."""

    family: str
    half: Half = "pack"

    @property
    def mate(self) -> PlugEnd:
        """The end it plugs into."""
        return PlugEnd(self.family, "device" if self.half == "pack" else "pack")


@dataclass(frozen=True, slots=True)
class Mating:
    """Whether two ends plug together, and what to say of it."""

    fits: bool
    look_alike: bool
    sentence: str
    polarity: str
    """A caution where the shape does not settle the polarity; empty otherwise."""


def mating(a: PlugEnd, b: PlugEnd) -> Mating:
    """Whether two ends plug together: same family and size, opposite halves."""
    first, second = plug_family(a.family), plug_family(b.family)
    if a.family != b.family:
        alike = are_look_alikes(a.family, b.family)
        words = f"{first.name} and {second.name} do not mate"
        tail = (
            ": they look alike, but are different sizes. Forced together they make poor contact."
            if alike
            else "."
        )
        return Mating(False, alike, words + tail, "")
    if a.half == b.half:
        return Mating(False, False, f"Both ends are the same half of {first.name}: they cannot plug together.", "")  # fmt: skip
    return Mating(True, False, f"{first.name} on both sides, opposite halves.", polarity_caution(a.family))


def are_look_alikes(a: str, b: str) -> bool:
    """Whether two families are taken for each other."""
    return frozenset((a, b)) in LOOK_ALIKES


def polarity_caution(plug_id: str) -> str:
    """What to check by hand where a plug's shape does not settle which wire is plus; empty where it does."""
    family = plug_family(plug_id)
    if not family.keyed:
        return f"A {family.name} goes in either way round: match red to red each time, and never let two bare ends touch."
    if family.wired_either_way:
        return f"{family.name} plugs are sold with plus on either pin: compare the wires’ colours before the first use."
    return ""


def family_good_for(continuous_a: float, burst_a: float) -> PlugFamily | None:
    """The smallest family on packs that carries both currents, keyed ones first; None if none does."""
    enough = [
        p
        for p in PLUGS.values()
        if p.on_packs and p.recommended and p.continuous_a >= continuous_a and p.burst_a >= burst_a
    ]
    return min(enough, key=lambda p: (not p.keyed, p.continuous_a, p.resistance_mohm), default=None)
