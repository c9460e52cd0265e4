"""Every candidate run through the job, and measured against each want and limit."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from coldstack.core.cells.chemistry import CHEMISTRY_IDS, chemistry_column
from coldstack.core.chain.own_plugs import depends_on_plugs, plug_column
from coldstack.core.chain.warmth import Warming
from coldstack.core.chain.wire import lead_pair_resistance_mohm
from coldstack.core.discharge.batch import (
    CellColumns,
    Discharge,
    Floats,
    PackColumns,
    Surroundings,
    box_area_m2,
)
from coldstack.core.discharge.simulate import Trace, simulate, traced
from coldstack.core.draw.scaling import PhaseLoad, phase_loads
from coldstack.core.rules.house_rules import CellRules, for_chemistry
from coldstack.core.trial.candidates import Bools, Candidates, job_candidates
from coldstack.core.trial.checks.bay import bay_columns
from coldstack.core.trial.checks.facts import fact_columns
from coldstack.core.trial.checks.flight import flight_columns
from coldstack.core.trial.checks.links import link_columns, phase_currents, stream_share
from coldstack.core.trial.checks.spec import CheckColumn
from coldstack.core.trial.checks.unmeasured import UNMEASURED, unmeasured_columns
from coldstack.core.trial.checks.wants import want_columns
from coldstack.core.trial.job import AIRFLOW_W_PER_M2_K, Job, Wants
from coldstack.core.trial.lasting import longest_for
from coldstack.core.trial.lively import liveliness
from coldstack.core.trial.now import NOW_ID, now_pack
from coldstack.core.trial.today import RunsNow, in_the_light_of, may_be_borne
from coldstack.core.trial.unequal import groups_by_ratio

EVERY = slice(None)
FARTHEST = 1e6
"""A limit of nothing is passed by so much, so that what is nearer otherwise still stands before."""
COLLAPSE_SHARE = 0.6
"""Where a controller does not cut off, the run is followed down to this share of nominal volts under load."""


@dataclass(frozen=True, slots=True)
class Evaluation:
    """Candidates, what became of each in the job, and their checks as columns.

    ``loading`` has shape (checks, N); NaN where a value or limit is not known. ``binding`` is the same
    for what can rule a candidate out: NaN where a check is a mere wish or its limit was assumed.
    ``heat`` is the highest loading among the links of the chain (cells, leads, plug, controller,
    motor), shape (N,).
    """

    job: Job
    candidates: Candidates
    discharge: Discharge
    checks: list[CheckColumn]
    loading: Floats
    binding: Floats
    heat: Floats
    feasible: NDArray[np.bool_]
    real: NDArray[np.bool_]
    """Candidates that can be bought, owned or built; not the generic grid, nor the pack of now where other
    cells are asked for."""
    now: RunsNow
    """The model on what it runs on now."""

    @property
    def now_row(self) -> int | None:
        """The candidate that it runs on now; None where it is not among them."""
        runs_on = self.job.now
        if runs_on is None:
            return None
        named = (runs_on.pack or NOW_ID, NOW_ID)
        return next((self.candidates.ids.index(i) for i in named if i in self.candidates.ids), None)

    @property
    def by_a_guess(self) -> Bools:
        """Candidates weaker than the pack of now while nobody measured the peak; shape (N,)."""
        for column, loading in zip(self.checks, self.loading, strict=True):
            if column.id == UNMEASURED.id:
                return np.asarray(loading > 1)
        return np.zeros(len(self.candidates), bool)

    @property
    def minutes(self) -> Floats:
        """Running time to the landing point, or to what ends the run before. [min]"""
        return self.discharge.duration_s / 60.0

    def failing(self, row: int) -> list[int]:
        """Positions of the checks that one candidate fails, the worst first."""
        column = self.binding[:, row]
        return sorted(np.flatnonzero(column > 1).tolist(), key=lambda k: -column[k])

    def excess(self, rows: NDArray[np.intp] | slice = EVERY) -> Floats:
        """How far candidates are over what rules them out, in all: the sum of the logs of what is over 1,
        each at most FARTHEST; shape as ``rows``."""
        over = np.minimum(np.fmax(self.binding[:, rows], 1.0), FARTHEST)
        return np.asarray(np.log(over).sum(axis=0))


def evaluate(
    job: Job, candidates: Candidates, *, longest_run_s: float | None = None, ratings: bool = True
) -> Evaluation:
    """Run and check N candidates in one vectorised pass; ``ratings`` as in `link_columns`."""
    longest_run_s = longest_for(job) if longest_run_s is None else longest_run_s
    packs = pack_columns(job, candidates)
    run = simulate(packs, loads(job, candidates), surroundings(job), longest_run_s=longest_run_s)
    return judged(job, candidates, packs, run, ratings=ratings)


def judged(
    job: Job, candidates: Candidates, packs: PackColumns, discharge: Discharge, *, ratings: bool = True
) -> Evaluation:
    """The checks of candidates whose discharge is known, in the light of what the model runs on now."""
    now = runs_now(job)
    found = _checks(job, candidates, packs, discharge, now.punch, ratings)
    found += unmeasured_columns(job, candidates, burst_now_a=now.burst_a, printed_now_a=now.printed_a)
    # row by row: a large plan has no second copy of any of these
    loading, binding = (np.empty((len(found), len(candidates))) for _ in range(2))
    for k, check in enumerate(found):
        loading[k] = check.loading
    checks = in_the_light_of(now, job, candidates, found, loading)
    feasible, heat = np.ones(len(candidates), bool), np.zeros(len(candidates))
    for k, check in enumerate(checks):
        if check.spec.in_sight:
            binding[k] = np.nan
            continue
        binding[k] = np.where(check.counts, loading[k], np.nan)
        # `not over` rather than `at most 1`: a missing number makes a check unknown, which is shown but
        # rules nothing out
        feasible &= ~(binding[k] > 1)
        if check.is_link:
            # under a peak that nobody gave the cells refuse nothing, but the cooler pack is still the
            # better one
            told = loading[k] if check.link == "cells" else np.where(check.known, loading[k], np.nan)
            np.fmax(heat, told, out=heat)
    asked = _asked_for(job, candidates)
    feasible &= asked
    real = ~candidates.is_kind("made_up") & asked
    return Evaluation(job, candidates, discharge, checks, loading, binding, heat, feasible, real, now)


def _asked_for(job: Job, c: Candidates) -> Bools:
    """All but what the model runs on now, where other cells or another chemistry are asked for."""
    wants, now = job.wants, job.now
    if now is None or (now.chemistry in wants.chemistries and (now.series in wants.cells or not wants.cells)):
        return np.ones(len(c), bool)
    return np.array([i not in (NOW_ID, now.pack) for i in c.ids], dtype=bool)


def _checks(
    job: Job, c: Candidates, packs: PackColumns, d: Discharge, punch_now: float, ratings: bool
) -> list[CheckColumn]:
    landing_ah = packs.capacity_ah * np.maximum(packs.start_soc - packs.landing_soc, 0.0)
    lively = liveliness(job, packs, surroundings(job).start_c) / punch_now
    return [
        *want_columns(job, c, d, landing_ah=landing_ah, lively=lively),
        *flight_columns(job, c, lively),
        *bay_columns(job, c),
        *link_columns(job, c, d, ratings=ratings),
        *fact_columns(job, c),
    ]


@lru_cache(maxsize=64)
def _runs_now(job: Job) -> RunsNow:
    """The model on what it runs on now: it runs, so it bears that. Nothing where nobody said what it is."""
    if job.now is None:
        return RunsNow({}, 1.0)
    c = job_candidates(job, [now_pack(job.now)])
    packs = pack_columns(job, c)
    run = simulate(packs, loads(job, c), surroundings(job), longest_run_s=longest_for(job))
    punch = float(liveliness(job, packs, surroundings(job).start_c)[0])
    found = [x for x in _checks(job, c, packs, run, punch, True) if may_be_borne(x)]
    # a pack of the box is known by more than its label
    label_c = None if job.now.pack else job.now.label_c
    return RunsNow(
        loadings={x.id: float(x.loading[0]) for x in found},
        punch=punch,
        minutes=float(run.duration_s[0]) / 60,
        burst_a=float(c.burst_a[0]),
        printed_a=None if label_c is None else label_c * job.now.capacity_ah,
    )


depends_on_plugs(_runs_now.cache_clear)


def runs_now(job: Job) -> RunsNow:
    """The model on what it runs on now, whatever is wanted of another pack: kept while wants move."""
    return _runs_now(replace(job, wants=Wants()))


def warming_of(e: Evaluation, row: int) -> Warming:
    """What the run of one candidate asks of plugs and leads."""
    one = np.array([row])
    amps = phase_currents(e.job, e.candidates.take(one), e.discharge.take(one))[:, 0]
    seconds = tuple(p.duration_s for p in e.job.duty.phases)
    return Warming(tuple(amps.tolist()), seconds, float(e.discharge.duration_s[row]), stream_share(e.job))


def cell_rules(job: Job) -> dict[str, CellRules]:
    """The house rules for every chemistry, by its id."""
    return {c: for_chemistry(job.rules, c) for c in CHEMISTRY_IDS}


def pack_columns(job: Job, c: Candidates) -> PackColumns:
    """The candidates as the simulation wants them: house rules, bay and leads included."""
    rules = cell_rules(job)

    def by_chemistry(of: str) -> Floats:
        return np.array([getattr(rules[x], of) for x in CHEMISTRY_IDS])[c.chemistry_index]

    nominal = chemistry_column("nominal_v")[c.chemistry_index]
    stops = job.electronics.cutoff == "programmable"
    start_soc = by_chemistry("start_soc")
    plug_mohm = plug_column("resistance_mohm")[c.plug_index]
    e = job.electronics
    model_leads = lead_pair_resistance_mohm(e.lead_awg, e.lead_length_mm)
    return PackColumns(
        chemistry_index=c.chemistry_index,
        series=c.series,
        capacity_ah=c.capacity_ah,
        cell_mohm=c.cell_mohm,
        outside_mohm=c.outside_mohm + plug_mohm + model_leads,
        mass_g=c.mass_g,
        area_m2=box_area_m2(c.length_mm, c.width_mm, c.height_mm, c.mass_g),
        start_soc=start_soc,
        landing_soc=by_chemistry("landing_soc"),
        alarm_cell_v=by_chemistry("alarm_v"),
        cutoff_cell_v=by_chemistry("cutoff_v") if stops else COLLAPSE_SHARE * nominal,
        slow_mohm=c.slow_mohm,
        slow_s=c.slow_s,
        cells=_unequal_cells(c, start_soc),
    )


def _unequal_cells(c: Candidates, start_soc: Floats) -> CellColumns | None:
    """Cells by their own resistances, where those of some pack were read; None where they are alike in
    all."""
    if not any(c.cell_ratios):
        return None
    return groups_by_ratio(
        c.series.astype(float), start_soc, c.cell_ratios, capacity_ah=c.capacity_ah, cell_mohm=c.cell_mohm
    )


def loads(job: Job, c: Candidates) -> list[PhaseLoad]:
    """The job's duty as each candidate meets it."""
    return phase_loads(job.duty, all_up_mass_g=job.mass_g + c.mass_g, motion=job.motion, drive=job.drive)


def surroundings(job: Job) -> Surroundings:
    """The air of the bay; the pack starts at its own temperature, or the air's."""
    start_c = job.bay.air_c if job.bay.pack_c is None else job.bay.pack_c
    return Surroundings(job.bay.air_c, start_c, AIRFLOW_W_PER_M2_K[job.bay.airflow])


def runs_to_the_end(job: Job, candidates: Candidates) -> tuple[Discharge, list[Trace]]:
    """A few candidates run on past the landing point until the controller stops or the pack is empty, with
    every end of a step."""
    packs = pack_columns(job, candidates)
    packs.landing_soc[:] = 0.0
    return traced(packs, loads(job, candidates), surroundings(job), longest_run_s=longest_for(job))
