"""What a day begins with where nobody says: packs alike in the box, the charger that fills one soonest."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from coldstack.core.cells.resistance import LabelTrust
from coldstack.core.charging.charger import Charger, Supply
from coldstack.core.matching.charge import Bench, best_feed, charge_fit, fit_minutes
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HouseRules

PORTS, PORT_W, HOURS = 1, 50.0, 5.0
"""Of whom nothing is known. House figures. [W], [h]"""
SO_LARGE = 0.05
"""Packs whose capacities differ by less take turns alike. House figure."""


@dataclass(frozen=True, slots=True)
class UsualDay:
    """Packs in turn, ports at once and watts of each, and the charger that has them; its name is empty where
    nothing here charges the pack. [W]"""

    packs: int
    ports: int
    port_w: float
    charger: str = ""


def usual_day(
    like: Pack,
    box: Sequence[Pack],
    chargers: Sequence[Charger],
    *,
    supplies: Sequence[Supply],
    bench: Bench,
    rules: HouseRules,
    trust: LabelTrust,
) -> UsualDay:
    """By what is owned: how many packs are as this one, and the charger that charges it soonest with all its
    ports in use."""
    alike = [p for p in box if p.fit and _takes_turns(p, like)]
    found: list[tuple[float, float, Charger]] = []
    for c in chargers:
        feed = best_feed(c, supplies, ports_in_use=c.ports)
        fit = charge_fit(like, c, rules=rules, feed=feed, bench=bench)
        if fit.possible:
            total_w = c.total_w(feed.source)
            supply_w = feed.supply.power_w if feed.supply else total_w
            each_w = min(c.port_w, total_w / c.ports, supply_w / c.ports)
            found.append((fit_minutes([fit], rules=rules, trust=trust)[0] / c.ports, each_w, c))
    packs = max(len(alike), 1)
    if not found:
        return UsualDay(packs, PORTS, PORT_W)
    _, each_w, best = min(found, key=lambda x: (x[0], x[2].name))
    return UsualDay(packs, best.ports, float(f"{each_w:.3g}"), best.name)


def _takes_turns(one: Pack, other: Pack) -> bool:
    if (one.chemistry, one.series) != (other.chemistry, other.series):
        return False
    return abs(one.capacity_ah / other.capacity_ah - 1) <= SO_LARGE
