"""Out of packs in the field: charge faster, or bring one more? Both in waiting, cycles and money."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Literal

from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HOUSE_RULES, HouseRules
from coldstack.core.running.day.charging import DayCharge
from coldstack.core.running.day.rotation import MOST_PACKS, Day, rotation
from coldstack.core.units import lower_first
from coldstack.core.units import plain_number as n
from coldstack.core.wear.so_far import good_for_cycles

What = Literal["faster", "one_more"]
FASTEST = HOUSE_RULES["field_day"]
"""What people do who are in a hurry: to the label's rate, at most its 3C."""
WORTH_MIN = 1.0
"""Less waiting than this is no reason for anything. House figure."""


@dataclass(frozen=True, slots=True)
class WayOn:
    """One way to wait less: minutes of waiting left, runs; cycles that each pack is then good for; the day's
    wear in money and what is to be bought, where there is a price; in words."""

    what: What
    waited_min: float
    runs: int
    cycles: float
    wear: float | None
    price: float | None
    sentence: str


def ways_on(
    day: Day, like: Pack, *, rules: HouseRules, charge: DayCharge, charged: Callable[[HouseRules], DayCharge]
) -> list[WayOn]:
    """What charging as fast as the label allows gives and wears, and what one pack more does; empty where
    nobody waits. ``charged``: a charge by other rules on the same port."""
    now = rotation(day)
    if now.waited_min < WORTH_MIN:
        return []
    return [*_faster(day, like, rules, charge, charged), *_one_more(day, like, rules, charge)]


def _wear(like: Pack, runs: int, cycles: float) -> float | None:
    return None if like.price is None else runs * like.price / cycles


def _faster(
    day: Day, like: Pack, rules: HouseRules, charge: DayCharge, charged: Callable[[HouseRules], DayCharge]
) -> list[WayOn]:
    hurried = replace(rules, charge_c_limit=max(FASTEST.charge_c_limit, rules.charge_c_limit))
    fast = charged(hurried)
    before = rotation(day)
    if fast.current_a <= 1.05 * charge.current_a:
        words = f"Charging faster is not possible here; what limits: {lower_first(fast.binding)}."
        usual = good_for_cycles(like, rules)
        return [WayOn("faster", before.waited_min, before.runs, usual, None, None, words)]
    found = rotation(replace(day, charge_min=fast.minutes, charge_wh=fast.wh))
    slow_c, fast_c = charge.current_a / like.capacity_ah, fast.current_a / like.capacity_ah
    slowly, quickly = (good_for_cycles(like, rules, charge_c=c) for c in (slow_c, fast_c))
    saved = before.waited_min - found.waited_min
    fewer = 100 * (1 - quickly / slowly)
    words = f"Charged at {n(fast_c, 2)}C ({n(fast.current_a, 2)} A): {saved:.0f} min less waiting"
    words += f", {found.runs - before.runs} runs more" if found.runs > before.runs else ""
    words += f", and {fewer:.0f} % fewer cycles out of each pack"
    wear = _wear(like, found.runs, quickly)
    if wear is not None:
        words += f": the day wears {wear:.2f} of them instead of {_wear(like, before.runs, slowly):.2f}"
    return [WayOn("faster", found.waited_min, found.runs, quickly, wear, None, f"{words}.")]


def _one_more(day: Day, like: Pack, rules: HouseRules, charge: DayCharge) -> list[WayOn]:
    if day.packs + 1 + len(day.own) > MOST_PACKS:
        return []
    before, found = rotation(day), rotation(replace(day, packs=day.packs + 1))
    cycles = good_for_cycles(like, rules, charge_c=charge.current_a / like.capacity_ah)
    saved = before.waited_min - found.waited_min
    words = f"One pack more like it: {saved:.0f} min less waiting"
    words += f", {found.runs - before.runs} runs more" if found.runs > before.runs else ""
    words += f", for {like.price:.2f} once, and no more wear on any" if like.price is not None else ""
    return [
        WayOn(
            "one_more",
            found.waited_min,
            found.runs,
            cycles,
            _wear(like, found.runs, cycles),
            like.price,
            f"{words}.",
        )
    ]
