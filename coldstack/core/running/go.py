"""Go or no go: this pack, as it reads now, in this model, today; and what to set."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import soc_at_rest
from coldstack.core.charging.cell_readings import PackReading
from coldstack.core.keeping.health import Level
from coldstack.core.matching.drive import lacks_and_wishes
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import CellRules, HouseRules, for_chemistry
from coldstack.core.sizing.candidates import job_candidates
from coldstack.core.sizing.derivations import alarm_working
from coldstack.core.sizing.evaluate import evaluate
from coldstack.core.sizing.job import Job
from coldstack.core.sizing.spread import minutes_range
from coldstack.core.sizing.wording import hottest_link
from coldstack.core.units import clock, percent, plain_number
from coldstack.core.working import Step, Working

Verdict = Literal["go", "careful", "no_go"]
_ORDER: tuple[Verdict, ...] = ("go", "careful", "no_go")

FROZEN_C = 0.0
LEAST_SHARE = 0.15
"""With less than this of a full run left above the landing point it is not worth a start. House figure."""
TIMER_STEP_S = 10


@dataclass(frozen=True, slots=True)
class GoReason:
    """One thing that speaks against it, or that one should know."""

    id: str
    verdict: Verdict
    sentence: str


@dataclass(frozen=True, slots=True)
class Go:
    """The verdict, every reason (the worst first), and what to set. Minutes are from this charge to the landing point."""

    verdict: Verdict
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


def go_check(job: Job, pack: Pack, reading: PackReading, *, level: Level = "fine", temperature_c: float | None = None, resistance_mohm: float | None = None, capacity_share: float | None = None) -> Go:  # fmt: skip
    """Whether to run, and timer, mAh and alarm for this pack now.

    ``resistance_mohm`` and ``capacity_share`` are today's, from its records; ``temperature_c`` the pack's. The run is simulated from
    full and taken in proportion to the charge above the landing point, which is a little careful at the top of the curve.
    """
    known = replace(
        pack,
        cell_resistance_mohm=resistance_mohm or pack.cell_resistance_mohm,
        capacity_ah=pack.capacity_ah * min(capacity_share or 1.0, 1.0),
    )
    here = job if temperature_c is None else replace(job, bay=replace(job.bay, pack_c=temperature_c))
    candidate = job_candidates(job, [known])
    e = evaluate(here, candidate)
    spread = minutes_range(here, candidate, e.minutes, np.zeros(1, bool))
    rules = for_chemistry(job.rules, pack.chemistry)
    now = min(reading.lowest_soc, rules.start_soc)
    share = max(0.0, (now - rules.landing_soc) / (rules.start_soc - rules.landing_soc))
    low, middle, high = (float(x) * share for x in (spread.low[0], e.minutes[0], spread.high[0]))
    lacks, _ = lacks_and_wishes(e, 0)
    loading, link = hottest_link(e, 0)
    over = [GoReason("overload", "no_go", f"{link} would carry {percent(loading)} of its limit in {job.name}.")] if loading > 1 else []  # fmt: skip
    reasons = [*_pack_reasons(pack, reading, level, job.rules), *over, *_charge(share, middle), *_cold(temperature_c, job.rules), *(GoReason("fit", "no_go", f"{pack.name} in {job.name}: {x}.") for x in lacks)]  # fmt: skip
    reasons.sort(key=lambda r: -_ORDER.index(r.verdict))
    budget = 1000 * max(0.0, now - rules.landing_soc) * known.capacity_ah
    timer = int(low * 60 // TIMER_STEP_S * TIMER_STEP_S)
    return Go(
        reasons[0].verdict if reasons else "go", tuple(reasons), timer, middle, low, high, budget, rules.alarm_v,
        _working(job, known, now, rules, share, float(e.minutes[0]), low, timer),
        _budget(job, known, now, rules, budget), alarm_working(job.rules, rules, pack.chemistry, pack.series),
    )  # fmt: skip


def _pack_reasons(pack: Pack, reading: PackReading, level: Level, rules: HouseRules) -> list[GoReason]:
    cell, out = chemistry(pack.chemistry), []
    if level == "retire" or not pack.fit:
        out.append(GoReason("retired", "no_go", "This pack is to be retired; its page says why."))
    elif level == "light":
        out.append(GoReason("light", "careful", "Light duty only, by its health: nothing that hangs on it in the air."))  # fmt: skip
    elif level == "watch":
        out.append(GoReason("watch", "careful", "Its health is to be watched."))
    if min(reading.cell_v) < cell.damage_v:
        out.append(GoReason("damaged", "no_go", f"A cell rests at {min(reading.cell_v):.2f} V: damaged."))
    if max(reading.cell_v) > cell.full_v + 0.03:
        out.append(GoReason("over_full", "no_go", f"A cell reads {max(reading.cell_v):.2f} V, over full: check chemistry and meter."))  # fmt: skip
    if pack.series > 1 and reading.spread_v >= rules.spread_act_v - 1e-9:
        out.append(GoReason("spread", "no_go", f"Its cells differ by {reading.spread_v:.3f} V: the low one would be driven empty."))  # fmt: skip
    elif pack.series > 1 and reading.spread_v >= rules.spread_watch_v - 1e-9:
        out.append(GoReason("spread", "careful", f"Its cells differ by {reading.spread_v:.3f} V: land early, and watch it."))  # fmt: skip
    return out


def _charge(share: float, minutes: float) -> list[GoReason]:
    if share < LEAST_SHARE:
        return [GoReason("spent", "no_go", "Spent: there is hardly anything above the landing point.")]
    if share < 0.9:
        return [GoReason("part", "careful", f"Not full: about {plain_number(minutes, 2)} min, {share * 100:.0f} % of a full run.")]  # fmt: skip
    return []


def _cold(temperature_c: float | None, rules: HouseRules) -> list[GoReason]:
    if temperature_c is None or temperature_c >= rules.cold_run_c:
        return []
    verdict: Verdict = "no_go" if temperature_c < FROZEN_C else "careful"
    return [GoReason("cold", verdict, f"At {plain_number(temperature_c)} °C its resistance is high: warm it in a pocket first.")]  # fmt: skip


def _working(job: Job, pack: Pack, now: float, rules: CellRules, share: float, full: float, low: float, timer_s: int) -> Working:  # fmt: skip
    n = plain_number
    return Working("Timer", (
        Step("Charge now", "the lowest cell through the open-circuit curve", f"{now * 100:.0f} %"),
        Step("Landing point", f"the earlier of {job.rules.usable_share * 100:.0f} % used and {rules.landing_rest_v:.2f} V a cell at rest", f"{rules.landing_soc * 100:.0f} % left, by {rules.landing_by}", job.rules.cited),
        Step("Full run", f"simulated in {job.name} with today’s resistance and capacity", f"{n(full)} min on {n(1000 * pack.capacity_ah, 4)} mAh"),
        Step("Share of it", "(now − landing) ÷ (full − landing)", f"{share * 100:.0f} %"),
        Step("Timer", "low end of the range, down to 10 s", f"{n(low)} min → {clock(timer_s)}"),
    ))  # fmt: skip


def _budget(job: Job, pack: Pack, now: float, rules: CellRules, budget_mah: float) -> Working:
    n = plain_number
    return Working("Use at most", (
        Step("Capacity today", "label × what it held at its latest charges, never more than the label", f"{n(1000 * pack.capacity_ah, 4)} mAh"),
        Step("Above the landing point", "lowest cell now − landing", f"{now * 100:.0f} % − {rules.landing_soc * 100:.0f} %", job.rules.cited),
        Step("To use", "capacity × share", f"{n(1000 * pack.capacity_ah, 4)} mAh × {max(0.0, now - rules.landing_soc) * 100:.0f} % = {budget_mah:.0f} mAh"),
    ))  # fmt: skip


@dataclass(frozen=True, slots=True)
class Learned:
    """A model's average draw from its own runs, with its scatter as a share, and from how many; of those ``by_volts`` by their landing volts."""

    average_a: float
    spread: float
    count: int
    by_volts: int = 0


FEWEST_RUNS = 3


def mah_by_landing(pack: Pack, landing_rest_v: float, *, rules: HouseRules) -> float | None:
    """What a run took, by the volts of a cell at rest after it: capacity × (full by the rules − charge at rest). [mAh]

    The pack is taken to have begun full, and to hold its label. None where volts say little: a flat curve, or above what full is.
    """
    if chemistry(pack.chemistry).charge_method == "peak" or pack.chemistry == "lifepo4":
        return None
    used = for_chemistry(rules, pack.chemistry).start_soc - soc_at_rest(pack.chemistry, landing_rest_v)
    return 1000 * used * pack.capacity_ah if used > 0 else None


def learned_draw(runs: Sequence[tuple[float, float]], landed: Sequence[tuple[float, float]] = ()) -> Learned | None:  # fmt: skip
    """From runs of (minutes, mAh put back), and ``landed`` ones whose mAh are by their volts: the total charge over the total time, so that long runs count for more. [A]

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
