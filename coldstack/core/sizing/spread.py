"""How sure the minutes are, and what they hang on: ranges, sensitivities, the turning point, the thermal C."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from coldstack.core.discharge.batch import Floats, PackColumns
from coldstack.core.discharge.simulate import simulate
from coldstack.core.draw.scaling import PhaseLoad
from coldstack.core.sizing.candidates import Candidates
from coldstack.core.sizing.columns import HOTTEST_CELL_C
from coldstack.core.sizing.evaluate import loads, pack_columns, surroundings
from coldstack.core.sizing.front import turning_mass_g
from coldstack.core.sizing.job import Job

COLDER_K = 10.0
FRAGILE_SHARE = 0.5
EXTRA_MASSES_G = (100.0, 10.0, 1.0)
"""How much more mass to try: the largest that is no more than the pack's own."""
COARSE_STEP_S = 40.0
COARSE_STRETCHES = 6.0
SWEEP_STEPS = 18
THERMAL_STEPS = 14
THERMAL_BLOCK_S = 40.0


@dataclass(frozen=True, slots=True)
class MinutesRange:
    """Minutes with the range that resistance, capacity and draw leave open; columns of shape (N,).

    The three are varied one at a time; their effects, up and down apart, are added as squares. ``by_*`` is half the
    difference that each makes. [min] ``fragile``: with the higher resistance the controller would stop in less than half
    the time, so that effect is told in words and is not in the range.
    """

    minutes: Floats
    low: Floats
    high: Floats
    by_resistance: Floats
    by_capacity: Floats
    by_draw: Floats
    fragile: NDArray[np.bool_]


def minutes_range(job: Job, c: Candidates, minutes: Floats, cut_short: NDArray[np.bool_]) -> MinutesRange:
    """Range of the minutes of a few candidates, in one batch of seven runs each.

    ``cut_short``: runs that the plan followed no further; their minutes are taken from the batch.
    """
    n = len(c)
    packs, phases = pack_columns(job, c), loads(job, c)
    spread = job.duty.spread
    factors = np.ones(n)
    variants = [(packs, factors)]
    for sign in (-1.0, 1.0):
        variants += [
            (replace(packs, resistance_mohm=packs.resistance_mohm * (1 - sign * c.resistance_spread)), factors),
            (replace(packs, capacity_ah=packs.capacity_ah * (1 + sign * c.capacity_spread)), factors),
            (packs, factors * (1 - sign * spread)),
        ]  # fmt: skip
    # all with the same coarse steps: only their ratios to the unchanged run count, and those hardly depend on the steps
    run = _run_variants(job, variants, phases).reshape(7, n)
    minutes = np.where(cut_short, run[0], minutes)
    run = minutes * run[1:] / np.maximum(run[0], 1e-9)
    fewer = np.maximum(minutes - run[:3], 0.0)
    fragile = run[0] < FRAGILE_SHARE * minutes
    fewer[0] = np.where(fragile, 0.0, fewer[0])
    more = np.maximum(run[3:] - minutes, 0.0)
    by = (run[3:] - run[:3]) / 2
    return MinutesRange(
        minutes=minutes,
        low=minutes - np.sqrt((fewer**2).sum(axis=0)),
        high=minutes + np.sqrt((more**2).sum(axis=0)),
        by_resistance=by[0],
        by_capacity=by[1],
        by_draw=by[2],
        fragile=fragile,
    )


@dataclass(frozen=True, slots=True)
class Sensitivity:
    """What a change would do to the minutes of one candidate. None where it cannot be done. [min], [g]"""

    extra_mass_g: float
    extra_minutes: float
    one_more_cell: float | None
    ten_colder: float
    turning_mass_g: float | None
    sweep_mass_g: list[float]
    sweep_minutes: list[float]


def sensitivity(job: Job, c: Candidates, row: int, minutes: float) -> Sensitivity:
    """Minutes of one candidate made a round step heavier, a cell longer, 10 °C colder; and the mass at which more runs shorter.

    A heavier pack of the same make: capacity and currents go with the mass, resistance against it.
    """
    one = c.take([row])
    base = float(one.mass_g[0])
    sweep = _sweep_masses(job, base)
    extra_g = next((g for g in EXTRA_MASSES_G if g <= base), EXTRA_MASSES_G[-1])
    masses = np.concatenate([sweep, [base + extra_g, base]])
    made = _rescaled(one, masses / base)
    longer = replace(one, series=one.series + 1, mass_g=one.mass_g * (one.series + 1) / one.series)
    batch = Candidates.joined([made, longer])
    packs, phases = pack_columns(job, batch), loads(job, batch)
    run = simulate(packs, phases, surroundings(job)).duration_s / 60
    # the top lies between two masses of the sweep: a parabola in log mass finds it
    top = turning_mass_g(sweep, run[:SWEEP_STEPS]) if job.motion.mass_exponent > 1 else None
    here = surroundings(job)
    cold_air = replace(here, air_c=here.air_c - COLDER_K, start_c=here.start_c - COLDER_K)
    cold = simulate(pack_columns(job, one), loads(job, one), cold_air).duration_s[0] / 60
    return Sensitivity(
        extra_mass_g=extra_g,
        extra_minutes=float(run[SWEEP_STEPS] - run[SWEEP_STEPS + 1]),
        one_more_cell=float(run[-1] - minutes),
        ten_colder=float(cold - minutes),
        turning_mass_g=_refined_top(sweep, run[:SWEEP_STEPS]) if top is not None else None,
        sweep_mass_g=sweep.tolist(),
        sweep_minutes=run[:SWEEP_STEPS].tolist(),
    )


def thermal_c(job: Job, c: Candidates, row: int) -> float | None:
    """Steady C at which this pack, in this bay and air, just meets 60 °C at its landing point; None if none does. [1/h]"""
    one = c.take([row])
    trial_a = one.continuous_a[0] * np.geomspace(0.25, 4.0, THERMAL_STEPS)
    many = c.take([row] * THERMAL_STEPS)
    packs = pack_columns(job, many)
    packs.cutoff_cell_v[:] *= 0.8
    load = PhaseLoad(THERMAL_BLOCK_S, "amps", trial_a)
    end_c = simulate(packs, [load], surroundings(job)).end_temperature_c
    hot = np.flatnonzero(end_c >= HOTTEST_CELL_C)
    if not len(hot) or hot[0] == 0:
        return None
    k = int(hot[0])
    amps = np.interp(HOTTEST_CELL_C, end_c[k - 1 : k + 1], trial_a[k - 1 : k + 1])
    return float(amps / one.capacity_ah[0])


def _sweep_masses(job: Job, base_g: float) -> Floats:
    """Masses from half the pack's to twice, or to past the closed-form turning point ``m_model ÷ (n − 1)``. [g]"""
    n = job.motion.mass_exponent
    past = 1.7 * job.mass_g / (n - 1) if n > 1 else 0.0
    return np.geomspace(0.5 * base_g, max(past, 2.0 * base_g), SWEEP_STEPS)


def _refined_top(mass_g: Floats, minutes: Floats) -> float:
    k = int(np.argmax(minutes))
    if not 0 < k < len(minutes) - 1:
        return float(mass_g[k])
    x, y = np.log(mass_g[k - 1 : k + 2]), minutes[k - 1 : k + 2]
    bend = y[0] - 2 * y[1] + y[2]
    shift = 0.5 * (y[0] - y[2]) / bend if bend < 0 else 0.0
    return float(np.exp(x[1] + shift * (x[1] - x[0])))


def _rescaled(one: Candidates, factor: Floats) -> Candidates:
    many = one.take([0] * len(factor))
    return replace(
        many,
        capacity_ah=many.capacity_ah * factor,
        mass_g=many.mass_g * factor,
        resistance_mohm=many.resistance_mohm / factor,
        length_mm=np.full(len(factor), np.nan),
    )


def _run_variants(job: Job, variants: list[tuple[PackColumns, Floats]], phases: list[PhaseLoad]) -> Floats:
    """Minutes of each variant of a batch, one behind the other."""
    columns = {
        name: np.concatenate([getattr(p, name) for p, _ in variants])
        for name in PackColumns.__dataclass_fields__
    }
    factor = np.concatenate([f for _, f in variants])
    many = [PhaseLoad(p.duration_s, p.law, np.tile(p.value, len(variants)) * factor) for p in phases]
    return simulate(PackColumns(**columns), many, surroundings(job), longest_step_s=COARSE_STEP_S, stretches_per_run=COARSE_STRETCHES).duration_s / 60  # fmt: skip
