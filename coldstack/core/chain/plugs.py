"""Plug families of packs: what a mated pair carries. Typical figures; the maker's sheet wins.

Two figures because sellers quote the second as if it were the first. Sources: the trade's usual ratings.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

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
        PlugFamily("bullet_2", "2 mm bullet", 15, 25, 1.6),
        PlugFamily("bullet_3_5", "3.5 mm bullet", 35, 60, 0.8),
        PlugFamily("bullet_4", "4 mm bullet", 50, 80, 0.5),
        PlugFamily("bullet_5_5", "5.5 mm bullet", 80, 130, 0.3),
        PlugFamily("bullet_8", "8 mm bullet", 140, 220, 0.2),
        PlugFamily("rcy", "RCY", 3, 5, 20),
        PlugFamily("sm", "SM", 3, 4, 20),
        PlugFamily("ph_2", "PH 2 mm", 2, 4.5, 25),
        PlugFamily("block_large", "white two-pin block, large", 10, 18, 10),
        PlugFamily("block_small", "white two-pin block, small", 5, 10, 18),
        PlugFamily("integrated", "integrated-balance plug", 50, 80, 1.0),
        PlugFamily("m6", "six-pin M6", 20, 30, 2),
    )
}
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
