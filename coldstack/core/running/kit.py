"""The field kit: what a phone without a line needs to say go or no go of one pack, as data.

It holds what does not hang on the cells, the limits, and rows of timer and charge by the lowest cell's volts
and the pack's warmth. Whoever uses it compares and looks up; nothing is reckoned there. A row is the worse of
two packs: all cells read as the lowest one, or the others as far above it as may still be run (some models
draw more from more volts). A warmth is the worse of its two ends. So the kit is never more lenient than the
check itself.
"""

from __future__ import annotations

import hashlib
from bisect import bisect_right
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import groupby, pairwise

import numpy as np

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.chain.adapters import Adapter
from coldstack.core.charging.amps import HOTTEST_CHARGE_C
from coldstack.core.fit.verdict import FitVerdict
from coldstack.core.packs.health import StateOfHealth
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.cells import LEAST_SHARE, below_the_middle_v, highest_possible_v, pack_reading
from coldstack.core.readings.tolerance import apart
from coldstack.core.rules.house_rules import for_chemistry
from coldstack.core.running.go import (
    READ_EVERY_CELL,
    SPENT,
    Reckoned,
    RunContext,
    cells_unknown,
    first_runs,
    reckoned,
    standing_reasons,
)
from coldstack.core.running.limits import GoReason, ReadingLimit, limits_of
from coldstack.core.running.since import SaidSince
from coldstack.core.trial.job import Job

STEP_V = 0.01
"""People read cells to a hundredth of a volt."""
OF_WARMTH = 3
"""Where a warmth was read, so many rows share an answer."""
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

    fingerprint: str
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


def fingerprint(job: Job, along: TakenAlong, pieces: tuple[Adapter, ...]) -> str:
    """Twelve signs that change with anything the kit hangs on: job, rules, the pack as it is today, the
    adapters that are owned, and what is known of it."""
    of = replace(along, pack=as_run(along.pack))
    return hashlib.sha256(repr((job, of, pieces)).encode()).hexdigest()[:12]


def as_run(pack: Pack) -> Pack:
    """The pack without what only tells how fast it may be charged: how warm it was read makes no kit old."""
    if pack.today is None:
        return pack
    today = replace(pack.today, stranger=False, apart=False, cells_unknown=False, temperature_c=None)
    return replace(pack, today=today)


def kit_of(job: Job, along: TakenAlong, pieces: tuple[Adapter, ...]) -> Kit:
    """The kit of one pack in one model."""
    pack, volts = along.pack, _row_volts(job, along.pack)
    plain = _reckoned(job, pack, volts[-1:], pieces, None)
    rows: list[KitRow] = []
    for of, part in _as_read_from(along, volts):
        rows += _rows(job, of, part, pieces)
    return Kit(
        fingerprint=fingerprint(job, along, pieces),
        fit=plain.fit.verdict,
        series=pack.series,
        highest_v=highest_possible_v(pack.chemistry),
        warmths=tuple(Warmth(a, b) for a, b in pairwise(EDGES_C)),
        rows=tuple(rows),
        limits=limits_of(pack, job.rules),
        reasons=tuple(standing_reasons(pack, along.known)),
        spent=SPENT,
        alarm_cell_v=plain.alarm.cell_v,
        alarm_v=plain.alarm.cell_v * pack.series,
        good_h=job.rules.kit_h,
        whole=_whole(job, pack),
        since=along.since,
    )


def _as_read_from(along: TakenAlong, volts: Sequence[float]) -> Iterator[tuple[Pack, list[float]]]:
    """The pack as it would be by each of these readings of its lowest cell, lowest first."""

    def of(v: float) -> Pack:
        found = next((health for below, health in along.worse if v < below), None)
        return along.pack if found is None else replace(along.pack, today=found)

    for pack, part in groupby(volts, key=of):
        yield pack, list(part)


def _rows(job: Job, pack: Pack, volts: Sequence[float], pieces: tuple[Adapter, ...]) -> list[KitRow]:
    plain, n = _reckoned(job, pack, volts, pieces, None), len(volts)
    # few read a pack's warmth: there the nearest row below answers, which is never more lenient
    some = sorted({0, *range(n - 1, -1, -OF_WARMTH)})
    edges = [_reckoned(job, pack, [volts[k] for k in some], pieces, c) for c in EDGES_C]
    rows = []
    for k, v in enumerate(volts):
        at = bisect_right(some, k) - 1
        warm = (_answer(ends, (at, at + len(some))) for ends in pairwise(edges))
        budget = float(np.floor(plain.budget_mah[k]))
        rows.append(KitRow(from_v=v, budget_mah=budget, answers=(_answer([plain], (k, k + n)), *warm)))
    return rows


def _reckoned(
    job: Job, pack: Pack, volts: Sequence[float], pieces: tuple[Adapter, ...], temperature_c: float | None
) -> Reckoned:
    """With all cells as the lowest, then with the others as far above it as may still be run: two answers
    for each of these volts."""
    high = job.rules.spread_act_v
    read = [
        pack_reading(pack.chemistry, (v, *(v + more,) * (pack.series - 1)), job.rules)
        for more in (0.0, high)
        for v in volts
    ]
    return reckoned(job, pack, read, pieces=pieces, temperature_c=temperature_c)


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


def _answer(ends: Sequence[Reckoned], rows: Sequence[int]) -> KitAnswer:
    """The worst of these: the shortest timer, and every reason of any."""
    each = [(end, row) for end in ends for row in rows]
    first, at = min(each, key=lambda x: x[0].timer_s(x[1]))
    said = [r for end, row in ((first, at), *each) for r in end.reasons[row]]
    by_id = {(r.id, r.verdict): r for r in reversed(said)}
    low, middle, high = (round(x, 2) for x in first.lands(at))
    return KitAnswer(first.timer_s(at), middle, low, high, tuple(by_id.values()))
