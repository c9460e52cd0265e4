"""Two equal packs joined, in series or in parallel, as one candidate."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from coldstack.core.chain.own_plugs import plug_column
from coldstack.core.packs.health import LEVELS, StateOfHealth
from coldstack.core.packs.kinds import KINDS, kind_index
from coldstack.core.packs.pack import Pack
from coldstack.core.trial.candidates import Candidates

PAIR_MASS = 1.05
"""A pair and its harness over two packs."""
SOLD_IN_ONE = 9
"""From so many cells on packs are mostly two in series. House figure."""


def joinable(packs: Sequence[Pack]) -> tuple[list[int], list[Pack]]:
    """Positions of packs of which one can have two, and what each of the two is like.

    A pack on sale can be bought twice. An owned one needs its like in the box: same name and figures;
    the pair is then as heavy as both and as weak as the weaker. Typical packs stand for one pack only.
    """
    rows: list[int] = []
    halves: list[Pack] = []
    for row, other in twins(packs):
        rows.append(row)
        halves.append(packs[row] if row == other else weaker(packs[row], packs[other]))
    return rows, halves


def twins(packs: Sequence[Pack]) -> list[tuple[int, int]]:
    """Positions of two that are alike, each in one pair at most; of one that can be bought twice its own
    twice."""
    found: list[tuple[int, int]] = []
    waiting: dict[tuple[object, ...], int] = {}
    for row, pack in enumerate(packs):
        if KINDS[pack.kind].sold:
            found.append((row, row))
        elif pack.owned and pack.fit:
            like = (pack.name, pack.chemistry, pack.series, pack.parallel, pack.capacity_ah)
            other = waiting.pop(like, None)
            if other is None:
                waiting[like] = row
            else:
                found.append((other, row))
    return found


def weaker(one: Pack, other: Pack) -> Pack:
    """A pack that stands for each of two: mean mass and price, the higher resistance, the larger box,
    the lesser ratings."""

    def worst(name: str, pick: Callable[[list[float]], float], *, needs_both: bool = False) -> float | None:
        known = [v for p in (one, other) if (v := getattr(p, name)) is not None]
        return None if not known or (needs_both and len(known) < 2) else pick(known)

    return replace(
        one,
        today=_weaker_state(one, other),
        mass_g=(one.mass_g + other.mass_g) / 2,
        cell_mohm=worst("cell_mohm", max, needs_both=True),
        length_mm=worst("length_mm", max, needs_both=True),
        width_mm=worst("width_mm", max, needs_both=True),
        height_mm=worst("height_mm", max, needs_both=True),
        label_c=worst("label_c", min),
        label_burst_c=worst("label_burst_c", min),
    )


def _weaker_state(one: Pack, other: Pack) -> StateOfHealth:
    """What each of two holds and resists at worst; their cells are told apart no further."""
    worst = max((one, other), key=lambda p: LEVELS.index(p.level))
    held = one.measured_ah is not None or other.measured_ah is not None
    resist = (one.measured_mohm, other.measured_mohm)
    known = [r for r in resist if r is not None]
    return StateOfHealth(
        level=worst.level,
        capacity_ah=min(one.held_ah, other.held_ah) if held else None,
        cell_mohm=max(known) if len(known) == len(resist) else None,
        sign=worst.today.sign if worst.today else "",
        records_wanted=max(p.today.records_wanted if p.today else 0 for p in (one, other)),
    )


def pairs(singles: Candidates) -> Candidates:
    """Two equal packs joined: first all series pairs, then all parallel ones.

    In series the cells add, in parallel the capacities. A harness adds 5 % mass; the plug of each pack
    carries all the current in series and half of it in parallel. The boxes lie on top of each other along
    their thinner side; `trial.lying` tries other ways in a bay.
    """
    each_mohm = singles.outside_mohm + plug_column("resistance_mohm")[singles.plug_index]
    two, n = replace(singles, **_of_two(singles)), len(singles)
    in_series = replace(
        two,
        ids=[f"series:{i}" for i in singles.ids],
        names=[f"2 × {name} in series" for name in singles.names],
        kind_index=np.full(n, kind_index("series pair")),
        series=2 * singles.series,
        outside_mohm=2 * each_mohm,
    )
    in_parallel = replace(
        two,
        ids=[f"parallel:{i}" for i in singles.ids],
        names=[f"2 × {name} in parallel" for name in singles.names],
        kind_index=np.full(n, kind_index("parallel pair")),
        parallel=2 * singles.parallel,
        capacity_ah=2 * singles.capacity_ah,
        cell_mohm=singles.cell_mohm / 2,
        continuous_a=2 * singles.continuous_a,
        burst_a=2 * singles.burst_a,
        outside_mohm=each_mohm / 2,
        lead_continuous_a=2 * singles.lead_continuous_a,
        plug_continuous_a=2 * singles.plug_continuous_a,
        plug_burst_a=2 * singles.plug_burst_a,
    )
    return Candidates.joined([in_series, in_parallel])


def _of_two(singles: Candidates) -> dict[str, Any]:
    """Mass, box and price of two and the harness that joins them."""
    wide, thin = (pick(singles.width_mm, singles.height_mm) for pick in (np.maximum, np.minimum))
    return {
        "mass_g": singles.mass_g * 2 * PAIR_MASS,
        "width_mm": wide,
        "height_mm": 2 * thin,
        "price": singles.price * 2,
    }
