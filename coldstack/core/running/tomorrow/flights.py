"""A day of several models: which pack flies which flight, and what is charged there in between. Times are
whole minutes from the first take-off that is possible.

One person flies, one model at a time; who flies is with the charges too.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass, field

from coldstack.core.errors import DomainError

MOST_MODELS, MOST_FLIGHTS, MOST_PACKS = 8, 40, 60
CHARGE_THERE, CHARGE_BEFORE, WITH_CARE = 20, 2, 5
"""Minutes on the ground that a charge there, a charge the evening before, and a flight of a pack that does
the job only with care are worth avoiding. House figures."""


@dataclass(frozen=True, slots=True)
class Wanted:
    """So many flights of a model, by its id."""

    model: str
    flights: int


@dataclass(frozen=True, slots=True)
class FieldPorts:
    """A charger along: its ports, and the id of the supply behind it."""

    id: str
    ports: int
    supply: str = ""


@dataclass(frozen=True, slots=True)
class ChargeWay:
    """One way to charge a pack there: where, how long, and what it takes from the supply. [min], [Wh]"""

    place: str
    minutes: int
    wh: float = 0.0


@dataclass(frozen=True, slots=True)
class FlightPack:
    """A pack for the day: how long it flies each model that it may fly, those it flies only with care, and
    the ways to charge it there: first, where it is not full, and again after a flight.

    ``ready_min``: from when on it is full and cool; None where it must be charged there first, which may
    begin at ``cool_min``. ``before``: it is full only by a charge the evening before.
    """

    id: str
    minutes: Mapping[str, int]
    ready_min: int | None = 0
    first: tuple[ChargeWay, ...] = ()
    again: tuple[ChargeWay, ...] = ()
    care: frozenset[str] = frozenset()
    before: bool = False
    cool_min: int = 0


@dataclass(frozen=True, slots=True)
class FlightDay:
    """What a day is made of; ``supply_wh`` what each supply gives, None without an end. [min], [Wh]"""

    wanted: tuple[Wanted, ...]
    packs: tuple[FlightPack, ...]
    places: tuple[FieldPorts, ...] = ()
    supply_wh: Mapping[str, float | None] = field(default_factory=dict)
    end_min: int = 360
    swap_min: int = 3
    cool_min: int = 20

    def pack(self, pack_id: str) -> FlightPack:
        """The pack with this id."""
        return next(p for p in self.packs if p.id == pack_id)

    def longest(self, model: str) -> int:
        """How long the pack that flies it longest does. [min]"""
        return max(p.minutes.get(model, 0) for p in self.packs)

    def place(self, place_id: str) -> FieldPorts:
        """The charger with this id."""
        return next(p for p in self.places if p.id == place_id)


@dataclass(frozen=True, slots=True)
class Flight:
    """A pack in a model, from take-off to landing."""

    pack: str
    model: str
    start_min: int
    end_min: int


@dataclass(frozen=True, slots=True)
class FieldCharge:
    """A pack on a charger there."""

    pack: str
    way: ChargeWay
    start_min: int

    @property
    def end_min(self) -> int:
        """When it is full."""
        return self.start_min + self.way.minutes


@dataclass(frozen=True, slots=True)
class FlightPlan:
    """Flights and charges, each in the order of their start."""

    flights: tuple[Flight, ...] = ()
    charges: tuple[FieldCharge, ...] = ()

    def short(self, day: FlightDay) -> dict[str, int]:
        """Flights that are missing, by model; without models that miss none."""
        flown = Counter(f.model for f in self.flights)
        return {w.model: n for w in day.wanted if (n := w.flights - flown[w.model]) > 0}

    def used_wh(self, day: FlightDay) -> dict[str, float]:
        """What each supply gives. [Wh]"""
        used: dict[str, float] = {}
        for c in self.charges:
            supply = day.place(c.way.place).supply
            used[supply] = used.get(supply, 0.0) + c.way.wh
        return used

    def score(self, day: FlightDay) -> tuple[int, int]:
        """Less is better: flights that are missing; then the minutes on the ground until the last one lands
        and those that a longer pack would have flown, with what charging and care are worth."""
        packs = {f.pack for f in self.flights}
        cost = max((f.end_min for f in self.flights), default=0)
        cost += sum(day.longest(f.model) - 2 * (f.end_min - f.start_min) for f in self.flights)
        cost += CHARGE_THERE * len(self.charges)
        cost += CHARGE_BEFORE * sum(1 for p in day.packs if p.id in packs and p.before)
        cost += WITH_CARE * sum(1 for f in self.flights if f.model in day.pack(f.pack).care)
        return sum(self.short(day).values()), cost


def check_flight_day(day: FlightDay) -> FlightDay:
    """The day itself; raises DomainError for more than it can hold, or for what is named twice."""
    if len(day.wanted) > MOST_MODELS:
        raise DomainError("models", f"At most {MOST_MODELS} models in a day, not {len(day.wanted)}.")
    if len({w.model for w in day.wanted}) < len(day.wanted):
        raise DomainError("models", "A model stands there twice.")
    if sum(w.flights for w in day.wanted) > MOST_FLIGHTS:
        raise DomainError("models", f"At most {MOST_FLIGHTS} runs in a day.")
    if len(day.packs) > MOST_PACKS:
        raise DomainError("packs", f"At most {MOST_PACKS} packs in a day, not {len(day.packs)}.")
    return day
