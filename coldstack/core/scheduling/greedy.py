"""A first plan, batch by batch: each where it is full soonest. And the places that are left at any moment."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

from coldstack.core.scheduling.schedule import (
    SWAP_MIN,
    Option,
    Schedule,
    SchedulingProblem,
    Slot,
    Station,
    Task,
    check_problem,
    shortest_min,
)


@dataclass(slots=True)
class Placing:
    """What is placed so far."""

    problem: SchedulingProblem
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
        if not self._pieces_free(option, here, start):
            return None
        station = self.problem.station(option.station)
        if not self._watts_hold(station, option, start, end):
            return None
        busy = {s.port for s in here if s.option.station == station.id}
        return next((p for p in range(1, station.ports + 1) if p not in busy), None)

    def _pieces_free(self, option: Option, here: list[Slot], start: int) -> bool:
        """Whether of each piece that it needs there are enough at every moment."""
        moments = [start, *(s.start_min for s in here if s.start_min > start)]
        for piece in self.problem.pieces:
            needed = option.pieces.count(piece.id)
            if needed and any(
                needed
                + sum(
                    s.option.pieces.count(piece.id) for s in here if s.start_min <= t < s.end_min + SWAP_MIN
                )
                > piece.count
                for t in moments
            ):
                return False
        return True

    def _watts_hold(self, station: Station, option: Option, start: int, end: int) -> bool:
        source = next((s for s in self.problem.sources if s.id == station.supply), None)
        moments = [start, *(s.start_min for s in self.slots if start < s.start_min < end)]
        own = [s for s in self.slots if s.option.station == station.id]
        for t in moments:
            if (
                option.watts + sum(s.option.watts for s in own if s.start_min <= t < s.end_min)
                > station.watts + 1e-9
            ):
                return False
        if source is None:
            return True
        fed = [s for s in self.slots if self.problem.station(s.option.station).supply == source.id]
        for t in moments:
            if (
                option.supply_w + sum(s.option.supply_w for s in fed if s.start_min <= t < s.end_min)
                > source.watts + 1e-9
            ):
                return False
        return (
            source.wh is None or option.supply_wh + sum(s.option.supply_wh for s in fed) <= source.wh + 1e-9
        )

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
        self.slots.append(Slot(task.id, option, port, start, task.due_min))
        return True

    def _first(self, task: Task, option: Option) -> list[tuple[int, int]]:
        for start in self.starts(task):
            port = self.fits(task, option, start)
            if port is not None:
                return [(start, port)]
        return []


def greedy_schedule(problem: SchedulingProblem) -> Schedule:
    """Due first, then the longest: each where it is full soonest.

    Raises
    ------
    DomainError
        For a task that knows a station which is not there.
    """
    check_problem(problem)
    order = sorted(problem.tasks, key=lambda t: (t.due_min is None, t.due_min or 0, -shortest_min(t), t.id))
    taken, undone = Placing(problem, list(problem.taken)), []
    for task in order:
        if not taken.place(task, task.options):
            undone.append(task.id)
    return as_schedule(taken, undone, "greedy")


def moved_up(problem: SchedulingProblem, schedule: Schedule) -> Schedule:
    """The same options in the same order, each as early as it can be: a solver leaves gaps that help
    nobody."""
    taken, tasks, undone = (
        Placing(problem, list(problem.taken)),
        {t.id: t for t in problem.tasks},
        list(schedule.undone),
    )
    for slot in sorted(schedule.slots, key=lambda s: (s.start_min, s.end_min)):
        if not taken.place(tasks[slot.task], (slot.option,)):
            undone.append(slot.task)
    return as_schedule(taken, undone, schedule.by)


def as_schedule(taken: Placing, undone: Sequence[str], by: str) -> Schedule:
    """What is placed, but for what runs already."""
    slots = [s for s in taken.slots if s not in taken.problem.taken]
    return Schedule(
        tuple(sorted(slots, key=lambda s: (s.start_min, s.option.station, s.port))), tuple(undone), by
    )
