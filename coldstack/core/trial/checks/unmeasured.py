"""A peak that nobody measured: the C of the pack of now is then what is known of it, and stays."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from coldstack.core.discharge.batch import Floats
from coldstack.core.trial.candidates import Candidates
from coldstack.core.trial.checks.spec import CheckColumn, Miss, Spec, every
from coldstack.core.trial.job import Job
from coldstack.core.units import plain_number, written

AS_STRONG = 0.80
"""Of the burst amps of the pack of now, below which nobody should go by a guess. House figure."""


def _weaker(m: Miss) -> str:
    now, pack = m.job.now, m.candidates.packs[m.row]
    less = f"gives {plain_number(m.value, 2)} % of the amps of the pack of now, and nobody measured the peak"
    if now is None or now.label_c is None or pack is None or pack.label_c is None:
        return less
    label = stay_at_c(now.label_c, now.capacity_ah, float(m.candidates.capacity_ah[m.row]))
    run = "you run" if "now.label_c" not in m.job.assumed else "such a model mostly runs"
    return (
        f"nobody measured the peak: {run} {written(now.label_c)}C, stay at {written(label)}C or more at this "
        "size until you have a meter’s peak"
    )


LABEL_STEPS = ((10.0, 1.0), (50.0, 5.0), (np.inf, 10.0))
"""Below which C labels come in steps of how many. [1/h]"""


def stay_at_c(label_c: float, now_ah: float, capacity_ah: float) -> float:
    """The label to stay at on a pack of another size, the next in the steps that labels come in. [1/h]"""
    exact = AS_STRONG * label_c * now_ah / capacity_ah
    step = next(s for below, s in LABEL_STEPS if exact < below)
    return float(step * np.ceil(exact / step - 1e-9))


UNMEASURED = Spec(
    "cells.unmeasured",
    "Amps of the cells, of today’s at least",
    "%",
    _weaker,
    "the C of today",
    at_most=False,
    required=False,
    short="weaker than now",
    where="draw.peak_a",
)


def unmeasured_columns(
    job: Job, c: Candidates, *, burst_now_a: float | None, printed_now_a: float | None
) -> Iterator[CheckColumn]:
    """Burst amps against those of the pack of now, by measurement or trust, and by what is printed: the
    lesser counts. Only where the peak is assumed; amps told by a meter need no such care."""
    if burst_now_a is None or not job.is_assumed("draw.peak_a"):
        return
    share = c.burst_a / burst_now_a
    if printed_now_a is not None:
        share = np.fmin(share, printed_a(c) / printed_now_a)
    yield CheckColumn(UNMEASURED, 100 * share, every(len(c), 100 * AS_STRONG), "the pack it runs on now")


def printed_a(c: Candidates) -> Floats:
    """What the label of each promises all the time, NaN where it has none or where it was measured. [A]"""
    label_c = [
        np.nan if p is None or p.label_c is None or p.measured_mohm is not None else p.label_c
        for p in c.packs
    ]
    return np.array(label_c, dtype=float) * c.capacity_ah
