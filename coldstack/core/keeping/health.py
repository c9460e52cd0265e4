"""A pack's health: signs from its records, each with its evidence; the worst sign rules.

Readings scatter by ten per cent or so: signs look at the median of the latest few records against the first
few, so that one bad contact accuses nobody, and a bad cell is found within five charges. One reading that is
far out of line asks for another.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.resistance import honest_c_of
from coldstack.core.charging.inspection import SIGNS
from coldstack.core.keeping.charge_signs import balancing, capacity, leak, minutes_in_like_use, spread
from coldstack.core.keeping.evidence import FIRST, LATEST, Evidence, above, plain
from coldstack.core.keeping.fading import fading
from coldstack.core.keeping.records import Record, Trend, cycles_until, latest_ratios, trend
from coldstack.core.keeping.resistance_signs import (
    Read,
    growth,
    jumped,
    like_with_like,
    outlier,
    within_readings,
)
from coldstack.core.keeping.workings import forecast_working, honest_c_working
from coldstack.core.packs.health import LEVELS, Level, StateOfHealth
from coldstack.core.packs.measured import METER_SPREAD, Measured, joined
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.tolerance import damaged
from coldstack.core.rules.house_rules import STEADY, HouseRules
from coldstack.core.working import Step, Working

FAR_CYCLES = 1000
"""Beyond this nobody plans."""


@dataclass(frozen=True, slots=True)
class Health:
    """The verdict with its evidence, worst first; what is too early to say; a cell's resistance at 25 °C at
    first and now; honest C and capacity now; a forecast in words."""

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


RATIO_STEP = 0.05
"""Cells' resistances over the middle one are taken in such steps: readings of one cell scatter by more, and
cells that are as good as alike run as alike. House figure."""


def _told(ratios: tuple[float, ...]) -> tuple[float, ...]:
    """The ratios in steps; none where all are the same."""
    steps = tuple(round(r / RATIO_STEP) * RATIO_STEP for r in ratios)
    return () if len(set(steps)) <= 1 else steps


def state_of_health(pack: Pack, records: Sequence[Record], evidence: Sequence[Evidence]) -> StateOfHealth:
    """What a pack holds and resists today, by the median of its latest records; ``evidence`` are its signs,
    the worst first. It never holds more than its label."""
    worst = evidence[0] if evidence else None
    read = like_with_like(pack, records)[-LATEST:]
    resists = resistance_by(read)
    held = [r.capacity_ah for r in records if r.capacity_ah][-LATEST:]
    ratios = latest_ratios(records)
    return StateOfHealth(
        level=worst.level if worst else "fine",
        capacity_ah=min(median(held), pack.capacity_ah) if held else None,
        capacity_by=_latest(len(held), "charge"),
        cell_mohm=resists.value if resists else None,
        resistance_spread=resists.spread if resists else METER_SPREAD[""],
        resistance_by=_latest(len(read), "reading"),
        cell_ratios=_told(ratios) if len(ratios) == pack.series else (),
        sign=worst.sentence if worst and worst.level != "fine" else "",
    )


def resistance_by(read: Sequence[Read]) -> Measured | None:
    """What the latest readings say of the middle cell: the median by each kind of meter, joined by their
    errors. A meter errs alike each time, so that more readings by one make it no surer. [mΩ at 25 °C]"""
    kinds = {r.by for r in read}
    return joined(
        Measured(median(r.at_25 for r in read if r.by == by), METER_SPREAD.get(by, METER_SPREAD[""]))
        for by in sorted(kinds)
    )


def _latest(count: int, what: str) -> str:
    """By what it was found: "its latest 5 charges"; empty for nothing."""
    return f"its latest {count} {what}s" if count > 1 else f"its latest {what}" if count else ""


def health(
    pack: Pack,
    records: Sequence[Record],
    *,
    signs: Sequence[str] = (),
    stops: Sequence[str] = (),
    rules: HouseRules = STEADY,
    known: tuple[list[Evidence], list[str]] | None = None,
) -> Health:
    """A pack's health from its records, oldest first; ``known`` are its signs where they were asked before.

    Resistance is compared at 25 °C and in the same band of charge only. A pack that is marked unfit, or
    shows a sign that retires it, is retired whatever it reads.
    """
    read = like_with_like(pack, records)
    evidence, early = known or evidence_of(pack, records, signs=signs, stops=stops, rules=rules)
    capacities = [(r.cycle, r.capacity_ah / pack.capacity_ah) for r in records if r.capacity_ah]
    r_trend = trend([r.cycle for r in read], [median(r.cells) for r in read])
    c_trend = trend([c for c, _ in capacities], [s for _, s in capacities])
    today = state_of_health(pack, records, evidence)
    now, held_ah = today.cell_mohm, [r.capacity_ah for r in records if r.capacity_ah][-LATEST:]
    first = median([median(r.cells) for r in read[:FIRST]]) if read else None
    return Health(
        level=today.level,
        evidence=tuple(evidence),
        too_early=tuple(early),
        first_mohm=first,
        now_mohm=now,
        honest_c=honest_c_of(now, pack.capacity_ah) if now else None,
        capacity_share=median(held_ah) / pack.capacity_ah if held_ah else None,
        resistance=r_trend,
        capacity=c_trend,
        forecast=""
        if evidence and evidence[0].level == "retire"
        else _forecast(c_trend, r_trend, first, rules),
        honest_working=honest_c_working(now, pack.capacity_ah) if now else None,
        forecast_working=forecast_working(c_trend, r_trend, first, rules),
    )


def evidence_of(
    pack: Pack,
    records: Sequence[Record],
    *,
    signs: Sequence[str] = (),
    stops: Sequence[str] = (),
    rules: HouseRules = STEADY,
) -> tuple[list[Evidence], list[str]]:
    """The signs alone, worst first, and what is too early to say: for many packs at once.

    ``stops`` tell of charges that were stopped because something was wrong with the pack, oldest first.
    """
    read, within = like_with_like(pack, records), within_readings(pack, records)
    evidence, early = [*_seen(pack, signs), *_damaged(pack, records), *_stopped(stops)], list[str]()
    for found in (
        outlier(pack, within, rules),
        growth(read, rules),
        jumped(pack, read, within),
        spread(pack, records, rules),
        leak(pack, records),
        capacity(pack, records, rules),
        fading(records, rules),
        minutes_in_like_use(records, rules),
        balancing(records, rules),
    ):
        if isinstance(found, Evidence):
            evidence.append(found)
        else:
            early.append(found)
    evidence.sort(key=lambda e: -LEVELS.index(e.level))
    return evidence, [x for x in early if x]


def _seen(pack: Pack, signs: Sequence[str]) -> list[Evidence]:
    out = []
    if not pack.fit:
        out.append(
            Evidence(
                "unfit",
                "retire",
                f"Marked as not to be used{': ' + pack.note if pack.note else ''}.",
                plain("Marked by hand"),
            )
        )
    for sign_id in signs:
        sign = SIGNS[sign_id]
        level: Level = "retire" if sign.outcome == "retire" else "watch"
        out.append(Evidence(sign.id, level, sign.sentence, plain("Seen or felt")))
    return out


STOPS_WATCH, STOPS_ACT = 1, 2
"""Charges stopped for danger: one may be the charger's or the room's doing, a second is the pack's. House
figures. House figure. House figure."""


def _stopped(stops: Sequence[str]) -> list[Evidence]:
    if not stops:
        return []
    level = above(len(stops), STOPS_WATCH, STOPS_ACT, bad="retire")
    words = f"{len(stops)} charges were" if len(stops) > 1 else "A charge was"
    steps = tuple(Step(f"Stop {k + 1}", "", why) for k, why in enumerate(stops))
    limits = Step("Limits", "watch, retire", f"{STOPS_WATCH}, {STOPS_ACT} stops")
    sentence = f"{words} stopped because something was wrong with it."
    return [Evidence("stopped", level, sentence, Working("Charges stopped for danger", (*steps, limits)))]


def _damaged(pack: Pack, records: Sequence[Record]) -> list[Evidence]:
    limit = chemistry(pack.chemistry).damage_v
    low = [v for r in records if r.rest_cell_v and damaged(pack.chemistry, v := min(r.rest_cell_v))]
    return (
        [
            Evidence(
                "damaged",
                "retire",
                f"A cell rested at {low[-1]:.2f} V, below {limit:.2f} V: quarantine, then retire.",
                plain(f"Below {limit:.2f} V at rest a cell is damaged"),
            )
        ]
        if low
        else []
    )


def cycles_left(found: Health, rules: HouseRules) -> float | None:
    """Cycles left by its own trend, to the end that comes first; None while no end is in sight."""
    near = _ends(found.capacity, found.resistance, found.first_mohm, rules)
    return float(min(near)[0][0]) if near else None


def _ends(
    capacity: Trend | None, resistance: Trend | None, first_mohm: float | None, rules: HouseRules
) -> list[tuple[tuple[int, int, int | None], str]]:
    """Each end that its trends come to: cycles until then with their range, and which end it is."""
    end, worn = rules.capacity_end, rules.growth_bad * (first_mohm or math.inf)
    found = []
    if capacity is not None and capacity.slope_high < 0 and (left := cycles_until(capacity, end)):
        found.append((left, f"to {end * 100:.0f} %"))
    if (
        resistance is not None
        and resistance.slope_low > 0
        and math.isfinite(worn)
        and (left := cycles_until(resistance, worn))
    ):
        found.append((left, f"to {rules.growth_bad:g} times its first resistance"))
    return [x for x in found if x[0][0] <= FAR_CYCLES]


def _forecast(
    capacity: Trend | None, resistance: Trend | None, first_mohm: float | None, rules: HouseRules
) -> str:
    """Cycles left to the end of flying or to the resistance of light duty, whichever comes first; only for a
    slope that is certain."""
    if capacity is None and resistance is None:
        return "Too early to say how long it will last."
    end, worn = rules.capacity_end, rules.growth_bad * (first_mohm or math.inf)
    if capacity is not None and capacity.now <= end:
        return "Past the end of flying."
    if resistance is not None and resistance.now >= worn:
        return f"Past {rules.growth_bad:g} times its first resistance."
    near = _ends(capacity, resistance, first_mohm, rules)
    if not near:
        return "No end in sight yet."
    (middle, low, high), what = min(near)
    between = f" ({low} to {'many' if high is None else high})" if high != low else ""
    return f"About {middle} cycle{'s' * (middle != 1)} left {what}{between}."
