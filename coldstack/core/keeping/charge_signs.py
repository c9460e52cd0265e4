"""Signs in what a pack holds: cells apart at rest, charge lost in storage, capacity, minutes, balancing."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from itertools import pairwise
from statistics import median

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import soc_at_rest
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

SCATTERS = 3.0
"""Minutes must stand out of the scatter of both medians by so many of its errors. House figure."""
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
LEAST_LOST = 0.025
"""Less is what a checker may be off by; twice that where it lay but once. House figure."""
_APART: dict[Apart, Level] = {"close": "fine", "watch": "watch", "act": "light"}
PAIRS = 3
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
        _APART[apart(pack.chemistry, now, rules)],
        f"Cells differ by {now:.3f} V at rest.",
        Working(
            "Spread at rest",
            (
                Step("Spread", "highest − lowest, median of the latest three", f"{now:.3f} V"),
                limits("watch, act", f"{rules.spread_watch_v:g}, {rules.spread_act_v:g} V", rules),
            ),
        ),
    )


def leak(pack: Pack, records: Sequence[Record]) -> Evidence | str:
    """Charge lost between two readings with nothing but lying in between."""
    cell = chemistry(pack.chemistry)
    if cell.charge_method == "peak" or not cell.volts_tell:
        return ""
    pairs = [(a, b) for a, b in pairwise(r for r in records if r.rest_cell_v) if _lay_between(a, b)]
    if not pairs:
        return ""
    days = sum(b.day - a.day for a, b in pairs[-PAIRS:]) / len(pairs[-PAIRS:])
    cells, whole = _lost(pack, pairs[-PAIRS:])
    k = max(range(pack.series), key=cells.__getitem__)
    one_month, all_month = cells[k] * MONTH_DAYS / days, whole * MONTH_DAYS / days
    level = worse(
        above(one_month, CELL_LEAK_WATCH, CELL_LEAK_ACT, bad="light"),
        above(all_month, PACK_LEAK_WATCH, PACK_LEAK_ACT, bad="light"),
    )
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
        Step("Between two readings", "no charge and no run; mean", f"{days:.0f} days"),
        Step("One cell", "lost − median of its neighbours’, a month", _percent(one_month)),
        Step("All", "median of the cells, a month", _percent(all_month)),
        Step("Limits of one cell", "watch, act", of_cell),
        Step("Limits of all", "watch, act", of_all),
    )
    why = f"Median of the latest {len(pairs[-PAIRS:])} such times."
    return Evidence("leak", level, words, Working("Charge lost lying about", steps, why))


def _lay_between(a: Record, b: Record) -> bool:
    """Whether nothing charged or ran it from some hours before the first reading to the second."""
    if b.since is None or a.since != b.since:
        return False
    return a.day - b.since >= SETTLED_DAYS and b.day - a.day >= LEAK_DAYS


def _lost(pack: Pack, pairs: Sequence[tuple[Record, Record]]) -> tuple[list[float], float]:
    """Charge that each cell lost more than its neighbours, and all of them, between two readings; 0 for what
    no checker could tell. Medians over the times it lay."""
    times = [[_soc(pack, v) - _soc(pack, w) for v, w in _cells(a, b)] for a, b in pairs]
    series = range(pack.series)
    more = [[x - median([*lost[:k], *lost[k + 1 :]] or [x]) for k, x in enumerate(lost)] for lost in times]
    least = LEAST_LOST if len(pairs) > 1 else 2 * LEAST_LOST
    cells = [median(m[k] for m in more) for k in series]
    whole = median(median(lost) for lost in times)
    return [x if x >= least else 0.0 for x in cells], whole if whole >= least else 0.0


def _cells(a: Record, b: Record) -> Iterable[tuple[float, float]]:
    return zip(a.rest_cell_v or (), b.rest_cell_v or (), strict=True)


def _soc(pack: Pack, cell_v: float) -> float:
    return soc_at_rest(pack.chemistry, cell_v)


def _percent(share: float) -> str:
    return f"{share * 100:.0f} %"


def capacity(pack: Pack, records: Sequence[Record], rules: HouseRules) -> Evidence | str:
    """What a charge returns, over the label and over its own first charges."""
    shares = [r.capacity_ah / pack.capacity_ah for r in records if r.capacity_ah]
    if len(shares) < FEWEST:
        return f"capacity ({len(shares)} of {FEWEST} charges)"
    now = median(shares[-LATEST:])
    first = median(shares[:FIRST]) if len(shares) >= 2 * FEWEST else None
    level = below(now, rules.capacity_watch, rules.capacity_end, bad="light")
    if first is not None:
        # a label that flatters is no sign; what is lost since its first charges is
        if level == "watch" and now / first > 1 - CHARGE_SHARE:
            level = "fine"
        level = worse(level, below(now / first, rules.capacity_watch, rules.capacity_end, bad="light"))
    own = f", {now / first * 100:.0f} % of its own first" if first is not None else ""
    tail = " End of flying." if level == "light" else ""
    steps = [
        Step("Returned", "put in ÷ share of charge, over the label; median of the latest", _percent(now)),
        *([Step("At first", "median of its first charges", _percent(first))] if first is not None else []),
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
    scatter = SCATTERS * math.hypot(_scatter(first), _scatter(latest))
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


def _scatter(values: Sequence[float]) -> float:
    """Error of a median by the median deviation from it, as a share; never taken for less than 3 %, since
    five values may agree by chance."""
    middle = median(values)
    spread = 1.4826 * median(abs(v - middle) for v in values) / middle
    return max(1.2533 * spread / math.sqrt(len(values)), 0.03)


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
