"""Everything about a few picked candidates: stack, trace, what to set, ranges, and the working behind each
figure."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

import numpy as np
from numpy.typing import NDArray

from coldstack.core.cells.chemistry import CHEMISTRY_IDS, Chemistry, chemistry
from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.cells.resistance import honest_c_of
from coldstack.core.checks import Check, worst_first
from coldstack.core.discharge.batch import Discharge, Ending, Floats
from coldstack.core.discharge.simulate import Trace
from coldstack.core.fit.fit import Fit, fit_of
from coldstack.core.rules.house_rules import for_chemistry
from coldstack.core.safety.cautions import (
    Caution,
)
from coldstack.core.sizing.derivations import derivations
from coldstack.core.sizing.plates import Plate, plates
from coldstack.core.sizing.statements import statements
from coldstack.core.trial.alarm import LoadAlarm, alarms
from coldstack.core.trial.balance import pack_position_mm
from coldstack.core.trial.candidates import Candidates
from coldstack.core.trial.evaluate import Evaluation, evaluate, runs_to_the_end
from coldstack.core.trial.job import Job
from coldstack.core.trial.spread import MinutesRange, Sensitivity, minutes_range, sensitivity, thermal_c
from coldstack.core.trial.wording import lacks, unmeasured
from coldstack.core.wear.cost import RunningCost, cost_figures, cost_working, running_cost
from coldstack.core.working import Working

TRACE_POINTS = 240


@dataclass(frozen=True, slots=True)
class Moments:
    """Volts under load and more against minutes, thinned for drawing, with the moments worth marking.

    [min], [V], [A]
    """

    minutes: list[float]
    voltage_v: list[float]
    current_a: list[float]
    temperature_c: list[float]
    landing_min: float | None
    alarm_min: float | None
    stop_min: float | None
    alarm_v: float
    cutoff_v: float | None


@dataclass(frozen=True, slots=True)
class Settings:
    """What to set in the model: timer [s], charge to use [mAh], alarm [V per cell]; resting volts after
    landing. [V]"""

    timer_s: int
    budget_mah: float
    alarm_cell_v: float
    rest_cell_v: float


@dataclass(frozen=True, slots=True)
class Detail:
    """One candidate in full."""

    id: str
    name: str
    kind: str
    chemistry: str
    series: int
    parallel: int
    capacity_ah: float
    mass_g: float
    full_v: float
    nominal_v: float
    minutes: float
    minutes_low: float
    minutes_high: float
    widest: str
    """What widens the range most."""
    feasible: bool
    ending: str
    peak_a: float
    rms_a: float
    average_a: float
    end_temperature_c: float
    lowest_v: float
    energy_wh: float
    honest_c: float
    thermal_c: float | None
    cell_mohm: float
    measured: bool
    learnt_from: str
    position_mm: float | None
    price: float | None
    cost_per_h: float | None
    cost_low: float | None
    cost_high: float | None
    """Of an hour of running: price ÷ (cycles × hours a cycle), from which to which; None without a price."""
    cycles: float
    """That it is good for, used as the house does."""
    fit: Fit
    """The verdict in this model, the same on every screen."""
    lacks: list[str]
    checks: list[Check]
    plates: list[Plate]
    trace: Moments
    settings: Settings
    sensitivity: Sensitivity
    cautions: list[Caution]
    questions: list[str]
    """What nobody measured of it and the job hangs on, with how to measure it."""
    workings: dict[str, Working]


def details(job: Job, candidates: Candidates) -> list[Detail]:
    """Up to a handful of candidates in full. Cost is that of a few dozen lanes, not of a plan."""
    e = evaluate(job, candidates)
    spread = minutes_range(job, candidates, e.minutes, np.zeros(len(candidates), bool))
    _, traces = runs_to_the_end(job, candidates)
    found, costs = alarms(job, candidates, e.discharge), running_cost(e)
    return [
        _detail(e, row, spread, _moments(e, row, traces[row], found[row]), found[row], costs)
        for row in range(len(candidates))
    ]


def _detail(
    e: Evaluation,
    row: int,
    spread: MinutesRange,
    trace: Moments,
    alarm: LoadAlarm,
    costs: RunningCost,
) -> Detail:
    c, d, job = e.candidates, e.discharge, e.job
    cell = chemistry(CHEMISTRY_IDS[int(c.chemistry_index[row])])
    rules = for_chemistry(job.rules, cell.id)
    minutes = float(e.minutes[row])
    sens = sensitivity(job, c, row, minutes)
    heat_c = thermal_c(job, c, row)
    settings = _settings(e, row, spread, alarm)
    position = float(pack_position_mm(job, c.mass_g[row : row + 1])[0])
    numeric = [x.check(row) for x in e.checks]
    facts = statements(e, row, alarm=alarm, fragile=bool(spread.fragile[row]))
    return Detail(
        **_of_pack(c, row, cell),
        minutes=minutes,
        minutes_low=float(spread.low[row]),
        minutes_high=float(spread.high[row]),
        widest=spread.most(row),
        feasible=bool(e.feasible[row]),
        ending=Ending(int(d.ending[row])).name.lower(),
        **_of_run(d, row),
        **cost_figures(costs, row),
        cycles=float(costs.cycles.middle[row]),
        honest_c=honest_c_of(float(c.cell_mohm[row]), float(c.capacity_ah[row])),
        thermal_c=heat_c,
        position_mm=None if math.isnan(position) else position,
        fit=fit_of(e, row),
        lacks=lacks(e, row),
        checks=worst_first([*numeric, *facts]),
        plates=plates(e, row),
        trace=trace,
        settings=settings,
        sensitivity=sens,
        cautions=[caution] if (caution := c.kind(row).caution) else [],
        questions=unmeasured(e.job, e.candidates, row) if e.real[row] else [],
        workings={
            **derivations(e, row, spread, rules, settings.timer_s, heat_c, sens, alarm),
            "cost": cost_working(e, costs, row),
        },
    )


def _of_pack(c: Candidates, row: int, cell: Chemistry) -> dict[str, Any]:
    return {
        "id": c.ids[row],
        "name": c.names[row],
        "kind": c.kind(row).id,
        "chemistry": cell.id,
        "series": int(c.series[row]),
        "parallel": int(c.parallel[row]),
        "capacity_ah": float(c.capacity_ah[row]),
        "mass_g": float(c.mass_g[row]),
        "full_v": cell.full_v * float(c.series[row]),
        "nominal_v": cell.nominal_v * float(c.series[row]),
        "cell_mohm": float(c.cell_mohm[row]),
        "measured": bool(c.measured[row]),
        "learnt_from": c.learnt_from(row),
        "price": None if math.isnan(c.price[row]) else float(c.price[row]),
    }


def _of_run(d: Discharge, row: int) -> dict[str, Any]:
    return {
        "peak_a": float(d.peak_current_a[row]),
        "rms_a": float(d.rms_current_a[row]),
        "average_a": float(d.average_current_a[row]),
        "end_temperature_c": float(d.end_temperature_c[row]),
        "lowest_v": float(d.lowest_voltage_v[row]),
        "energy_wh": float(d.energy_wh[row]),
    }


def _settings(e: Evaluation, row: int, spread: MinutesRange, alarm: LoadAlarm) -> Settings:
    """Timer: the low end of the range, rounded down to 10 s, so that it rings before the landing point, not
    after it."""
    d, c, share = e.discharge, e.candidates, e.job.used_share
    soc = float(np.clip(d.end_soc[row], 0.0, 1.0))
    return Settings(
        timer_s=spread.timer_s(row) if share == 1 else int(share * spread.timer_s(row)) // 10 * 10,
        budget_mah=share * float(d.used_ah[row]) * 1000,
        alarm_cell_v=alarm.cell_v,
        rest_cell_v=resting_voltage(CHEMISTRY_IDS[int(c.chemistry_index[row])], soc),
    )


def _moments(e: Evaluation, row: int, trace: Trace, alarm: LoadAlarm) -> Moments:
    keep = thinned(trace.voltage_v)
    rules = for_chemistry(e.job.rules, CHEMISTRY_IDS[int(e.candidates.chemistry_index[row])])
    series = float(e.candidates.series[row])
    landed = e.discharge.ending[row] == int(Ending.REACHED_LANDING)
    stops = e.job.electronics.cutoff == "programmable"
    minutes = trace.time_s / 60
    return Moments(
        minutes=minutes[keep].tolist(),
        voltage_v=trace.voltage_v[keep].tolist(),
        current_a=trace.current_a[keep].tolist(),
        temperature_c=trace.temperature_c[keep].tolist(),
        landing_min=float(e.minutes[row]) if landed else None,
        alarm_min=None if alarm.sounds_s is None else alarm.sounds_s / 60,
        stop_min=float(minutes[-1]) if len(minutes) else None,
        alarm_v=alarm.cell_v * series,
        cutoff_v=rules.cutoff_v * series if stops else None,
    )


def thinned(values: Floats) -> NDArray[np.int64]:
    """Positions that draw a curve as all of them would: of each short stretch its first, lowest, highest and
    last."""
    n = len(values)
    if n <= TRACE_POINTS:
        return np.arange(n)
    edges = np.linspace(0, n, TRACE_POINTS // 4 + 1).astype(int)
    parts = pairwise(edges.tolist())
    kept = {int(k) for a, b in parts for k in (a, a + values[a:b].argmin(), a + values[a:b].argmax(), b - 1)}
    return np.array(sorted(kept))
