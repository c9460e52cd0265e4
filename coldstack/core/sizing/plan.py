"""A plan: all candidates for a job, what became of each, and what to make of it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.resistance import LabelTrust
from coldstack.core.chain.own_plugs import depends_on_plugs
from coldstack.core.discharge.batch import Ending
from coldstack.core.discharge.simulate import LONGEST_RUN_S
from coldstack.core.draw.scaling import refitted_current_a, throttle_current_a
from coldstack.core.packs.pack import CellType, Pack
from coldstack.core.sizing.builds import cell_builds, generic_grid, heaviest_shown_g
from coldstack.core.sizing.candidates import (
    NEARLY_ALLOWED,
    Candidates,
    electrically_possible,
    from_packs,
    job_candidates,
    joinable,
    pairs,
    suited,
)
from coldstack.core.sizing.conflict import Conflict, conflict
from coldstack.core.sizing.evaluate import Evaluation, evaluate
from coldstack.core.sizing.front import (
    SHORTLIST_ROWS,
    Aim,
    NearMiss,
    front,
    near_misses,
    offers,
    shortlist,
)
from coldstack.core.sizing.job import Job
from coldstack.core.sizing.now import NOW_ID, now_pack
from coldstack.core.sizing.shopping import Shopping, closed_form_capacity_ah, shopping
from coldstack.core.sizing.spread import MinutesRange, minutes_range
from coldstack.core.units import plain_number

MOST_CELLS = 14
MUCH_LONGER = 1.9
"""Packs that run this many times the wanted minutes are followed no further in a plan."""
DEFAULT_MINUTES = 10.0
SAME_PEAK = 0.005
"""Difference below which a peak is said to be the told one."""


@dataclass(frozen=True, slots=True, eq=False)
class Stock:
    """What there is to choose from, as values. Compared by identity."""

    packs: Sequence[Pack]
    cells: Sequence[CellType]


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
    """The evaluated candidates with the front, the shortlists' rows and ranges, near misses, conflict and shopping line."""

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
    candidates = gather(job, stock, fineness or Fineness())
    known = job.wants.minutes is not None and aim != "longest"
    limit_s = MUCH_LONGER * 60 * (job.wants.minutes or 0.0) if known else LONGEST_RUN_S
    found = read(evaluate(job, candidates, longest_run_s=limit_s), aim, rows)
    offered = sum(p.offered for p in stock.packs)
    return replace(found, offers_left_out=offered - candidates.kinds.count("on offer"))


def gather(job: Job, stock: Stock, fineness: Fineness) -> Candidates:
    """All candidates: packs, pairs of equal packs, builds from cells, and the generic grid."""
    series = wanted_series(job)
    packs = suited(job, packs_and_pairs(stock, job.label_trust))
    possible = electrically_possible(packs, max_v=job.electronics.max_v, chemistries=job.wants.chemistries)  # fmt: skip
    parts = [packs.take(possible & np.isin(packs.series, series))]
    parts.append(cell_builds(stock.cells, job, series=series))
    now = job.now
    if now is not None and now.series in series and now.chemistry in job.wants.chemistries:
        parts += runs_on(job)
    parts.append(_grid(job, series, fineness))
    joined = Candidates.joined(parts)
    at_hand = np.array([k in ("owned", "now", "on offer") for k in joined.kinds], dtype=bool)
    return joined.take(at_hand | (joined.mass_g <= heaviest_shown_g(job)))


@lru_cache(maxsize=8)
def packs_and_pairs(stock: Stock, trust: LabelTrust) -> Candidates:
    """The stock's packs and the pairs of them; the same for every job, so it is kept for the stock last seen."""
    singles = from_packs(stock.packs, trust)
    _, halves = joinable(stock.packs)
    return Candidates.joined([singles, pairs(from_packs(halves, trust))]) if halves else singles


depends_on_plugs(packs_and_pairs.cache_clear)


def runs_on(job: Job) -> list[Candidates]:
    """The pack that the model runs on now, where it is none of the box: it is judged beside the others."""
    return [] if job.now is None or job.now.pack else [job_candidates(job, [now_pack(job.now)])]


def _grid(job: Job, series: Sequence[int], fineness: Fineness) -> Candidates:
    chemistry_id = next((c for c in job.wants.chemistries if c != "liion"), "lipo")
    volts = max(1.0, job.electronics.max_v / chemistry(chemistry_id).full_v)
    middle = closed_form_capacity_ah(job, chemistry_id, series=round(volts), minutes=job.wants.minutes or DEFAULT_MINUTES)  # fmt: skip
    return generic_grid(job, series=series, capacity_ah=max(middle, 0.02), capacity_steps=fineness.capacity_steps, c_steps=fineness.c_steps)  # fmt: skip


def wanted_series(job: Job) -> list[int]:
    """Cell counts to look at: those chosen, or all that some wanted chemistry allows by volts, or nearly so."""
    chosen = [s for s in job.wants.cells if s <= MOST_CELLS]
    return chosen or [s for s in range(1, MOST_CELLS + 1) if _fitting(job, s, over=NEARLY_ALLOWED)]


def _fitting(job: Job, cells: int, *, over: float = 1.0) -> list[str]:
    """Wanted chemistries of which so many cells lie within the controller's volts, or up to ``over`` times its highest."""
    e = job.electronics
    return [
        c
        for c in job.wants.chemistries
        if cells * chemistry(c).full_v <= over * e.max_v + 1e-9
        and cells * chemistry(c).empty_rest_v >= 0.9 * e.min_v
    ]


def cell_chips(job: Job) -> list[CellChip]:
    """Cell counts 1 to 14 with their full-charge volts in the first wanted chemistry that the electronics accept."""
    e, chips = job.electronics, []
    for cells in range(1, MOST_CELLS + 1):
        fits = _fitting(job, cells)
        chemistry_id = (fits or job.wants.chemistries)[0]
        full_v, empty_v = (
            cells * v for v in (chemistry(chemistry_id).full_v, chemistry(chemistry_id).empty_rest_v)
        )
        name = chemistry(chemistry_id).name
        if fits:
            reason = f"{cells}S {name} is {full_v:.1f} V fresh off the charger."
        elif full_v > e.max_v and job.is_assumed("electronics.max_v"):
            reason = (
                f"{cells}S {name} is {full_v:.1f} V fresh off the charger, more than it runs on now. "
                "Say what the controller is rated for."
            )
        elif full_v > e.max_v:
            reason = f"{cells}S {name} is {full_v:.1f} V fresh off the charger; the controller stops at {e.max_v:.1f} V."
        else:
            reason = f"{cells}S {name} is down to {empty_v:.1f} V when empty; the controller needs {e.min_v:.1f} V."
        peak_a, ratio, words = _peak_at(job, cells * chemistry(chemistry_id).nominal_v)
        guessed = job.is_assumed("electronics.max_v")
        chips.append(CellChip(cells, full_v, chemistry_id, bool(fits), guessed, reason, peak_a, ratio, words))
    return chips


def _peak_at(job: Job, volts: float) -> tuple[float, float, str]:
    """The job's peak carried to a pack of these printed volts, its ratio to the job's, and both in words."""
    duty, drive = job.duty, job.drive
    peak = max(duty.phases, key=lambda p: p.current_a)
    at_v = job.stick_told_at_v if peak.hold == "throttle" else job.told_at_v
    follows = peak.hold == "throttle" and drive == "same"
    holds = peak.hold == "amps" and drive == "same"
    if follows:
        moved = throttle_current_a(
            peak.current_a, voltage_v=volts, reference_voltage_v=at_v, motion=job.motion
        )
    elif holds:
        moved = np.asarray(peak.current_a)
    else:
        moved = refitted_current_a(peak.current_a, voltage_v=volts, reference_voltage_v=at_v)
    ratio = float(moved) / peak.current_a
    part = "gearing" if job.motion.geared else "propeller"
    how = f"with the same {part}" if follows else "for the same watts" if not holds else "at the same amps"
    told = f"{plain_number(peak.current_a)} A at {plain_number(at_v)} V"
    if abs(ratio - 1) < SAME_PEAK:
        return float(moved), ratio, f"The peak is the told {told}."
    words = (
        f"At {plain_number(volts)} V {how} the peak is {plain_number(float(moved))} A, "
        f"{plain_number(ratio)} times the {told}."
    )
    return float(moved), ratio, words


def read(e: Evaluation, aim: Aim, rows_wanted: int = SHORTLIST_ROWS) -> Plan:
    """Front, shortlist, near misses, conflict and shopping line of an evaluation."""
    short = shortlist(e, aim, rows_wanted)
    misses = near_misses(e)
    offered = offers(e, aim)
    rows = [*short, *(m.row for m in misses), *offered]
    spread = _spread(e, rows) if rows else None
    order = _sturdy_first(spread, len(short)) if spread is not None else []
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


def _sturdy_first(spread: MinutesRange, count: int) -> list[int]:
    """Positions of the shortlist with fragile packs behind all others."""
    return sorted(range(count), key=lambda k: bool(spread.fragile[k]))


def _nearest(found: Conflict | None, misses: list[NearMiss]) -> int | None:
    """What to show when nothing is feasible: the nearest miss, or the nearest that the conflict names."""
    if misses:
        return misses[0].row
    return found.reliefs[0].row if found and found.reliefs else None


def _front_rows(e: Evaluation) -> list[int]:
    """The front among real candidates that meet every limit but minutes and mass, so that the lines can be dragged along it."""
    limits = np.array([c.id not in ("want.minutes", "want.mass") for c in e.checks])
    sound = ~np.any(e.binding[limits] > 1, axis=0) & e.real
    rows = np.flatnonzero(sound)
    return [int(r) for r in rows[front(e.candidates.mass_g[rows], e.minutes[rows])]]


def _part(spread: MinutesRange | None, which: Sequence[int]) -> MinutesRange:
    rows = np.asarray(which, dtype=int)
    names = MinutesRange.__dataclass_fields__
    columns: dict[str, Any] = {f: np.empty(0) if spread is None else getattr(spread, f)[rows] for f in names}
    return MinutesRange(**columns)


def pick(job: Job, stock: Stock, ids: Sequence[str], fineness: Fineness | None = None) -> Candidates:
    """The candidates with these ids, in their order; ids that are not among the job's candidates are left out."""
    candidates = gather(job, stock, fineness or Fineness())
    if NOW_ID in ids and NOW_ID not in candidates.ids:
        # looked at for itself, even where other cells or another chemistry are wanted
        candidates = Candidates.joined([candidates, *runs_on(job)])
    row_of = {c: i for i, c in enumerate(candidates.ids)}
    return candidates.take([row_of[i] for i in ids if i in row_of])
