"""How much a plan may cost: where a draw takes many steps, the grid of made-up packs is coarser, and told."""

from __future__ import annotations

import math

from coldstack.core.discharge.simulate import LONGEST_RUN_S
from coldstack.core.trial.job import Job

MOST_STEPS = 8_000_000
"""Steps of all made-up packs together: some four seconds on two cores. House figure."""
LARGEST_AH = 10.0
"""By which a run is reckoned to last."""


def steps_of_a_run(job: Job) -> float:
    """About how many steps a large pack's run takes with this draw."""
    # the plan runs it in a moment: it is imported here, since Numba takes a second
    from coldstack.core.discharge.kernel import LEAST_CYCLES, LONGEST_LEAP_S, LONGEST_STEP_S

    duty = job.duty
    run_s = min(LONGEST_RUN_S, 3600 * LARGEST_AH / max(duty.average_current_a, 1e-9))
    once_s = LONGEST_LEAP_S if LEAST_CYCLES * duty.cycle_s <= LONGEST_LEAP_S else duty.cycle_s
    return max(run_s / LONGEST_STEP_S, len(duty.phases) * max(run_s / once_s, 1.0))


def bearable(job: Job, capacity_steps: int, c_steps: int, kinds: int) -> tuple[int, int]:
    """So fine a grid of made-up packs, for so many chemistries and cell counts, or the finest that can be run
    in a few seconds."""
    steps = kinds * capacity_steps * c_steps * steps_of_a_run(job)
    if steps <= MOST_STEPS:
        return capacity_steps, c_steps
    share = math.sqrt(MOST_STEPS / steps)
    return max(2, int(capacity_steps * share)), max(2, int(c_steps * share))
