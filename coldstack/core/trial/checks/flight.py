"""Whether a pack leaves the model what it is today: its punch, and its weight all up.

What flies on too little, or carries too much, comes down; on wheels and on water it is only slower. What it
runs on now is the measure.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from coldstack.core.discharge.batch import Floats
from coldstack.core.trial.candidates import Candidates
from coldstack.core.trial.checks.spec import CheckColumn, Miss, Spec, every
from coldstack.core.trial.job import Job
from coldstack.core.units import plain_number

PUNCH_CARE = 0.85
"""Below so much of today's full-stick watts it goes with care. House figure."""
HEAVIER_CARE = 0.08
"""From so much heavier all up than today it goes with care. House figure."""


TOLD_IN_TIMES = 100.0
"""Heavier by more per cent it is told in times."""


def _tame(m: Miss) -> str:
    if m.value >= m.limit:
        return f"{plain_number(m.value, 2)} % of today’s punch"
    to_fly = f", at least {plain_number(m.limit)} % to fly" if m.job.motion.flies else ""
    return f"{just_under(m.value, m.limit)} % of today’s punch{to_fly}"


def just_under(value: float, limit: float) -> str:
    """A figure that is less than a limit, with as many digits as it takes to be seen as less."""
    return next((t for d in (0, 1, 2) if float(t := f"{value:.{d}f}") < limit), "just less")


def _heavy(m: Miss) -> str:
    if m.value > TOLD_IN_TIMES:
        return f"{plain_number(1 + m.value / 100, 2)} times as heavy all up as today"
    return f"{plain_number(m.value, 2)} % heavier all up than today, at most {plain_number(m.limit)} %"


PUNCH = Spec(
    "fly.punch",
    "Full-stick watts, of today’s at least",
    "%",
    _tame,
    "the punch that it needs to fly",
    at_most=False,
    short="too little punch",
    where="house_rules.punch_least",
)
HEAVIER = Spec(
    "fly.heavier",
    "Heavier all up than today",
    "%",
    _heavy,
    "the weight that it can carry",
    short="too heavy",
    where="house_rules.heavier_most",
)


def flight_columns(job: Job, c: Candidates, lively: Floats) -> Iterator[CheckColumn]:
    """Punch and weight against today's: what flies is refused by them, the rest goes with care.

    ``lively`` from `liveliness`, shape (N,). With another propeller or gearing the watts stay.
    """
    if job.equipment is not None:
        return
    rules, flies, many = job.rules, job.motion.flies, len(c)
    if job.drive == "same":
        spec = replace(PUNCH, required=flies, care_from=rules.punch_least / PUNCH_CARE)
        yield CheckColumn(spec, 100 * lively, every(many, 100 * rules.punch_least), rules.cited)
    grown = 100 * np.maximum((job.mass_g + c.mass_g) / all_up_today_g(job) - 1, 0.0)
    spec = replace(HEAVIER, required=flies, care_from=HEAVIER_CARE / rules.heavier_most if flies else None)
    asks = "Its mass is assumed: {loading} of what it may weigh; what does it weigh?"
    limit = every(many, 100 * rules.heavier_most)
    yield CheckColumn(spec, grown, limit, rules.cited, c.mass_assumed, asks)


def all_up_today_g(job: Job) -> float:
    """Mass ready to run on what it runs on now, else where its draw is true. [g]"""
    return job.mass_g + job.now.mass_g if job.now is not None else job.duty.reference_mass_g
