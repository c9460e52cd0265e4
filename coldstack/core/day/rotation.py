"""The day: packs in turn through run, cooling, charge and ready; when none is ready, and how many packs or ports would keep it going."""

from __future__ import annotations

import heapq
from dataclasses import dataclass, replace
from typing import Literal

from coldstack.core.errors import require_between

Stage = Literal["run", "cool", "wait", "charge", "ready"]
MOST_PACKS, MOST_PORTS = 60, 16


@dataclass(frozen=True, slots=True)
class Day:
    """What a day is made of. Minutes; ``charge_wh`` is what one charge draws from the supply, ``supply_wh`` None on the mains.

    All packs are full at the start; one model flies at a time.
    """

    packs: int
    ports: int
    run_min: float
    charge_min: float
    hours: float = 6.0
    swap_min: float = 3.0
    cool_min: float = 20.0
    charge_wh: float = 0.0
    supply_wh: float | None = None


@dataclass(frozen=True, slots=True)
class Span:
    """A pack in one stage. Packs count from 0, minutes from the start."""

    pack: int
    stage: Stage
    start_min: float
    end_min: float


@dataclass(frozen=True, slots=True)
class Rotation:
    """The day as it goes: spans, runs, minutes of running an hour, when nothing was ready first, waiting, and the supply's Wh."""

    spans: tuple[Span, ...]
    runs: int
    running_share: float
    minutes_an_hour: float
    first_wait_min: float | None
    waited_min: float
    used_wh: float
    uncharged: int


def rotation(day: Day) -> Rotation:
    """The day, event by event: the longest ready pack is run next; ports take cooled packs in the order in which they cooled.

    Raises
    ------
    DomainError
        Naming the figure that cannot be.
    """
    check_day(day)
    end = 60 * day.hours
    spans: list[Span] = []
    ready = [(0.0, k) for k in range(day.packs)]  # (ready since, pack)
    free = [0.0] * day.ports  # when each port is free
    heapq.heapify(ready)
    heapq.heapify(free)
    now, runs, ran, waited, first, used, lost = 0.0, 0, 0.0, 0.0, None, 0.0, 0
    while now < end and ready:
        since, pack = heapq.heappop(ready)
        start = max(now, since)
        if start > now + 1e-9:
            first = now if first is None else first
            waited += min(start, end) - now
        if start >= end:
            break
        stop = min(start + day.run_min, end)
        spans += [Span(pack, "ready", since, start), Span(pack, "run", start, stop)] if start > since else [Span(pack, "run", start, stop)]  # fmt: skip
        runs, ran = runs + (stop - start >= day.run_min - 1e-9), ran + stop - start
        now = stop + day.swap_min
        if day.supply_wh is not None and used + day.charge_wh > day.supply_wh + 1e-9:
            lost += 1
            continue
        used += day.charge_wh
        cooled = stop + day.cool_min
        port = heapq.heappop(free)
        begins = max(cooled, port)
        full = begins + day.charge_min
        heapq.heappush(free, full)
        spans += [Span(pack, "cool", stop, cooled), *([Span(pack, "wait", cooled, begins)] if begins > cooled else []), Span(pack, "charge", begins, full)]  # fmt: skip
        heapq.heappush(ready, (full, pack))
    if not ready and now < end:
        first = now if first is None else first
        waited += end - now
    return Rotation(tuple(spans), runs, ran / end, 60 * ran / end, first, waited, used, lost)


def fewest_packs(day: Day) -> int | None:
    """Packs with which nobody waits, with the ports there are; None if even sixty are too few."""
    return next((n for n in range(1, MOST_PACKS + 1) if rotation(replace(day, packs=n, supply_wh=None)).waited_min < 1e-6), None)  # fmt: skip


def fewest_ports(day: Day) -> int | None:
    """Ports with which nobody waits, with the packs there are; None if no number of ports is enough."""
    return next((n for n in range(1, MOST_PORTS + 1) if rotation(replace(day, ports=n, supply_wh=None)).waited_min < 1e-6), None)  # fmt: skip


def check_day(day: Day) -> Day:
    """The day itself, if every figure is possible; raises DomainError naming the field."""
    require_between("packs", "Packs", day.packs, low=1, high=MOST_PACKS)
    require_between("ports", "Ports", day.ports, low=1, high=MOST_PORTS)
    require_between("run_min", "Minutes of a run", day.run_min, low=0.5, high=600, unit="min")
    require_between("charge_min", "Minutes of a charge", day.charge_min, low=1, high=1440, unit="min")
    require_between("hours", "Hours", day.hours, low=0.25, high=24, unit="h")
    require_between("swap_min", "Minutes to swap", day.swap_min, low=0, high=120, unit="min")
    require_between("cool_min", "Minutes to cool", day.cool_min, low=0, high=240, unit="min")
    return day
