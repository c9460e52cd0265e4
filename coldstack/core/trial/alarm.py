"""The alarm by the load: the volts under this load a minute before the landing.

An alarm that is the same for every load is late under a light one and early under a heavy one. What is set
lies between the house's floor and a little over the resting volts of the landing point.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from coldstack.core.cells.chemistry import CHEMISTRY_IDS, chemistry
from coldstack.core.chain.adapters import Adapter
from coldstack.core.chain.own_plugs import depends_on_plugs
from coldstack.core.discharge.batch import Discharge
from coldstack.core.discharge.simulate import simulate
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import CellRules, HouseRules, for_chemistry
from coldstack.core.trial.candidates import Candidates, job_candidates
from coldstack.core.trial.evaluate import loads, pack_columns, surroundings
from coldstack.core.trial.job import Job
from coldstack.core.trial.lasting import longest_for
from coldstack.core.units import clock, plain_number
from coldstack.core.working import Step, Working

BEFORE_S = 60.0
BEFORE_SHARE = 0.2
"""So long before the landing it should sound, or so much of a shorter run. House figures."""
OVER_REST_V = 0.05
"""Of a LiPo cell over its resting volts at the landing point: no alarm is set higher. House figure. [V]"""
STEP_V, STEP_OF_WHOLE_V = 0.01, 0.05
"""What an alarm can be set by: where cells are read, and a cell's share where only the whole pack is. House
figures. [V]"""


@dataclass(frozen=True, slots=True)
class LoadAlarm:
    """What to set [V per cell], when it then first sounds [s] (None for never before the end), and what
    decided: the load, the house's floor, or the ceiling."""

    cell_v: float
    sounds_s: float | None
    landing_s: float
    by: str

    @property
    def early(self) -> bool:
        """Whether it sounds long before it should: the volts dip under load."""
        return self.sounds_s is not None and self.sounds_s < self.landing_s - 2 * before_s(self.landing_s)


def before_s(landing_s: float) -> float:
    """How long before the landing it should sound. [s]"""
    return min(BEFORE_S, BEFORE_SHARE * landing_s)


def alarms(job: Job, c: Candidates, run: Discharge) -> list[LoadAlarm]:
    """What to set for a few candidates, by their runs from full. Every height that can be set is tried, all
    in one batch."""
    packs = pack_columns(job, c)
    heights = [_heights(job.rules, CHEMISTRY_IDS[int(k)]) for k in c.chemistry_index]
    rows = np.repeat(np.arange(len(c)), [len(h) for h in heights])
    many = replace(packs.take(rows), alarm_cell_v=np.concatenate(heights)) if len(c) else packs
    sounds = simulate(
        many, loads(job, c.take(rows)), surroundings(job), longest_run_s=longest_for(job)
    ).alarm_s
    return [_chosen(h, sounds[rows == k], float(run.duration_s[k])) for k, h in enumerate(heights)]


def _heights(rules: HouseRules, chemistry_id: str) -> np.ndarray:
    """From the house's floor to a little over the landing's resting volts, in steps that can be set. [V]"""
    cell, of_cell = chemistry(chemistry_id), for_chemistry(rules, chemistry_id)
    lipo = chemistry("lipo")
    over_v = OVER_REST_V * (cell.full_v - cell.empty_rest_v) / (lipo.full_v - lipo.empty_rest_v)
    step = STEP_V if cell.balanced else STEP_OF_WHOLE_V
    floor = of_cell.alarm_v if cell.balanced else step * np.ceil(of_cell.alarm_v / step - 1e-6)
    ceiling = max(of_cell.landing_rest_v + over_v, floor)
    first, last = np.floor(floor / step + 1e-6) + 1, np.floor(ceiling / step + 1e-6)
    return np.concatenate(([floor], step * np.arange(first, last + 1)))


def _chosen(heights: np.ndarray, sounds_s: np.ndarray, landing_s: float) -> LoadAlarm:
    """The lowest that sounds soon enough; the highest where none does."""
    soon = np.nan_to_num(sounds_s, nan=np.inf) <= landing_s - before_s(landing_s)
    k = int(np.argmax(soon)) if soon.any() else len(heights) - 1
    by = "floor" if soon.any() and k == 0 else "load" if soon.any() else "ceiling"
    at = float(sounds_s[k])
    return LoadAlarm(round(float(heights[k]), 3), None if np.isnan(at) else at, landing_s, by)


@lru_cache(maxsize=256)
def alarm_of(job: Job, pack: Pack, pieces: tuple[Adapter, ...] = ()) -> LoadAlarm:
    """What to set for one pack, full, as it is today."""
    one = job_candidates(job, [pack], pieces)
    return alarms(
        job,
        one,
        simulate(pack_columns(job, one), loads(job, one), surroundings(job), longest_run_s=longest_for(job)),
    )[0]


depends_on_plugs(alarm_of.cache_clear)


def alarm_working(
    house: HouseRules, rules: CellRules, alarm: LoadAlarm, chemistry_id: str, series: int
) -> Working:
    """Where the alarm is set: from the house rule's floor, and the load."""
    n = plain_number
    when = f"sounds at {clock(alarm.sounds_s)}" if alarm.sounds_s is not None else "does not sound before"
    why = {
        "load": "the lowest that sounds so long before the landing under this load",
        "floor": "the house’s floor sounds soon enough; never lower",
        "ceiling": "no alarm is set higher: go by the timer",
    }[alarm.by]
    return Working(
        "Alarm",
        (
            Step(
                "House rule: never lower",
                "volts per LiPo cell under load",
                f"{n(house.alarm_loaded_v)} V",
                f"House rules “{house.name}”",
            ),
            Step(
                f"The same height in {chemistry(chemistry_id).name}",
                "between empty and full, never below what damages the cell",
                f"{n(rules.alarm_v)} V a cell",
            ),
            Step(
                "Under this load",
                f"{before_s(alarm.landing_s):.0f} s before the landing at {clock(alarm.landing_s)}",
                f"{n(alarm.cell_v)} V a cell {when}",
                why,
            ),
            Step(
                "On the pack",
                "cells × volts",
                f"{series} × {n(alarm.cell_v)} V = {n(series * alarm.cell_v)} V",
            ),
        ),
    )
