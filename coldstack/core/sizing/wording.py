"""Short words for what a candidate lacks, and why it was picked."""

from __future__ import annotations

import math

from coldstack.core.cells.chemistry import CHEMISTRIES, CHEMISTRY_IDS
from coldstack.core.measuring import HOW_TO
from coldstack.core.sizing.candidates import Candidates
from coldstack.core.sizing.evaluate import Evaluation
from coldstack.core.sizing.job import Job
from coldstack.core.units import percent, plain_number

_LINK_NAMES = {"cells": "cells", "leads": "leads", "plug": "plug", "controller": "controller", "motor": "motor"}  # fmt: skip


def lack(e: Evaluation, check: int, row: int) -> str:
    """What one candidate lacks by one check: "short by 40 s", "92 g too heavy", "cells 112 % at the peak"."""
    column = e.checks[check]
    value, limit = float(column.value[row]), float(column.limit[row])
    loading = float(e.loading[check, row])
    kind = column.id
    if kind == "want.minutes":
        short_s = (limit - value) * 60
        return f"short by {plain_number(short_s, 2)} s" if short_s < 90 else f"short by {plain_number(short_s / 60, 2)} min"  # fmt: skip
    if kind == "want.mass":
        return f"{plain_number(value - limit, 2)} g too heavy"
    if kind == "want.volts":
        return f"{plain_number(limit - value, 2)} V too low under load"
    if kind == "want.rpm":
        return f"{plain_number(limit - value, 2)} rpm too slow"
    if kind == "want.lively":
        # as many digits as it takes to be seen as less than wanted
        text = next((t for d in (0, 1, 2) if float(t := f"{value:.{d}f}") < limit), "just less")
        return f"{text} % of today’s punch"
    if kind == "window.full":
        return f"{plain_number(value - limit, 2)} V over the controller’s {plain_number(limit)} V when full{_extra_per_cell(e, row)}"
    if kind == "window.landing":
        return (
            f"{plain_number(limit - value, 2)} V under the controller’s {plain_number(limit)} V at the lowest"
        )
    if kind == "drive.watts":
        return f"too few volts for this propeller or gearing: {plain_number(value, 2)} W at full stick, {plain_number(limit, 2)} W needed"
    if kind == "run.delivers":
        return f"stops with {percent(1 - value / limit)} of the run’s charge still in it"
    if kind.startswith("bay."):
        return f"{plain_number(value - limit, 2)} mm too {_BAY_WORDS[kind]}"
    if kind == "cells.temperature":
        return f"cells at {plain_number(value, 3)} °C when landing"
    where = "at the peak" if kind.endswith(".burst") else "continuous"
    return f"{_LINK_NAMES[column.link]} {percent(loading)} {where}"


def _extra_per_cell(e: Evaluation, row: int) -> str:
    """For a cell that is charged higher than LiPo on electronics rated in LiPo cells: by how much."""
    cell = CHEMISTRIES[CHEMISTRY_IDS[int(e.candidates.chemistry_index[row])]]
    more_v = cell.full_v - CHEMISTRIES["lipo"].full_v
    if more_v <= 0 or e.job.electronics.rated_cells != int(e.candidates.series[row]):
        return ""
    return f" ({cell.name}: {plain_number(more_v, 2)} V a cell more than LiPo)"


_BAY_WORDS = {"bay.length": "long", "bay.width": "wide", "bay.height": "high"}


def hottest_link(e: Evaluation, row: int) -> tuple[float, str]:
    """Loading of a candidate's hottest link, and which it is: (0.77, "controller, at the peak")."""
    best, words = 0.0, "nothing rated"
    for k, column in enumerate(e.checks):
        loading = float(e.binding[k, row])
        if column.is_link and loading > best:
            tail = {"burst": "at the peak", "continuous": "continuous", "temperature": "by temperature"}
            best, words = loading, f"{column.link}, {tail[column.id.split('.')[1]]}"
    return best, words


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
