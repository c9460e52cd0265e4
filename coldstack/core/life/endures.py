"""What may be measured of a pack without its health getting any worse: for whoever cannot ask meanwhile.

Found by asking health itself, as if it had been measured: nothing here judges.
"""

from __future__ import annotations

import math
from bisect import bisect_left
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import cache
from statistics import median

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.keeping.charge_signs import (
    LOOKED_AT,
    Lain,
    capacity,
    lain,
    leak_level,
    minutes_in_like_use,
    spread_level,
)
from coldstack.core.keeping.evidence import FEWEST, LATEST, Evidence
from coldstack.core.keeping.fading import fading_level
from coldstack.core.keeping.records import Record
from coldstack.core.life.told import DAY_S, PackHistory
from coldstack.core.packs.health import LEVELS, Level, StateOfHealth
from coldstack.core.readings.tolerance import act_above_v

LEAST_MINUTES = 0.1
"""The shortest run that is told. [min]"""
OF_USUAL, OF_HELD = (0.75, 0.85, 0.95), (1.0, 1.05)
"""Of its usual minutes, and of what it holds: the least of these that changes nothing."""
IN_A_ROW = (1, 6)
"""So many alike, one after the other: enough for every median."""
STEP_V = 0.05
"""In such steps readings are looked at. [V]"""
READ_SO = "Read so, it lost charge lying about, or its cells stay apart."


@dataclass(frozen=True, slots=True)
class Endures:
    """From so many minutes on a run, and from so much capacity on a charge, leaves the verdict of its health
    and what it holds as they are, also several times in a row; infinite where none does. [min], [Ah]"""

    run_min: float
    capacity_ah: float


def endures(life: PackHistory, model: str, now: float) -> Endures:
    """Of runs in this model, and of charges, at ``now``. [s since 1970]"""
    day, held_ah = now / DAY_S, replace(life.pack, today=life.today).held_ah

    def run(minutes: float) -> Record:
        return Record(day, life.cycles + 1, run_minutes=minutes, run_share=1.0)

    def charge(ah: float) -> Record:
        return Record(day, life.cycles + 1, capacity_ah=ah)

    usual = [r.run_minutes for r, m in life.measured if m == model and r.run_minutes]
    minutes = [median(usual) * share for share in OF_USUAL] if usual else [LEAST_MINUTES]
    return Endures(
        _first(minutes, lambda x: _worse(life, run(x), model)),
        _first([share * held_ah for share in OF_HELD], lambda x: _worse(life, charge(x), model)),
    )


def worse_when_read(life: PackHistory, now: float) -> tuple[tuple[float, StateOfHealth], ...]:
    """Below which lowest cell, read at ``now``, its health would be worse, and what it would be: it lost
    charge lying about, or its cells stay apart. The lowest first; mostly there is none. [V], [s since 1970]
    """
    cell, known = chemistry(life.pack.chemistry), LEVELS.index(life.level)
    count = int((cell.full_v - cell.damage_v) / STEP_V) + 2

    # all that one reading more is looked at with
    read = [r.rest_cell_v for r in life.records[-LOOKED_AT:] if r.rest_cell_v][-FEWEST:]
    rested = [max(cells) - min(cells) for cells in read]
    lay = lain(life.pack, life.records[1 - LOOKED_AT :])

    @cache
    def at(step: int) -> int:
        return LEVELS.index(_read(life, rested, lay, round(cell.damage_v + step * STEP_V, 3), now))

    found: list[tuple[float, StateOfHealth]] = []
    step = count
    while step > 0 and at(0) > known:
        # the lowest step from which on it is no worse than is known by now
        step = bisect_left(range(step), True, key=lambda k: at(k) <= known)
        known = at(step - 1)
        health = replace(life.today, level=LEVELS[known], sign=READ_SO)
        found.append((round(cell.damage_v + step * STEP_V, 3), health))
    return tuple(reversed(found))


def _read(life: PackHistory, rested: Sequence[float], lay: Lain, lowest_v: float, now: float) -> Level:
    """The level of a pack that reads so at ``now``: its cells alike, once and again, or as far apart as may
    still be run. ``rested`` is how far its cells were apart the latest times, ``lay`` how it lay. [V]"""
    series, changed = life.pack.series, None if life.changed_at is None else life.changed_at / DAY_S
    high = lowest_v + act_above_v(life.rules)
    found: list[Level] = [life.level]
    for cells, most in (((lowest_v,) * series, 3), ((*(high,) * (series - 1), lowest_v), 1)):
        one = Record(now / DAY_S, life.cycles, rest_cell_v=cells, since=changed)
        apart_v = max(cells) - min(cells)
        for times in range(1, most + 1):
            latest = [*rested, *[apart_v] * times][-FEWEST:]
            if series > 1 and len(latest) == FEWEST:
                found.append(spread_level(life.pack, median(latest), life.rules))
        found.append(leak_level(life.pack, lain(life.pack, [one], lay)))
    return max(found, key=LEVELS.index)


def _first(values: Sequence[float], worse: Callable[[float], bool]) -> float:
    """The first of these, rising, that is not worse; infinite where all are."""
    return next((x for x in values if not worse(x)), math.inf)


def _worse(life: PackHistory, one: Record, model: str) -> bool:
    """Whether so many of it in a row would change what health says."""
    known = life.today
    holds = replace(life.pack, today=known).held_ah
    for times in IN_A_ROW:
        records = life.records_with([(one, model)] * times)
        told = [fading_level(records, life.rules)]
        told += _levels(
            minutes_in_like_use(records, life.rules)
            if one.run_minutes
            else capacity(life.pack, records, life.rules)
        )
        if any(LEVELS.index(x) > LEVELS.index(known.level) for x in told):
            return True
        held = [r.capacity_ah for r in records if r.capacity_ah][-LATEST:]
        if held:
            then = replace(known, capacity_ah=min(median(held), life.pack.capacity_ah))
            if replace(life.pack, today=then).held_ah < holds:
                return True
    return False


def _levels(*found: Evidence | str) -> list[Level]:
    return [e.level for e in found if isinstance(e, Evidence)]
