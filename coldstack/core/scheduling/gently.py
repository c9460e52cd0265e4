"""As slow as the time allows, and as late as it can be: charging with a ready-by time.

Slower is kinder, and a full pack ages. All batches first get the lowest common rate at which everything is
done no later than it would be at full speed; then each is moved and slowed as far as the others let it.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal

from coldstack.core.scheduling.greedy import Placing, as_schedule, greedy_schedule
from coldstack.core.scheduling.schedule import SWAP_MIN, Option, Schedule, SchedulingProblem, Slot, Task

Pace = Literal["soonest", "gently"]

BEFORE_MIN = 15
"""A gentle charge ends so long before it is to be ready. House figure."""
PASSES = 4
"""How often each batch is looked at again, since one that moves makes room for others."""


def wear(charge_c: float) -> float:
    """Cycles that one charge counts for: one at 1C, ``(2 + C) ÷ 3``.

    By the cycles that practitioners report, three quarters at 2C and six tenths at 3C. Below 1C it is that
    line drawn on. House figure, with a wide range.
    """
    return (2 + charge_c) / 3


@dataclass(frozen=True, slots=True)
class Cost:
    """What a schedule costs: when it begins and ends, its lowest and highest rate, cycles over all packs, and
    the minutes for which packs lie full before they are to be ready, on average. Nones for an empty one."""

    start_min: int | None
    end_min: int | None
    low_c: float | None
    high_c: float | None
    cycles: float
    full_early_min: float | None


def cost(problem: SchedulingProblem, schedule: Schedule) -> Cost:
    """What a schedule costs the packs and the day."""
    packs = {t.id: t.packs for t in problem.tasks}
    slots = schedule.slots
    rates = [s.option.charge_c for s in slots]
    early = [(s.due_min - s.end_min, packs[s.task]) for s in slots if s.due_min is not None]
    count = sum(n for _, n in early)
    return Cost(
        min((s.start_min for s in slots), default=None),
        max((s.end_min for s in slots), default=None),
        min(rates, default=None),
        max(rates, default=None),
        sum(packs[s.task] * wear(s.option.charge_c) for s in slots),
        sum(max(minutes, 0) * n for minutes, n in early) / count if count else None,
    )


def gentle_schedule(problem: SchedulingProblem, soonest: Schedule) -> Schedule:
    """The same batches as gently and as late as their ready-by times let them be, none later than
    ``soonest``: the lowest rate first, then the latest end.

    ``problem`` has slower options beside those of ``soonest``. A task without a ready-by time stays as it is.
    """
    due = {t.id: t.due_min for t in problem.tasks}
    aimed = replace(problem, tasks=tuple(_aimed(t, soonest) for t in problem.tasks))
    first = _common_rate(aimed, soonest)
    placed = Placing(aimed, [*aimed.taken, *first.slots])
    tasks = {t.id: t for t in aimed.tasks}
    mine = {s.task: s for s in first.slots}
    for _ in range(PASSES):
        before = dict(mine)
        for slot in sorted(mine.values(), key=lambda s: (-s.end_min, s.task)):
            placed.slots.remove(slot)
            mine[slot.task] = _gentler(placed, tasks[slot.task], slot)
            placed.slots.append(mine[slot.task])
        if mine == before:
            break
    placed.slots[:] = [replace(s, due_min=due[s.task]) if s.task in due else s for s in placed.slots]
    return as_schedule(placed, first.undone, "gently")


def _aimed(task: Task, soonest: Schedule) -> Task:
    """With the time by which it is to end: somewhat before it is due, where that can be."""
    slot = next((s for s in soonest.slots if s.task == task.id), None)
    if task.due_min is None or slot is None:
        return task
    early = task.due_min - BEFORE_MIN
    return replace(task, due_min=early if slot.end_min <= early else max(task.due_min, slot.end_min))


def _common_rate(problem: SchedulingProblem, soonest: Schedule) -> Schedule:
    """Everything at the lowest rate at which no more is undone, and nothing late; as soonest, if there is
    none."""
    rates = sorted({o.charge_c for t in problem.tasks for o in t.options})
    best, low, high = soonest, 0, len(rates)
    while low < high:
        middle = (low + high) // 2
        tasks = tuple(_up_to(t, rates[middle]) for t in problem.tasks)
        found = greedy_schedule(replace(problem, tasks=tasks))
        if found.score[:2] <= (len(soonest.undone), 0):
            best, high = found, middle
        else:
            low = middle + 1
    return best


def _up_to(task: Task, charge_c: float) -> Task:
    """A task with its slower options only; with its slowest where it has none, with all if it has all day."""
    if task.due_min is None:
        return task
    slow = tuple(o for o in task.options if o.charge_c <= charge_c + 1e-9)
    least = min((o.charge_c for o in task.options), default=0.0)
    return replace(task, options=slow or tuple(o for o in task.options if o.charge_c == least))


def _gentler(placed: Placing, task: Task, slot: Slot) -> Slot:
    """The slot at the lowest rate for which there is room, and there as late as it can be."""
    if task.due_min is None:
        return slot
    for option in sorted(task.options, key=lambda o: (o.charge_c, o.minutes)):
        if option.charge_c > slot.option.charge_c + 1e-9:
            break
        for start in _latest_first(placed, task, option, task.due_min):
            port = placed.fits(task, option, start)
            if port is not None:
                return replace(slot, option=option, port=port, start_min=start)
    return slot


def _latest_first(placed: Placing, task: Task, option: Option, end_by: int) -> Iterator[int]:
    """Starts worth trying: the last that is in time, and those that end as somebody leaves or another
    begins."""
    ends = {end_by, *(b for _, b in placed.problem.attended)}
    for s in placed.slots:
        ends |= {s.start_min, s.start_min - SWAP_MIN}
    starts = {end - option.minutes for end in ends if end <= end_by}
    return iter(sorted((x for x in starts if x >= task.earliest_min), reverse=True))
