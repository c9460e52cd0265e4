"""The day: packs in turn through run, cooling, charge and ready; when none is ready, and how many packs or
ports would keep it going."""

from __future__ import annotations

import heapq
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from coldstack.core.errors import between, faults, refuse
from coldstack.core.fields.quantity import Quantity
from coldstack.core.fields.table import Check, bounds, within

Stage = Literal["run", "cool", "wait", "charge", "ready"]
MOST_PACKS, MOST_PORTS = 60, 16
PACKS = Quantity("Packs", high=MOST_PACKS)
RUN_MIN = Quantity("Minutes of a run", unit="min", low=0.5, high=600)
CHARGE_MIN = Quantity("Minutes of a charge", unit="min", low=1, high=1440)
FIRST_CHARGE_MIN = Quantity("Minutes of the first charge", unit="min", high=1440)


@dataclass(frozen=True, slots=True)
class DayPack:
    """One pack of one's own: minutes of its run, minutes and supply Wh of its charge; for one that is not
    full, those of its first charge."""

    run_min: float
    charge_min: float
    charge_wh: float = 0.0
    full: bool = True
    first_charge_min: float = 0.0
    first_charge_wh: float = 0.0


@dataclass(frozen=True, slots=True)
class Day:
    """What a day is made of. Minutes; ``charge_wh`` is what one charge draws from the supply, ``supply_wh``
    None on the mains.

    ``packs`` counts packs alike, full at the start; ``own`` are others before them. One model runs at a time.
    """

    packs: Annotated[int, PACKS]
    ports: Annotated[int, Quantity("Ports", low=1, high=MOST_PORTS)]
    run_min: Annotated[float, RUN_MIN]
    charge_min: Annotated[float, CHARGE_MIN]
    hours: Annotated[float, Quantity("Hours", unit="h", low=0.25, high=24)] = 6.0
    swap_min: Annotated[float, Quantity("Minutes to swap", unit="min", high=120)] = 3.0
    cool_min: Annotated[float, Quantity("Minutes to cool", unit="min", high=240)] = 20.0
    charge_wh: float = 0.0
    supply_wh: float | None = None
    own: tuple[DayPack, ...] = ()

    @property
    def members(self) -> tuple[DayPack, ...]:
        """Every pack, one's own first."""
        return self.own + (DayPack(self.run_min, self.charge_min, self.charge_wh),) * self.packs


@dataclass(frozen=True, slots=True)
class Span:
    """A pack in one stage. Packs count from 0, minutes from the start."""

    pack: int
    stage: Stage
    start_min: float
    end_min: float


@dataclass(frozen=True, slots=True)
class Rotation:
    """The day as it goes: spans, runs, minutes of running an hour, when nothing was ready first, waiting,
    and the supply's Wh."""

    spans: tuple[Span, ...]
    runs: int
    minutes_an_hour: float
    first_wait_min: float | None
    waited_min: float
    used_wh: float
    uncharged: int


def rotation(day: Day) -> Rotation:
    """The day, event by event: the longest ready pack is run next; ports take cooled packs in the order in
    which they cooled.

    Raises
    ------
    DomainError
        Naming the figure that cannot be.
    """
    check_day(day)
    end, at = 60 * day.hours, _Charging(day)
    ready = [(0.0, k) for k, p in enumerate(day.members) if p.full]  # (ready since, pack)
    ready += [
        full for k, p in enumerate(day.members) if not p.full and (full := at.charge(k, 0.0, first=True))
    ]
    heapq.heapify(ready)
    now, runs, ran, waited, first = 0.0, 0, 0.0, 0.0, None
    while now < end and ready:
        since, pack = heapq.heappop(ready)
        start = max(now, since)
        if start > now + 1e-9:
            first = now if first is None else first
            waited += min(start, end) - now
        if start >= end:
            break
        run_min = day.members[pack].run_min
        stop = min(start + run_min, end)
        at.spans += [Span(pack, "ready", since, start)] if start > since else []
        at.spans.append(Span(pack, "run", start, stop))
        runs, ran = runs + (stop - start >= run_min - 1e-9), ran + stop - start
        now = stop + day.swap_min
        full = at.charge(pack, stop)
        if full:
            heapq.heappush(ready, full)
    if not ready and now < end:
        first = now if first is None else first
        waited += end - now
    return Rotation(tuple(at.spans), runs, 60 * ran / end, first, waited, at.used_wh, at.uncharged)


class _Charging:
    """The ports and the supply as the day goes; collects the spans."""

    def __init__(self, day: Day) -> None:
        self.day, self.members = day, day.members
        self.free = [0.0] * day.ports  # when each port is free
        self.spans: list[Span] = []
        self.used_wh, self.uncharged = 0.0, 0

    def charge(self, pack: int, since_min: float, *, first: bool = False) -> tuple[float, int] | None:
        """When the pack is full, with its number; None if the supply is empty.

        It cools first, unless it was not run.
        """
        p, day = self.members[pack], self.day
        minutes, wh = (p.first_charge_min, p.first_charge_wh) if first else (p.charge_min, p.charge_wh)
        if day.supply_wh is not None and self.used_wh + wh > day.supply_wh + 1e-9:
            self.uncharged += 1
            return None
        self.used_wh += wh
        cooled = since_min if first else since_min + day.cool_min
        begins = max(cooled, heapq.heappop(self.free))
        full = begins + minutes
        heapq.heappush(self.free, full)
        self.spans += [] if first else [Span(pack, "cool", since_min, cooled)]
        self.spans += [Span(pack, "wait", cooled, begins)] if begins > cooled else []
        self.spans.append(Span(pack, "charge", begins, full))
        return full, pack


def fewest_packs(day: Day) -> int | None:
    """Packs alike with which nobody waits, beside one's own, with the ports there are; None if even sixty in
    all are too few."""
    return next(
        (
            n
            for n in range(0 if day.own else 1, MOST_PACKS - len(day.own) + 1)
            if rotation(replace(day, packs=n, supply_wh=None)).waited_min < 1e-6
        ),
        None,
    )


def fewest_ports(day: Day) -> int | None:
    """Ports with which nobody waits, with the packs there are; None if no number of ports is enough."""
    return next(
        (
            n
            for n in range(1, MOST_PORTS + 1)
            if rotation(replace(day, ports=n, supply_wh=None)).waited_min < 1e-6
        ),
        None,
    )


@dataclass(frozen=True, slots=True)
class Enough:
    """Packs alike and ports with which nobody waits, and the supply's Wh of such a day."""

    packs: int
    ports: int
    used_wh: float


def enough_of_both(day: Day) -> Enough | None:
    """The fewest packs with as many ports as one likes, then the fewest ports for those; None if that is out
    of reach."""
    packs = fewest_packs(replace(day, ports=MOST_PORTS))
    if packs is None:
        return None
    with_packs = replace(day, packs=packs, supply_wh=None)
    ports = fewest_ports(with_packs)
    return None if ports is None else Enough(packs, ports, rotation(replace(with_packs, ports=ports)).used_wh)


def headline(day: Day, found: Rotation) -> str:
    """The day in a line: how many packs and ports, when none is ready, and the running."""
    count = len(day.members)
    packs = f"{count} pack{'s' * (count > 1)} and {day.ports} port{'s' * (day.ports > 1)}"
    if found.first_wait_min is None:
        return f"{packs}: never a wait, {found.minutes_an_hour:.0f} min of running an hour."
    none = (
        "none is ready at first"
        if found.first_wait_min < 1
        else f"none is ready after {found.first_wait_min:.0f} min"
    )
    return f"{packs}: {none}; {found.minutes_an_hour:.0f} min of running an hour."


def check_day(day: Day) -> Day:
    """The day itself, if every figure is possible; raises DomainError naming the field."""
    refuse(
        faults(
            between("packs", "Packs", day.packs, 0 if day.own else 1, MOST_PACKS - len(day.own)),
            *(check for k, p in enumerate(day.own) for check in _own_checks(p, f"own.{k}")),
            *bounds(day),
        )
    )
    return day


def _own_checks(p: DayPack, field: str) -> list[Check]:
    return [
        within(RUN_MIN, p.run_min, field),
        within(CHARGE_MIN, p.charge_min, field),
        within(FIRST_CHARGE_MIN, p.first_charge_min, field),
    ]
