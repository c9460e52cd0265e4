"""What the solver gains over the greedy plan, on random benches: ``python -m bench.planning [BENCHES]``.

Lateness, finish and wear of both, bench by bench; and whether the same bench gets the same plan twice.
"""

from __future__ import annotations

import sys
import time

import numpy as np

from coldstack.core.charging.charger import Supply
from coldstack.core.matching.charge import Bench
from coldstack.core.rules.house_rules import house_rules
from coldstack.core.scheduling.bench import ChargerInUse, When, bench_plan, in_haste
from coldstack.core.scheduling.greedy import greedy_schedule
from coldstack.core.scheduling.schedule import SchedulingProblem
from coldstack.core.scheduling.schedule_solver import best_schedule
from tests.core.boards.laid import board, four_s, lay
from tests.core.charging.gear import charger, four_port, lead

BENCHES = 200


def random_problem(seed: int) -> SchedulingProblem:
    """Two to sixteen packs of one club, on one to three chargers, from the mains or a box."""
    rng = np.random.default_rng(seed)
    laid = [
        lay(
            four_s(
                str(k),
                series=int(rng.choice([2, 3, 4, 4, 6])),
                capacity_ah=round(float(np.exp(rng.uniform(np.log(0.8), np.log(8)))), 1),
                charge_c=[None, 1.0, 2.0, 5.0][int(rng.integers(4))],
            ),
            float(rng.uniform(3.55, 4.0)),
        )
        for k in range(int(rng.integers(2, 17)))
    ]
    box = Supply(
        "box", "Power box", "battery", 12.8, float(rng.uniform(150, 400)), float(rng.uniform(250, 900))
    )
    feds = [ChargerInUse(charger(), "dc", box), ChargerInUse(four_port(), "mains")]
    feds = feds[: int(rng.integers(1, 3))] if rng.random() < 0.7 else feds[1:]
    on = board()
    plan = bench_plan(
        laid,
        rules=house_rules(["long_life", "steady", "field_day"][int(rng.integers(3))]),
        trust="cautious",
        feds=feds,
        bench=Bench((lead(),), (on.piece,)),
        board=on if rng.random() < 0.6 else None,
        when=When(
            due_min=int(rng.uniform(60, 400)) if rng.random() < 0.5 else None,
            attended=((0, 300), (900, 1300), (2300, 2800)) if rng.random() < 0.5 else ((0, 10080),),
        ),
    )
    return in_haste(plan.problem, plan.planned)


def main(benches: int) -> None:
    """Print the comparison."""
    rows, seconds, unlike = [], [], 0
    for seed in range(benches):
        problem = random_problem(seed)
        greedy = greedy_schedule(problem)
        began = time.perf_counter()
        best = best_schedule(problem)
        seconds.append(time.perf_counter() - began)
        unlike += best_schedule(problem).score != best.score
        rows.append((greedy.score, best.score))
    greedy, best = np.array([g for g, _ in rows]), np.array([b for _, b in rows])
    gain = 100 * (greedy[:, 2] - best[:, 2]) / np.maximum(greedy[:, 2], 1)
    done = greedy[:, 0] == best[:, 0]
    lines = [
        f"{benches} benches, solver {np.median(seconds):.2f} s (most {max(seconds):.2f})",
        f"more batches done: {int((greedy[:, 0] > best[:, 0]).sum())}",
        f"less late: {int((done & (greedy[:, 1] > best[:, 1])).sum())}, by up to "
        f"{(greedy - best)[done, 1].max():.0f} min",
        f"finish: sooner in {int((done & (gain > 0)).sum())}, median {np.median(gain[done]):.1f} %, "
        f"nine in ten under {np.quantile(gain[done], 0.9):.1f} %, most {gain[done].max():.1f} %",
        f"wear less: {int((done & (greedy[:, 3] > best[:, 3] + 1e-6)).sum())}",
        f"another plan for the same bench: {unlike}",
    ]
    print("\n".join(lines))


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else BENCHES)
