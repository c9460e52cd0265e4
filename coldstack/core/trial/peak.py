"""The job's peak carried to a pack of other volts: the same law as the run's, in closed form and in words."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.draw.scaling import mass_factor, refitted_current_a, throttle_current_a
from coldstack.core.trial.job import Job
from coldstack.core.units import plain_number as n
from coldstack.core.working import Step

SAME_PEAK = 0.005
"""Difference below which a peak is said to be the told one."""


@dataclass(frozen=True, slots=True)
class CarriedPeak:
    """The peak on a pack of these printed volts, from the told one; ``how`` in words, and the step."""

    amps: float
    ratio: float
    told: str
    how: str
    step: Step

    def sentence(self, volts: float) -> str:
        """What the peak becomes, or that it stays."""
        if abs(self.ratio - 1) < SAME_PEAK:
            return f"The peak is the told {self.told}."
        return (
            f"At {n(volts)} V {self.how} the peak is {n(self.amps)} A, {n(self.ratio)} times the {self.told}."
        )


def carried_peak(job: Job, volts: float, *, pack_mass_g: float | None = None) -> CarriedPeak:
    """The peak of the duty on a pack of so many printed volts.

    Full stick follows the volts with the same propeller or gearing; what holds amps keeps them; all else
    keeps its watts, which for the gentle part go with the mass where ``pack_mass_g`` is given.
    """
    phase = max(job.duty.phases, key=lambda p: p.current_a)
    peak = phase.current_a
    at_v = job.stick_told_at_v if phase.hold == "throttle" else job.told_at_v
    told = f"{n(peak)} A at {n(at_v)} V"
    if job.drive == "same" and phase.hold == "throttle":
        part, k = "gearing" if job.motion.geared else "propeller", job.motion.throttle_exponent
        amps = float(throttle_current_a(peak, voltage_v=volts, reference_voltage_v=at_v, motion=job.motion))
        numbers = f"{n(peak)} A × {n(volts / at_v)}^{k} = {n(amps)} A"
        step = Step(
            f"Same {part} at {n(volts)} V", f"I·(V ÷ V_ref)^{k}", numbers, "full stick follows the volts"
        )
        return CarriedPeak(amps, amps / peak, told, f"with the same {part}", step)
    if job.drive == "same" and phase.hold == "amps":
        step = Step(f"Same amps at {n(volts)} V", "I", f"{n(peak)} A", "this part of the run holds its amps")
        return CarriedPeak(peak, 1.0, told, "at the same amps", step)
    factor = 1.0
    if phase.hold == "power" and pack_mass_g is not None:
        all_up_g, ref_g = job.mass_g + pack_mass_g, job.duty.reference_mass_g
        factor = float(mass_factor(all_up_g, reference_mass_g=ref_g, motion=job.motion))
    amps = factor * float(refitted_current_a(peak, voltage_v=volts, reference_voltage_v=at_v))
    numbers = f"{n(peak)} A × {n(at_v)} ÷ {n(volts)} × {n(factor)} = {n(amps)} A"
    step = Step(f"Same watts at {n(volts)} V", "I·V_ref ÷ V × (m ÷ m_ref)^n", numbers)
    return CarriedPeak(amps, amps / peak, told, "for the same watts", step)
