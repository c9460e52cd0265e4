"""Go or no go: this pack, as it reads now, in this model, today; and what to set."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.chain.adapters import Adapter
from coldstack.core.charging.inspection import HOLDS_H
from coldstack.core.fit.verdict import FitVerdict
from coldstack.core.life.wording import records_more
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.cells import PackReading, as_cells_may_be
from coldstack.core.readings.tolerance import apart
from coldstack.core.rules.house_rules import CellRules, HouseRules
from coldstack.core.running.limits import GoReason, GoVerdict, broken, limits_of, values_of
from coldstack.core.running.reckoned import FIRST_RUNS, Reckoned, first_runs, reckoned
from coldstack.core.trial.alarm import LoadAlarm, alarm_of, alarm_working
from coldstack.core.trial.candidates import Candidates
from coldstack.core.trial.job import Job
from coldstack.core.trial.spread import MinutesRange
from coldstack.core.units import clock, plain_number
from coldstack.core.working import Step, Working

_ORDER: tuple[GoVerdict, ...] = ("go", "careful", "no_go")


@dataclass(frozen=True, slots=True)
class Go:
    """The verdict, every reason (the worst first), and what to set; ``fit`` is the verdict of the pack in the
    model, whatever it reads today.

    Minutes are from this charge to the landing point.
    """

    verdict: GoVerdict
    fit: FitVerdict
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


@dataclass(frozen=True, slots=True)
class RunContext:
    """What is known of a pack beside its cells and its health.

    ``barred`` is why it may not be run whatever it reads: it charges, cools, or is set apart. ``stranger``:
    nothing was noted of it before these cells. ``noted``: in which state it was noted ``noted_h`` hours ago,
    where nobody read it since and that is gone by.
    """

    barred: str = ""
    stranger: bool = False
    noted: str = ""
    noted_h: float = 0.0
    more: tuple[GoReason, ...] = ()
    """What else speaks against it: of two that run together."""


def go_check(
    job: Job,
    pack: Pack,
    reading: PackReading,
    *,
    pieces: tuple[Adapter, ...] = (),
    temperature_c: float | None = None,
    known: RunContext | None = None,
    candidate: Candidates | None = None,
) -> Go:
    """Whether to run, and timer, mAh and alarm for this pack as it reads now; ``candidate`` is how it is
    judged in the model where it is not one pack."""
    of_it = known or RunContext()
    return go_checks(
        job, pack, [reading], of_it, pieces=pieces, temperature_c=temperature_c, candidate=candidate
    )[0]


def go_checks(
    job: Job,
    pack: Pack,
    readings: Sequence[PackReading],
    known: RunContext,
    *,
    pieces: tuple[Adapter, ...] = (),
    temperature_c: float | None = None,
    candidate: Candidates | None = None,
) -> list[Go]:
    """The same for several readings of one pack at one temperature of its own.

    The run is simulated from the cells as read: the emptiest ends it.
    """
    if known.noted:
        readings = [replace(x, whole=pack.series > 1) for x in readings]
    by = [as_cells_may_be(pack.chemistry, x, job.rules) for x in readings]
    r = reckoned(job, pack, by, pieces=pieces, temperature_c=temperature_c, candidate=candidate)
    limits, found = limits_of(pack, job.rules), []
    alarm = alarm_of(job, pack, pieces)
    for row, reading in enumerate(readings):
        reasons = [
            *standing_reasons(pack, known),
            *_not_known(pack, reading, job.rules, known),
            *_past(pack, reading, known),
            *broken(limits, values_of(reading, temperature_c)),
            *r.reasons[row],
        ]
        found.append(_what_to_set(job, r, by[row], row, reasons, alarm))
    return found


STRANGER = GoReason(
    "stranger",
    "careful",
    "Nobody charged or ran it here before: land early the first time, and look at it again after it.",
)


READ_EVERY_CELL = GoReason(
    "unknown_cells",
    "no_go",
    "Its past is unknown, and its cells were not read one by one: read each before it is run.",
)


def unknown_past(wanted: int) -> GoReason:
    """What is said of a pack of unknown past, of which so many records more are wanted."""
    return GoReason(
        "unknown_past",
        "careful",
        f"Its past is unknown until {records_more(wanted)}: it is run {FIRST_RUNS * 100:.0f} % as long; "
        "look, feel and read each cell after it.",
    )


def cells_unknown(rules: HouseRules) -> GoReason:
    """What is said of a pack of which only the whole was read, and how it is then reckoned with."""
    lower = f"{rules.spread_watch_v:.2f} V below the others"
    return GoReason(
        "cells_unknown",
        "careful",
        f"Only the whole pack was read. Reckoned as if one cell lay {lower} (assumed): land early.",
    )


def _not_known(pack: Pack, reading: PackReading, rules: HouseRules, known: RunContext) -> list[GoReason]:
    """What no reading tells. Cells that nobody can balance are as their charger left them, for a day."""
    if known.noted and (chemistry(pack.chemistry).balanced or known.noted_h > HOLDS_H):
        words = f"Nobody read it: taken as {known.noted}, as it was noted (assumed). Read it, or land early."
        return [GoReason("unread", "careful", words)]
    unknown = apart(pack.chemistry, reading.spread_v, rules) == "unknown"
    return [cells_unknown(rules)] if unknown else []


def _past(pack: Pack, reading: PackReading, known: RunContext) -> list[GoReason]:
    """A pack of unknown past is run by what each of its cells reads now, or not at all."""
    if first_runs(pack) == 1:
        return []
    return [READ_EVERY_CELL] if known.noted or (reading.whole and pack.series > 1) else []


def standing_reasons(pack: Pack, known: RunContext) -> list[GoReason]:
    """What speaks against it whatever it reads: why it may not be run now, and that nobody knows it."""
    barred = [GoReason("barred", "no_go", known.barred)] if known.barred and pack.fit else []
    wanted = pack.today.records_wanted if pack.today else 0
    told = [unknown_past(wanted)] if wanted else [STRANGER] if known.stranger else []
    return [*barred, *known.more, *told]


def worst(reasons: Sequence[GoReason]) -> GoVerdict:
    """The verdict of the worst reason; go without any."""
    return max((r.verdict for r in reasons), key=_ORDER.index, default="go")


def _what_to_set(
    job: Job, r: Reckoned, reading: PackReading, row: int, reasons: list[GoReason], alarm: LoadAlarm
) -> Go:
    """The verdict of the worst reason; the timer by the least minutes."""
    reasons.sort(key=lambda x: -_ORDER.index(x.verdict))
    spread, budget, timer = r.spread, r.budget_mah[row], r.timer_s(row)
    low, middle, high = r.lands(row)
    return Go(
        verdict=worst(reasons),
        fit=r.fit.verdict,
        reasons=tuple(reasons),
        timer_s=timer,
        minutes=middle,
        minutes_low=low,
        minutes_high=high,
        budget_mah=budget,
        alarm_cell_v=alarm.cell_v,
        working=_working(job, r.pack, reading, r.rules, spread, row, timer),
        budget_working=_budget(job, r.pack, reading.lowest_soc, r.rules, budget),
        alarm_working=alarm_working(job.rules, r.rules, alarm, r.pack.chemistry, r.pack.series),
    )


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
        _timer_step(job, pack, low, timer_s),
    )
    return Working("Timer", steps)


def _timer_step(job: Job, pack: Pack, low_min: float, timer_s: int) -> Step:
    share, n = job.used_share * first_runs(pack), plain_number
    if share == 1:
        return Step("Timer", "low end of the range, down to 10 s", f"{n(low_min)} min → {clock(timer_s)}")
    by = f"low end of the range × {share:g}, down to 10 s: {_why_not_all(job)}"
    return Step("Timer", by, f"{n(low_min)} min × {share:g} → {clock(timer_s)}")


def _why_not_all(job: Job) -> str:
    """Why not all of the run to its landing point is allowed."""
    return "its past is unknown" if job.equipment is None else f"a reserve for {job.equipment.name}"


def _budget(job: Job, pack: Pack, now: float, rules: CellRules, budget_mah: float) -> Working:
    held = f"{plain_number(1000 * pack.held_ah, 4)} mAh"
    above, part = max(0.0, now - rules.landing_soc) * 100, job.used_share * first_runs(pack)
    times = "" if part == 1 else f" × {part:g}"
    by = times and f"{times}: {_why_not_all(job)}"
    steps = (
        Step("Capacity today", "label × what it held at its latest charges, or its log", held),
        Step(
            "Above the landing point",
            "lowest cell now − landing",
            f"{now * 100:.0f} % − {rules.landing_soc * 100:.0f} %",
            job.rules.cited,
        ),
        Step("To use", f"capacity × share{by}", f"{held} × {above:.0f} %{times} = {budget_mah:.0f} mAh"),
    )
    return Working("Use at most", steps)
