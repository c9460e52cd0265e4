"""The best day: every flight's pack and hour, and every charge between, at once, by the constraint solver
that plans the bench; never worse than the greedy day."""

from __future__ import annotations

import math
from collections.abc import Iterator
from itertools import pairwise
from typing import TYPE_CHECKING, Any

from coldstack.core.running.tomorrow.flight_greedy import greedy_flights
from coldstack.core.running.tomorrow.flights import (
    CHARGE_BEFORE,
    CHARGE_THERE,
    WITH_CARE,
    ChargeWay,
    FieldCharge,
    Flight,
    FlightDay,
    FlightPack,
    FlightPlan,
    check_flight_day,
)
from coldstack.core.scheduling.schedule import SWAP_MIN

if TYPE_CHECKING:
    from ortools.sat.python import cp_model

WORK = 0.2
"""The solver's own measure of its work, and no clock: the same day is planned alike on any machine."""
SHORT_COST = 100_000
MOST_USES = 8
"""So often a pack is flown in a day at most."""


def best_flights(day: FlightDay, work: float = WORK) -> FlightPlan:
    """The least of `FlightPlan.score` that the solver finds, starting from the greedy day.

    Raises
    ------
    DomainError
        For more than a day can hold.
    """
    check_flight_day(day)
    greedy = greedy_flights(day)
    if not day.packs or not day.wanted:
        return greedy
    found = _solved(day, greedy, work)
    return greedy if found is None else min(greedy, found, key=lambda x: x.score(day))


class _Use:
    """One flight of a pack, its first or a later one, in the model: whether it is, of which model, when, and
    the charge before it."""

    def __init__(self, model: cp_model.CpModel, day: FlightDay, p: FlightPack, k: int) -> None:
        self.pack, self.k = p, k
        name, end = f"{p.id} {k}", day.end_min
        self.here = model.new_bool_var(f"here {name}")
        self.start = model.new_int_var(0, end, f"start {name}")
        self.end = model.new_int_var(0, end, f"end {name}")
        self.of = {m: model.new_bool_var(f"{m} {name}") for m in p.minutes}
        self.aloft = {}
        for m, minutes in p.minutes.items():
            whole = minutes + day.swap_min
            self.aloft[m] = model.new_optional_fixed_size_interval_var(
                self.start, whole, self.of[m], f"aloft {name} {m}"
            )
            model.add(self.end == self.start + minutes).only_enforce_if(self.of[m])
        model.add(sum(self.of.values()) == self.here)
        self.charged: dict[ChargeWay, Any] = {}
        self.charge_start = model.new_int_var(0, end, f"charge {name}")
        self.on_port: dict[ChargeWay, Any] = {}
        if k == 0 and p.ready_min is not None:
            model.add(self.start >= p.ready_min).only_enforce_if(self.here)
            return
        if k == 0:
            model.add(self.charge_start >= p.cool_min).only_enforce_if(self.here)
        for j, way in enumerate(p.first if k == 0 else p.again):
            self.charged[way] = model.new_bool_var(f"charge {name} {j}")
            self.on_port[way] = model.new_optional_fixed_size_interval_var(
                self.charge_start, way.minutes + SWAP_MIN, self.charged[way], f"port {name} {j}"
            )
            model.add(self.start >= self.charge_start + way.minutes).only_enforce_if(self.charged[way])
        model.add(sum(self.charged.values()) == self.here)


def _solved(day: FlightDay, greedy: FlightPlan, work: float) -> FlightPlan | None:
    # its import takes most of a second: only when it is needed
    from ortools.sat.python import cp_model

    model = cp_model.CpModel()
    uses = [[_Use(model, day, p, k) for k in range(_most_uses(day, p))] for p in day.packs]
    flat = [u for of in uses for u in of]
    short = _flown(model, day, flat)
    for of in uses:
        for one, after in pairwise(of):
            model.add_implication(after.here, one.here)
            model.add(after.charge_start >= one.end + day.cool_min).only_enforce_if(after.here)
    for one_pack, other in _alike(day, uses):
        model.add(sum(u.here for u in one_pack) >= sum(u.here for u in other))
    _share(model, day, flat)
    longest = {m: day.longest(m) for p in day.packs for m in p.minutes}
    finish = model.new_int_var(0, day.end_min, "finish")
    for u in flat:
        model.add(finish >= u.end).only_enforce_if(u.here)
    model.minimize(
        SHORT_COST * sum(short)
        + finish
        + sum((longest[m] - 2 * u.pack.minutes[m]) * b for u in flat for m, b in u.of.items())
        + CHARGE_THERE * sum(c for u in flat for c in u.charged.values())
        + CHARGE_BEFORE * sum(u.here for u in flat if u.k == 0 and u.pack.before)
        + WITH_CARE * sum(b for u in flat for m, b in u.of.items() if m in u.pack.care)
    )
    _hint(model, uses, greedy)
    solver = cp_model.CpSolver()
    solver.parameters.max_deterministic_time = work
    solver.parameters.num_workers, solver.parameters.random_seed = 1, 1
    if solver.solve(model) not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return None
    flown = [u for u in flat if solver.value(u.here)]
    flights = [
        Flight(u.pack.id, m, solver.value(u.start), solver.value(u.start) + u.pack.minutes[m])
        for u in flown
        for m, b in u.of.items()
        if solver.value(b)
    ]
    charges = [
        FieldCharge(u.pack.id, way, solver.value(u.charge_start))
        for u in flown
        for way, b in u.charged.items()
        if solver.value(b)
    ]
    return FlightPlan(
        tuple(sorted(flights, key=lambda f: f.start_min)), tuple(sorted(charges, key=lambda c: c.start_min))
    )


def _most_uses(day: FlightDay, p: FlightPack) -> int:
    """How often it could be flown: no more often than its rounds and the flights wanted of it allow."""
    wanted = sum(w.flights for w in day.wanted if w.model in p.minutes)
    if not p.minutes or (p.ready_min is None and not p.first):
        return 0
    if not p.again:
        return min(wanted, 1)
    again = min(p.minutes.values()) + day.cool_min + min(w.minutes for w in p.again)
    return min(wanted, MOST_USES, 1 + day.end_min // again, _a_fair_share(day, p))


def _a_fair_share(day: FlightDay, p: FlightPack) -> int:
    """One more than twice as often as if all packs of its models flew alike: where there are many, none of
    them flies all day."""
    shares = [
        math.ceil(2 * w.flights / sum(w.model in q.minutes for q in day.packs))
        for w in day.wanted
        if w.model in p.minutes
    ]
    return 1 + max(shares, default=0)


def _flown(model: cp_model.CpModel, day: FlightDay, uses: list[_Use]) -> list[Any]:
    """Each flight that is wanted is flown or missing; one person flies them all."""
    short = []
    for w in day.wanted:
        missing = model.new_int_var(0, w.flights, f"short {w.model}")
        model.add(sum(u.of[w.model] for u in uses if w.model in u.of) + missing == w.flights)
        short.append(missing)
    model.add_no_overlap([x for u in uses for x in u.aloft.values()])
    return short


def _share(model: cp_model.CpModel, day: FlightDay, uses: list[_Use]) -> None:
    """Ports, and watt-hours in tenths: what is needed rounded up, what there is rounded down."""
    for place in day.places:
        on = [x for u in uses for way, x in u.on_port.items() if way.place == place.id]
        model.add_cumulative(on, [1] * len(on), place.ports)
    for supply, limit in day.supply_wh.items():
        of = {p.id for p in day.places if p.supply == supply}
        if limit is not None:
            needed = [
                math.ceil(10 * way.wh - 1e-6) * b
                for u in uses
                for way, b in u.charged.items()
                if way.place in of
            ]
            model.add(sum(needed) <= math.floor(10 * limit + 1e-6))


def _alike(day: FlightDay, uses: list[list[_Use]]) -> Iterator[tuple[list[_Use], list[_Use]]]:
    """Neighbours of which one is as good as the other: the first is taken first."""
    last: dict[object, int] = {}
    for k, p in enumerate(day.packs):
        same = (tuple(sorted(p.minutes.items())), p.ready_min, p.first, p.again, p.care, p.before, p.cool_min)
        if same in last:
            yield uses[last[same]], uses[k]
        last[same] = k


def _hint(model: cp_model.CpModel, uses: list[list[_Use]], greedy: FlightPlan) -> None:
    for of in uses:
        pack = of[0].pack.id if of else ""
        flights = [f for f in greedy.flights if f.pack == pack]
        charges = [c for c in greedy.charges if c.pack == pack]
        for u in of:
            flight = flights[u.k] if u.k < len(flights) else None
            model.add_hint(u.here, flight is not None)
            if flight is None:
                continue
            model.add_hint(u.start, flight.start_min)
            for m, b in u.of.items():
                model.add_hint(b, m == flight.model)
            if u.charged:
                own = charges[u.k - (len(flights) - len(charges))]
                model.add_hint(u.charge_start, own.start_min)
                for way, b in u.charged.items():
                    model.add_hint(b, way == own.way)
