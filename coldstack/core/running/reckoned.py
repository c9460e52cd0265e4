"""Runs from cells as read: how long, how surely, what ends them, and what that says for a start."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from coldstack.core.chain.adapters import Adapter
from coldstack.core.discharge.batch import Discharge, Ending, PackColumns
from coldstack.core.discharge.simulate import simulate
from coldstack.core.fit.fit import Fit, fit_of
from coldstack.core.fit.verdict import FitReason
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.cells import PackReading, share_of_a_run, worth_a_run
from coldstack.core.rules.house_rules import CellRules, HouseRules, for_chemistry
from coldstack.core.running.limits import GoReason, GoVerdict
from coldstack.core.trial.candidates import Candidates, job_candidates
from coldstack.core.trial.evaluate import evaluate, loads, pack_columns, surroundings
from coldstack.core.trial.job import Job
from coldstack.core.trial.lasting import longest_for
from coldstack.core.trial.spread import MinutesRange, minutes_range
from coldstack.core.trial.unequal import cell_groups
from coldstack.core.units import plain_number

SPENT = GoReason("spent", "no_go", "Spent: there is hardly anything above the landing point.")
FIRST_RUNS = 0.7
"""Of its minutes and mAh: as long as a pack of unknown past is run at first. House figure."""
NEARLY_FULL = 0.9
"""A pack that holds less than so much of a full run is said not to be full. House figure."""


def first_runs(pack: Pack) -> float:
    """What part of its run is allowed. 0 to 1."""
    return FIRST_RUNS if pack.today is not None and pack.today.records_wanted else 1.0


@dataclass(frozen=True, slots=True)
class Start:
    """A run begun by the candidate of this row, each cell at a charge of its own; ``pack_c`` as warm, None
    for as the job has it. 0 to 1, [°C]"""

    row: int
    socs: tuple[float, ...]
    pack_c: float | None = None


@dataclass(frozen=True, slots=True)
class Runs:
    """What became of each of N runs."""

    endings: list[Ending]
    spread: MinutesRange

    def part(self, rows: slice) -> Runs:
        """Some of them."""
        return Runs(self.endings[rows], self.spread.part(rows))


def from_cells(job: Job, c: Candidates, starts: Sequence[Start]) -> Runs:
    """The runs of candidates in a job from their cells as read: the emptiest ends each."""
    packs, run = begun_runs(job, c, starts)
    many, none_cut = c.take([s.row for s in starts]), np.zeros(len(starts), bool)
    spread = minutes_range(job, many, run.duration_s / 60, none_cut, packs=packs)
    return Runs([Ending(x) for x in run.ending.tolist()], spread)


def begun_runs(job: Job, c: Candidates, starts: Sequence[Start]) -> tuple[PackColumns, Discharge]:
    """The pack of each start as it begins, and what becomes of it."""
    packs = _begun(job, c, starts)
    return packs, simulate(
        packs, loads(job, c.take([s.row for s in starts])), surroundings(job), longest_run_s=longest_for(job)
    )


def _begun(job: Job, c: Candidates, starts: Sequence[Start]) -> PackColumns:
    """The pack of each start, with each cell at the charge that it reads, and its own resistance where that
    is known."""
    rows, ratios = np.array([s.row for s in starts], np.int64), c.cell_ratios
    many = replace(pack_columns(job, c), cells=None).take(rows)
    socs = [tuple(min(max(z, 0.0), 1.0) for z in s.socs) for s in starts]
    cells = cell_groups(
        socs, [ratios[s.row] for s in starts], capacity_ah=many.capacity_ah, cell_mohm=many.cell_mohm
    )
    as_job = surroundings(job).start_c
    return replace(
        many,
        cells=cells,
        start_soc=np.array([min(s) for s in socs]),
        start_c=np.array([as_job if s.pack_c is None else s.pack_c for s in starts], float),
    )


@dataclass(frozen=True, slots=True)
class Reckoned:
    """What only a reckoning tells, for each of several readings: reasons, minutes, charge."""

    pack: Pack
    rules: CellRules
    fit: Fit
    reasons: list[list[GoReason]]
    spread: MinutesRange
    budget_mah: list[float]
    share: float
    """Of a run to its landing point, what is allowed: a first run's part, equipment's without its reserve."""

    def lands(self, row: int) -> tuple[float, float, float]:
        """The least, the middle and the most minutes to landing, or what part of them is allowed. [min]"""
        spread, share = self.spread, self.share
        low, middle, high = (share * float(x[row]) for x in (spread.low, spread.minutes, spread.high))
        return low, middle, high

    def timer_s(self, row: int) -> int:
        """When to land: the least minutes, or what part of them is allowed, down to 10 s. [s]"""
        whole = self.spread.timer_s(row)
        return whole if self.share == 1 else int(self.share * whole) // 10 * 10


def reckoned(
    job: Job,
    pack: Pack,
    readings: Sequence[PackReading],
    *,
    pieces: tuple[Adapter, ...] = (),
    temperature_c: float | None = None,
    candidate: Candidates | None = None,
) -> Reckoned:
    """The runs of one pack from several readings, with what it holds and resists today."""
    here = at_warmth(job, temperature_c)
    one = candidate or job_candidates(here, [pack], pieces)
    runs = from_cells(here, one, [Start(0, r.socs) for r in readings])
    lowest = [r.lowest_soc for r in readings]
    return in_words(job, pack, fit_of(evaluate(here, one), 0), lowest, runs)


def at_warmth(job: Job, temperature_c: float | None) -> Job:
    """The job with a pack as warm; as it is without. [°C]"""
    return job if temperature_c is None else replace(job, bay=replace(job.bay, pack_c=temperature_c))


def in_words(job: Job, pack: Pack, fit: Fit, lowest_soc: Sequence[float], runs: Runs) -> Reckoned:
    """What runs from these charges of the emptiest cell say of a pack that fits the model so. 0 to 1"""
    rules, share_allowed = for_chemistry(job.rules, pack.chemistry), job.used_share * first_runs(pack)
    of_the_fit, reasons, budget = _of_the_fit(fit), [], []
    shares = _shares(pack.chemistry, tuple(lowest_soc), job.rules)
    minutes_each = runs.spread.minutes.tolist()
    for soc, (share, worth), ending, minutes in zip(
        lowest_soc, shares, runs.endings, minutes_each, strict=True
    ):
        above = max(0.0, soc - rules.landing_soc)
        early = _stops_early(ending, minutes) if worth and fit.runs else []
        reasons.append([*_charge(share, minutes, worth=worth), *of_the_fit, *early])
        budget.append(1000 * above * pack.held_ah * share_allowed)
    return Reckoned(pack, rules, fit, reasons, runs.spread, budget, share_allowed)


@lru_cache(maxsize=256)
def _shares(chemistry_id: str, socs: tuple[float, ...], rules: HouseRules) -> tuple[tuple[float, bool], ...]:
    """Of a full run what is left from these charges, and whether it is worth a start; the same of all packs
    that a kit asks for."""
    return tuple(
        (share_of_a_run(chemistry_id, soc, rules), worth_a_run(chemistry_id, soc, rules)) for soc in socs
    )


def _of_the_fit(fit: Fit) -> list[GoReason]:
    """The reasons of its verdict in this model, as they count in the field."""
    return [GoReason(r.id, _as_run(r), r.sentence) for r in fit.reasons]


def _as_run(reason: FitReason) -> GoVerdict:
    refused = reason.bars
    return "no_go" if refused else "careful"


STOPS = {
    Ending.REACHED_CUTOFF: "the controller stops at a peak",
    Ending.CANNOT_DELIVER: "the pack cannot give what is asked of it",
}


def _stops_early(ending: Ending, minutes: float) -> list[GoReason]:
    if ending not in STOPS:
        return []
    ends = f"it ends at {plain_number(minutes, 2)} min, before landing"
    return [GoReason("stops", "no_go", f"From the cells as read {ends}: {STOPS[ending]}.")]


def _charge(share: float, minutes: float, *, worth: bool) -> list[GoReason]:
    if not worth:
        return [SPENT]
    if share < NEARLY_FULL:
        return [
            GoReason(
                "part",
                "careful",
                f"Not full: about {plain_number(minutes, 2)} min, {share * 100:.0f} % of a full run.",
            )
        ]
    return []
