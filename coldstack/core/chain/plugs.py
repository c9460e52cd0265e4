"""Plug families of packs: what a mated pair carries. Typical figures; the maker's sheet wins.

Two figures because sellers quote the second as if it were the first. Sources: the trade's usual ratings.
Families of one's own stand beside the table's (`own_plugs.py` keeps them), and everything here asks for
both alike.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from contextvars import ContextVar
from dataclasses import dataclass, replace
from types import MappingProxyType
from typing import Annotated, Literal

from coldstack.core.chain.warmth import BURST_S, PLUG_RISE_AT_RATING_K
from coldstack.core.errors import DomainError
from coldstack.core.fields.common import PLUG_RESISTANCE
from coldstack.core.fields.quantity import Choice, Quantity, Words, YesNo

ContactShape = Literal["round", "blade", "square"]
CONTACT_SHAPES: dict[ContactShape, str] = {
    "round": "round pins or tubes",
    "blade": "flat blades",
    "square": "thin pins in a row",
}
"""Contacts as one would call them."""
_MM = Quantity("", unit="mm", low=0.2, high=100, step=0.1)


@dataclass(frozen=True, slots=True)
class PlugFamily:
    """A mated pair: continuous and burst current [A], resistance of both poles together [mΩ]."""

    id: str
    name: Annotated[str, Words("Name", least=2, most=40)]
    continuous_a: Annotated[float, Quantity("Continuous", "current amps", "", "A", 0.1, 1000, 5, (3, 140))]
    burst_a: Annotated[
        float,
        Quantity(
            "For ten seconds",
            words="burst burst_current peak_current",
            hint="left empty, no more than continuous",
            unit="A",
            low=0.1,
            high=2000,
            step=5,
            usual=(5, 220),
        ),
    ]
    resistance_mohm: Annotated[float, PLUG_RESISTANCE]
    warms_s: float | None = None
    """Time constant of its warmth; None for what its two ratings let one expect."""
    keyed: Annotated[bool, YesNo("Goes in one way only")] = True
    """Whether the shape forbids plugging in the wrong way round; single bullets do not."""
    wired_either_way: Annotated[bool, YesNo("Sold with plus on either pin")] = False
    """Sold by different makers with plus on either pin."""
    on_packs: bool = True
    recommended: bool = True
    """Whether to name it as a cure; old blocks and odd plugs are not."""
    spark_guard: Annotated[bool, YesNo("Has a spark guard")] = False
    """A resistor in its first contact takes the spark of plugging in."""
    alike: Annotated[bool, YesNo("Both halves are alike")] = False
    """Both ends are the same shape, and each mates with any other."""
    mates_with: Annotated[frozenset[str], Choice("Also goes into", of="output_plugs")] = frozenset()
    """Other families that it plugs into."""
    mistaken_for: Annotated[frozenset[str], Choice("Is mistaken for", of="output_plugs")] = frozenset()
    """Families that are bought for it by mistake."""
    contact_shape: Annotated[
        Literal["", ContactShape], Choice("Its contacts", of="contact_shapes", empty="nobody looked")
    ] = ""
    contact_mm: Annotated[float | None, replace(_MM, label="Width of a contact", usual=(0.5, 10))] = None
    apart_mm: Annotated[
        float | None,
        replace(_MM, label="Between their middles", hint="left empty: each pole has its own", usual=(1, 20)),
    ] = None
    shell_width_mm: Annotated[float | None, replace(_MM, label="Width of the shell", usual=(3, 40))] = None
    shell_height_mm: Annotated[float | None, replace(_MM, label="Height of the shell", usual=(2, 25))] = None

    @property
    def time_constant_s(self) -> float:
        """How quickly it warms: in so many seconds to two thirds of a steady rise. House figure. [s]"""
        return warming_s(self.continuous_a, self.burst_a) if self.warms_s is None else self.warms_s


PLUGS: dict[str, PlugFamily] = {
    p.id: p
    for p in (
        PlugFamily("xt30", "XT30", 15, 30, 1.4, 15),
        PlugFamily("xt60", "XT60", 30, 60, 1.0, 25),
        PlugFamily("xt90", "XT90", 45, 90, 0.6, 45),
        PlugFamily("ec2", "EC2", 20, 30, 1.4, 15),
        PlugFamily("ec3", "EC3", 35, 60, 1.0, 25),
        PlugFamily("ec5", "EC5", 60, 120, 0.5, 45),
        PlugFamily("xt120", "XT120", 60, 120, 0.5, 45),
        PlugFamily("xt150", "XT150", 70, 150, 0.4, 45),
        PlugFamily("as150", "AS150", 80, 150, 0.4, 40, spark_guard=True),
        PlugFamily("qs8", "QS8", 110, 200, 0.25, 40, spark_guard=True),
        PlugFamily("t_plug", "T-plug", 25, 50, 1.2, 20),
        PlugFamily("bullet_2", "2 mm bullet", 15, 25, 1.6, 12, keyed=False, recommended=False),
        PlugFamily("bullet_3_5", "3.5 mm bullet", 35, 60, 0.8, 18, keyed=False),
        PlugFamily("bullet_4", "4 mm bullet", 50, 80, 0.5, 22, keyed=False),
        PlugFamily("bullet_5", "5 mm bullet", 70, 110, 0.35, 25, keyed=False),
        PlugFamily("bullet_5_5", "5.5 mm bullet", 80, 130, 0.3, 28, keyed=False),
        PlugFamily("bullet_6", "6 mm bullet", 90, 150, 0.28, 30, keyed=False),
        PlugFamily("bullet_6_5", "6.5 mm bullet", 100, 170, 0.25, 32, keyed=False),
        PlugFamily("bullet_8", "8 mm bullet", 140, 220, 0.2, 28, keyed=False),
        PlugFamily("rcy", "RCY", 3, 5, 20, 15, wired_either_way=True),
        PlugFamily("sm", "SM", 3, 4, 20, 15, wired_either_way=True, recommended=False),
        PlugFamily("ph_2", "PH 2 mm", 2, 4.5, 25, 20, wired_either_way=True, recommended=False),
        PlugFamily("pin_1", "1 mm one-cell pins", 4.5, 9, 8, 20, recommended=False),
        PlugFamily("micro_125", "1.25 mm one-cell", 1, 2, 45, 25, recommended=False),
        PlugFamily("block_large", "white two-pin block, large", 10, 18, 10, 15, recommended=False),
        PlugFamily("block_small", "white two-pin block, small", 5, 10, 18, 15, recommended=False),
        PlugFamily("integrated", "integrated-balance plug", 50, 80, 1.0, 28, recommended=False),
        PlugFamily("m6", "six-pin M6", 20, 30, 2, 20, recommended=False),
        PlugFamily("banana_4", "4 mm banana", 20, 30, 1.5, 22, keyed=False, on_packs=False),
    )
}
WARMED_BY_BURST_K = 40.0
"""A plug of which only the ratings are known is taken to warm by so much in ten seconds at its burst amps.
House figure."""
QUICKEST_S, SLOWEST_S = 10.0, 60.0


def warming_s(continuous_a: float, burst_a: float) -> float:
    """Time constant of a plug by its ratings: ten seconds at the second warm it by WARMED_BY_BURST_K. [s]"""
    steady_k = PLUG_RISE_AT_RATING_K * (burst_a / continuous_a) ** 2
    if steady_k <= WARMED_BY_BURST_K:
        return QUICKEST_S
    found = -BURST_S / math.log(1 - WARMED_BY_BURST_K / steady_k)
    return min(max(found, QUICKEST_S), SLOWEST_S)


LOOK_ALIKES = frozenset(
    frozenset(pair)
    for pair in (
        ("xt30", "xt60"),
        ("ec2", "ec3"),
        ("ec3", "ec5"),
        ("rcy", "sm"),
        ("xh", "eh"),
        ("xt90", "xt120"),
        ("xt150", "as150"),
        ("bullet_5", "bullet_5_5"),
        ("bullet_5_5", "bullet_6"),
        ("ph_2", "micro_125"),
        ("bullet_6", "bullet_6_5"),
    )
)
"""Neighbours that are bought by mistake for each other."""

_own: dict[str, PlugFamily] = {}
"""Families of one's own by id; `own_plugs.set_own_plugs` alone writes here, all of them at once."""
_announced: ContextVar[Mapping[str, PlugFamily]] = ContextVar("announced", default=MappingProxyType({}))
"""Families that a file brings, while it is being checked."""


def plug_families() -> dict[str, PlugFamily]:
    """Every family by id: the table's, then one's own."""
    return {**PLUGS, **_own, **_announced.get()}


def plug_family(plug_id: str) -> PlugFamily:
    """The family with this id; raises DomainError for an unknown one."""
    family = PLUGS.get(plug_id) or _own.get(plug_id) or _announced.get().get(plug_id)
    if family is None:
        raise DomainError("plug", f"Plug must be one of {', '.join(plug_families())}, not “{plug_id}”.")
    return family


Half = Literal["pack", "device"]
"""Packs carry one half of a family (its live contacts covered), models and chargers the other."""


@dataclass(frozen=True, slots=True)
class PlugEnd:
    """One loose end: a family and which of its halves."""

    family: str
    half: Half = "pack"

    @property
    def mate(self) -> PlugEnd:
        """The end of its own family that it plugs into."""
        return PlugEnd(self.family, "device" if self.half == "pack" else "pack")

    def mates(self, other: PlugEnd) -> bool:
        """Whether they plug together: one family or two that are made for each other, and opposite halves."""
        mine, yours = plug_family(self.family), plug_family(other.family)
        if self.family != other.family and not (
            other.family in mine.mates_with or self.family in yours.mates_with
        ):
            return False
        return self.half != other.half or (mine.alike and yours.alike)


def pair_family(a: PlugEnd, b: PlugEnd) -> str:
    """The family whose figures hold for a mated pair: the weaker of the two."""
    return min(a.family, b.family, key=lambda f: plug_family(f).continuous_a)


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
    if a.mates(b):
        both = (
            f"{first.name} on both sides" if a.family == b.family else f"{first.name} goes into {second.name}"
        )
        halves = "" if first.alike else ", opposite halves"
        guard = " Its spark guard takes the first spark." if first.spark_guard and second.spark_guard else ""
        return Mating(True, False, f"{both}{halves}.{guard}", polarity_caution(pair_family(a, b)))
    if a.family != b.family and first.id not in second.mates_with and second.id not in first.mates_with:
        alike = are_look_alikes(a.family, b.family)
        words = f"{first.name} and {second.name} do not mate"
        tail = (
            ": they look alike, but are different sizes. Forced together they make poor contact."
            if alike
            else "."
        )
        return Mating(False, alike, words + tail, "")
    name = first.name if a.family == b.family else f"{first.name} and {second.name}"
    return Mating(False, False, f"Both ends are the same half of {name}: they cannot plug together.", "")


def are_look_alikes(a: str, b: str) -> bool:
    """Whether two families are taken for each other."""
    if frozenset((a, b)) in LOOK_ALIKES:
        return True
    known = plug_families()
    return any(x in known and y in known[x].mistaken_for for x, y in ((a, b), (b, a)))


def polarity_caution(plug_id: str) -> str:
    """What to check by hand where a plug's shape does not settle which wire is plus; empty where it does."""
    family = plug_family(plug_id)
    if not family.keyed:
        return (
            f"A {family.name} goes in either way round: match red to red each time, and never let two "
            "bare ends touch."
        )
    if family.wired_either_way:
        return (
            f"{family.name} plugs are sold with plus on either pin: compare the wires’ colours before "
            "the first use."
        )
    return ""
