"""A job from equipment: the same sizing, with a duty of hours, a window of volts, and no motor."""

from __future__ import annotations

import math
from dataclasses import replace

from coldstack.core.draw.duty import Duty, Figures, Hold, Phase, TrueFor, duty_from_phases
from coldstack.core.draw.motion import MOTIONS
from coldstack.core.equipment.equipment import Equipment, check_equipment
from coldstack.core.trial.job import Job, Wants

MOST_CYCLES = 100
"""Bursts of a run that are simulated: of more, rarer ones of the same length and mean stand for them."""
LOAD_SPREAD = 0.15
"""How far a load may be off its told average, as ±. House figure."""
LONGEST_CYCLE_S = 7200.0
NO_MASS_G = 1000.0
"""A load stays the same whatever the pack weighs."""


def equipment_duty(e: Equipment) -> Duty:
    """The load as phases, at the pack's terminals.

    Without a regulator, and through a linear one, amps pass as they are; watts, and what a switching one
    passes, are held as watts.
    """
    check_equipment(e)
    pack_v = math.sqrt(e.pack_min_v * e.pack_max_v)
    switching = e.regulator == "switching"
    hold: Hold = "power" if switching or (e.load_w is not None and e.regulator == "none") else "amps"
    # at the pack's volts: watts pass a switching regulator, amps a linear one, and both where there is none
    if switching:
        per_a = e.own_v / e.efficiency / pack_v
    elif e.load_w is not None and e.regulator == "none":
        per_a = e.own_v / pack_v
    else:
        per_a = 1.0
    mean_a = per_a * e.mean_a
    if e.burst_a is None:
        phases: tuple[Phase, ...] = (Phase(60.0, hold, mean_a),)
    else:
        cycle_s = min(max(e.burst_every_s, 60 * e.lasting_min / MOST_CYCLES), LONGEST_CYCLE_S)
        burst_a = per_a * e.burst_a
        base_a = (mean_a * cycle_s - burst_a * e.burst_s) / (cycle_s - e.burst_s)
        phases = (Phase(cycle_s - e.burst_s, hold, base_a), Phase(e.burst_s, hold, burst_a))
    return duty_from_phases(
        phases, reference_voltage_v=pack_v, reference_mass_g=NO_MASS_G, spread=LOAD_SPREAD
    )


def load_as_draw(e: Equipment) -> tuple[Figures, TrueFor]:
    """The load as figures of a draw, for what reads those of a job: files, and a run beside them."""
    duty = equipment_duty(e)
    peak = max(duty.phases, key=lambda p: p.current_a)
    peak_s = peak.duration_s if len(duty.phases) > 1 else 0.0
    return (
        Figures(duty.average_current_a, duty.peak_current_a, peak_s, duty.cycle_s),
        TrueFor(duty.reference_voltage_v, duty.reference_mass_g, duty.spread),
    )


def as_equipment(job: Job, e: Equipment) -> Job:
    """The job with this equipment's load, window and hours; what is wanted of mass, cells and chemistry
    stays."""
    wants: Wants = replace(job.wants, minutes=e.lasting_min, lively=None, volts=None, rpm=None)
    electronics = replace(
        job.electronics,
        max_v=e.pack_max_v,
        min_v=e.pack_min_v,
        rated_cells=None,
        rated_from=None,
        controller_continuous_a=None,
        controller_burst_a=None,
        motor_continuous_a=None,
        motor_burst_a=None,
        motor_kv=None,
        brushed=False,
        cutoff="none",
    )
    return replace(
        job,
        motion=MOTIONS["steady_load"],
        mass_g=NO_MASS_G,
        duty=equipment_duty(e),
        wants=wants,
        electronics=electronics,
        drive="same",
        equipment=e,
    )
