"""A plan: all candidates for a job, what became of each, and what to make of it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np

from coldstack.core.cells.chemistry import Chemistry, chemistry
from coldstack.core.cells.counts import USUAL_SERIES
from coldstack.core.cells.resistance import LabelTrust
from coldstack.core.chain.adapters import Adapter
from coldstack.core.chain.own_plugs import depends_on_plugs
from coldstack.core.discharge.batch import Ending
from coldstack.core.fit.fit import verdicts
from coldstack.core.fit.verdict import FIT_VERDICTS
from coldstack.core.packs.pack import CellType, Pack
from coldstack.core.readings.tolerance import falls_short_of_volts, passes_volts
from coldstack.core.sizing.bounds import bearable
from coldstack.core.sizing.builds import cell_builds, generic_grid, heaviest_shown_g
from coldstack.core.sizing.conflict import Conflict, conflict
from coldstack.core.sizing.front import (
    SHORTLIST_ROWS,
    Aim,
    NearMiss,
    front,
    near_misses,
    offers,
    score,
    shortlist,
)
from coldstack.core.sizing.pairs import SOLD_IN_ONE, joinable, pairs
from coldstack.core.sizing.shopping import Shopping, closed_form_capacity_ah, shopping
from coldstack.core.trial.candidates import (
    NEARLY_ALLOWED,
    Candidates,
    electrically_possible,
    from_packs,
    job_candidates,
    suited,
)
from coldstack.core.trial.checks.wants import MASS, MINUTES
from coldstack.core.trial.evaluate import Evaluation, evaluate
from coldstack.core.trial.job import Job
from coldstack.core.trial.lasting import MUCH_LONGER, longest_for
from coldstack.core.trial.now import NOW_ID, now_pack
from coldstack.core.trial.peak import carried_peak
from coldstack.core.trial.spread import OFTEN, MinutesRange, minutes_range
from coldstack.core.trial.today import as_linked

DEFAULT_MINUTES = 10.0


@dataclass(frozen=True, slots=True, eq=False)
class Stock:
    """What there is to choose from, as values: packs, cells to build them from, and the adapters that are
    owned. Compared by identity."""

    packs: Sequence[Pack]
    cells: Sequence[CellType]
    pieces: tuple[Adapter, ...] = ()


@dataclass(frozen=True, slots=True)
class Fineness:
    """How fine the generic grid is: capacities × C ratings for each chemistry and cell count."""

    capacity_steps: int = 24
    c_steps: int = 8


@dataclass(frozen=True, slots=True)
class CellChip:
    """One cell count: volts fresh off the charger, and why the electronics refuse it, if they do."""

    cells: int
    full_v: float
    chemistry: str
    accepted: bool
    assumed: bool
    """Refused or accepted by a rating that nobody gave: by what it runs on now."""
    reason: str
    peak_a: float
    peak_ratio: float
    peak_sentence: str


@dataclass(frozen=True, slots=True)
class Plan:
    """The evaluated candidates with the front, the shortlists' rows and ranges, near misses, conflict and
    shopping line."""

    evaluation: Evaluation
    front_rows: list[int]
    short_rows: list[int]
    short_range: MinutesRange
    misses: list[NearMiss]
    miss_range: MinutesRange
    offer_rows: list[int]
    offer_range: MinutesRange
    conflict: Conflict | None
    shopping: Shopping | None
    best: int | None
    offers_left_out: int = 0
    """Offers that are no candidates at all: other cells or another chemistry than the model takes."""
    coarser: str = ""
    """Where the grid of made-up packs is coarser than it was asked to be: in words."""


def plan(
    job: Job,
    stock: Stock,
    *,
    aim: Aim = "all_round",
    rows: int = SHORTLIST_ROWS,
    fineness: Fineness | None = None,
) -> Plan:
    """Candidates of every kind for a job, in one vectorised pass, and the reading of the outcome;
    ``rows`` long is its shortlist."""
    job = as_linked(job, stock.packs)
    candidates = gather(job, stock, fineness or Fineness())
    known = job.wants.minutes is not None and aim != "longest"
    limit_s = MUCH_LONGER * 60 * (job.wants.minutes or 0.0) if known else longest_for(job)
    found = read(evaluate(job, candidates, longest_run_s=limit_s, ratings=False), aim, rows)
    offered = sum(p.offered for p in stock.packs)
    left_out = offered - int(candidates.is_kind("offered").sum())
    return replace(found, offers_left_out=left_out, coarser=coarser(job, fineness or Fineness()))


def gather(job: Job, stock: Stock, fineness: Fineness) -> Candidates:
    """All candidates: packs, pairs of equal packs, builds from cells, and the generic grid."""
    series = wanted_series(job)
    packs = suited(job, _singles_and_pairs(job, stock, series), stock.pieces)
    limit_v = looked_up_to_v(job)
    possible = electrically_possible(packs, max_v=limit_v, chemistries=job.wants.chemistries)
    possible &= np.isin(packs.series, series)
    if job.now is not None and job.now.pack:
        # what it runs on now stands beside the others, whatever else is wanted
        possible |= np.array([i == job.now.pack for i in packs.ids])
    parts = [packs.take(possible)]
    parts.append(cell_builds(stock.cells, job, series=series, max_v=limit_v))
    parts += runs_on(job)
    parts.append(_grid(job, series, fineness))
    joined = Candidates.joined(parts)
    shown = joined.is_kind("at_hand") | (joined.mass_g <= heaviest_shown_g(job))
    return joined if shown.all() else joined.take(shown)


def looked_up_to_v(job: Job) -> float:
    """Volts up to which packs are looked at: the controller's; where nobody gave them, also those of the
    cells that were asked for, so that they are asked about and not just missing. [V]"""
    limit_v = job.electronics.max_v
    if not job.is_assumed("electronics.max_v"):
        return limit_v
    asked_v = (s * chemistry(c).full_v for s in job.wants.cells for c in job.wants.chemistries)
    return max(limit_v, *asked_v, 0.0)


def _singles_and_pairs(job: Job, stock: Stock, series: Sequence[int]) -> Candidates:
    """The stock with its pairs; pairs of typical packs too where the model runs on two, or where so many
    cells are hardly sold in one."""
    found = packs_and_pairs(stock, job.label_trust)
    joined = job.now is not None and job.now.joined
    if not joined and max(series, default=0) < SOLD_IN_ONE:
        return found
    of_typical = typical_pairs(stock, job.label_trust)
    return Candidates.joined([found, of_typical]) if of_typical is not None else found


@lru_cache(maxsize=8)
def typical_pairs(stock: Stock, trust: LabelTrust) -> Candidates | None:
    """Pairs of the stock's typical packs; None without any."""
    typical = [p for p in stock.packs if p.typical]
    return pairs(from_packs(typical, trust)) if typical else None


@lru_cache(maxsize=8)
def packs_and_pairs(stock: Stock, trust: LabelTrust) -> Candidates:
    """The stock's packs and the pairs of them; the same for every job, so it is kept for the stock last
    seen."""
    singles = from_packs(stock.packs, trust)
    _, halves = joinable(stock.packs)
    return Candidates.joined([singles, pairs(from_packs(halves, trust))]) if halves else singles


for _kept in (packs_and_pairs, typical_pairs):
    depends_on_plugs(_kept.cache_clear)


def runs_on(job: Job) -> list[Candidates]:
    """The pack that the model runs on now, where it is none of the box: it is judged beside the others."""
    return [] if job.now is None or job.now.pack else [job_candidates(job, [now_pack(job.now)])]


def _grid(job: Job, series: Sequence[int], fineness: Fineness) -> Candidates:
    chemistry_id = next((c for c in job.wants.chemistries if not chemistry(c).cylindrical), "lipo")
    volts = max(1.0, job.electronics.max_v / chemistry(chemistry_id).full_v)
    middle = closed_form_capacity_ah(
        job, chemistry_id, series=round(volts), minutes=job.wants.minutes or DEFAULT_MINUTES
    )
    capacity_steps, c_steps = _fine(job, series, fineness)
    return generic_grid(
        job,
        max_v=looked_up_to_v(job),
        series=series,
        capacity_ah=max(middle, 0.02),
        capacity_steps=capacity_steps,
        c_steps=c_steps,
    )


def _fine(job: Job, series: Sequence[int], fineness: Fineness) -> tuple[int, int]:
    return bearable(job, fineness.capacity_steps, fineness.c_steps, len(series))


def coarser(job: Job, fineness: Fineness) -> str:
    """What is said where the grid is coarser than it was asked to be; empty where it is not."""
    asked, made = (fineness.capacity_steps, fineness.c_steps), _fine(job, wanted_series(job), fineness)
    if made == asked:
        return ""
    return (
        f"This draw takes long to run through: of the made-up packs {made[0]} sizes by {made[1]} C ratings "
        f"are looked at, in place of {asked[0]} by {asked[1]}."
    )


def wanted_series(job: Job) -> list[int]:
    """Cell counts to look at: those chosen, or all that some wanted chemistry allows by volts, or nearly
    so."""
    chosen = [s for s in job.wants.cells if s <= USUAL_SERIES]
    return chosen or [s for s in range(1, USUAL_SERIES + 1) if _fitting(job, s, over=NEARLY_ALLOWED)]


def _fitting(job: Job, cells: int, *, over: float = 1.0) -> list[str]:
    """Wanted chemistries of which so many cells lie within the controller's volts, or up to ``over`` times
    its highest."""
    e = job.electronics
    return [
        c
        for c in job.wants.chemistries
        if not passes_volts(cells * chemistry(c).full_v, over * e.max_v)
        and not falls_short_of_volts(cells * chemistry(c).empty_rest_v, 0.9 * e.min_v)
    ]


def cell_chips(job: Job) -> list[CellChip]:
    """Usual cell counts with their full-charge volts in the first wanted chemistry that the electronics
    accept."""
    return [_chip(job, cells) for cells in range(1, USUAL_SERIES + 1)]


def _chip(job: Job, cells: int) -> CellChip:
    fits = _fitting(job, cells)
    cell = chemistry((fits or job.wants.chemistries)[0])
    printed_v = cells * cell.nominal_v
    peak = carried_peak(job, printed_v)
    return CellChip(
        cells=cells,
        full_v=cells * cell.full_v,
        chemistry=cell.id,
        accepted=bool(fits),
        assumed=job.is_assumed("electronics.max_v"),
        reason=_why(job, cells, cell, fits=bool(fits)),
        peak_a=peak.amps,
        peak_ratio=peak.ratio,
        peak_sentence=peak.sentence(printed_v),
    )


def _why(job: Job, cells: int, cell: Chemistry, *, fits: bool) -> str:
    e, full_v = job.electronics, cells * cell.full_v
    fresh = f"{cells}S {cell.name} is {full_v:.1f} V fresh off the charger"
    if fits:
        return f"{fresh}."
    if passes_volts(full_v, e.max_v) and job.is_assumed("electronics.max_v"):
        return f"{fresh}, more than it runs on now. Say what the controller is rated for."
    if passes_volts(full_v, e.max_v):
        return f"{fresh}; the {job.seen_by} stops at {e.max_v:.1f} V."
    spent = f"{cells}S {cell.name} is down to {cells * cell.empty_rest_v:.1f} V when empty"
    return f"{spent}; the {job.seen_by} needs {e.min_v:.1f} V."


def read(e: Evaluation, aim: Aim, rows_wanted: int = SHORTLIST_ROWS) -> Plan:
    """Front, shortlist, near misses, conflict and shopping line of an evaluation."""
    ranked = score(e, aim)
    short = shortlist(e, ranked, rows_wanted)
    misses = near_misses(e)
    offered = offers(e, ranked)
    rows = [*short, *(m.row for m in misses), *offered]
    spread = _spread(e, rows) if rows else None
    order = _sturdy_first(e, short, spread) if spread is not None else []
    short = [short[k] for k in order]
    best = short[0] if short else None
    found = conflict(e)
    return Plan(
        evaluation=e,
        front_rows=_front_rows(e),
        short_rows=short,
        short_range=_part(spread, order),
        misses=misses,
        miss_range=_part(spread, range(len(short), len(short) + len(misses))),
        offer_rows=offered,
        offer_range=_part(spread, range(len(rows) - len(offered), len(rows))),
        conflict=found,
        shopping=shopping(e, like=best) if best is not None else None,
        best=best if best is not None else _nearest(found, misses),
    )


def _spread(e: Evaluation, rows: list[int]) -> MinutesRange:
    cut_short = e.discharge.ending[rows] == int(Ending.RAN_TOO_LONG)
    return minutes_range(e.job, e.candidates.take(rows), e.minutes[rows], cut_short)


def _sturdy_first(e: Evaluation, short: list[int], spread: MinutesRange) -> list[int]:
    """Positions of the shortlist: what simply does the job before what goes with care, those that are weaker
    than the pack of now by a guess behind them, and those that often stop early behind all others."""
    said, guessed = verdicts(e, short), e.by_a_guess

    def key(k: int) -> tuple[bool, bool, int]:
        return bool(spread.early[k] > OFTEN), bool(guessed[short[k]]), FIT_VERDICTS.index(said[k])

    return sorted(range(len(short)), key=key)


def _nearest(found: Conflict | None, misses: list[NearMiss]) -> int | None:
    """What to show when nothing is feasible: the nearest miss, or the nearest that the conflict names."""
    if misses:
        return misses[0].row
    return found.reliefs[0].row if found and found.reliefs else None


def _front_rows(e: Evaluation) -> list[int]:
    """The front among real candidates that meet every limit but minutes and mass, so that the lines can be
    dragged along it."""
    sound = e.real.copy()
    for column, binding in zip(e.checks, e.binding, strict=True):
        if column.spec not in (MINUTES, MASS):
            sound &= ~(binding > 1)
    rows = np.flatnonzero(sound)
    return [int(r) for r in rows[front(e.candidates.mass_g[rows], e.minutes[rows])]]


def _part(spread: MinutesRange | None, which: Sequence[int]) -> MinutesRange:
    rows = np.asarray(which, dtype=int)
    names = MinutesRange.__dataclass_fields__
    columns: dict[str, Any] = {f: np.empty(0) if spread is None else getattr(spread, f)[rows] for f in names}
    return MinutesRange(**columns)


def pick(job: Job, stock: Stock, ids: Sequence[str], fineness: Fineness | None = None) -> Candidates:
    """The candidates with these ids, in their order; ids that are neither among the job's candidates nor in
    the stock are left out."""
    job = as_linked(job, stock.packs)
    candidates = gather(job, stock, fineness or Fineness())
    # looked at for themselves, even where other cells or another chemistry are wanted
    if NOW_ID in ids and NOW_ID not in candidates.ids:
        candidates = Candidates.joined([candidates, *runs_on(job)])
    asked = set(ids).difference(candidates.ids)
    if apart := [p for p in stock.packs if p.id in asked]:
        candidates = Candidates.joined([candidates, job_candidates(job, apart, stock.pieces)])
    row_of = {c: i for i, c in enumerate(candidates.ids)}
    return candidates.take([row_of[i] for i in ids if i in row_of])
