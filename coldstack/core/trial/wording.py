"""Short words for what a candidate lacks, and why it was picked."""

from __future__ import annotations

import math

from coldstack.core.measuring import HOW_TO
from coldstack.core.trial.candidates import Candidates
from coldstack.core.trial.checks.spec import Miss, PlatePart
from coldstack.core.trial.evaluate import Evaluation
from coldstack.core.trial.job import Job


def lack(e: Evaluation, check: int, row: int) -> str:
    """What one candidate lacks by one check: "short by 40 s", "92 g too heavy", "cells 112 % at the peak"."""
    column = e.checks[check]
    loading = float(e.loading[check, row])
    miss = Miss(float(column.value[row]), float(column.limit[row]), loading, e.job, e.candidates, row)
    return column.spec.lacks(miss)


def lacks(e: Evaluation, row: int) -> list[str]:
    """All that one candidate lacks to do the job; empty where it does."""
    found = [lack(e, check, row) for check in e.failing(row)]
    elsewhere = row == e.now_row and not e.real[row]
    return found or (["other cells, or another chemistry, are asked for"] if elsewhere else [])


NOTHING_RATED = "nothing rated"


def hottest_link(e: Evaluation, row: int) -> tuple[float, str]:
    """Loading of a candidate's hottest link, and which it is: (0.77, "controller, at the peak")."""
    loading, part = hottest(e, row)
    return loading, f"{part.link}, {part.when}" if part else NOTHING_RATED


def hottest(e: Evaluation, row: int) -> tuple[float, PlatePart | None]:
    """Loading of a candidate's hottest link, and what it is of the stack; None where nothing is rated."""
    best, found = 0.0, None
    for column, loading in zip(e.checks, e.loading[:, row].tolist(), strict=True):
        part = column.spec.plate
        if part and not column.spec.in_sight and column.known[row] and loading > best:
            best, found = loading, part
    return best, found


def size_unknown(job: Job, c: Candidates, row: int = 0) -> str:
    """That nobody measured a pack, where the bay has measures that it would have to fit; else empty."""
    sides = (
        (job.bay.length_mm, c.length_mm),
        (job.bay.width_mm, c.width_mm),
        (job.bay.height_mm, c.height_mm),
    )
    return "size unknown" if any(room and math.isnan(size[row]) for room, size in sides) else ""


def unmeasured(job: Job, c: Candidates, row: int = 0) -> list[str]:
    """What nobody measured of a pack and a fit hangs on, with how to measure it."""
    return [f"How large is {c.names[row]}? {HOW_TO['length_mm']}"] if size_unknown(job, c, row) else []
