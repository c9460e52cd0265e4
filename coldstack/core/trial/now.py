"""The pack a model runs on now, as a pack like any other, and in words."""

from __future__ import annotations

from dataclasses import dataclass, replace

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.tolerance import falls_short_of_volts, passes_volts
from coldstack.core.trial.job import Job, RunsOn
from coldstack.core.units import GRAMS, plain_number

NOW_ID = "now"
JOINED_WORDS = {"series": "in series", "parallel": "side by side"}
SAG_AT_EMPTY = 0.93
"""Volts under load of an empty pack, of those at rest. House figure."""


def now_pack(now: RunsOn) -> Pack:
    """What it runs on now as a pack; plug and leads are assumed, since they carry what it draws."""
    return Pack(
        id=NOW_ID,
        name=now_words(now),
        chemistry=now.chemistry,
        series=now.series,
        capacity_ah=now.capacity_ah,
        mass_g=now.mass_g,
        label_c=now.label_c,
        cell_mohm=now.cell_mohm,
        assumed=frozenset(("plug", "lead_awg")),
        at_hand=True,
    )


def now_words(now: RunsOn) -> str:
    """Cells, capacity and chemistry of the pack, or of each of two: "5S 1500 mAh LiPo", "2 × 5S 5000 mAh
    LiPo in series"."""
    cell, each = chemistry(now.chemistry), now.each
    words = f"{each.series}S {1000 * each.capacity_ah:.0f} mAh {cell.name}"
    return words if not now.joined else f"2 × {words} {JOINED_WORDS[now.joined]}"


SO_ALIKE = 0.02
"""Difference in capacity up to which two owned packs are the two that a model runs on."""


def each_as_told(job: Job) -> RunsOn | None:
    """The pack it runs on, or each of two, with the C of its label only where somebody told that."""
    if job.now is None:
        return None
    each = job.now.each
    return replace(each, label_c=None) if job.is_assumed("now.label_c") else each


def looks_like(now: RunsOn, pack: Pack) -> bool:
    """Whether a pack may be the one that a model runs on: chemistry, cells, capacity, and the C of the label
    where both are known."""
    if (pack.chemistry, pack.series) != (now.chemistry, now.series):
        return False
    if now.label_c is not None and pack.label_c is not None and now.label_c != pack.label_c:
        return False
    return abs(pack.capacity_ah / now.capacity_ah - 1) < SO_ALIKE


def true_for(job: Job) -> str:
    """What the draw is true for: "on 5S, 740 g all up"; without a pack the volts under load."""
    duty = job.duty
    volts = f"at {plain_number(duty.reference_voltage_v)} V under load"
    where = f"on {job.now.series}S {chemistry(job.now.chemistry).name}" if job.now else volts
    return f"{where}, {plain_number(duty.reference_mass_g, 4)}{GRAMS} all up"


@dataclass(frozen=True, slots=True)
class PointedOut:
    """Something to mind about a field of the job."""

    field: str
    sentence: str


def pointed_out(job: Job) -> list[PointedOut]:
    """Where what the draw is true for lies outside the electronics' window, or the wanted cells are
    others than those it was told for."""
    e, told_v = job.electronics, job.told_at_v
    found = []
    full_v = job.now.series * chemistry(job.now.chemistry).full_v if job.now else job.duty.reference_voltage_v
    where = f"The draw is told {true_for(job)}"
    if passes_volts(full_v, e.max_v):
        words = f"{where}; the controller stops at {plain_number(e.max_v)} V. One of the two is wrong."
        found.append(PointedOut("draw.reference_voltage_v", words))
    elif falls_short_of_volts(full_v, e.min_v):
        words = f"{where}; the controller needs {plain_number(e.min_v)} V. One of the two is wrong."
        found.append(PointedOut("draw.reference_voltage_v", words))
    cells = job.wants.cells
    if cells and not any(_same_volts(told_v, s, c) for s in cells for c in job.wants.chemistries):
        how = (
            "carried over by the law of the propeller or gearing" if job.drive == "same" else "kept in watts"
        )
        words = f"{where}, and you want {' or '.join(f'{s}S' for s in cells)}: its amps are {how}."
        found.append(PointedOut("wants.cells", words))
    return found


def _same_volts(told_v: float, series: int, chemistry_id: str) -> bool:
    """Whether a pack of so many cells gives about the volts for which the draw was told: between its
    empty and its full ones."""
    cell = chemistry(chemistry_id)
    return series * SAG_AT_EMPTY * cell.empty_rest_v <= told_v <= series * cell.full_v
