"""What a model draws: a repeated list of phases, and the averages that follow from it."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from coldstack.core.draw.motion import Motion
from coldstack.core.errors import DomainError, faults, refuse
from coldstack.core.fields.common import MODEL_MASS
from coldstack.core.fields.quantity import Quantity
from coldstack.core.fields.table import bounds, fields_of, within
from coldstack.core.units import plain_number
from coldstack.core.working import Step, Working

Hold = Literal["amps", "power", "throttle"]

MOST_SPREAD = 3.0
"""A draw that is known no better than to a factor of four is not known."""
LARGEST_CURRENT_A = 2000.0
"""Beyond any hobby model; larger figures are taken for slips of the finger."""


AMPS = Quantity("Average", unit="A", low=0.01, high=LARGEST_CURRENT_A)
PEAK_AMPS = replace(AMPS, label="Peak")
MOST_PHASES = 200


@dataclass(frozen=True, slots=True)
class Phase:
    """A stretch of the duty in which the pilot holds one thing: the amps, the watts or the stick."""

    duration_s: Annotated[float, Quantity("A phase’s length", unit="s", low=0.1, high=7200)]
    hold: Hold
    current_a: Annotated[float, Quantity("A phase’s current", unit="A", high=LARGEST_CURRENT_A)]


@dataclass(frozen=True, slots=True)
class Figures:
    """A duty as told: the average, the peak, how long it lasts and how often it comes."""

    average_a: Annotated[float, AMPS]
    peak_a: Annotated[float, PEAK_AMPS]
    peak_s: Annotated[float, Quantity("Length of the peak", unit="s", high=3600)]
    peak_every_s: Annotated[float, Quantity("Time between peaks", unit="s", low=1, high=7200)]


@dataclass(frozen=True, slots=True)
class TrueFor:
    """For what the amps are true: volts under load, the mass all up; how far off they may be."""

    reference_voltage_v: Annotated[float, Quantity("Volts while measured", unit="V", low=0.8, high=130)]
    reference_mass_g: Annotated[float, replace(MODEL_MASS, label="All-up mass while measured")]
    spread: Annotated[float, Quantity("Spread of the draw", high=MOST_SPREAD)] = 0.10
    peak_voltage_v: Annotated[float | None, Quantity("Volts at the peak", unit="V", low=0.5, high=130)] = None


@dataclass(frozen=True, slots=True)
class Duty:
    """Phases that repeat. The amps are true at ``reference_voltage_v`` under load and ``reference_mass_g``
    all up.

    ``peak_voltage_v`` are the volts under load at which the full-stick amps are true; None for the
    reference's. ``spread`` is the relative uncertainty of the draw, log-normal (0.1 = ±10 %, 1 = from half
    to twice), used for the range of minutes.
    """

    phases: tuple[Phase, ...]
    reference_voltage_v: float
    reference_mass_g: float
    spread: float = 0.10
    peak_voltage_v: float | None = None

    @property
    def stick_voltage_v(self) -> float:
        """Volts under load at which full-stick amps are true. [V]"""
        return self.reference_voltage_v if self.peak_voltage_v is None else self.peak_voltage_v

    @property
    def stick_current_a(self) -> float | None:
        """Largest full-stick current of any phase; None if no phase is at full stick. [A]"""
        return max((p.current_a for p in self.phases if p.hold == "throttle"), default=None)

    @property
    def cycle_s(self) -> float:
        """Length of one repetition. [s]"""
        return sum(p.duration_s for p in self.phases)

    @property
    def average_current_a(self) -> float:
        """Mean current over a cycle. [A]"""
        return sum(p.duration_s * p.current_a for p in self.phases) / self.cycle_s

    @property
    def rms_current_a(self) -> float:
        """Root-mean-square current over a cycle: what heats wires and cells. [A]"""
        return math.sqrt(sum(p.duration_s * p.current_a**2 for p in self.phases) / self.cycle_s)

    @property
    def peak_current_a(self) -> float:
        """Largest current of any phase. [A]"""
        return max(p.current_a for p in self.phases)

    @property
    def longest_peak_s(self) -> float:
        """Longest unbroken time within 5 % of the peak, across the cycle's seam too; infinite if it never
        drops. [s]"""
        high = [p.current_a >= 0.95 * self.peak_current_a for p in self.phases]
        if all(high):
            return math.inf
        longest = run = 0.0
        for phase, is_high in zip(self.phases * 2, high * 2, strict=True):
            run = run + phase.duration_s if is_high else 0.0
            longest = max(longest, run)
        return longest

    @property
    def energy_wh_per_min(self) -> float:
        """Energy drawn at the reference voltage. [Wh/min]"""
        return self.average_current_a * self.reference_voltage_v / 60.0


def duty_from_figures(
    *,
    average_a: float,
    peak_a: float,
    peak_s: float,
    peak_every_s: float,
    motion: Motion,
    reference_voltage_v: float,
    reference_mass_g: float,
    spread: float,
    peak_voltage_v: float | None = None,
) -> Duty:
    """Duty from an average, a peak and how often the peak comes.

    The average includes the peaks: ``base = (average·T − peak·t) ÷ (T − t)``. The base holds what the
    motion says (watts in the air), the peak holds the stick.

    Raises
    ------
    DomainError
        For figures out of range, or peaks that alone use more than the average.
    """
    _require_figures(Figures(average_a, peak_a, peak_s, peak_every_s))
    true_for = TrueFor(reference_voltage_v, reference_mass_g, spread, peak_voltage_v)
    refuse(faults(*bounds(true_for, "draw.")))
    base_a = (average_a * peak_every_s - peak_a * peak_s) / (peak_every_s - peak_s)
    if base_a < 0:
        raise DomainError(
            "draw.average_a",
            f"The peaks alone average {peak_a * peak_s / peak_every_s:.3g} A, more than {average_a:g} A. "
            "Raise the average, or make the peak shorter or rarer.",
        )
    base = Phase(peak_every_s - peak_s, motion.base_hold, base_a)
    phases = (base, Phase(peak_s, "throttle", peak_a)) if peak_s > 0 else (base,)
    return Duty(phases, reference_voltage_v, reference_mass_g, spread, peak_voltage_v)


def duty_from_phases(
    phases: tuple[Phase, ...],
    *,
    reference_voltage_v: float,
    reference_mass_g: float,
    spread: float,
    peak_voltage_v: float | None = None,
) -> Duty:
    """Duty from phases as found in a log, after checking each of them.

    Raises
    ------
    DomainError
        For no phases, more than 200, or a phase out of range.
    """
    if not 1 <= len(phases) <= MOST_PHASES:
        raise DomainError("draw.phases", f"A duty has 1 to {MOST_PHASES} phases, not {len(phases)}.")
    refuse(faults(*(within(asked, given, "draw.phases") for p in phases for asked, given in _asked(p))))
    if max(p.current_a for p in phases) < 0.01:
        raise DomainError("draw.phases", "The duty draws nothing; at least 0.01 A is needed.")
    true_for = TrueFor(reference_voltage_v, reference_mass_g, spread, peak_voltage_v)
    refuse(faults(*bounds(true_for, "draw.")))
    return Duty(phases, reference_voltage_v, reference_mass_g, spread, peak_voltage_v)


def duty_working(duty: Duty) -> Working:
    """How average, RMS and peak follow from the phases."""
    n, total = plain_number, plain_number(duty.cycle_s)
    shown = duty.phases[:4]
    more = " + …" if len(duty.phases) > 4 else ""
    amps = " + ".join(f"{n(p.duration_s)} × {n(p.current_a)}" for p in shown) + more
    squares = " + ".join(f"{n(p.duration_s)} × {n(p.current_a)}²" for p in shown) + more
    steps = (
        Step("Average", "Σ t·I ÷ Σ t", f"({amps}) ÷ {total} = {n(duty.average_current_a)} A"),
        Step(
            "RMS",
            "√(Σ t·I² ÷ Σ t)",
            f"√(({squares}) ÷ {total}) = {n(duty.rms_current_a)} A",
            "what heats cells, leads and plugs",
        ),
        Step(
            "Energy",
            "I·V ÷ 60",
            f"{n(duty.energy_wh_per_min)} Wh a minute at {n(duty.reference_voltage_v)} V",
        ),
    )
    return Working("What it draws", steps, "Seconds × amps of each phase of one cycle.")


def _asked(phase: Phase) -> list[tuple[Quantity, float]]:
    asked = fields_of(Phase)
    both = [(asked[name].asked, getattr(phase, name)) for name in ("duration_s", "current_a")]
    return [(q, given) for q, given in both if isinstance(q, Quantity)]


def _require_figures(f: Figures) -> None:
    refuse(faults(*bounds(f, "draw.")))
    if f.peak_a < f.average_a:
        words = f"The peak ({f.peak_a:g} A) cannot be below the average ({f.average_a:g} A)."
        raise DomainError("draw.peak_a", words)
    if f.peak_s >= f.peak_every_s:
        words = (
            f"A peak of {f.peak_s:g} s does not fit into every {f.peak_every_s:g} s; make it shorter or "
            "rarer."
        )
        raise DomainError("draw.peak_s", words)
