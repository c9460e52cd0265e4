"""Signs in what a pack holds: cells apart at rest, charge lost in storage, capacity, minutes, balancing."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from statistics import median

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import resting_voltage, soc_at_rest
from coldstack.core.keeping.evidence import (
    FEWEST,
    FIRST,
    LATEST,
    Evidence,
    above,
    below,
    limits,
    worse,
)
from coldstack.core.keeping.records import Record
from coldstack.core.packs.health import Level
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.tolerance import Apart, apart
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.units import plain_number
from coldstack.core.working import Step, Working

SCATTERS, LEAST_MINUTES_ERROR = 3.5, 0.03
"""Minutes must stand out of the scatter of both medians by so many of its errors, which are never taken for
less, since five values may agree by chance. House figures."""
CAPACITY_SCATTERS, LEAST_CAPACITY_ERROR = 2.5, 0.012
"""What charges put in likewise. House figures."""
LEAK_DAYS, SETTLED_DAYS = 3.0, 2 / 24
"""Readings so far apart tell of charge lost between them, the first so long after charge or run. House
figures. House figure."""
MONTH_DAYS = 30.0
CHARGE_SHARE = 0.03
"""Capacities by single charges scatter by so much: within it, it holds what it did at first. House figure."""
CELL_LEAK_WATCH, CELL_LEAK_ACT = 0.05, 0.15
"""Charge that one cell loses more than its neighbours, in a month. House figures."""
PACK_LEAK_WATCH, PACK_LEAK_ACT = 0.08, 0.20
"""Charge that all cells lose in a month: sound ones lose 1 to 3 %. House figures."""
CELL_ERROR_V, READ_ERROR_V, LANDED_ERROR_V, CERTAIN = 0.0033, 0.0022, 0.010, 4.2
"""One standard deviation of a cell against its neighbours, of all together by a checker at rest, and as it
landed; less than so many of what they mean in charge, there, is no loss. House figures."""
RUN_APART = 0.02
"""Cells of a sound pack hold not quite alike: so much of the charge a run may take from one more than from
the others. House figure."""
_APART: dict[Apart, Level] = {"close": "fine", "watch": "watch", "act": "light"}
NEAR_SOC = 0.03
"""Over so much of the charge to either side a slope is taken."""
SAME_MOMENT = 1e-6
"""Of two times in days that are one and the same. [d]"""
LOOKED_AT = 48
"""So many records, the latest."""
MOST_LAYS = 8
"""So many times that it lay about are looked at, the latest."""


def spread(pack: Pack, records: Sequence[Record], rules: HouseRules) -> Evidence | str:
    """Highest less lowest cell at rest: the latest three must agree, since a charge in progress spreads any
    pack."""
    if pack.series < 2:
        return ""
    spreads = [max(r.rest_cell_v) - min(r.rest_cell_v) for r in records if r.rest_cell_v][-FEWEST:]
    if len(spreads) < FEWEST:
        return f"spread at rest ({len(spreads)} of {FEWEST} readings)"
    now = median(spreads)
    return Evidence(
        "spread",
        spread_level(pack, now, rules),
        f"Cells differ by {now:.3f} V at rest.",
        Working(
            "Spread at rest",
            (
                Step("Spread", "highest − lowest, median of the latest three", f"{now:.3f} V"),
                limits("watch, act", f"{rules.spread_watch_v:g}, {rules.spread_act_v:g} V", rules),
            ),
        ),
    )


def spread_level(pack: Pack, spread_v: float, rules: HouseRules) -> Level:
    """The level of cells that differ by so much at rest, by the median of the latest three. [V]"""
    return _APART[apart(pack.chemistry, spread_v, rules)]


@dataclass(frozen=True, slots=True)
class _Lay:
    """A time that it lay between two readings of any kind: its days, and what each cell lost. With a run in
    it only what one lost more than the others counts."""

    days: float
    lost: tuple[float, ...]
    error: float
    run: bool = False


@dataclass(frozen=True, slots=True)
class _Known:
    """What was known last of how full it is: each cell's charge, since which day, whether it was run since;
    of all together, since which day. ``at`` is when anything was last known."""

    at: float
    cells: tuple[float, ...] = ()
    cells_day: float = 0.0
    cells_error: float = 0.0
    run: bool = False
    whole: float | None = None
    whole_day: float = 0.0
    whole_error: float = 0.0


@dataclass(frozen=True, slots=True)
class Lain:
    """The times that a pack lay, oldest first: those that tell of its cells, those that tell of all together;
    and what was known last."""

    cells: tuple[_Lay, ...] = ()
    whole: tuple[_Lay, ...] = ()
    known: _Known | None = None
    cycle: int | None = None


def leak(pack: Pack, records: Sequence[Record]) -> Evidence | str:
    """Charge lost between two readings of any kind: at rest, at the end of a charge, as it landed. What all
    cells lost only where nothing but lying was between them; what one lost more than the others also beside a
    run, which takes from all alike."""
    return leak_of(pack, lain(pack, records[-LOOKED_AT:]))


def leak_of(pack: Pack, lay: Lain) -> Evidence | str:
    """`leak`, by the times that it lay."""
    cell = chemistry(pack.chemistry)
    if cell.charge_method == "peak" or not cell.volts_tell:
        return ""
    latest = (lay.whole or lay.cells)[-MOST_LAYS:]
    if not latest:
        return ""
    level, one_month, k, all_month = _lost(pack, lay)
    if one_month >= CELL_LEAK_WATCH:
        words = f"Cell {k + 1} discharges itself: {_percent(one_month)} a month more than its neighbours."
    elif level != "fine":
        words = f"It discharges itself: {_percent(all_month)} a month, lying about."
    else:
        words = "It keeps its charge lying about."
    of_cell, of_all = (
        f"{_percent(watch)}, {_percent(act)}"
        for watch, act in ((CELL_LEAK_WATCH, CELL_LEAK_ACT), (PACK_LEAK_WATCH, PACK_LEAK_ACT))
    )
    steps = (
        Step("Between two readings", "mean", f"{sum(x.days for x in latest) / len(latest):.0f} days"),
        Step("One cell", "lost − median of its neighbours’, a month", _percent(one_month)),
        Step("All", "median of the cells, a month", _percent(all_month)),
        Step("Limits of one cell", "watch, act", of_cell),
        Step("Limits of all", "watch, act", of_all),
    )
    why = f"Median of the latest {len(latest)} such times."
    return Evidence("leak", level, words, Working("Charge lost lying about", steps, why))


def leak_level(pack: Pack, lay: Lain) -> Level:
    """The level of `leak_of`, without its words."""
    cell = chemistry(pack.chemistry)
    if cell.charge_method == "peak" or not cell.volts_tell:
        return "fine"
    return _lost(pack, lay)[0]


def _lost(pack: Pack, lay: Lain) -> tuple[Level, float, int, float]:
    """The level of what is lost a month: by one cell more than by the others, which it is; by all."""
    one_month, k = _of_one_cell(pack, lay.cells) if lay.cells else (0.0, 0)
    all_month = _a_month([(x, x.lost[0]) for x in lay.whole])
    level = worse(
        above(one_month, CELL_LEAK_WATCH, CELL_LEAK_ACT, bad="light"),
        above(all_month, PACK_LEAK_WATCH, PACK_LEAK_ACT, bad="light"),
    )
    return level, one_month, k, all_month


def lain(pack: Pack, records: Sequence[Record], so_far: Lain | None = None) -> Lain:
    """The times that it lay between these records, after those ``so_far``."""
    lay = so_far or Lain()
    cells, whole = list(lay.cells), list(lay.whole)
    known, cycle = lay.known, lay.cycle
    for r in records:
        if known is not None and r.since is not None and r.since > known.at + SAME_MOMENT:
            known = None  # something happened in between of which nothing is told
        if r.rest_cell_v and len(r.rest_cell_v) == pack.series:
            now = tuple(_soc(pack, v) for v in r.rest_cell_v)
            if known is not None and known.cells and r.day - known.cells_day >= LEAK_DAYS:
                lost = tuple(x - y for x, y in zip(known.cells, now, strict=True))
                off = math.hypot(known.cells_error, _off(pack, median(now), CELL_ERROR_V))
                cells.append(_Lay(r.day - known.cells_day, lost, off, known.run))
            if known is not None and known.whole is not None and r.day - known.whole_day >= LEAK_DAYS:
                lost = (known.whole - median(now),)
                off = math.hypot(known.whole_error, _off(pack, median(now), READ_ERROR_V))
                whole.append(_Lay(r.day - known.whole_day, lost, off))
            if r.since is not None and r.day - r.since >= SETTLED_DAYS:
                of_cell, of_all = (_off(pack, median(now), e) for e in (CELL_ERROR_V, READ_ERROR_V))
                known = _Known(r.day, now, r.day, of_cell, False, median(now), r.day, of_all)
        if r.landing_soc is not None:
            known = _landed(pack, known, r.day, r.landing_soc)
        elif (cycle is not None and r.cycle > cycle) or r.end_cell_v:
            known = _charged(pack, r)
        cycle = r.cycle
    return Lain(tuple(cells), tuple(whole), known, cycle)


def _charged(pack: Pack, r: Record) -> _Known | None:
    """What a charge leaves known: the cells against each other, if the charger read them; not all together,
    which settle for hours."""
    if not r.end_cell_v or len(r.end_cell_v) != pack.series:
        return None
    cells = tuple(_soc(pack, v) for v in r.end_cell_v)
    return _Known(r.day, cells, r.day, _off(pack, median(cells), CELL_ERROR_V))


def _landed(pack: Pack, known: _Known | None, day: float, soc: float) -> _Known:
    """What is known after a run: it took from all cells alike; as it landed, they were so full together."""
    off = _off(pack, soc, LANDED_ERROR_V)
    if known is None or not known.cells:
        return _Known(day, whole=soc, whole_day=day, whole_error=off)
    took = median(known.cells) - soc
    left = tuple(z - took for z in known.cells)
    return _Known(day, left, known.cells_day, known.cells_error, True, soc, day, off)


def _of_one_cell(pack: Pack, lays: Sequence[_Lay]) -> tuple[float, int]:
    """What the worst cell loses more than its neighbours, a month, and which it is; 0 for what no checker
    could tell."""

    def more(x: _Lay, k: int) -> float:
        return x.lost[k] - median([*x.lost[:k], *x.lost[k + 1 :]] or [x.lost[k]])

    kinds = [x for run in (False, True) if (x := [y for y in lays if y.run == run])]
    cells = [max(_a_month([(x, more(x, k)) for x in kind]) for kind in kinds) for k in range(pack.series)]
    k = max(range(pack.series), key=cells.__getitem__)
    return cells[k], k


def _a_month(lays: Sequence[tuple[_Lay, float]]) -> float:
    """What is lost a month, by the latest times that it lay, as many of them as tell most: the median of
    them, where that is more than readings may be off by; 0 where none is. One alone is no proof beside
    others."""
    found = 0.0
    for n in range(max(1, min(2, len(lays))), min(len(lays), MOST_LAYS) + 1):
        part = lays[-n:]
        lost = n * median(x for _, x in part)
        off = CERTAIN * math.hypot(*(x.error for x, _ in part)) + sum(RUN_APART * x.run for x, _ in part)
        if lost >= off:
            found = max(found, lost * MONTH_DAYS / sum(x.days for x, _ in part))
    return found


def _off(pack: Pack, soc: float, volts: float) -> float:
    """What so many volts mean in charge, where the curve is as steep as there."""
    return volts * _per_volt(pack.chemistry, round(soc, 2))


@lru_cache(maxsize=1024)
def _per_volt(chemistry_id: str, soc: float) -> float:
    low, high = max(soc - NEAR_SOC, 0.0), min(soc + NEAR_SOC, 1.0)
    return (high - low) / (resting_voltage(chemistry_id, high) - resting_voltage(chemistry_id, low))


def _soc(pack: Pack, cell_v: float) -> float:
    return _soc_at(pack.chemistry, cell_v)


_soc_at = lru_cache(maxsize=8192)(soc_at_rest)  # checkers read whole millivolts


def _percent(share: float) -> str:
    return f"{share * 100:.0f} %"


def capacity(pack: Pack, records: Sequence[Record], rules: HouseRules) -> Evidence | str:
    """What a charge returns, over the label and over its own first charges."""
    shares = [r.capacity_ah / pack.capacity_ah for r in records if r.capacity_ah]
    if len(shares) < FEWEST:
        return f"capacity ({len(shares)} of {FEWEST} charges)"
    now = median(shares[-LATEST:])
    first = median(shares[:FIRST]) if len(shares) >= 2 * FEWEST else None
    # single charges scatter: only what stands out of it is held against the pack
    scatter = CAPACITY_SCATTERS * max(median_error(shares[-LATEST:]), LEAST_CAPACITY_ERROR)
    level = below(now * (1 + scatter), rules.capacity_watch, rules.capacity_end, bad="light")
    if first is not None:
        # a label that flatters is no sign; what is lost since its first charges is
        if level == "watch" and now / first > 1 - CHARGE_SHARE:
            level = "fine"
        of_first = now / first * (1 + scatter)
        level = worse(level, below(of_first, rules.capacity_watch, rules.capacity_end, bad="light"))
    own = f", {now / first * 100:.0f} % of its own first" if first is not None else ""
    tail = " End of flying." if level == "light" else ""
    steps = [
        Step("Returned", "put in ÷ share of charge, over the label; median of the latest", _percent(now)),
        *([Step("At first", "median of its first charges", _percent(first))] if first is not None else []),
        Step("Scatter", f"{CAPACITY_SCATTERS:g} times the error of the median", f"± {scatter * 100:.0f} %"),
        limits(
            "watch, end of flying",
            f"{rules.capacity_watch * 100:.0f} %, {rules.capacity_end * 100:.0f} %",
            rules,
        ),
    ]
    words = f"Holds {_percent(now)} of its label{own}.{tail}"
    return Evidence("capacity", level, words, Working("Capacity", tuple(steps)))


def minutes_in_like_use(records: Sequence[Record], rules: HouseRules) -> Evidence | str:
    """Minutes in like use, over the first."""
    minutes = [r.run_minutes for r in records if r.run_minutes]
    if len(minutes) < 2 * FEWEST:
        return f"minutes in like use ({len(minutes)} of {2 * FEWEST} runs)"
    first, latest = minutes[:FIRST], minutes[-LATEST:]
    now = median(latest) / median(first)
    # people fly differently: only what stands out of the scatter of both is held against the pack
    scatter = SCATTERS * math.hypot(
        *(max(median_error(part), LEAST_MINUTES_ERROR) for part in (first, latest))
    )
    level = below(now * (1 + scatter), rules.minutes_watch, rules.minutes_act, bad="light")
    return Evidence(
        "minutes",
        level,
        f"Runs {now * 100:.0f} % of its first minutes.",
        Working(
            "Minutes",
            (
                Step("Now over first", "medians of five runs", f"{now * 100:.0f} %"),
                Step("Scatter", "three times the error of both medians", f"± {scatter * 100:.0f} %"),
                limits(
                    "watch, act", f"{rules.minutes_watch * 100:.0f} %, {rules.minutes_act * 100:.0f} %", rules
                ),
            ),
        ),
    )


def median_error(values: Sequence[float]) -> float:
    """Error of a median by the median deviation from it, as a share."""
    middle = median(values)
    spread = 1.4826 * median(abs(v - middle) for v in values) / middle
    return 1.2533 * spread / math.sqrt(len(values))


def balancing(records: Sequence[Record], rules: HouseRules) -> Evidence | str:
    """Minutes of balancing at the end of a charge."""
    spent = [r.balance_min for r in records if r.balance_min is not None][-FEWEST:]
    if len(spent) < FEWEST:
        return ""
    now = median(spent)
    level = above(now, rules.balance_watch_min, rules.balance_act_min, bad="light", strictly=True)
    return Evidence(
        "balancing",
        level,
        f"Balancing takes {now:.0f} min.",
        Working(
            "Balancing",
            (
                Step("Minutes", "median of the latest three", plain_number(now)),
                limits("watch, act", f"{rules.balance_watch_min:g}, {rules.balance_act_min:g} min", rules),
            ),
        ),
    )
