"""How sure the minutes are, and what they hang on: ranges, sensitivities, the turning point, the thermal
C."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace

import numpy as np
from numpy.typing import NDArray

from coldstack.core.discharge.batch import Floats, Ints, PackColumns
from coldstack.core.discharge.simulate import simulate
from coldstack.core.draw.scaling import PhaseLoad
from coldstack.core.packs.measured import EXPECTED_SPREAD, SIGMAS
from coldstack.core.trial.candidates import Candidates
from coldstack.core.trial.checks.link_specs import HOTTEST_CELL_C
from coldstack.core.trial.evaluate import loads, pack_columns, surroundings
from coldstack.core.trial.job import Job
from coldstack.core.trial.lasting import longest_for
from coldstack.core.trial.now import NOW_ID
from coldstack.core.trial.unknowns import (
    DRAWS,
    NINE_IN_TEN,
    UNKNOWNS,
    Spreads,
    contributions,
    drawn,
    every_draw,
)

COLDER_K = 10.0
EARLY_SHARE = 0.5
"""A run of less than half its time was stopped early: by the controller at a peak, not for want of charge.
House figure."""
OFTEN = 0.10
"""A pack that stops early in so many draws stands behind those that do not."""
EXTRA_MASSES_G = (100.0, 10.0, 1.0)
"""How much more mass to try: the largest that is no more than the pack's own."""
TAIL = 0.05
"""Share of the draws below the range, and above it."""
SWEEP_STEPS = 18
AIRS_C = np.arange(-10.0, 41.0, 5.0)
"""Air for which the minutes are shown; the pack starts as much warmer or colder."""
MOST_CELLS_AWAY = 2
THERMAL_STEPS = 14
THERMAL_BLOCK_S = 40.0
TIMER_STEP_S = 10


@dataclass(frozen=True, slots=True)
class MinutesRange:
    """Minutes with the 5th and 95th percentile over draws of what is unknown; columns of shape (N,). [min]

    ``by``, shape (N, unknowns), is half of what each unknown alone spreads them by; ``early`` the share of
    draws in which the controller stops in less than half the time. Where those are more than the tail of
    the range they are told in words (``fragile``), and the range is of the others.
    """

    minutes: Floats
    low: Floats
    high: Floats
    by: Floats
    early: Floats

    def part(self, rows: slice) -> MinutesRange:
        """Of some of them."""
        return MinutesRange(*(getattr(self, f.name)[rows] for f in fields(self)))

    @property
    def fragile(self) -> NDArray[np.bool_]:
        """Packs that may well stop early."""
        return self.early > TAIL

    def timer_s(self, row: int) -> int:
        """A timer by the least minutes, in steps that a timer has. [s]"""
        return max(0, int(self.low[row] * 60 // TIMER_STEP_S * TIMER_STEP_S))

    def most(self, row: int) -> str:
        """What widens the range most."""
        return UNKNOWNS[int(np.argmax(self.by[row]))]


def minutes_range(
    job: Job,
    c: Candidates,
    minutes: Floats,
    cut_short: NDArray[np.bool_],
    *,
    packs: PackColumns | None = None,
) -> MinutesRange:
    """Range of the minutes of a few candidates, by DRAWS runs each.

    ``cut_short``: runs that the plan followed no further; their minutes are run anew. ``packs``: the
    candidates as they are now, where that is not as the job would have them.
    """
    known = pack_columns(job, c) if packs is None else packs
    runs = drawn_minutes(job, c, known, every_draw(len(c))).reshape(len(c), DRAWS)
    if np.any(cut_short):
        again = (
            simulate(known, loads(job, c), surroundings(job), longest_run_s=longest_for(job)).duration_s / 60
        )
        minutes = np.where(cut_short, again, minutes)
    found = range_of(runs, minutes)
    for row in np.flatnonzero([i == NOW_ID for i in c.ids]).tolist():
        _as_it_runs(found, row, job)
    return found


def drawn_minutes(job: Job, c: Candidates, packs: PackColumns, which: tuple[Ints, Ints]) -> Floats:
    """How long candidates, as these packs, run in these draws: which pack, which draw. [min]"""
    spreads = Spreads(c.resistance_spread, c.capacity_spread, job.duty.spread, c.ageing, c.slow_spread)
    many, factor = drawn(packs, spreads, which)
    phases = [PhaseLoad(p.duration_s, p.law, p.value[which[0]] * factor) for p in loads(job, c)]
    return simulate(many, phases, surroundings(job), longest_run_s=longest_for(job)).duration_s / 60


def range_of(runs: Floats, minutes: Floats) -> MinutesRange:
    """The range of N packs by every draw of each, shape (N, DRAWS). [min]"""
    short = runs < EARLY_SHARE * minutes[:, None]
    early = short.mean(axis=1)
    left_out = short & ((early > TAIL) & (early < 1))[:, None]
    low, high = (quantile(np.where(left_out, np.inf, runs), q) for q in (TAIL, 1 - TAIL))
    return MinutesRange(
        minutes=minutes,
        low=np.minimum(low, minutes),
        high=np.maximum(high, minutes),
        by=contributions(runs.T).T,
        early=early,
    )


def _as_it_runs(found: MinutesRange, row: int, job: Job) -> None:
    """The range of what the model runs on now: it lands, so that nothing stops it early, and what it resists
    and how its cells sag is in the minutes that were told. Left are the draw and the capacity, log-normal."""
    sigmas = np.log1p([job.duty.spread, EXPECTED_SPREAD[1]]) / SIGMAS
    minutes = found.minutes[row]
    width = float(np.exp(NINE_IN_TEN * np.hypot(*sigmas)))
    found.low[row], found.high[row], found.early[row] = minutes / width, minutes * width, 0.0
    found.by[row] = 0.0
    for unknown, sigma in zip(("draw", "capacity"), sigmas.tolist(), strict=True):
        found.by[row, UNKNOWNS.index(unknown)] = minutes * NINE_IN_TEN * sigma


def quantile(runs: Floats, share: float, count: int | None = None) -> Floats:
    """A quantile of each row, straight between its figures; infinite ones do not count, unless each row is
    taken to have so many: then they are its last.

    NumPy has the same for NaN, ten times slower.
    """
    ordered = np.sort(runs, axis=1)
    many = np.isfinite(runs).sum(axis=1) if count is None else np.full(len(runs), count)
    at = share * (many - 1)
    below, rows = np.floor(at).astype(int), np.arange(len(runs))
    above = np.minimum(below + 1, many - 1)
    return np.asarray(ordered[rows, below] + (at - below) * (ordered[rows, above] - ordered[rows, below]))


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
    air_c: float
    sweep_air_c: list[float]
    air_minutes: list[float]
    sweep_cells: list[int]
    cells_minutes: list[float]


def sensitivity(job: Job, c: Candidates, row: int, minutes: float) -> Sensitivity:
    """Minutes of one candidate made a round step heavier, a cell longer, 10 °C colder; and the mass at
    which more runs shorter.

    A heavier pack of the same make: capacity and currents go with the mass, resistance against it.
    """
    one = c.take([row])
    base = float(one.mass_g[0])
    sweep = _sweep_masses(job, base)
    extra_g = next((g for g in EXTRA_MASSES_G if g <= base), EXTRA_MASSES_G[-1])
    masses = np.concatenate([sweep, [base + extra_g, base]])
    made = _rescaled(one, masses / base)
    series = float(one.series[0])
    cells = np.array([n for n in series + np.arange(-MOST_CELLS_AWAY, MOST_CELLS_AWAY + 1) if n >= 1])
    longer = one.take([0] * len(cells))
    longer = replace(longer, series=cells, mass_g=longer.mass_g * cells / series)
    air = one.take([0] * (len(AIRS_C) + 1))
    batch = Candidates.joined([made, longer, air])
    here = surroundings(job)
    warmer = np.concatenate([AIRS_C - here.air_c, [-COLDER_K]])
    packs = pack_columns(job, batch)
    packs = replace(packs, warmer_k=np.concatenate([np.zeros(len(batch) - len(warmer)), warmer]))
    run = simulate(packs, loads(job, batch), here, longest_run_s=longest_for(job)).duration_s / 60
    by_mass, by_cells, by_air = np.split(run, np.cumsum([len(masses), len(cells)]))
    # the top lies between two masses of the sweep: a parabola in log mass finds it
    top = turning_mass_g(sweep, by_mass[:SWEEP_STEPS]) if job.motion.mass_exponent > 1 else None
    return Sensitivity(
        extra_mass_g=extra_g,
        extra_minutes=float(by_mass[SWEEP_STEPS] - by_mass[SWEEP_STEPS + 1]),
        one_more_cell=float(by_cells[np.flatnonzero(cells == series + 1)[0]] - minutes),
        ten_colder=float(by_air[-1] - minutes),
        turning_mass_g=_refined_top(sweep, by_mass[:SWEEP_STEPS]) if top is not None else None,
        sweep_mass_g=sweep.tolist(),
        sweep_minutes=by_mass[:SWEEP_STEPS].tolist(),
        air_c=here.air_c,
        sweep_air_c=AIRS_C.tolist(),
        air_minutes=by_air[:-1].tolist(),
        sweep_cells=cells.astype(int).tolist(),
        cells_minutes=by_cells.tolist(),
    )


def turning_mass_g(mass_g: Floats, minutes: Floats) -> float | None:
    """Mass of the longest-running pack of a sweep from light to heavy, beyond which more pack runs shorter.
    [g]

    None where the minutes still rise at the heavy end.
    """
    top = int(np.argmax(minutes))
    return None if top >= len(mass_g) - 1 else float(mass_g[top])


def thermal_c(job: Job, c: Candidates, row: int) -> float | None:
    """Steady C at which this pack, in this bay and air, just meets 60 °C at its landing point; None if none
    does. [1/h]"""
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
    """Masses from half the pack's to twice, or to past the closed-form turning point ``m_model ÷ (n − 1)``.
    [g]"""
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
        cell_mohm=many.cell_mohm / factor,
        length_mm=np.full(len(factor), np.nan),
    )
