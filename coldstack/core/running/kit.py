"""The field kit: what a phone without a line needs to say go or no go of one pack, as data.

It holds what does not hang on the cells, the limits, and rows of timer and charge by the lowest cell's volts
and the pack's warmth. Whoever uses it compares and looks up; nothing is reckoned there. A row is the worse of
two packs: all cells read as the lowest one, or the others as far above it as may still be run (some models
draw more from more volts). A warmth is the worse of its two ends. So the kit is never more lenient than the
check itself.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import chain, groupby, pairwise

import numpy as np

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.chain.adapters import Adapter
from coldstack.core.charging.amps import HOTTEST_CHARGE_C
from coldstack.core.fit.fit import fit_of
from coldstack.core.fit.verdict import FitVerdict
from coldstack.core.packs.health import StateOfHealth
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.cells import LEAST_SHARE, below_the_middle_v, highest_possible_v
from coldstack.core.readings.tolerance import apart
from coldstack.core.rules.house_rules import for_chemistry
from coldstack.core.running.go import READ_EVERY_CELL, RunContext, cells_unknown, standing_reasons
from coldstack.core.running.kit_rows import Line, charges, reckoned_lines, spaced, told_at
from coldstack.core.running.limits import GoReason, ReadingLimit, limits_of
from coldstack.core.running.reckoned import SPENT, Reckoned, first_runs
from coldstack.core.running.since import SaidSince
from coldstack.core.trial.alarm import LoadAlarm, alarms
from coldstack.core.trial.candidates import Candidates, job_candidates
from coldstack.core.trial.evaluate import Evaluation
from coldstack.core.trial.job import Job

STEP_V = 0.01
"""People read cells to a hundredth of a volt."""
OF_WARMTH = 0.05
"""Where a warmth was read, rows share an answer that hold at most so much more of a charge."""
EDGES_C = tuple(np.arange(0.0, HOTTEST_CHARGE_C + 1, 10.0).tolist())
"""Between these the kit knows a pack's warmth: below the first nothing is run, and above the last a pack may
still have to cool, of which the kit says nothing."""


@dataclass(frozen=True, slots=True)
class Warmth:
    """A pack from this warm to just below that. [°C]"""

    from_c: float
    to_c: float


@dataclass(frozen=True, slots=True)
class KitAnswer:
    """What the reckoning says of one row at one warmth."""

    timer_s: int
    minutes: float
    minutes_low: float
    minutes_high: float
    reasons: tuple[GoReason, ...]


@dataclass(frozen=True, slots=True)
class KitRow:
    """From this lowest cell on, up to the next row: mAh to use, and an answer for each warmth. [V], [mAh]"""

    from_v: float
    budget_mah: float
    answers: tuple[KitAnswer, ...]


@dataclass(frozen=True, slots=True)
class WholeReading:
    """How to look up a pack of which only the whole was read: its lowest cell is taken so far below the
    middle, with these reasons. [V]"""

    below_v: float
    reasons: tuple[GoReason, ...]


@dataclass(frozen=True, slots=True)
class Kit:
    """All of one pack in one model.

    ``warmths`` are those of each answer after the first, which is for a pack whose warmth nobody read.
    Below the first row's volts it is ``spent``. Cells read above ``highest_v`` are a slip of the finger. It
    may be trusted for ``good_h``. [V], [h]
    """

    fit: FitVerdict
    series: int
    highest_v: float
    warmths: tuple[Warmth, ...]
    rows: tuple[KitRow, ...]
    limits: tuple[ReadingLimit, ...]
    reasons: tuple[GoReason, ...]
    spent: GoReason
    alarm_cell_v: float
    alarm_v: float
    good_h: float
    whole: WholeReading
    since: SaidSince


@dataclass(frozen=True, slots=True)
class TakenAlong:
    """A pack as it is taken along: what is known of it, what may be said of it since, and from which lowest
    cell down its health would say that it lost charge lying about, with what it would be then."""

    pack: Pack
    known: RunContext
    since: SaidSince
    worse: tuple[tuple[float, StateOfHealth], ...] = ()
    """Below so many volts it is as this. [V]"""


def kits_of(job: Job, along: Sequence[TakenAlong], pieces: tuple[Adapter, ...]) -> list[Kit]:
    """The kits of some packs in one model, simulated together."""
    if not along:
        return []
    reads = [(a, list(_as_read_from(a, _row_volts(job, a.pack)))) for a in along]
    each = [(pack, volts) for _, parts in reads for pack, volts in parts]
    c = job_candidates(job, [pack for pack, _ in each], pieces)
    told = told_at(job, c, (None, *EDGES_C))
    heights = alarms(job, c, told[None].discharge)
    rows = _rows_of(job, c, each, told)
    kits, first = [], 0
    for a, parts in reads:
        mine = slice(first, first + len(parts))
        first += len(parts)
        # the last part is the pack as it is when full
        whole = fit_of(told[None], mine.stop - 1)
        mine_rows = tuple(chain.from_iterable(rows[mine]))
        kits.append(_kit(job, a, whole.verdict, heights[mine.stop - 1], mine_rows))
    return kits


def _kit(job: Job, along: TakenAlong, fit: FitVerdict, alarm: LoadAlarm, rows: tuple[KitRow, ...]) -> Kit:
    pack = along.pack
    return Kit(
        fit=fit,
        series=pack.series,
        highest_v=highest_possible_v(pack.chemistry),
        warmths=tuple(Warmth(a, b) for a, b in pairwise(EDGES_C)),
        rows=rows,
        limits=limits_of(pack, job.rules),
        reasons=tuple(standing_reasons(pack, along.known)),
        spent=SPENT,
        alarm_cell_v=alarm.cell_v,
        alarm_v=alarm.cell_v * pack.series,
        good_h=job.rules.kit_h,
        whole=_whole(job, pack),
        since=along.since,
    )


def _as_read_from(along: TakenAlong, volts: Sequence[float]) -> Iterator[tuple[Pack, tuple[float, ...]]]:
    """The pack as it would be by each of these readings of its lowest cell, lowest first."""

    def of(v: float) -> Pack:
        found = next((health for below, health in along.worse if v < below), None)
        return along.pack if found is None else replace(along.pack, today=found)

    for pack, part in groupby(volts, key=of):
        yield pack, tuple(part)


def _rows_of(
    job: Job,
    c: Candidates,
    each: Sequence[tuple[Pack, tuple[float, ...]]],
    told: dict[float | None, Evaluation],
) -> list[list[KitRow]]:
    """The rows of each candidate, from each of its volts."""
    # few read a pack's warmth: there the nearest row below answers, which is never more lenient
    some = [spaced(charges(pack.chemistry, volts, 0.0)[0], OF_WARMTH) for pack, volts in each]
    lines = []
    for row, (pack, volts) in enumerate(each):
        lines.append(Line(row, pack, volts, None))
        few = tuple(volts[k] for k in some[row])
        lines += [Line(row, pack, few, pack_c) for pack_c in EDGES_C]
    found, many = reckoned_lines(job, c, lines, told), 1 + len(EDGES_C)
    return [
        _rows(volts, found[many * row : many * (row + 1)], some[row]) for row, (_, volts) in enumerate(each)
    ]


def _rows(volts: Sequence[float], found: Sequence[Reckoned], some: Sequence[int]) -> list[KitRow]:
    """By what is reckoned for a pack whose warmth nobody read, and at the edges of each warmth."""
    plain, *edges = found
    warm = [tuple(_answer(ends, k) for ends in pairwise(edges)) for k in range(len(some))]
    return [
        KitRow(
            from_v=v,
            budget_mah=float(np.floor(plain.budget_mah[k])),
            answers=(_answer([plain], k), *warm[bisect_right(some, k) - 1]),
        )
        for k, v in enumerate(volts)
    ]


def _row_volts(job: Job, pack: Pack) -> list[float]:
    """Every hundredth of a volt at which a lowest cell is worth a start, up to full."""
    rules = for_chemistry(job.rules, pack.chemistry)
    least = rules.landing_soc + LEAST_SHARE * (rules.start_soc - rules.landing_soc)
    first = int(np.ceil(resting_voltage(pack.chemistry, least) / STEP_V - 1e-6))
    last = int(np.floor(chemistry(pack.chemistry).full_v / STEP_V + 1e-6))
    return [round(k * STEP_V, 2) for k in range(first, last + 1)]


def _whole(job: Job, pack: Pack) -> WholeReading:
    if pack.series == 1 or apart(pack.chemistry, None, job.rules) != "unknown":
        return WholeReading(0.0, ())
    read = (READ_EVERY_CELL,) if first_runs(pack) < 1 else ()
    return WholeReading(below_the_middle_v(pack.series, job.rules), (*read, cells_unknown(job.rules)))


def _answer(ends: Sequence[Reckoned], row: int) -> KitAnswer:
    """The worst of these: the shortest timer, and every reason of any."""
    worst = min(ends, key=lambda end: end.timer_s(row))
    by_id = {(r.id, r.verdict): r for r in reversed([r for end in (worst, *ends) for r in end.reasons[row]])}
    low, middle, high = (round(x, 2) for x in worst.lands(row))
    return KitAnswer(worst.timer_s(row), middle, low, high, tuple(by_id.values()))
