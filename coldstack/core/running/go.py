"""Go or no go: this pack, as it reads now, in this model, today; and what to set."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from coldstack.core.charging.cell_readings import PackReading
from coldstack.core.discharge.batch import CellColumns, Ending, Floats, PackColumns
from coldstack.core.discharge.simulate import simulate
from coldstack.core.keeping.evidence import Level
from coldstack.core.matching.verdict import lacks_and_wishes
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.alarm import alarm_working
from coldstack.core.rules.house_rules import CellRules, for_chemistry
from coldstack.core.running.limits import GoReason, GoVerdict, broken, health_reasons, limits_of, values_of
from coldstack.core.trial.candidates import job_candidates
from coldstack.core.trial.evaluate import Evaluation, evaluate, loads, pack_columns, surroundings
from coldstack.core.trial.job import Job
from coldstack.core.trial.spread import MinutesRange, minutes_range
from coldstack.core.trial.wording import hottest_link
from coldstack.core.units import clock, percent, plain_number
from coldstack.core.working import Step, Working

_ORDER: tuple[GoVerdict, ...] = ("go", "careful", "no_go")

LEAST_SHARE = 0.15
"""With less than this of a full run left above the landing point it is not worth a start. House figure."""
SPENT = GoReason("spent", "no_go", "Spent: there is hardly anything above the landing point.")


@dataclass(frozen=True, slots=True)
class Go:
    """The verdict, every reason (the worst first), and what to set.

    Minutes are from this charge to the landing point.
    """

    verdict: GoVerdict
    reasons: tuple[GoReason, ...]
    timer_s: int
    minutes: float
    minutes_low: float
    minutes_high: float
    budget_mah: float
    alarm_cell_v: float
    working: Working
    budget_working: Working
    alarm_working: Working


def go_check(
    job: Job,
    pack: Pack,
    reading: PackReading,
    *,
    level: Level = "fine",
    temperature_c: float | None = None,
    resistance_mohm: float | None = None,
    capacity_share: float | None = None,
    cell_ratios: tuple[float, ...] = (),
    barred: str = "",
) -> Go:
    """Whether to run, and timer, mAh and alarm for this pack as it reads now."""
    known = Known(level, resistance_mohm, capacity_share, cell_ratios, barred)
    return go_checks(job, pack, [reading], known, temperature_c=temperature_c)[0]


@dataclass(frozen=True, slots=True)
class Known:
    """What is known of a pack beside its cells.

    ``barred`` is why it may not be run whatever it reads: it charges, cools, or is set apart.
    ``resistance_mohm`` and ``capacity_share`` are today's, from its records, ``cell_ratios`` each cell's
    resistance over the pack's middle one.
    """

    level: Level = "fine"
    resistance_mohm: float | None = None
    capacity_share: float | None = None
    cell_ratios: tuple[float, ...] = ()
    barred: str = ""


def go_checks(
    job: Job,
    pack: Pack,
    readings: Sequence[PackReading],
    known_of: Known,
    *,
    temperature_c: float | None = None,
) -> list[Go]:
    """The same for several readings of one pack at one temperature of its own.

    The run is simulated from the cells as read: the emptiest ends it.
    """
    r = reckoned(job, pack, readings, known_of, temperature_c=temperature_c)
    limits, found = limits_of(pack, job.rules), []
    for row, reading in enumerate(readings):
        reasons = [
            *standing_reasons(pack, known_of),
            *broken(limits, values_of(reading, temperature_c)),
            *r.reasons[row],
        ]
        found.append(_what_to_set(job, r, reading, row, reasons))
    return found


def standing_reasons(pack: Pack, known: Known) -> list[GoReason]:
    """What speaks against it whatever it reads: health, and why it may not be run now."""
    barred = [GoReason("barred", "no_go", known.barred)] if known.barred and known.level != "retire" else []
    return [*health_reasons(pack, known.level), *barred]


@dataclass(frozen=True, slots=True)
class Reckoned:
    """What only a reckoning tells, for each of several readings: reasons, minutes, charge; ``pack`` with its
    figures of today."""

    pack: Pack
    rules: CellRules
    reasons: list[list[GoReason]]
    spread: MinutesRange
    budget_mah: list[float]


def reckoned(
    job: Job,
    pack: Pack,
    readings: Sequence[PackReading],
    known_of: Known,
    *,
    temperature_c: float | None = None,
) -> Reckoned:
    """The runs of one pack from several readings."""
    ah = pack.capacity_ah * min(known_of.capacity_share, 1.0) if known_of.capacity_share else None
    mohm = known_of.resistance_mohm
    known = pack.measured(resistance_mohm=mohm, capacity_ah=ah, health=known_of.level)
    here = job if temperature_c is None else replace(job, bay=replace(job.bay, pack_c=temperature_c))
    e, endings, spread = _from_cells(here, known, readings, known_of.cell_ratios)
    rules = for_chemistry(job.rules, pack.chemistry)
    reasons, budget = [], []
    for reading, ending, minutes in zip(readings, endings, spread.minutes.tolist(), strict=True):
        above = max(0.0, reading.lowest_soc - rules.landing_soc)
        share = above / (rules.start_soc - rules.landing_soc)
        worth = share >= LEAST_SHARE
        model = _model_reasons(e, pack, ending, minutes, worth_a_start=worth)
        reasons.append([*_charge(share, minutes), *model])
        budget.append(1000 * above * known.held_ah)
    return Reckoned(known, rules, reasons, spread, budget)


def worst(reasons: Sequence[GoReason]) -> GoVerdict:
    """The verdict of the worst reason; go without any."""
    return max((r.verdict for r in reasons), key=_ORDER.index, default="go")


def _what_to_set(job: Job, r: Reckoned, reading: PackReading, row: int, reasons: list[GoReason]) -> Go:
    """The verdict of the worst reason; the timer by the least minutes."""
    reasons.sort(key=lambda x: -_ORDER.index(x.verdict))
    spread, budget, timer = r.spread, r.budget_mah[row], r.spread.timer_s(row)
    low, middle, high = (float(x[row]) for x in (spread.low, spread.minutes, spread.high))
    return Go(
        verdict=worst(reasons),
        reasons=tuple(reasons),
        timer_s=timer,
        minutes=middle,
        minutes_low=low,
        minutes_high=high,
        budget_mah=budget,
        alarm_cell_v=r.rules.alarm_v,
        working=_working(job, r.pack, reading, r.rules, spread, row, timer),
        budget_working=_budget(job, r.pack, reading.lowest_soc, r.rules, budget),
        alarm_working=alarm_working(job.rules, r.rules, r.pack.chemistry, r.pack.series),
    )


_STOPS = {
    Ending.REACHED_CUTOFF: "the controller stops at a peak",
    Ending.CANNOT_DELIVER: "the pack cannot give what is asked of it",
}


def _as_read(packs: PackColumns, readings: Sequence[PackReading], ratios: tuple[float, ...]) -> PackColumns:
    """The pack once for each reading, with each cell at the charge that it reads, and its own resistance
    where that is known."""
    groups = [_alike(r, ratios) for r in readings]
    widest = max(len(count) for _, count in groups)
    # rows are as wide as the widest: a group of none repeats another
    socs, of_cell, count = (np.empty((len(groups), widest)) for _ in range(3))
    for row, (kinds, counts) in enumerate(groups):
        rest = widest - len(counts)
        socs[row], of_cell[row] = np.pad(kinds, ((0, 0), (0, rest)), "edge")
        count[row] = np.pad(counts, (0, rest))
    many = packs.take(np.zeros(len(groups), np.int64))
    ah = np.full_like(socs, packs.capacity_ah[0])
    cells = CellColumns(count, ah, of_cell * packs.resistance_mohm[0], socs)
    return replace(many, cells=cells, start_soc=socs.min(axis=1))


def _alike(reading: PackReading, ratios: tuple[float, ...]) -> tuple[Floats, Floats]:
    """Cells that read alike run alike: the kinds, charge over resistance, shape (2, G), and how many of
    each."""
    socs = np.clip(reading.socs, 0.0, 1.0)
    of_cell = np.array(ratios) if len(ratios) == len(socs) else np.ones_like(socs)
    kinds, count = np.unique(np.stack([socs, of_cell]), axis=1, return_counts=True)
    return kinds, count.astype(float)


def _from_cells(
    job: Job, pack: Pack, readings: Sequence[PackReading], ratios: tuple[float, ...]
) -> tuple[Evaluation, list[Ending], MinutesRange]:
    """The pack in the job by its label and figures; how it ends, and the minutes, from its cells as read."""
    one = job_candidates(job, [pack])
    as_read = _as_read(pack_columns(job, one), readings, ratios)
    many = one.take([0] * len(readings))
    run = simulate(as_read, loads(job, many), surroundings(job))
    none_cut = np.zeros(len(many), bool)
    spread = minutes_range(job, many, run.duration_s / 60, none_cut, packs=as_read)
    return evaluate(job, one), [Ending(int(x)) for x in run.ending], spread


def _model_reasons(
    e: Evaluation, pack: Pack, ending: Ending, minutes: float, *, worth_a_start: bool
) -> list[GoReason]:
    lacks, _ = lacks_and_wishes(e, 0)
    unfit = [GoReason("fit", "no_go", f"{pack.name} in {e.job.name}: {x}.") for x in lacks]
    early = _stops_early(ending, minutes) if worth_a_start and not lacks else []
    return [*_overload(e), *unfit, *early]


def _overload(e: Evaluation) -> list[GoReason]:
    loading, link = hottest_link(e, 0)
    words = f"{link[:1].upper()}{link[1:]} would carry {percent(loading)} of its limit in {e.job.name}."
    return [GoReason("overload", "no_go", words)] if loading > 1 else []


def _stops_early(ending: Ending, minutes: float) -> list[GoReason]:
    if ending not in _STOPS:
        return []
    ends = f"it ends at {plain_number(minutes, 2)} min, before landing"
    return [GoReason("stops", "no_go", f"From the cells as read {ends}: {_STOPS[ending]}.")]


def _charge(share: float, minutes: float) -> list[GoReason]:
    if share < LEAST_SHARE:
        return [SPENT]
    if share < 0.9:
        return [
            GoReason(
                "part",
                "careful",
                f"Not full: about {plain_number(minutes, 2)} min, {share * 100:.0f} % of a full run.",
            )
        ]
    return []


def _working(
    job: Job,
    pack: Pack,
    reading: PackReading,
    rules: CellRules,
    spread: MinutesRange,
    row: int,
    timer_s: int,
) -> Working:
    n = plain_number
    socs = [f"{100 * z:.0f}" for z in reading.socs]
    cells = f"{socs[0]} %" if len(set(socs)) == 1 else " ".join(socs) + " %"
    minutes, low, high = (float(x[row]) for x in (spread.minutes, spread.low, spread.high))
    used = f"{job.rules.usable_share * 100:.0f} % used"
    by = f"the earlier of {used} and {rules.landing_rest_v:.2f} V a cell at rest"
    steps = (
        Step("Charge now", "each cell through the open-circuit curve", cells),
        Step(
            "Landing point",
            by,
            f"{rules.landing_soc * 100:.0f} % left, by {rules.landing_by}",
            job.rules.cited,
        ),
        Step(
            "Run from here",
            f"simulated in {job.name} from the cells as read; the emptiest ends it",
            f"{n(minutes)} min on {n(1000 * pack.held_ah, 4)} mAh",
        ),
        Step(
            "Range", f"5th to 95th percentile; most of it: {spread.most(row)}", f"{n(low)} to {n(high)} min"
        ),
        Step("Timer", "low end of the range, down to 10 s", f"{n(low)} min → {clock(timer_s)}"),
    )
    return Working("Timer", steps)


def _budget(job: Job, pack: Pack, now: float, rules: CellRules, budget_mah: float) -> Working:
    held = f"{plain_number(1000 * pack.held_ah, 4)} mAh"
    above = max(0.0, now - rules.landing_soc) * 100
    steps = (
        Step("Capacity today", "label × what it held at its latest charges, or its log", held),
        Step(
            "Above the landing point",
            "lowest cell now − landing",
            f"{now * 100:.0f} % − {rules.landing_soc * 100:.0f} %",
            job.rules.cited,
        ),
        Step("To use", "capacity × share", f"{held} × {above:.0f} % = {budget_mah:.0f} mAh"),
    )
    return Working("Use at most", steps)
