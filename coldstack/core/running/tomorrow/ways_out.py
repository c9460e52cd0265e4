"""What a day that runs short lacks: the least of an hour, a port, watt-hours or a pack with which more of it
is flown, each tried by planning it: as it comes, and by the solver where that is not enough."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal

from coldstack.core.running.tomorrow.flight_greedy import greedy_flights
from coldstack.core.running.tomorrow.flight_solver import best_flights
from coldstack.core.running.tomorrow.flights import MOST_PACKS, FieldPorts, FlightDay, FlightPack, FlightPlan

Lack = Literal["hour", "charger", "port", "energy", "pack"]
WORK, SOLVED = 0.05, 4
"""Of the solver, for each thing that is tried; so often it is asked where the day as it comes misses any,
until something is found: who waits for an answer waits some seconds."""
MOST_MORE = 3
"""So many packs more are tried at most, for the models that miss most."""
MOST_LACKING = 2


@dataclass(frozen=True, slots=True)
class WayOut:
    """What there would have to be more of, how much, for which model (a pack like ``like``) or where; and how
    many flights would still be missing."""

    lack: Lack
    amount: int
    missing: int
    of: str = ""
    like: str = ""


def ways_out(day: FlightDay, found: FlightPlan, spare: FlightDay | None = None) -> list[WayOut]:
    """The cheapest first: what costs nothing, what is owned (``spare``: the same day with every charger that
    is not taken along), what must be bought. Those that change nothing are left out; once all is flown the
    search ends with that kind."""
    missing = sum(found.short(day).values())
    if missing == 0:
        return []
    out, left_to_solve = list[WayOut](), SOLVED
    for lack, tries in _tries(day, found, spare):
        best = WayOut(lack, 0, missing)
        for amount, of, like, more in tries:
            left = sum(greedy_flights(more).short(more).values())
            if left and left_to_solve and not any(w.missing == 0 for w in out):
                left_to_solve -= 1
                left = min(left, sum(best_flights(more, WORK).short(more).values()))
            if left < best.missing:
                best = WayOut(lack, amount, left, of, like)
            if left == 0:
                break
        if best.amount:
            out.append(best)
    whole = [w for w in out if w.missing == 0]
    return whole or out


def _tries(
    day: FlightDay, found: FlightPlan, spare: FlightDay | None
) -> Iterator[tuple[Lack, list[tuple[int, str, str, FlightDay]]]]:
    yield "hour", [(n, "", "", replace(day, end_min=day.end_min + 60 * n)) for n in (1, 2)]
    if spare is not None:
        yield "charger", [(1, p.id, "", _with(day, spare, p)) for p in spare.places if p not in day.places]
    if day.places:
        busiest = max(day.places, key=lambda p: sum(c.way.place == p.id for c in found.charges))
        more = tuple(replace(p, ports=p.ports + 1) if p is busiest else p for p in day.places)
        yield "port", [(1, busiest.id, "", replace(day, places=more))]
        endless = replace(day, supply_wh=dict.fromkeys(day.supply_wh))
        if any(x is not None for x in day.supply_wh.values()):
            plan = best_flights(endless, WORK)
            used = plan.used_wh(endless)
            lacks = sum(max(0.0, used.get(k, 0.0) - x) for k, x in day.supply_wh.items() if x is not None)
            yield "energy", [(round(lacks + 0.5), "", "", endless)] if lacks > 0 else []
    short = found.short(day)
    for model in sorted(short, key=lambda m: -short[m])[:MOST_LACKING]:
        like = _best_for(day, model)
        if like is not None and len(day.packs) + MOST_MORE <= MOST_PACKS:
            yield (
                "pack",
                [
                    (n, model, like.id, replace(day, packs=(*day.packs, *_more(like, n))))
                    for n in range(1, MOST_MORE + 1)
                ],
            )


def _with(day: FlightDay, spare: FlightDay, place: FieldPorts) -> FlightDay:
    """The same day with one charger more along."""
    here = {p.id for p in (*day.places, place)}
    packs = tuple(
        replace(
            p,
            first=tuple(w for w in p.first if w.place in here),
            again=tuple(w for w in p.again if w.place in here),
        )
        for p in spare.packs
    )
    return replace(spare, packs=packs, places=(*day.places, place))


def _best_for(day: FlightDay, model: str) -> FlightPack | None:
    serving = [p for p in day.packs if model in p.minutes]
    return min(serving, key=lambda p: (model in p.care, len(p.minutes), p.id), default=None)


def _more(like: FlightPack, n: int) -> list[FlightPack]:
    return [replace(like, id=f"{like.id} more {k}", ready_min=0, before=False) for k in range(n)]
