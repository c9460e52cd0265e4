"""Tomorrow: so many flights of several models from an hour on. Which packs fly them, what must be charged
before and on what, what is charged there, and what runs short."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from statistics import median

from coldstack.core.cells.resistance import LabelTrust
from coldstack.core.errors import DomainError
from coldstack.core.matching.charge import Bench
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.running.tomorrow.flight_solver import best_flights
from coldstack.core.running.tomorrow.flights import MOST_PACKS, FieldPorts, FlightDay, FlightPlan, Wanted
from coldstack.core.running.tomorrow.ready import PackAlong, evening_packs, flight_packs
from coldstack.core.scheduling.bench import BenchPlan, ChargerInUse, When, bench_plan

ROUNDS = 2
"""So often the day is planned anew where the evening cannot fill all that it wants."""
EARLY_MIN = 60
"""A run so long before the day begins is one of it. House figure."""
SPARE = 4
"""So many packs more than flights are looked at for each model."""


@dataclass(frozen=True, slots=True)
class ModelWish:
    """What is wanted of a model: flights, or minutes of running, which are as many flights as its packs
    need."""

    model: str
    name: str
    flights: int | None = None
    minutes: float | None = None


@dataclass(frozen=True, slots=True)
class Evening:
    """The chargers at home, when somebody is with them, and for how long until the day begins. [min]"""

    chargers: tuple[ChargerInUse, ...] = ()
    attended: tuple[tuple[int, int], ...] = ()


@dataclass(frozen=True, slots=True)
class Tomorrow:
    """What was asked. Minutes from now; a day that has begun starts at 0 or before."""

    wishes: tuple[ModelWish, ...]
    along: tuple[PackAlong, ...]
    start_min: int
    end_min: int
    there: tuple[ChargerInUse, ...] = ()
    evening: Evening = Evening()
    swap_min: int = 3

    @property
    def begun(self) -> bool:
        """Whether nothing is charged before any more."""
        return self.start_min <= 0

    @property
    def hours_min(self) -> int:
        """How long there is to fly. [min]"""
        return self.end_min - max(self.start_min, 0)


@dataclass(frozen=True, slots=True)
class TomorrowPlan:
    """The answer: the day and its flights, what is charged the evening before and how, and the packs that the
    evening cannot fill, with why."""

    day: FlightDay
    flights: FlightPlan
    evening: BenchPlan | None
    not_filled: tuple[tuple[str, str], ...]

    @property
    def short(self) -> dict[str, int]:
        """Flights that are missing, by model."""
        return self.flights.short(self.day)


def tomorrow_plan(
    asked: Tomorrow, *, rules: HouseRules, trust: LabelTrust, bench: Bench, at_s: float
) -> TomorrowPlan:
    """The best day that the evening before allows.

    Raises
    ------
    DomainError
        For a day that ends before it begins, nothing wanted, or more than a day can hold.
    """
    if asked.hours_min < 1:
        raise DomainError("end", "The day ends before it begins.")
    if not asked.wishes:
        raise DomainError("wishes", "Say how many runs of which model.")
    wanted = tuple(w for wish in asked.wishes if (w := _wanted(wish, asked.along)) is not None)
    if not wanted:  # all of it is flown
        return TomorrowPlan(FlightDay((), ()), FlightPlan(), None, ())
    along = _worth_a_look(asked.along, wanted)
    can_wait = frozenset() if asked.begun else frozenset(a.pack.id for a in along if not a.full)
    tonight, filled, not_filled = can_wait, can_wait, dict[str, str]()
    for k in range(ROUNDS + 2):
        if k >= ROUNDS:  # what the evening did fill, and at last nothing: the answer holds together
            tonight = tonight & filled if k == ROUNDS else frozenset()
        day = _day(asked, along, wanted, tonight, rules, trust, bench, at_s)
        found = best_flights(day)
        flown = {f.pack for f in found.flights}
        needed = [a for a in along if a.pack.id in tonight & flown]
        evening = _evening(needed, asked, rules, trust, bench) if needed else None
        failed = _failed(evening) if evening else {}
        if not failed:
            break
        not_filled |= failed
        filled = frozenset(a.pack.id for a in needed) - failed.keys()
        tonight -= failed.keys()
    return TomorrowPlan(day, found, evening, tuple(not_filled.items()))


def _day(
    asked: Tomorrow,
    along: Sequence[PackAlong],
    wanted: tuple[Wanted, ...],
    tonight: frozenset[str],
    rules: HouseRules,
    trust: LabelTrust,
    bench: Bench,
    at_s: float,
) -> FlightDay:
    """The day if the evening before fills these."""
    packs = flight_packs(
        along,
        asked.there,
        rules=rules,
        trust=trust,
        bench=bench,
        at_s=at_s,
        start_min=asked.start_min,
        tonight=tonight,
    )
    return FlightDay(
        wanted,
        packs,
        places_of(asked.there),
        supply_wh(asked.there),
        asked.hours_min,
        asked.swap_min,
        math.ceil(rules.cool_min),
    )


def places_of(there: Sequence[ChargerInUse]) -> tuple[FieldPorts, ...]:
    """The chargers along."""
    return tuple(
        FieldPorts(c.charger.id, c.charger.ports, f"supply:{c.supply.id}" if c.supply else "") for c in there
    )


def supply_wh(there: Sequence[ChargerInUse]) -> dict[str, float | None]:
    """What stands behind them holds. [Wh]"""
    supplies = {c.supply.id: c.supply for c in there if c.supply}
    return {f"supply:{k}": s.energy_wh for k, s in supplies.items()}


def _wanted(wish: ModelWish, along: Sequence[PackAlong]) -> Wanted | None:
    """Flights; of minutes as many as its packs, the middle one of them, need."""
    if wish.flights is not None:
        return Wanted(wish.model, wish.flights) if wish.flights > 0 else None
    if not wish.minutes:
        return None
    runs = [a.minutes[wish.model] for a in along if wish.model in a.minutes]
    return Wanted(wish.model, math.ceil(wish.minutes / median(runs) - 1e-6) if runs else 1)


def _worth_a_look(along: Sequence[PackAlong], wanted: Sequence[Wanted]) -> list[PackAlong]:
    """The readiest packs of each model, a few more than it has flights: of many alike the rest change
    nothing."""
    keep: set[str] = set()
    for spare in (SPARE, SPARE // 2, 0):
        keep = {x for w in wanted for x in _readiest(along, w.model, w.flights + spare)}
        if len(keep) <= MOST_PACKS:
            break
    models = {w.model for w in wanted}
    return [
        replace(a, minutes={m: x for m, x in a.minutes.items() if m in models})
        for a in along
        if a.pack.id in keep
    ]


def _readiest(along: Sequence[PackAlong], model: str, count: int) -> list[str]:
    serving = [a for a in along if model in a.minutes]
    serving.sort(key=lambda a: (model in a.care, not a.full, len(a.minutes), a.pack.id))
    return [a.pack.id for a in serving[:count]]


def _evening(
    needed: Sequence[PackAlong], asked: Tomorrow, rules: HouseRules, trust: LabelTrust, bench: Bench
) -> BenchPlan:
    return bench_plan(
        evening_packs(needed, rules=rules, trust=trust, bench=bench),
        rules=rules,
        trust=trust,
        feds=asked.evening.chargers,
        bench=bench,
        board=None,
        when=When(asked.start_min, "gently", asked.evening.attended or ((0, 1),)),
    )


def _failed(evening: BenchPlan) -> dict[str, str]:
    """Packs that are not full when the day begins, and why."""
    packs = {p.batch.id: p for p in evening.planned}
    out = {m.pack.id: m.inspection.findings[0].sentence for m in evening.kept_back}
    for batch, why in evening.undone:
        p = packs[batch]
        out |= {m.pack.id: p.refusals[0] if p.refusals and not p.ways else why for m in p.batch.members}
    for slot in evening.schedule.slots:
        if slot.late_min:
            late = f"It would be full {slot.late_min} min too late."
            out |= {m.pack.id: late for m in packs[slot.task].batch.members}
    return out
