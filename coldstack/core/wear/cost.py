"""What an hour of running costs: price ÷ (cycles it is good for × hours a cycle)."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from coldstack.core.cells.chemistry import CHEMISTRIES, CHEMISTRY_IDS
from coldstack.core.discharge.batch import Ending, Floats
from coldstack.core.trial.evaluate import Evaluation
from coldstack.core.units import DEG, about_number
from coldstack.core.units import plain_number as n
from coldstack.core.wear.cycles import CYCLES, Cycles, Habit, cycles_to_80, rules_habit
from coldstack.core.working import Step, Working

HOURS_A_DAY = 24.0
MINDS_FULL = 0.5
"""Of the hours within which the house brings a pack to storage, how long it lies full. House figure."""


@dataclass(frozen=True, slots=True)
class RunningCost:
    """Cost of an hour of running, from which to which, in the currency of the prices; NaN without a price.
    The cycles, the hours a cycle, and the habit that it goes by. Shape (N,)."""

    per_h: Floats
    low: Floats
    high: Floats
    cycles: Cycles
    hours: Floats
    habit: Habit


def house_habit(e: Evaluation) -> Habit:
    """How the house uses each candidate in this job: charge rate and end by the rules, share used, the cells'
    heat and load as simulated."""
    c, d, rules = e.candidates, e.discharge, e.job.rules
    label_c = [p.charge_c if p is not None and p.charge_c else np.nan for p in c.packs]
    load = np.nan_to_num(np.fmax(d.rms_current_a / c.continuous_a, d.peak_current_a / c.burst_a))
    return replace(
        rules_habit(c.chemistry_index, label_c, rules),
        landing_c=np.nan_to_num(d.end_temperature_c, nan=40.0),
        load=load,
        full_days=MINDS_FULL * rules.storage_within_h / HOURS_A_DAY,
    )


def running_cost(e: Evaluation) -> RunningCost:
    """Cost of an hour of each candidate, by the house's habit."""
    c, habit = e.candidates, house_habit(e)
    cycles, hours = cycles_to_80(c.chemistry_index, habit), _hours_a_cycle(e, habit)
    per_h, low, high = (c.price / (x * hours) for x in (cycles.middle, cycles.high, cycles.low))
    return RunningCost(per_h, low, high, cycles, hours, habit)


def _hours_a_cycle(e: Evaluation, habit: Habit) -> Floats:
    """Hours that one charge is used for; runs that a plan did not follow to their end as long as their charge
    reaches. [h]"""
    d = e.discharge
    reach = e.candidates.capacity_ah * np.asarray(habit.depth) / np.maximum(d.used_ah, 1e-9)
    cut = d.ending == int(Ending.RAN_TOO_LONG)
    minutes = np.where(cut, e.minutes * np.maximum(reach, 1.0), e.minutes)
    return np.asarray(np.maximum(minutes * e.job.used_share, 1e-6) / 60.0)


def cost_working(e: Evaluation, found: RunningCost, row: int) -> Working:
    """How the cost of an hour follows, or the cycles alone where nobody gave a price."""
    c, habit = e.candidates, found.habit
    chemistry_id = CHEMISTRY_IDS[int(c.chemistry_index[row])]
    middle, low, high = CYCLES[chemistry_id]

    def at(name: str) -> float:
        value = np.asarray(getattr(habit, name), float)
        return float(value if value.ndim == 0 else value[row])

    told = (
        f"charged at {n(at('charge_c'))}C, {100 * at('depth'):.0f} % used, {at('landing_c'):.0f}{DEG} when "
        f"landing, {100 * at('load'):.0f} % of what its cells give"
    )
    cycles, hours = float(found.cycles.middle[row]), float(found.hours[row])
    steps = [
        Step("Usual cycles", CHEMISTRIES[chemistry_id].name, f"{middle:g} ({low:g} to {high:g}) to 80 %"),
        Step("Used so", told, f"about {about_number(cycles)} cycles"),
    ]
    if np.isfinite(found.per_h[row]):
        price = n(float(c.price[row]), 4)
        numbers = f"{price} ÷ ({about_number(cycles)} × {n(hours, 2)} h) = {found.per_h[row]:.2f}"
        ends = f"{found.low[row]:.2f} to {found.high[row]:.2f}"
        steps.append(Step("An hour", "price ÷ (cycles × hours a cycle)", f"{numbers} ({ends})"))
    note = "House figures from what practitioners report; lying full by ageing data of another chemistry."
    return Working("Cost of an hour", tuple(steps), note)


def cost_figures(found: RunningCost, row: int) -> dict[str, Any]:
    """The cost of an hour of one candidate as replies say it; None without a price."""
    ends = {"cost_per_h": found.per_h, "cost_low": found.low, "cost_high": found.high}
    return {name: float(x[row]) if np.isfinite(x[row]) else None for name, x in ends.items()}
