"""What a pack has cost so far, and what lying full costs it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from coldstack.core.cells.chemistry import CHEMISTRY_IDS, chemistry
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HouseRules, for_chemistry
from coldstack.core.units import DEG, about_number, written
from coldstack.core.units import plain_number as n
from coldstack.core.wear.cycles import USED_AT_C, cycles_to_80, middle_of, rules_habit
from coldstack.core.wear.lying import END_OF_LIFE, life_lost_lying
from coldstack.core.working import Step, Working

FEWEST_CYCLES = 3
"""Fewer charges tell no cost. House figure."""
LEAST_DAYS = 2.0
"""Lying full for less costs nothing worth a word. House figure."""


def good_for_cycles(pack: Pack, rules: HouseRules, *, charge_c: float | None = None) -> float:
    """Cycles to 80 % that such a pack is mostly good for, used as the house does; charged at ``charge_c``
    where that is given. [1/h]"""
    index = np.array([CHEMISTRY_IDS.index(pack.chemistry)])
    habit = rules_habit(index, pack.charge_c or np.nan, rules)
    if charge_c is not None:
        habit = replace(habit, charge_c=charge_c)
    return float(cycles_to_80(index, habit).middle[0])


def cost_so_far(pack: Pack, cycles: int, run_min: float, left: float | None, rules: HouseRules) -> str:
    """What it has cost an hour, or a charge, until now, and what a charge comes to in the end: by the cycles
    ``left`` that its own readings tell, else by what such packs are good for. Empty without a price, or
    before its third charge."""
    if pack.price is None or cycles < FEWEST_CYCLES:
        return ""
    if run_min > 0:
        hours = run_min / 60
        so_far = f"{pack.price / hours:.2f} an hour so far, over {n(hours, 2)} h of runs"
    else:
        so_far = f"{pack.price / cycles:.2f} a charge so far, over {cycles} of them"
    whole = max(good_for_cycles(pack, rules), cycles) if left is None else cycles + left
    by = "such packs are good for" if left is None else "its readings promise"
    end = f"{pack.price / whole:.2f} a charge if it reaches the {about_number(whole)} that {by}"
    return f"{so_far}; {end}."


def cost_of_lying(
    pack: Pack, days: float, rules: HouseRules, *, cell_v: float | None = None
) -> tuple[str, Working] | None:
    """What lying full, or at these volts, for so many days has cost of its life, beside lying at storage;
    None for a short while, at storage, and where volts do not tell."""
    cell = chemistry(pack.chemistry)
    if days < LEAST_DAYS or cell.storage_v is None or not cell.volts_tell:
        return None
    full_v = for_chemistry(rules, pack.chemistry).full_v
    stored_v = middle_of(cell.storage_v)
    lies_v = full_v if cell_v is None else min(cell_v, full_v)
    if lies_v <= cell.storage_v[1]:
        return None
    share = life_lost_lying(min(days, 3650), lies_v, stored_v, USED_AT_C)
    how = "full" if cell_v is None else f"at {lies_v:.2f} V a cell"
    words = f"Left {how} for {days:.0f} days: about {written(100 * share)} % of its life."
    step = Step(
        "Lost by lying full",
        "(α(as it lies) − α(storage)) · days^0.75 ÷ 20 %",
        f"{lies_v:.2f} V beside {stored_v:.2f} V a cell for {days:.0f} days at {USED_AT_C:g}{DEG}: "
        f"{written(100 * share * END_OF_LIFE)} % of its capacity, {written(100 * share)} % of its life",
        "Schmalstieg and others 2014, of NMC cells: for comparing habits",
    )
    return words, Working("Left full", (step,))
