"""A described job made to run as long as was told."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from coldstack.core.cells.open_circuit import GRID_CELLS, ocv_curve
from coldstack.core.discharge.batch import Ending
from coldstack.core.discharge.simulate import LONGEST_RUN_S, simulate
from coldstack.core.errors import DomainError
from coldstack.core.rules.house_rules import for_chemistry
from coldstack.core.trial.candidates import job_candidates
from coldstack.core.trial.evaluate import loads, pack_columns, surroundings
from coldstack.core.trial.job import Job
from coldstack.core.trial.lively import fresh_pack
from coldstack.core.trial.now import now_pack

LEAST_CELL_MOHM = 0.02
"""Below this no cell of a model is: what was told asks for more than leads and plug let through. [mΩ]"""
TRIES = 14
LONGEST_CALIBRATED_S = 0.8 * LONGEST_RUN_S
"""Runs told to be longer are not simulated to their end: their draw is so small that resting volts serve."""
OVER, CLOSE = 0.0015, 0.02
"""Calibrated runs last this share longer than told, within twice that; where they jump, within CLOSE."""
LEAST_AT_PEAK = 0.7
"""Share of its resting volts that a pack is taken to hold at a peak it survives. House figure."""


def calibrated_to(job: Job, target_s: float, *, tries: int = TRIES) -> Job:
    """The job whose simulation on what it runs on now lands after ``target_s`` and draws the told peak at
    full stick.

    The peak's volts follow at once: resting volts of the full pack less what the peak takes. The volts
    for which the watts of the rest are true are found by bracketing their logarithm. Where the pack
    would end before its landing point, its resistance is less than thought, since its owner runs it to
    there; the peak is still told for the pack as first thought of, so that no other is measured
    against a guess. ``tries``: so many times it is taken to resist less.
    """
    job = replace(job, duty=replace(job.duty, peak_voltage_v=_peak_voltage_v(job)))
    if target_s > LONGEST_CALIBRATED_S:
        return replace(job, duty=replace(job.duty, reference_voltage_v=_mean_resting_v(job)))
    for _ in range(tries):
        found = _with_volts(job, target_s)
        if found is not None:
            return found
        now = job.now
        assert now is not None
        mohm = float(job_candidates(job, [now_pack(now)]).cell_mohm[0])
        if 0.7 * mohm < LEAST_CELL_MOHM:
            break
        job = replace(job, now=replace(now, cell_mohm=0.7 * mohm))
    raise DomainError(
        "told",
        "What was told cannot be: no pack of this size gives so much. Check cells, mAh and minutes.",
    )


def _mean_resting_v(job: Job) -> float:
    """Mean resting volts of the pack of now between full and its landing point: what hours of a small
    draw see. [V]"""
    assert job.now is not None
    of_cell = for_chemistry(job.rules, job.now.chemistry)
    curve = ocv_curve(job.now.chemistry)
    used = slice(round(of_cell.landing_soc * GRID_CELLS), round(of_cell.start_soc * GRID_CELLS) + 1)
    return float(job.now.series * curve[used].mean())


def _peak_voltage_v(job: Job) -> float:
    """Volts of the pack it runs on now, fresh off the charger, under the told peak; at least
    LEAST_AT_PEAK of those at rest. [V]"""
    assert job.now is not None
    one = job_candidates(job, [now_pack(job.now)])
    open_v, ohm = fresh_pack(pack_columns(job, one), surroundings(job).start_c)
    rest_v = float(open_v[0])
    return max(rest_v - float(ohm[0]) * job.duty.peak_current_a, LEAST_AT_PEAK * rest_v)


def _with_volts(job: Job, target_s: float) -> Job | None:
    """As `calibrated_to`, with the pack's resistance as it is; None where the pack ends before its
    landing point."""
    assert job.now is not None
    one = job_candidates(job, [now_pack(job.now)])
    volts = float(one.nominal_v[0])

    def ran(at_v: float) -> tuple[Job, float, bool]:
        trial = replace(job, duty=replace(job.duty, reference_voltage_v=at_v))
        run = simulate(pack_columns(trial, one), loads(trial, one), surroundings(trial))
        landed = int(run.ending[0]) in (int(Ending.REACHED_LANDING), int(Ending.RAN_TOO_LONG))
        return trial, float(np.log(max(run.duration_s[0], 1e-3) / target_s)), landed

    low, high = 0.3 * volts, 2.5 * volts
    best: tuple[Job, float, bool] | None = None
    for _ in range(TRIES):
        trial, off, landed = ran(volts)
        if landed and (best is None or abs(off) < abs(best[1])):
            best = trial, off, landed
        # never short of what was told: a model that wants the minutes it has must find its own pack good
        # enough
        if landed and 0.0 <= off < 2 * OVER:
            return trial
        if off > OVER:
            low = volts
        else:
            high = volts
        # more watts, a shorter run: nearly in proportion while the peaks take less than half
        guess = volts * math.exp(1.3 * (off - OVER))
        volts = guess if low < guess < high else math.sqrt(low * high)
    return best[0] if best is not None and abs(best[1]) < CLOSE else None
