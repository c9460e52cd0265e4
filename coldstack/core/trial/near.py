"""Ranges of many runs of a few packs, each from another charge: some by every draw, those between two of them
by the draws that decide."""

from __future__ import annotations

import numpy as np

from coldstack.core.discharge.batch import Discharge, Ending, Floats, Ints, PackColumns
from coldstack.core.trial.candidates import Candidates
from coldstack.core.trial.job import Job
from coldstack.core.trial.spread import TAIL, MinutesRange, drawn_minutes, quantile, range_of
from coldstack.core.trial.unknowns import DRAWS, every_draw

AT_LEAST_MIN = 1e-6
"""Minutes of a run that ends at once, where something is a part of them. [min]"""
DECIDING = 8
"""So many of the shortest draws at either end hold the four and five that make the low end of the range."""


def ranges_near(
    job: Job, c: Candidates, packs: PackColumns, run: Discharge, below: Ints, above: Ints
) -> MinutesRange:
    """The range of each of N runs, which lies between two others, or is ``below`` and ``above`` itself: then
    by every draw.

    The low end is that of all draws, as long as the shortest of a run are among the shortest of the two
    around it. Where one of those may stop early, or is not ended by its landing, every draw is run. The high
    end goes along with theirs.
    """
    minutes = run.duration_s / 60
    whole = np.unique(np.concatenate([below, above]))
    runs = np.full((len(minutes), DRAWS), np.inf)
    drawn = drawn_minutes(job, c.take(whole), packs.take(whole), every_draw(len(whole)))
    runs[whole] = drawn.reshape(-1, DRAWS)
    known = range_of(runs[whole], minutes[whole])
    at = np.zeros(len(minutes), np.int64)
    at[whole] = np.arange(len(whole))
    low_end, high_end = at[below], at[above]
    early = np.maximum(known.early[low_end], known.early[high_end])
    lands = run.ending == Ending.REACHED_LANDING
    odd = (early > 0) | ~(lands & lands[below] & lands[above])
    chosen = _deciding(runs[below]) | _deciding(runs[above]) | odd[:, None]
    chosen[whole] = False
    rows, draws = np.nonzero(chosen)
    if len(rows):
        runs[rows, draws] = drawn_minutes(job, c, packs, (rows, draws))
    every = np.isfinite(runs).all(axis=1)
    found = range_of(np.where(every[:, None], runs, 1.0), minutes)
    some = quantile(runs, TAIL, DRAWS)
    more = known.high / np.maximum(known.minutes, AT_LEAST_MIN)
    higher = np.maximum(more[low_end], more[high_end])
    return MinutesRange(
        minutes=minutes,
        low=np.where(every, found.low, np.minimum(some, minutes)),
        high=np.where(every, found.high, minutes * higher),
        by=np.where(every[:, None], found.by, known.by[high_end]),
        early=np.where(every, found.early, early),
    )


def _deciding(runs: Floats) -> np.ndarray:
    """Which draws of each row are among its shortest."""
    return np.argsort(np.argsort(runs, axis=1), axis=1) < DECIDING
