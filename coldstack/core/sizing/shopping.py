"""The shopping line: what to ask for in a shop, from the closed form and the generic packs that do the
job."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from coldstack.core.cells.chemistry import CHEMISTRY_IDS, chemistry
from coldstack.core.cells.resistance import CELL_BURST_FACTOR
from coldstack.core.chain.plugs import plug_family
from coldstack.core.draw.motion import Motion
from coldstack.core.rules.house_rules import for_chemistry
from coldstack.core.trial.evaluate import Evaluation
from coldstack.core.trial.job import BAY_CLEARANCE_MM, Job
from coldstack.core.units import plain_number
from coldstack.core.working import Step, Working


@dataclass(frozen=True, slots=True)
class Shopping:
    """What to look for; capacity in Ah, mass in g, box in mm (None where it does not matter)."""

    line: str
    series: int
    chemistry: str
    capacity_ah: tuple[float, float]
    least_c: float
    mass_g: float | None
    box_mm: tuple[float, float, float] | None
    plug: str
    working: Working


def closed_form_capacity_ah(job: Job, chemistry_id: str, *, series: int, minutes: float) -> float:
    """Capacity for a running time by the closed form, ``I_avg·t ÷ usable``, at the volts of this cell
    count. [Ah]

    The average is carried over to the candidate's volts with its watts kept; mass and sag are left out.
    """
    rules = for_chemistry(job.rules, chemistry_id)
    usable = max(rules.start_soc - rules.landing_soc, 0.05)
    ratio = job.told_at_v / (series * chemistry(chemistry_id).nominal_v)
    return job.duty.average_current_a * ratio * minutes / 60.0 / usable


def least_c(rms_a: float, peak_a: float, capacity_ah: float) -> float:
    """C that carries the RMS amps continuously and the peak as a burst: ``max(I_rms ÷ Ah, I_peak ÷ burst
    factor ÷ Ah)``."""
    return max(rms_a / capacity_ah, peak_a / CELL_BURST_FACTOR / capacity_ah)


def shopping(e: Evaluation, *, like: int) -> Shopping | None:
    """What to ask for, with the cells and chemistry of candidate ``like``; None if no generic pack does it.

    The generic grid has no cylindrical cells: for those the build itself is the shopping line.
    """
    c, job = e.candidates, e.job
    if c.kind(like).from_cells:
        return _build_line(e, like)
    same = (c.series == c.series[like]) & (c.chemistry_index == c.chemistry_index[like])
    rows = np.flatnonzero(c.is_kind("made_up") & same & e.feasible)
    if not len(rows):
        return None
    series, chemistry_id = int(c.series[like]), CHEMISTRY_IDS[int(c.chemistry_index[like])]
    ah, d = c.capacity_ah[rows], e.discharge
    rms, peak = float(d.rms_current_a[rows].max()), float(d.peak_current_a[rows].max())
    low, high = float(ah.min()), float(ah.max())
    rating, box = least_c(rms, peak, low), _room_mm(job)
    parts = [
        f"{series}S {chemistry(chemistry_id).name}",
        f"{_mah(low)} to {_mah(high)} mAh" if high > low else f"{_mah(low)} mAh",
        f"at least {plain_number(np.ceil(rating), 3)} honest C",
        *([f"at most {plain_number(job.wants.mass_g, 4)} g"] if job.wants.mass_g else []),
        *(["at most " + " × ".join(plain_number(x) for x in box) + " mm"] if box else []),
        plug_family(job.electronics.plug).name,
    ]
    return Shopping(
        line=", ".join(parts),
        series=series,
        chemistry=chemistry_id,
        capacity_ah=(low, high),
        least_c=rating,
        mass_g=job.wants.mass_g,
        box_mm=box,
        plug=job.electronics.plug,
        working=_working(job, chemistry_id, series, low, rms, peak, rating),
    )


def _build_line(e: Evaluation, row: int) -> Shopping:
    """A pack made of the candidate's cells: their capacity and the amps that each must give."""
    c, d, job, n = e.candidates, e.discharge, e.job, plain_number
    series, strings = int(c.series[row]), int(c.parallel[row])
    cell_ah = float(c.capacity_ah[row]) / strings
    rms, peak = float(d.rms_current_a[row]) / strings, float(d.peak_current_a[row]) / strings
    cell_a = max(rms, peak / CELL_BURST_FACTOR)
    chemistry_id = CHEMISTRY_IDS[int(c.chemistry_index[row])]
    count = f"{series * strings} cells"
    plug = plug_family(job.electronics.plug)
    line = (
        f"{series}S{strings}P of {chemistry(chemistry_id).name} cells ({count}) of {n(cell_ah)} Ah, each "
        "good for "
        f"{n(np.ceil(cell_a))} A, about {n(float(c.mass_g[row]))} g in all, {plug.name}"
    )
    steps = (
        Step(
            "Amps a cell",
            "max(I_rms, I_peak ÷ 1.5) ÷ strings",
            f"max({n(rms * strings)}, {n(peak * strings)} ÷ 1.5) ÷ {strings} = {n(cell_a)} A",
        ),
        Step(
            "Capacity", "cell × strings", f"{n(cell_ah)} Ah × {strings} = {n(float(c.capacity_ah[row]))} Ah"
        ),
        Step("Mass", "cells + 6 % + leads and plug", f"{n(float(c.mass_g[row]))} g"),
    )
    ah = float(c.capacity_ah[row])
    return Shopping(
        line,
        series,
        chemistry_id,
        (ah, ah),
        cell_a / cell_ah,
        job.wants.mass_g,
        None,
        plug.id,
        Working("Shopping line", steps),
    )


def _room_mm(job: Job) -> tuple[float, float, float] | None:
    bay, least = job.bay, 2 * BAY_CLEARANCE_MM
    if not (bay.length_mm and bay.width_mm and bay.height_mm):
        return None
    return bay.length_mm - least, bay.width_mm - least, bay.height_mm - least


def _working(
    job: Job, chemistry_id: str, series: int, low_ah: float, rms: float, peak: float, rating: float
) -> Working:
    n = plain_number
    rules = for_chemistry(job.rules, chemistry_id)
    usable = rules.start_soc - rules.landing_soc
    steps = []
    if job.wants.minutes:
        ah = closed_form_capacity_ah(job, chemistry_id, series=series, minutes=job.wants.minutes)
        volts = series * chemistry(chemistry_id).nominal_v
        amps = job.duty.average_current_a * job.told_at_v / volts
        told = f"{n(job.duty.average_current_a)} A × {n(job.told_at_v)} V"
        steps += [
            Step("Average at these volts", "I·V_told ÷ V", f"{told} ÷ {n(volts)} V = {n(amps)} A"),
            Step(
                "Capacity, closed form",
                "Ah = I·t ÷ usable",
                f"{n(amps)} A × {n(job.wants.minutes)} min ÷ 60 ÷ {n(usable, 2)} = {n(ah)} Ah",
                f"House rules “{job.rules.name}”: lands with {n(100 * rules.landing_soc, 2)} % left, by "
                f"{rules.landing_by}",
            ),
        ]
    steps += [
        Step(
            "Capacity, by simulation",
            "smallest made-up pack that meets every want",
            f"{n(low_ah)} Ah",
            "with sag, mass and temperature",
        ),
        Step(
            "C rating",
            "max(I_rms ÷ Ah, I_peak ÷ 1.5 ÷ Ah)",
            f"max({n(rms)} ÷ {n(low_ah)}, {n(peak)} ÷ 1.5 ÷ {n(low_ah)}) = {n(rating)}",
            "a burst holds 10 s at 1.5 × continuous",
        ),
    ]
    return Working("Shopping line", tuple(steps), _motion_note(job.motion))


def _motion_note(motion: Motion) -> str:
    return f"Watts go with mass to the power {motion.mass_exponent:g} ({motion.name})."


def _mah(ah: float) -> str:
    return f"{round(ah * 1000 / 50) * 50:.0f}"
