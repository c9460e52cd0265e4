"""Go or no go: this pack, as it reads now, in this model, today; and what to set."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import soc_at_rest
from coldstack.core.charging.cell_readings import PackReading
from coldstack.core.charging.margins import OVER_FULL_V
from coldstack.core.discharge.batch import CellColumns, Ending, PackColumns
from coldstack.core.discharge.simulate import simulate
from coldstack.core.keeping.evidence import Level
from coldstack.core.matching.verdict import lacks_and_wishes
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.alarm import alarm_working
from coldstack.core.rules.house_rules import CellRules, HouseRules, for_chemistry
from coldstack.core.trial.candidates import job_candidates
from coldstack.core.trial.evaluate import Evaluation, evaluate, loads, pack_columns, surroundings
from coldstack.core.trial.job import Job
from coldstack.core.trial.spread import MinutesRange, minutes_range
from coldstack.core.trial.wording import hottest_link
from coldstack.core.units import clock, percent, plain_number
from coldstack.core.working import Step, Working

GoVerdict = Literal["go", "careful", "no_go"]
_ORDER: tuple[GoVerdict, ...] = ("go", "careful", "no_go")

FROZEN_C = 0.0
LEAST_SHARE = 0.15
"""With less than this of a full run left above the landing point it is not worth a start. House figure."""


@dataclass(frozen=True, slots=True)
class GoReason:
    """One thing that speaks against it, or that one should know."""

    id: str
    verdict: GoVerdict
    sentence: str


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
    """Whether to run, and timer, mAh and alarm for this pack now.

    ``barred`` is why it may not be run whatever it reads: it charges, cools, or is set apart.
    ``resistance_mohm`` and ``capacity_share`` are today's, from its records, ``cell_ratios`` each cell's
    resistance over the pack's middle one; ``temperature_c`` is the pack's. The run is simulated from the
    cells as read: the emptiest ends it.
    """
    ah = pack.capacity_ah * min(capacity_share, 1.0) if capacity_share else None
    known = pack.measured(resistance_mohm=resistance_mohm, capacity_ah=ah, health=level)
    here = job if temperature_c is None else replace(job, bay=replace(job.bay, pack_c=temperature_c))
    e, ending, spread = _from_cells(here, known, reading, cell_ratios)
    rules = for_chemistry(job.rules, pack.chemistry)
    share = max(0.0, (reading.lowest_soc - rules.landing_soc) / (rules.start_soc - rules.landing_soc))
    middle = float(spread.minutes[0])
    reasons = [
        *_pack_reasons(pack, reading, level, job.rules),
        *([GoReason("barred", "no_go", barred)] if barred and level != "retire" else []),
        *_charge(share, middle),
        *_cold(temperature_c, job.rules),
        *_model_reasons(e, pack, ending, middle, worth_a_start=share >= LEAST_SHARE),
    ]
    return _what_to_set(job, known, reading, rules, spread, reasons)


def _what_to_set(
    job: Job,
    known: Pack,
    reading: PackReading,
    rules: CellRules,
    spread: MinutesRange,
    reasons: list[GoReason],
) -> Go:
    """The verdict of the worst reason; the timer by the least minutes."""
    reasons.sort(key=lambda r: -_ORDER.index(r.verdict))
    now = reading.lowest_soc
    low, middle, high = (float(x[0]) for x in (spread.low, spread.minutes, spread.high))
    budget = 1000 * max(0.0, now - rules.landing_soc) * known.held_ah
    timer = spread.timer_s(0)
    return Go(
        verdict=reasons[0].verdict if reasons else "go",
        reasons=tuple(reasons),
        timer_s=timer,
        minutes=middle,
        minutes_low=low,
        minutes_high=high,
        budget_mah=budget,
        alarm_cell_v=rules.alarm_v,
        working=_working(job, known, reading, rules, spread, timer),
        budget_working=_budget(job, known, now, rules, budget),
        alarm_working=alarm_working(job.rules, rules, known.chemistry, known.series),
    )


_STOPS = {
    Ending.REACHED_CUTOFF: "the controller stops at a peak",
    Ending.CANNOT_DELIVER: "the pack cannot give what is asked of it",
}


def _as_read(packs: PackColumns, reading: PackReading, ratios: tuple[float, ...]) -> PackColumns:
    """The pack with each cell at the charge that it reads, and its own resistance where that is known."""
    socs = np.clip(reading.socs, 0.0, 1.0)
    of_cell = np.array(ratios) if len(ratios) == len(socs) else np.ones_like(socs)
    # cells that read alike run alike
    (socs, of_cell), count = np.unique(np.stack([socs, of_cell]), axis=1, return_counts=True)
    ah = np.full_like(socs, packs.capacity_ah[0])
    cells = CellColumns(
        *(x[None, :] for x in (count.astype(float), ah, of_cell * packs.resistance_mohm[0], socs))
    )
    return replace(packs, cells=cells, start_soc=np.array([socs.min()]))


def _from_cells(
    job: Job, pack: Pack, reading: PackReading, ratios: tuple[float, ...]
) -> tuple[Evaluation, Ending, MinutesRange]:
    """The pack in the job by its label and figures; how it ends, and the minutes, from its cells as read."""
    candidate = job_candidates(job, [pack])
    as_read = _as_read(pack_columns(job, candidate), reading, ratios)
    run = simulate(as_read, loads(job, candidate), surroundings(job))
    spread = minutes_range(job, candidate, run.duration_s / 60, np.zeros(1, bool), packs=as_read)
    return evaluate(job, candidate), Ending(int(run.ending[0])), spread


def _model_reasons(
    e: Evaluation, pack: Pack, ending: Ending, minutes: float, *, worth_a_start: bool
) -> list[GoReason]:
    lacks, _ = lacks_and_wishes(e, 0)
    unfit = [GoReason("fit", "no_go", f"{pack.name} in {e.job.name}: {x}.") for x in lacks]
    early = _stops_early(ending, minutes) if worth_a_start and not lacks else []
    return [*_overload(e), *unfit, *early]


def _overload(e: Evaluation) -> list[GoReason]:
    loading, link = hottest_link(e, 0)
    words = f"{link} would carry {percent(loading)} of its limit in {e.job.name}."
    return [GoReason("overload", "no_go", words)] if loading > 1 else []


def _stops_early(ending: Ending, minutes: float) -> list[GoReason]:
    if ending not in _STOPS:
        return []
    ends = f"it ends at {plain_number(minutes, 2)} min, before landing"
    return [GoReason("stops", "no_go", f"From the cells as read {ends}: {_STOPS[ending]}.")]


def _pack_reasons(pack: Pack, reading: PackReading, level: Level, rules: HouseRules) -> list[GoReason]:
    cell, out = chemistry(pack.chemistry), []
    if level == "retire" or not pack.fit:
        out.append(GoReason("retired", "no_go", "This pack is to be retired; its page says why."))
    elif level == "light":
        out.append(
            GoReason(
                "light", "careful", "Light duty only, by its health: nothing that hangs on it in the air."
            )
        )
    elif level == "again":
        out.append(
            GoReason("again", "careful", "Its last reading is out of line: read its cells again first.")
        )
    elif level == "watch":
        out.append(GoReason("watch", "careful", "Its health is to be watched."))
    if min(reading.cell_v) < cell.damage_v:
        out.append(GoReason("damaged", "no_go", f"A cell rests at {min(reading.cell_v):.2f} V: damaged."))
    if max(reading.cell_v) > cell.full_v + OVER_FULL_V:
        out.append(
            GoReason(
                "over_full",
                "no_go",
                f"A cell reads {max(reading.cell_v):.2f} V, over full: check chemistry and meter.",
            )
        )
    if pack.series > 1 and reading.spread_v >= rules.spread_act_v - 1e-9:
        out.append(
            GoReason(
                "spread",
                "no_go",
                f"Its cells differ by {reading.spread_v:.3f} V: the low one would be driven empty.",
            )
        )
    elif pack.series > 1 and reading.spread_v >= rules.spread_watch_v - 1e-9:
        out.append(
            GoReason(
                "spread",
                "careful",
                f"Its cells differ by {reading.spread_v:.3f} V: land early, and watch it.",
            )
        )
    return out


def _charge(share: float, minutes: float) -> list[GoReason]:
    if share < LEAST_SHARE:
        return [GoReason("spent", "no_go", "Spent: there is hardly anything above the landing point.")]
    if share < 0.9:
        return [
            GoReason(
                "part",
                "careful",
                f"Not full: about {plain_number(minutes, 2)} min, {share * 100:.0f} % of a full run.",
            )
        ]
    return []


def _cold(temperature_c: float | None, rules: HouseRules) -> list[GoReason]:
    if temperature_c is None or temperature_c >= rules.cold_run_c:
        return []
    verdict: GoVerdict = "no_go" if temperature_c < FROZEN_C else "careful"
    return [
        GoReason(
            "cold",
            verdict,
            f"At {plain_number(temperature_c)} °C its resistance is high: warm it in a pocket first.",
        )
    ]


def _working(
    job: Job, pack: Pack, reading: PackReading, rules: CellRules, spread: MinutesRange, timer_s: int
) -> Working:
    n = plain_number
    socs = [f"{100 * z:.0f}" for z in reading.socs]
    cells = f"{socs[0]} %" if len(set(socs)) == 1 else " ".join(socs) + " %"
    minutes, low, high = (float(x[0]) for x in (spread.minutes, spread.low, spread.high))
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
        Step("Range", f"5th to 95th percentile; most of it: {spread.most(0)}", f"{n(low)} to {n(high)} min"),
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


@dataclass(frozen=True, slots=True)
class Learned:
    """A model's average draw from its own runs, with its scatter as a share, and from how many; of those
    ``by_volts`` by their landing volts."""

    average_a: float
    spread: float
    count: int
    by_volts: int = 0


FEWEST_RUNS = 3


def mah_by_landing(pack: Pack, landing_rest_v: float, *, rules: HouseRules) -> float | None:
    """What a run took, by the volts of a cell at rest after it: capacity × (full by the rules − charge
    at rest). [mAh]

    The pack is taken to have begun full, and to hold its label. None where volts say little: a flat curve,
    or above what full is.
    """
    if not chemistry(pack.chemistry).volts_tell:
        return None
    used = for_chemistry(rules, pack.chemistry).start_soc - soc_at_rest(pack.chemistry, landing_rest_v)
    return 1000 * used * pack.capacity_ah if used > 0 else None


def learned_draw(
    runs: Sequence[tuple[float, float]], landed: Sequence[tuple[float, float]] = ()
) -> Learned | None:
    """From runs of (minutes, mAh put back), and ``landed`` ones whose mAh are by their volts: the total
    charge over the total time, so that long runs count for more. [A]

    None with fewer than three runs: too early. The spread is the deviation of the single runs, 5 % at least.
    """
    whole = [(m, mah) for m, mah in (*runs, *landed) if m > 0 and mah > 0]
    if len(whole) < FEWEST_RUNS:
        return None
    each = np.array([mah / 1000 / (m / 60) for m, mah in whole])
    average = sum(mah for _, mah in whole) / 1000 / (sum(m for m, _ in whole) / 60)
    return Learned(
        float(average),
        max(0.05, float(each.std(ddof=1) / average)),
        len(whole),
        sum(m > 0 and mah > 0 for m, mah in landed),
    )
