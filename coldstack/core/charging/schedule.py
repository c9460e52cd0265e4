"""Batches on ports over time: what may run when, and a greedy plan. Times are whole minutes from now.

Every watt and watt-hour is taken at its most (amps × full volts; all of the charge at full volts), so a plan that holds its limits
by these figures holds them in fact.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

from coldstack.core.errors import DomainError

SWAP_MIN = 3
"""Between two batches on a port: plug out, plug in, check what the charger found. House figure."""


@dataclass(frozen=True, slots=True)
class Station:
    """A charger as it is fed: its ports, its watts to the packs on this input, and the supply behind it."""

    id: str
    ports: int
    watts: float
    supply: str = ""


@dataclass(frozen=True, slots=True)
class Source:
    """A supply's watts and watt-hours; None on the mains."""

    id: str
    watts: float
    wh: float | None = None


@dataclass(frozen=True, slots=True)
class Option:
    """One way to charge a batch: where, at which amps, for how long, and what it draws. ``supply_w`` and ``supply_wh`` include the charger's loss."""

    station: str
    current_a: float
    charge_c: float
    minutes: int
    watts: float
    supply_w: float = 0.0
    supply_wh: float = 0.0


@dataclass(frozen=True, slots=True)
class Task:
    """A batch to be charged: its options, when its packs are cool, when it is to be ready, and the board it needs."""

    id: str
    options: tuple[Option, ...]
    earliest_min: int = 0
    due_min: int | None = None
    board: str = ""


@dataclass(frozen=True, slots=True)
class Slot:
    """A batch on a port. ``port`` counts from 1."""

    task: str
    option: Option
    port: int
    start_min: int
    due_min: int | None = None
    board: str = ""

    @property
    def end_min(self) -> int:
        """When it is full."""
        return self.start_min + self.option.minutes

    @property
    def late_min(self) -> int:
        """Minutes after its ready-by time."""
        return max(0, self.end_min - self.due_min) if self.due_min is not None else 0


@dataclass(frozen=True, slots=True)
class Problem:
    """Tasks, stations, supplies, and the spans in which somebody stays with the charge: (from, to) in minutes."""

    tasks: tuple[Task, ...]
    stations: tuple[Station, ...]
    sources: tuple[Source, ...] = ()
    attended: tuple[tuple[int, int], ...] = ((0, 7 * 24 * 60),)
    taken: tuple[Slot, ...] = ()
    """Charges that run already: they hold their port and watts to their end."""

    def station(self, station_id: str) -> Station:
        """The station with this id."""
        return next(s for s in self.stations if s.id == station_id)


@dataclass(frozen=True, slots=True)
class Schedule:
    """Slots by start, and the tasks that found no place."""

    slots: tuple[Slot, ...] = ()
    undone: tuple[str, ...] = ()
    by: str = "greedy"

    @property
    def finish_min(self) -> int:
        """When the last batch is full."""
        return max((s.end_min for s in self.slots), default=0)

    @property
    def score(self) -> tuple[float, ...]:
        """Less is better: batches not done, minutes late, finish, wear (the sum of charge C)."""
        wear = sum(s.option.charge_c for s in self.slots)
        return (len(self.undone), sum(s.late_min for s in self.slots), self.finish_min, round(wear, 6))


@dataclass(slots=True)
class _Taken:
    """What is placed so far."""

    problem: Problem
    slots: list[Slot] = field(default_factory=list)

    def starts(self, task: Task) -> list[int]:
        """Moments worth trying: something ends, the packs are cool, somebody comes."""
        ends = {x for s in self.slots for x in (s.end_min, s.end_min + SWAP_MIN)}
        moments = {task.earliest_min, *ends, *(a for a, _ in self.problem.attended)}
        return sorted(m for m in moments if m >= task.earliest_min)

    def fits(self, task: Task, option: Option, start: int) -> int | None:
        """The port it could have from then on; None if some limit forbids it."""
        end = start + option.minutes
        if not any(a <= start and end <= b for a, b in self.problem.attended):
            return None
        here = [s for s in self.slots if s.start_min < end + SWAP_MIN and s.end_min + SWAP_MIN > start]
        if task.board and any(s.board == task.board for s in here):
            return None
        station = self.problem.station(option.station)
        if not self._watts_hold(station, option, start, end):
            return None
        busy = {s.port for s in here if s.option.station == station.id}
        return next((p for p in range(1, station.ports + 1) if p not in busy), None)

    def _watts_hold(self, station: Station, option: Option, start: int, end: int) -> bool:
        source = next((s for s in self.problem.sources if s.id == station.supply), None)
        moments = [start, *(s.start_min for s in self.slots if start < s.start_min < end)]
        own = [s for s in self.slots if s.option.station == station.id]
        for t in moments:
            if option.watts + sum(s.option.watts for s in own if s.start_min <= t < s.end_min) > station.watts + 1e-9:  # fmt: skip
                return False
        if source is None:
            return True
        fed = [s for s in self.slots if self.problem.station(s.option.station).supply == source.id]
        for t in moments:
            if option.supply_w + sum(s.option.supply_w for s in fed if s.start_min <= t < s.end_min) > source.watts + 1e-9:  # fmt: skip
                return False
        return source.wh is None or option.supply_wh + sum(s.option.supply_wh for s in fed) <= source.wh + 1e-9  # fmt: skip

    def place(self, task: Task, options: Iterable[Option]) -> bool:
        """Put it where it is full soonest, of equals at the gentlest rate."""
        found = [
            (start + option.minutes, option.charge_c, start, port, option)
            for option in options
            for start, port in self._first(task, option)
        ]
        if not found:
            return False
        _, _, start, port, option = min(found, key=lambda f: f[:4])
        self.slots.append(Slot(task.id, option, port, start, task.due_min, task.board))
        return True

    def _first(self, task: Task, option: Option) -> list[tuple[int, int]]:
        for start in self.starts(task):
            port = self.fits(task, option, start)
            if port is not None:
                return [(start, port)]
        return []


def greedy_schedule(problem: Problem) -> Schedule:
    """Due first, then the longest: each where it is full soonest.

    Raises
    ------
    DomainError
        For a task that knows a station which is not there.
    """
    check_problem(problem)
    order = sorted(problem.tasks, key=lambda t: (t.due_min is None, t.due_min or 0, -_shortest(t), t.id))
    taken, undone = _Taken(problem, list(problem.taken)), []
    for task in order:
        if not taken.place(task, task.options):
            undone.append(task.id)
    return _schedule(taken, undone, "greedy")


def moved_up(problem: Problem, schedule: Schedule) -> Schedule:
    """The same options in the same order, each as early as it can be: a solver leaves gaps that help nobody."""
    taken, tasks, undone = (
        _Taken(problem, list(problem.taken)),
        {t.id: t for t in problem.tasks},
        list(schedule.undone),
    )
    for slot in sorted(schedule.slots, key=lambda s: (s.start_min, s.end_min)):
        if not taken.place(tasks[slot.task], (slot.option,)):
            undone.append(slot.task)
    return _schedule(taken, undone, schedule.by)


def check_problem(problem: Problem) -> None:
    """Raises DomainError for unknown stations or supplies, and for times that are no span."""
    known, sources = {s.id for s in problem.stations}, {s.id for s in problem.sources}
    for task in problem.tasks:
        for option in task.options:
            if option.station not in known:
                raise DomainError("tasks", f"There is no charger “{option.station}”.")
            if option.minutes < 1:
                raise DomainError("tasks", "A charge takes a minute at least.")
    for station in problem.stations:
        if station.supply and station.supply not in sources:
            raise DomainError("stations", f"There is no supply “{station.supply}”.")
    if any(not a < b for a, b in problem.attended):
        raise DomainError("attended", "A span at the bench ends after it begins.")


def use_over_time(problem: Problem, schedule: Schedule) -> dict[str, list[tuple[int, float]]]:
    """Watts from each minute on, for every station and supply: steps (minute, watts), the last at zero."""
    out: dict[str, list[tuple[int, float]]] = {}
    things: list[Station | Source] = [*problem.stations, *problem.sources]
    for thing in things:
        drawn = [
            (s, s.option.watts if isinstance(thing, Station) else s.option.supply_w)
            for s in (*problem.taken, *schedule.slots)
            if thing.id in (s.option.station, problem.station(s.option.station).supply)
        ]
        moments = sorted({m for s, _ in drawn for m in (s.start_min, s.end_min)})
        out[thing.id] = [(m, sum(w for s, w in drawn if s.start_min <= m < s.end_min)) for m in moments]
    return out


def supply_wh(problem: Problem, schedule: Schedule) -> dict[str, float]:
    """Watt-hours that each supply gives. [Wh]"""
    return {
        source.id: sum(s.option.supply_wh for s in (*problem.taken, *schedule.slots) if problem.station(s.option.station).supply == source.id)
        for source in problem.sources
    }  # fmt: skip


def why_undone(problem: Problem, task: Task, schedule: Schedule) -> str:
    """Why a task found no place, by taking limits away until it would."""
    if not task.options:
        return "No charger here can charge it."
    shortest = _shortest(task)
    if not any(b - max(a, task.earliest_min) >= shortest for a, b in problem.attended):
        return f"It takes {shortest} min at least, and nobody stays at the bench that long at a stretch."
    used = supply_wh(problem, schedule)
    for option in task.options:
        source = next((s for s in problem.sources if s.id == problem.station(option.station).supply), None)
        if source is None or source.wh is None or used[source.id] + option.supply_wh <= source.wh:
            return "The ports and watts are taken in all the time at the bench."
    return f"The supply’s watt-hours are used up: it needs about {min(o.supply_wh for o in task.options):.0f} Wh more."


def _shortest(task: Task) -> int:
    return min((o.minutes for o in task.options), default=0)


def _schedule(taken: _Taken, undone: Sequence[str], by: str) -> Schedule:
    slots = [s for s in taken.slots if s not in taken.problem.taken]
    return Schedule(tuple(sorted(slots, key=lambda s: (s.start_min, s.option.station, s.port))), tuple(undone), by)  # fmt: skip
