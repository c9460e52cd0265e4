"""A day flown as it comes: always the flight that can start soonest. What the solver must not do worse
than."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

from coldstack.core.running.tomorrow.flights import (
    ChargeWay,
    FieldCharge,
    Flight,
    FlightDay,
    FlightPack,
    FlightPlan,
)
from coldstack.core.scheduling.schedule import SWAP_MIN


@dataclass(frozen=True, slots=True)
class _Next:
    """A flight that could be the next, with the charge before it."""

    start_min: int
    charge: FieldCharge | None
    port: int = 0


def greedy_flights(day: FlightDay) -> FlightPlan:
    """Of the flights that are left the one that starts soonest; of equal ones that whose model has the fewest
    packs for what is left of it, by the pack that serves the fewest models."""
    left = {w.model: w.flights for w in day.wanted}
    free = {p.id: [0] * p.ports for p in day.places}
    landed, wh = dict[str, int](), Counter[str]()
    flights, charges, now = list[Flight](), list[FieldCharge](), 0
    while True:
        found = []
        for model in (m for m, n in left.items() if n > 0):
            serving = [p for p in day.packs if model in p.minutes]
            for k, p in enumerate(serving):
                step = _soonest(day, p, now, landed.get(p.id), free, wh)
                if step is None or step.start_min + p.minutes[model] > day.end_min:
                    continue
                order = (
                    step.start_min,
                    step.charge is not None,
                    len(serving) / left[model],
                    model in p.care,
                    -p.minutes[model],
                    len(p.minutes),
                    p.before,
                    k,
                )
                found.append((order, model, p, step))
        if not found:
            return FlightPlan(tuple(flights), tuple(sorted(charges, key=lambda c: c.start_min)))
        _, model, p, step = min(found, key=lambda x: x[0])
        end = step.start_min + p.minutes[model]
        flights.append(Flight(p.id, model, step.start_min, end))
        if step.charge is not None:
            charges.append(step.charge)
            free[step.charge.way.place][step.port] = step.charge.end_min + SWAP_MIN
            wh[day.place(step.charge.way.place).supply] += step.charge.way.wh  # type: ignore[assignment]
        landed[p.id], left[model], now = end, left[model] - 1, end + day.swap_min


def _soonest(
    day: FlightDay,
    p: FlightPack,
    now: int,
    landed: int | None,
    free: dict[str, list[int]],
    wh: Counter[str],
) -> _Next | None:
    """When it could be flown next, with its charge before; None where it cannot be charged any more."""
    if landed is None and p.ready_min is not None:
        return _Next(max(now, p.ready_min), None)
    cool = p.cool_min if landed is None else landed + day.cool_min
    best: tuple[int, ChargeWay, int, int] | None = None
    for way in p.first if landed is None else p.again:
        supply = day.place(way.place).supply
        limit = day.supply_wh.get(supply)
        if limit is not None and wh[supply] + way.wh > limit + 1e-9:
            continue
        port = min(range(len(free[way.place])), key=lambda k: free[way.place][k])
        start = max(cool, free[way.place][port])
        if best is None or start + way.minutes < best[0]:
            best = (start + way.minutes, way, start, port)
    if best is None:
        return None
    full, way, start, port = best
    return _Next(max(now, full), FieldCharge(p.id, way, start), port)
