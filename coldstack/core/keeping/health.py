"""A pack's health: signs from its records, each with its evidence; the worst sign rules.

Readings scatter by ten per cent or so: every sign looks at the median of the latest few records against the first few, so that one
bad contact accuses nobody, and a bad cell is found within five charges.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median
from typing import Literal

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.resistance import honest_c_of
from coldstack.core.charging.inspection import SIGNS
from coldstack.core.keeping.records import (
    Record,
    Trend,
    cell_ratios,
    cycles_until,
    resistance_at_25_c,
    trend,
)
from coldstack.core.keeping.workings import forecast_working, honest_c_working
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import STEADY, HouseRules
from coldstack.core.units import plain_number
from coldstack.core.working import Step, Working

Level = Literal["fine", "watch", "light", "retire"]
LEVELS: tuple[Level, ...] = ("fine", "watch", "light", "retire")

LATEST, FIRST = 5, 5
"""Records whose median is compared: the latest five with the first five."""
FAR_CYCLES = 1000
"""Beyond this nobody plans."""
FEWEST = 3
"""Fewer readings say nothing yet."""


@dataclass(frozen=True, slots=True)
class Evidence:
    """One sign: its level, in words with numbers, and how it was found."""

    id: str
    level: Level
    sentence: str
    working: Working


@dataclass(frozen=True, slots=True)
class Health:
    """The verdict with its evidence, worst first; what is too early to say; a cell's resistance at 25 °C at first and now; honest C and capacity now; a forecast in words."""

    level: Level
    evidence: tuple[Evidence, ...]
    too_early: tuple[str, ...]
    first_mohm: float | None
    now_mohm: float | None
    honest_c: float | None
    capacity_share: float | None
    resistance: Trend | None
    capacity: Trend | None
    forecast: str
    honest_working: Working | None
    forecast_working: Working | None


def health(pack: Pack, records: Sequence[Record], *, signs: Sequence[str] = (), rules: HouseRules = STEADY) -> Health:  # fmt: skip
    """A pack's health from its records, oldest first.

    Resistance is compared at 25 °C and in the same band of charge only. A pack that is marked unfit, or shows a sign that retires
    it, is retired whatever it reads.
    """
    read = _like_with_like(pack, records)
    evidence, early = evidence_of(pack, records, signs=signs, rules=rules)
    capacities = [(r.cycle, r.capacity_ah / pack.capacity_ah) for r in records if r.capacity_ah]
    r_trend = trend([c for c, _ in read], [median(cells) for _, cells in read])
    c_trend = trend([c for c, _ in capacities], [s for _, s in capacities])
    now = median([median(cells) for _, cells in read[-LATEST:]]) if read else None
    first = median([median(cells) for _, cells in read[:FIRST]]) if read else None
    return Health(
        level=evidence[0].level if evidence else "fine",
        evidence=tuple(evidence),
        too_early=tuple(early),
        first_mohm=first,
        now_mohm=now,
        honest_c=honest_c_of(now, pack.capacity_ah) if now else None,
        capacity_share=median([s for _, s in capacities[-LATEST:]]) if capacities else None,
        resistance=r_trend,
        capacity=c_trend,
        forecast=""
        if evidence and evidence[0].level == "retire"
        else _forecast(c_trend, r_trend, first, rules),
        honest_working=honest_c_working(now, pack.capacity_ah) if now else None,
        forecast_working=forecast_working(c_trend, r_trend, first, rules),
    )


def evidence_of(pack: Pack, records: Sequence[Record], *, signs: Sequence[str] = (), rules: HouseRules = STEADY) -> tuple[list[Evidence], list[str]]:  # fmt: skip
    """The signs alone, worst first, and what is too early to say: for many packs at once."""
    read = _like_with_like(pack, records)
    evidence, early = [*_seen(pack, signs), *_damaged(pack, records)], list[str]()
    for found in (_outlier(pack, read, rules), _growth(read, rules), _spread(pack, records, rules), _capacity(pack, records, rules), _minutes(records, rules), _balancing(records, rules)):  # fmt: skip
        if isinstance(found, Evidence):
            evidence.append(found)
        else:
            early.append(found)
    evidence.sort(key=lambda e: -LEVELS.index(e.level))
    return evidence, [x for x in early if x]


def _like_with_like(pack: Pack, records: Sequence[Record]) -> list[tuple[int, tuple[float, ...]]]:
    """Cycle and resistances at 25 °C of the records that can be compared."""
    return [(r.cycle, cells) for r in records if (cells := resistance_at_25_c(r)) and len(cells) == pack.series]  # fmt: skip


def _seen(pack: Pack, signs: Sequence[str]) -> list[Evidence]:
    out = []
    if not pack.fit:
        out.append(Evidence("unfit", "retire", f"Marked as not to be used{': ' + pack.note if pack.note else ''}.", _plain("Marked by hand")))  # fmt: skip
    for sign_id in signs:
        sign = SIGNS[sign_id]
        level: Level = "retire" if sign.outcome == "retire" else "watch"
        out.append(Evidence(sign.id, level, sign.sentence, _plain("Seen or felt")))
    return out


def _outlier(pack: Pack, read: Sequence[tuple[int, tuple[float, ...]]], rules: HouseRules) -> Evidence | str:
    """The cell whose resistance stands out from its neighbours'."""
    if pack.series < 2:
        return ""
    if len(read) < FEWEST:
        return f"cell against cell ({len(read)} of {FEWEST} readings)"
    latest = [cell_ratios(cells) for _, cells in read[-LATEST:]]
    ratios = [median(r[k] for r in latest) for k in range(pack.series)]
    worst = max(range(pack.series), key=ratios.__getitem__)
    level = _above(ratios[worst], rules.cell_watch, rules.cell_bad, bad="retire")
    words = f"Cell {worst + 1} resists {ratios[worst]:.2f} times as much as its neighbours" if level != "fine" else f"Its cells resist alike, within {(max(ratios) - 1) * 100:.0f} %"  # fmt: skip
    tail = ": one bad cell condemns the pack." if level == "retire" else "."
    steps = tuple(Step(f"Cell {k + 1}", "R ÷ median of the others", f"{ratios[k]:.2f}") for k in range(pack.series))  # fmt: skip
    return Evidence("cell", level, words + tail, Working("Cell against cell", (*steps, _limits("watch, bad", f"{rules.cell_watch:g}, {rules.cell_bad:g}", rules)), f"Median of the latest {len(latest)} readings at 25 °C."))  # fmt: skip


def _growth(read: Sequence[tuple[int, tuple[float, ...]]], rules: HouseRules) -> Evidence | str:
    """Resistance now over the pack's own first readings."""
    if len(read) < 2 * FEWEST:
        return f"resistance over its first ({len(read)} of {2 * FEWEST} readings)"
    first = median(median(cells) for _, cells in read[:FIRST])
    now = median(median(cells) for _, cells in read[-LATEST:])
    growth = now / first
    level = _above(growth, rules.growth_watch, rules.growth_bad, bad="light")
    words = f"Resistance {growth:.2f} times its own first." if level != "fine" else f"Resistance as at first ({growth:.2f} times)."  # fmt: skip
    return Evidence("growth", level, words, Working("Resistance over its first", (
        Step("First", "median of the first readings at 25 °C", f"{first:.2f} mΩ a cell"), Step("Now", "median of the latest", f"{now:.2f} mΩ a cell"),
        Step("Growth", "now ÷ first", f"{growth:.2f}"), _limits("watch, bad", f"{rules.growth_watch:g}, {rules.growth_bad:g}", rules),
    )))  # fmt: skip


def _spread(pack: Pack, records: Sequence[Record], rules: HouseRules) -> Evidence | str:
    """Highest less lowest cell at rest: the latest three must agree, since a charge in progress spreads any pack."""
    if pack.series < 2 or chemistry(pack.chemistry).charge_method == "peak":
        return ""
    spreads = [max(r.rest_cell_v) - min(r.rest_cell_v) for r in records if r.rest_cell_v][-FEWEST:]
    if len(spreads) < FEWEST:
        return f"spread at rest ({len(spreads)} of {FEWEST} readings)"
    now = median(spreads)
    level = _above(now, rules.spread_watch_v, rules.spread_act_v, bad="light")
    return Evidence("spread", level, f"Cells differ by {now:.3f} V at rest.", Working("Spread at rest", (Step("Spread", "highest − lowest, median of the latest three", f"{now:.3f} V"), _limits("watch, act", f"{rules.spread_watch_v:g}, {rules.spread_act_v:g} V", rules))))  # fmt: skip


def _capacity(pack: Pack, records: Sequence[Record], rules: HouseRules) -> Evidence | str:
    """What a charge returns, over the label."""
    shares = [r.capacity_ah / pack.capacity_ah for r in records if r.capacity_ah]
    if len(shares) < FEWEST:
        return f"capacity ({len(shares)} of {FEWEST} charges)"
    now = median(shares[-LATEST:])
    level = _below(now, rules.capacity_watch, rules.capacity_end, bad="light")
    tail = " End of flying." if level == "light" else ""
    return Evidence("capacity", level, f"Holds {now * 100:.0f} % of its label.{tail}", Working("Capacity", (Step("Returned", "put in ÷ share of charge, over the label; median of the latest", f"{now * 100:.0f} %"), _limits("watch, end of flying", f"{rules.capacity_watch * 100:.0f} %, {rules.capacity_end * 100:.0f} %", rules))))  # fmt: skip


def _minutes(records: Sequence[Record], rules: HouseRules) -> Evidence | str:
    """Minutes in like use, over the first."""
    minutes = [r.run_minutes for r in records if r.run_minutes]
    if len(minutes) < 2 * FEWEST:
        return f"minutes in like use ({len(minutes)} of {2 * FEWEST} runs)"
    first, latest = minutes[:FIRST], minutes[-LATEST:]
    now = median(latest) / median(first)
    # people fly differently: only what stands out of the scatter of both is held against the pack
    scatter = 2 * math.hypot(_scatter(first), _scatter(latest))
    level = _below(now * (1 + scatter), rules.minutes_watch, rules.minutes_act, bad="light")
    return Evidence("minutes", level, f"Runs {now * 100:.0f} % of its first minutes.", Working("Minutes", (Step("Now over first", "medians of five runs", f"{now * 100:.0f} %"), Step("Scatter", "twice the error of both medians", f"± {scatter * 100:.0f} %"), _limits("watch, act", f"{rules.minutes_watch * 100:.0f} %, {rules.minutes_act * 100:.0f} %", rules))))  # fmt: skip


def _scatter(values: Sequence[float]) -> float:
    """Error of a median by the median deviation from it, as a share; never taken for less than 3 %, since five values may agree by chance."""
    middle = median(values)
    spread = 1.4826 * median(abs(v - middle) for v in values) / middle
    return max(1.2533 * spread / math.sqrt(len(values)), 0.03)


def _balancing(records: Sequence[Record], rules: HouseRules) -> Evidence | str:
    """Minutes of balancing at the end of a charge."""
    spent = [r.balance_min for r in records if r.balance_min is not None][-FEWEST:]
    if len(spent) < FEWEST:
        return ""
    now = median(spent)
    level = _above(now, rules.balance_watch_min, rules.balance_act_min, bad="light", strictly=True)
    return Evidence("balancing", level, f"Balancing takes {now:.0f} min.", Working("Balancing", (Step("Minutes", "median of the latest three", plain_number(now)), _limits("watch, act", f"{rules.balance_watch_min:g}, {rules.balance_act_min:g} min", rules))))  # fmt: skip


def _damaged(pack: Pack, records: Sequence[Record]) -> list[Evidence]:
    limit = chemistry(pack.chemistry).damage_v
    low = [min(r.rest_cell_v) for r in records if r.rest_cell_v and min(r.rest_cell_v) < limit]
    return [Evidence("damaged", "retire", f"A cell rested at {low[-1]:.2f} V, below {limit:.2f} V: quarantine, then retire.", _plain(f"Below {limit:.2f} V at rest a cell is damaged"))] if low else []  # fmt: skip


def _forecast(capacity: Trend | None, resistance: Trend | None, first_mohm: float | None, rules: HouseRules) -> str:  # fmt: skip
    """Cycles left to the end of flying or to the resistance of light duty, whichever comes first; only for a slope that is certain."""
    if capacity is None and resistance is None:
        return "Too early to say how long it will last."
    end, worn = rules.capacity_end, rules.growth_bad * (first_mohm or math.inf)
    if capacity is not None and capacity.now <= end:
        return "Past the end of flying."
    if resistance is not None and resistance.now >= worn:
        return f"Past {rules.growth_bad:g} times its first resistance."
    found = []
    if capacity is not None and capacity.slope_high < 0 and (left := cycles_until(capacity, end)):
        found.append((left, f"to {end * 100:.0f} %"))
    if resistance is not None and resistance.slope_low > 0 and math.isfinite(worn) and (left := cycles_until(resistance, worn)):  # fmt: skip
        found.append((left, f"to {rules.growth_bad:g} times its first resistance"))
    near = [x for x in found if x[0][0] <= FAR_CYCLES]
    if not near:
        return "No end in sight yet."
    (middle, low, high), what = min(near)
    between = f" ({low} to {'many' if high is None else high})" if high != low else ""
    return f"About {middle} cycle{'s' * (middle != 1)} left {what}{between}."


def _above(value: float, watch: float, bad_at: float, *, bad: Level, strictly: bool = False) -> Level:
    if value > bad_at or (value == bad_at and not strictly):
        return bad
    return "watch" if value > watch or (value == watch and not strictly) else "fine"


def _below(value: float, watch: float, bad_at: float, *, bad: Level) -> Level:
    return bad if value < bad_at else "watch" if value < watch else "fine"


def _limits(names: str, values: str, rules: HouseRules) -> Step:
    return Step("Limits", names, values, rules.cited)


def _plain(words: str) -> Working:
    return Working(words, ())
