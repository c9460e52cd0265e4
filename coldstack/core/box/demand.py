"""How often a model is run: as its log tells, else as its owner says, else as people mostly do, said so."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from coldstack.core.trial.job import Job
from coldstack.core.units import written

By = Literal["log", "told", "assumed"]
RUNS_A_DAY, DAYS_A_MONTH = 3, 4.0
"""What people mostly run of one model, where nobody says. House figures."""
FEWEST_RUNS = 3
"""Of fewer logged runs nothing is learnt. House figure."""
DAYS_OF_A_MONTH = 30.4


@dataclass(frozen=True, slots=True)
class Demand:
    """Runs on a day on which it is run, and such days a month; by what."""

    runs_a_day: int
    days_a_month: float
    by: By

    @property
    def words(self) -> str:
        """ "3 runs on 4 days a month, as logged"."""
        runs = f"{self.runs_a_day} run{'s' * (self.runs_a_day != 1)}"
        how = {"log": "as logged", "told": "as told", "assumed": "assumed"}[self.by]
        return f"{runs} on {written(self.days_a_month)} days a month, {how}"


def demand_of(job: Job, run_days: Sequence[float]) -> Demand:
    """How often a model is run. ``run_days``: the day of each logged run of the last year, in days.

    What its owner says goes before its log, which goes before what is usual (equipment: one pack a day). Runs
    of a day are rounded up: a day has to be served whole.
    """
    wants = job.wants
    if len(run_days) >= FEWEST_RUNS:
        days = {math.floor(d) for d in run_days}
        span = max(max(days) - min(days) + 1, DAYS_OF_A_MONTH)
        logged = Demand(math.ceil(len(run_days) / len(days)), len(days) / span * DAYS_OF_A_MONTH, "log")
    else:
        logged = Demand(RUNS_A_DAY if job.equipment is None else 1, DAYS_A_MONTH, "assumed")
    if wants.runs_a_day is None and wants.days_a_month is None:
        return logged
    return Demand(wants.runs_a_day or logged.runs_a_day, wants.days_a_month or logged.days_a_month, "told")
