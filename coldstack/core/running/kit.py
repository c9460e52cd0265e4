"""The field kit: what a phone without a line needs to say go or no go of one pack, as data.

It holds what does not hang on the cells, the limits, and rows of timer and charge by the lowest cell's volts
and the pack's warmth. Whoever uses it compares and looks up; nothing is reckoned there. A row is the worse of
two packs: all cells read as the lowest one, or the others as far above it as may still be run (some models
draw more from more volts). A warmth is the worse of its two ends. So the kit is never more lenient than the
check itself.
"""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.chain.adapters import Adapter
from coldstack.core.charging.amps import HOTTEST_CHARGE_C
from coldstack.core.fit.verdict import FitVerdict
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.cells import LEAST_SHARE, below_the_middle_v, highest_possible_v, pack_reading
from coldstack.core.readings.tolerance import apart, over_full_above_v
from coldstack.core.rules.house_rules import for_chemistry
from coldstack.core.running.go import SPENT, Reckoned, RunContext, cells_unknown, reckoned, standing_reasons
from coldstack.core.running.limits import GoReason, ReadingLimit, limits_of
from coldstack.core.trial.job import Job

STEP_V = 0.01
"""People read cells to a hundredth of a volt."""
EDGES_C = tuple(np.arange(0.0, HOTTEST_CHARGE_C + 1, 5.0).tolist())
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


def fingerprint(job: Job, pack: Pack, pieces: tuple[Adapter, ...], known: RunContext) -> str:
    """Twelve signs that change with anything the kit hangs on: job, rules, the pack as it is today, the
    adapters that are owned, and what is known of it."""
    return hashlib.sha256(repr((job, as_run(pack), pieces, known)).encode()).hexdigest()[:12]


def as_run(pack: Pack) -> Pack:
    """The pack without what only tells how fast it may be charged: how warm it was read makes no kit old."""
    if pack.today is None:
        return pack
    today = replace(pack.today, stranger=False, apart=False, cells_unknown=False, temperature_c=None)
    return replace(pack, today=today)


def kit_of(job: Job, pack: Pack, pieces: tuple[Adapter, ...], known: RunContext) -> Kit:
    """The kit of one pack in one model."""
    volts = _row_volts(job, pack)
    alike = [(v,) * pack.series for v in volts]
    apart = [
        (v, *(v + job.rules.spread_act_v for _ in cells[1:])) for v, cells in zip(volts, alike, strict=True)
    ]

    def at(temperature_c: float | None) -> list[Reckoned]:
        read = [[pack_reading(pack.chemistry, c, job.rules) for c in way] for way in (alike, apart)]
        return [reckoned(job, pack, way, pieces=pieces, temperature_c=temperature_c) for way in read]

    plain, edges = at(None), [at(c) for c in EDGES_C]
    spans = [a + b for a, b in pairwise(edges)]
    rows = [
        KitRow(
            from_v=v,
            budget_mah=float(np.floor(plain[0].budget_mah[k])),
            answers=(_answer(plain, k), *(_answer(ends, k) for ends in spans)),
        )
        for k, v in enumerate(volts)
    ]
    alarm_v = plain[0].alarm.cell_v
    return Kit(
        fingerprint=fingerprint(job, pack, pieces, known),
        fit=plain[0].fit.verdict,
        series=pack.series,
        highest_v=highest_possible_v(pack.chemistry),
        warmths=tuple(Warmth(a, b) for a, b in pairwise(EDGES_C)),
        rows=tuple(rows),
        limits=limits_of(pack, job.rules),
        reasons=tuple(standing_reasons(pack, known)),
        spent=SPENT,
        alarm_cell_v=alarm_v,
        alarm_v=alarm_v * pack.series,
        good_h=job.rules.kit_h,
        whole=_whole(job, pack),
    )


def _row_volts(job: Job, pack: Pack) -> list[float]:
    """Every hundredth of a volt at which a lowest cell is worth a start, up to where it is over full."""
    rules = for_chemistry(job.rules, pack.chemistry)
    least = rules.landing_soc + LEAST_SHARE * (rules.start_soc - rules.landing_soc)
    first = int(np.ceil(resting_voltage(pack.chemistry, least) / STEP_V - 1e-6))
    last = int(np.floor(over_full_above_v(pack.chemistry) / STEP_V))
    return [round(k * STEP_V, 2) for k in range(first, last + 1)]


def _whole(job: Job, pack: Pack) -> WholeReading:
    if pack.series == 1 or apart(pack.chemistry, None, job.rules) != "unknown":
        return WholeReading(0.0, ())
    return WholeReading(below_the_middle_v(pack.series, job.rules), (cells_unknown(job.rules),))


def _answer(ends: Sequence[Reckoned], row: int) -> KitAnswer:
    """The worst of these: the shortest timer, and every reason of any."""
    first = min(ends, key=lambda r: r.spread.timer_s(row))
    said = [r for end in (first, *ends) for r in end.reasons[row]]
    by_id = {(r.id, r.verdict): r for r in reversed(said)}
    low, middle, high = (
        round(float(x[row]), 2) for x in (first.spread.low, first.spread.minutes, first.spread.high)
    )
    return KitAnswer(first.spread.timer_s(row), middle, low, high, tuple(by_id.values()))
