"""The best schedule: every batch's way and start at once, by a constraint solver (OR-Tools CP-SAT), never
worse than the greedy one."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Any

from coldstack.core.scheduling.greedy import greedy_schedule, moved_up
from coldstack.core.scheduling.schedule import SWAP_MIN, Option, Schedule, SchedulingProblem, Slot, Task

if TYPE_CHECKING:
    from ortools.sat.python import cp_model

WORK = 0.05
"""The solver's own measure of its work, and no clock: the same bench gets the same plan each time, on any
machine, however busy. Four times as much makes plans better by less than a hundredth, and 60 packs wait
six seconds in place of one and a half."""
UNDONE_COST, LATE_COST, FINISH_COST = 10_000_000, 20_000, 1_000
"""One batch more outweighs any lateness, a minute late twenty of finishing; wear only decides between
equals."""


def best_schedule(problem: SchedulingProblem) -> Schedule:
    """The least of `Schedule.score` that the solver finds in its time, starting from the greedy plan."""
    greedy = greedy_schedule(problem)
    if sum(1 for t in problem.tasks if t.options) < 2:
        return greedy
    found = _solved(problem, greedy)
    return greedy if found is None else min(greedy, found, key=lambda s: s.score)


def _solved(problem: SchedulingProblem, greedy: Schedule) -> Schedule | None:
    # its import takes most of a second: only when it is needed
    from ortools.sat.python import cp_model

    model = cp_model.CpModel()
    horizon = max(b for _, b in problem.attended)
    parts = [
        _Part(model, problem, task, option, k, horizon)
        for task in problem.tasks
        for k, option in enumerate(task.options)
    ]
    parts = [p for p in parts if p.possible]
    undone, late, finish = [], [], model.new_int_var(0, horizon, "finish")
    for task in problem.tasks:
        own = [p for p in parts if p.task is task]
        left_out = model.new_bool_var(f"undone {task.id}")
        model.add_exactly_one([*(p.here for p in own), left_out])
        undone.append(left_out)
        for p in own:
            model.add(finish >= p.start + p.option.minutes).only_enforce_if(p.here)
        if task.due_min is not None:
            by = model.new_int_var(0, horizon, f"late {task.id}")
            for p in own:
                model.add(by >= p.start + p.option.minutes - task.due_min).only_enforce_if(p.here)
            late.append(by)
    _share(model, problem, parts)
    wear = sum(round(10 * p.option.charge_c) * p.here for p in parts)
    model.minimize(UNDONE_COST * sum(undone) + LATE_COST * sum(late) + FINISH_COST * finish + wear)
    _hint(model, parts, greedy)
    solver = cp_model.CpSolver()
    solver.parameters.max_deterministic_time = WORK
    solver.parameters.num_workers, solver.parameters.random_seed = 1, 1
    if solver.solve(model) not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return None
    chosen = [p for p in parts if solver.value(p.here)]
    slots = tuple(Slot(p.task.id, p.option, 1, solver.value(p.start), p.task.due_min) for p in chosen)
    left = tuple(t.id for t, x in zip(problem.tasks, undone, strict=True) if solver.value(x))
    return moved_up(problem, Schedule(slots, left, "solver"))


class _Part:
    """One option of one task in the model: whether it is taken, and when it starts."""

    def __init__(
        self,
        model: cp_model.CpModel,
        problem: SchedulingProblem,
        task: Task,
        option: Option,
        k: int,
        horizon: int,
    ) -> None:
        from ortools.sat.python import cp_model

        self.task, self.option = task, option
        spans = [[max(a, task.earliest_min), b - option.minutes] for a, b in problem.attended]
        spans = [s for s in spans if s[0] <= s[1]]
        self.possible = bool(spans)
        if not self.possible:
            return
        name = f"{task.id} {k}"
        self.start = model.new_int_var_from_domain(cp_model.Domain.from_intervals(spans), f"start {name}")
        self.here = model.new_bool_var(f"here {name}")
        minutes = option.minutes
        self.charging = model.new_optional_fixed_size_interval_var(
            self.start, minutes, self.here, f"charge {name}"
        )
        self.on_port = model.new_optional_fixed_size_interval_var(
            self.start, minutes + SWAP_MIN, self.here, f"port {name}"
        )


def _share(model: cp_model.CpModel, problem: SchedulingProblem, parts: list[Any]) -> None:
    """Ports, watts, pieces and watt-hours; demands are rounded up and capacities down, to tenths."""
    runs = [
        (
            s,
            model.new_fixed_size_interval_var(0, s.end_min, f"runs {s.task}"),
            model.new_fixed_size_interval_var(0, s.end_min + SWAP_MIN, f"held by {s.task}"),
        )
        for s in problem.taken
        if s.end_min > 0
    ]
    for station in problem.stations:
        own = [p for p in parts if p.option.station == station.id]
        now = [r for r in runs if r[0].option.station == station.id]
        model.add_cumulative(
            [*(p.on_port for p in own), *(r[2] for r in now)], [1] * (len(own) + len(now)), station.ports
        )
        model.add_cumulative(
            [*(p.charging for p in own), *(r[1] for r in now)],
            [*(_up(p.option.watts) for p in own), *(_up(r[0].option.watts) for r in now)],
            max(_down(station.watts), sum(_up(r[0].option.watts) for r in now)),
        )
    for source in problem.sources:
        fed = [p for p in parts if problem.station(p.option.station).supply == source.id]
        now = [r for r in runs if problem.station(r[0].option.station).supply == source.id]
        model.add_cumulative(
            [*(p.charging for p in fed), *(r[1] for r in now)],
            [*(_up(p.option.supply_w) for p in fed), *(_up(r[0].option.supply_w) for r in now)],
            max(_down(source.watts), sum(_up(r[0].option.supply_w) for r in now)),
        )
        if source.wh is not None:
            spent = sum(_up(r[0].option.supply_wh) for r in now)
            model.add(sum(_up(p.option.supply_wh) * p.here for p in fed) <= max(_down(source.wh) - spent, 0))
    for piece in problem.pieces:
        need = [p for p in parts if piece.id in p.option.pieces]
        now = [r for r in runs if piece.id in r[0].option.pieces]
        held = [r[0].option.pieces.count(piece.id) for r in now]
        model.add_cumulative(
            [*(p.on_port for p in need), *(r[2] for r in now)],
            [*(p.option.pieces.count(piece.id) for p in need), *held],
            max(piece.count, sum(held)),
        )


def _hint(model: cp_model.CpModel, parts: list[Any], greedy: Schedule) -> None:
    placed = {s.task: s for s in greedy.slots}
    for p in parts:
        slot = placed.get(p.task.id)
        taken = slot is not None and slot.option == p.option
        model.add_hint(p.here, taken)
        if slot is not None and taken:
            model.add_hint(p.start, slot.start_min)


def _up(value: float) -> int:
    return math.ceil(value * 10 - 1e-6)


def _down(value: float) -> int:
    return math.floor(value * 10 + 1e-6)
