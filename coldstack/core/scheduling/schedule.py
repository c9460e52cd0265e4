"""Batches on ports over time: what may run when. Times are whole minutes from now.

Every watt and watt-hour is taken at its most (amps × full volts; all of the charge at full volts), so a
plan that holds its limits by these figures holds them in fact.
"""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.charging.charger import SUPPLY_EFFICIENCY
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
class Piece:
    """A lead, adapter or board of which there are only so many."""

    id: str
    name: str
    count: int


@dataclass(frozen=True, slots=True)
class Option:
    """One way to charge a batch: where, at which amps, for how long, and what it draws.

    ``supply_w`` and ``supply_wh`` include the charger's loss.
    """

    station: str
    current_a: float
    charge_c: float
    minutes: int
    watts: float
    supply_w: float = 0.0
    supply_wh: float = 0.0
    pieces: tuple[str, ...] = ()
    """Ids of the leads, adapters and the board that it needs, each as often as it needs it."""


def option_at(
    station: str,
    *,
    current_a: float,
    capacity_ah: float,
    minutes: int,
    full_v: float,
    put_in_ah: float,
    supplied: bool,
    pieces: tuple[str, ...] = (),
) -> Option:
    """A way to charge at so many amps up to the pack's full volts; ``supplied``: not from the mains."""
    watts, drawn = current_a * full_v, 1 / SUPPLY_EFFICIENCY if supplied else 0.0
    share_c = current_a / capacity_ah
    drawn_wh = put_in_ah * full_v * drawn
    return Option(station, current_a, share_c, minutes, watts, watts * drawn, drawn_wh, pieces)


@dataclass(frozen=True, slots=True)
class Task:
    """A batch to be charged: its options, when its packs are cool, when it is to be ready, how many packs it
    is."""

    id: str
    options: tuple[Option, ...]
    earliest_min: int = 0
    due_min: int | None = None
    packs: int = 1


@dataclass(frozen=True, slots=True)
class Slot:
    """A batch on a port. ``port`` counts from 1."""

    task: str
    option: Option
    port: int
    start_min: int
    due_min: int | None = None

    @property
    def end_min(self) -> int:
        """When it is full."""
        return self.start_min + self.option.minutes

    @property
    def late_min(self) -> int:
        """Minutes after its ready-by time."""
        return max(0, self.end_min - self.due_min) if self.due_min is not None else 0


@dataclass(frozen=True, slots=True)
class SchedulingProblem:
    """Tasks, stations, supplies, and the spans in which somebody stays with the charge: (from, to) in
    minutes."""

    tasks: tuple[Task, ...]
    stations: tuple[Station, ...]
    sources: tuple[Source, ...] = ()
    attended: tuple[tuple[int, int], ...] = ((0, 7 * 24 * 60),)
    taken: tuple[Slot, ...] = ()
    """Charges that run already: they hold their port, watts and pieces to their end."""
    pieces: tuple[Piece, ...] = ()

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


def check_problem(problem: SchedulingProblem) -> None:
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


def use_over_time(problem: SchedulingProblem, schedule: Schedule) -> dict[str, list[tuple[int, float]]]:
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


def supply_wh(problem: SchedulingProblem, schedule: Schedule) -> dict[str, float]:
    """Watt-hours that each supply gives. [Wh]"""
    return {
        source.id: sum(
            s.option.supply_wh
            for s in (*problem.taken, *schedule.slots)
            if problem.station(s.option.station).supply == source.id
        )
        for source in problem.sources
    }


def why_undone(problem: SchedulingProblem, task: Task, schedule: Schedule) -> str:
    """Why a task found no place, by taking limits away until it would."""
    if not task.options:
        return "No charger here can charge it."
    shortest = shortest_min(task)
    if not any(b - max(a, task.earliest_min) >= shortest for a, b in problem.attended):
        return f"It takes {shortest} min at least, and nobody stays at the bench that long at a stretch."
    if short := next(
        (p for p in problem.pieces if all(o.pieces.count(p.id) > p.count for o in task.options)), None
    ):
        return f"It needs {short.name} more often than you have it."
    used = supply_wh(problem, schedule)
    for option in task.options:
        source = next((s for s in problem.sources if s.id == problem.station(option.station).supply), None)
        if source is None or source.wh is None or used[source.id] + option.supply_wh <= source.wh:
            return "The ports and watts are taken in all the time at the bench."
    return (
        "The supply’s watt-hours are used up: it needs about "
        f"{min(o.supply_wh for o in task.options):.0f} Wh more."
    )


def shortest_min(task: Task) -> int:
    """Minutes of its fastest way."""
    return min((o.minutes for o in task.options), default=0)
