"""Behind the rows of many kits: runs of many packs in one model from many charges, simulated together."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from coldstack.core.cells.open_circuit import soc_at_rest
from coldstack.core.discharge.batch import Discharge, Ending, Ints
from coldstack.core.fit.fit import fit_of
from coldstack.core.packs.pack import Pack
from coldstack.core.running.reckoned import STOPS, Reckoned, Runs, Start, at_warmth, begun_runs, in_words
from coldstack.core.trial.candidates import Candidates
from coldstack.core.trial.evaluate import Evaluation, evaluate
from coldstack.core.trial.job import Job
from coldstack.core.trial.near import ranges_near
from coldstack.core.trial.spread import minutes_range

APART = 0.4
"""Of a charge: so far apart at most are the runs of which every draw is run."""


@dataclass(frozen=True, slots=True)
class Line:
    """A pack, candidate of this row, as warm, from each of these volts of its lowest cell, lowest first.
    [V], [°C]"""

    row: int
    pack: Pack
    volts: tuple[float, ...]
    pack_c: float | None


def reckoned_lines(
    job: Job, c: Candidates, lines: Sequence[Line], told: dict[float | None, Evaluation]
) -> list[Reckoned]:
    """What runs say along each line at each of its volts: with every cell as the lowest, or with the others
    as far above it as may still be run, whichever is shorter. ``told`` are the candidates in the job at each
    warmth."""
    cells = [charges(x.pack.chemistry, x.volts, job.rules.spread_act_v) for x in lines]
    every = [
        Start(x.row, (low, *(other,) * (x.pack.series - 1)), x.pack_c)
        for rest in (0, 1)
        for x, socs in zip(lines, cells, strict=True)
        for low, other in zip(socs[0], socs[rest], strict=True)
    ]
    runs, first, found = _shorter_runs(job, c, every, cells), 0, []
    for x, socs in zip(lines, cells, strict=True):
        mine = slice(first, first + len(socs[0]))
        first = mine.stop
        found.append(in_words(job, x.pack, fit_of(told[x.pack_c], x.row), socs[0], runs.part(mine)))
    return found


def _shorter_runs(
    job: Job, c: Candidates, every: Sequence[Start], cells: Sequence[tuple[Sequence[float], Sequence[float]]]
) -> Runs:
    """Of two ways in which each run may begin, the second after all of the first, the shorter one.

    Along a line on which a pack may stop early, which is no matter of how long it runs, the lower of both low
    ends by every draw.
    """
    begun, run = begun_runs(job, c, every)
    of = np.array([s.row for s in every], np.int64)
    halves = np.arange(len(every)).reshape(2, -1)
    worse = _worse(run, *halves)
    at, other = np.where(worse, halves[1], halves[0]), np.where(worse, halves[0], halves[1])
    lengths = [len(socs) for socs, _ in cells]
    # with the emptiest cells it stops earliest: there the other way is looked at, too
    firsts = np.cumsum([0, *lengths[:-1]])
    looked = np.concatenate([at, other[firsts]])
    itself = len(at) + np.arange(len(firsts))
    below, above = (np.concatenate([k, itself]) for k in _whole_runs([socs for socs, _ in cells]))
    spread = ranges_near(job, c.take(of[looked]), begun.take(looked), run.take(looked), below, above)
    early, spread = spread.early, spread.part(slice(len(at)))
    odd = np.maximum(np.maximum.reduceat(early[: len(at)], firsts), early[len(at) :]) > 0
    rows = np.flatnonzero(np.repeat(odd, lengths))
    if len(rows):
        both = np.concatenate([at[rows], other[rows]])
        none_cut = np.zeros(len(both), bool)
        minutes = run.duration_s[both] / 60
        low = minutes_range(job, c.take(of[both]), minutes, none_cut, packs=begun.take(both)).low
        spread.low[rows] = low.reshape(2, -1).min(axis=0)
    return Runs([Ending(x) for x in run.ending[at].tolist()], spread)


def told_at(job: Job, c: Candidates, warmths: Sequence[float | None]) -> dict[float | None, Evaluation]:
    """The candidates in the job, at each warmth. [°C]"""
    return {pack_c: evaluate(at_warmth(job, pack_c), c) for pack_c in warmths}


@lru_cache(maxsize=256)
def charges(
    chemistry_id: str, volts: tuple[float, ...], more_v: float
) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """The charge of cells at these volts, and of others so far above them."""
    low, rest = (tuple(soc_at_rest(chemistry_id, v + up) for v in volts) for up in (0.0, more_v))
    return low, rest


def _worse(run: Discharge, these: Ints, others: Ints) -> NDArray[np.bool_]:
    """Whether the others of two runs each end worse: before their landing, or as these but sooner."""
    early = np.isin(run.ending, list(STOPS))
    sooner = run.duration_s[others] < run.duration_s[these]
    return np.asarray(np.where(early[these] == early[others], sooner, early[others]))


def spaced(socs: Sequence[float], apart: float) -> list[int]:
    """Some of these rising charges: the first, the last, and so many between that none holds more than
    ``apart`` more than the one before it, where the charges allow that."""
    chosen = [len(socs) - 1]
    for k in range(len(socs) - 2, -1, -1):
        if k == 0 or socs[chosen[-1]] - socs[k - 1] > apart:
            chosen.append(k)
    return chosen[::-1]


def _whole_runs(lines: Sequence[Sequence[float]]) -> tuple[Ints, Ints]:
    """The nearest run below and above each of which every draw is run, of several lines of rising charges one
    behind the other."""
    below, above, first = [], [], 0
    for socs in lines:
        at, every = np.array(spaced(socs, APART)), np.arange(len(socs))
        here = np.searchsorted(at, every)
        above.append(first + at[here])
        below.append(first + at[np.maximum(here - (at[here] > every), 0)])
        first += len(socs)
    return np.concatenate(below), np.concatenate(above)
