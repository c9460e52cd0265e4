"""A duty measured on one pack, carried over to packs of another mass and voltage."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np
from numpy.typing import ArrayLike, NDArray

from coldstack.core.draw.duty import Duty
from coldstack.core.draw.motion import Motion
from coldstack.core.errors import DomainError

Drive = Literal["same", "refitted"]
"""same: the propeller or gearing stays; refitted: it is changed so that the watts stay."""
Law = Literal["amps", "power", "throttle1", "throttle2"]
LAWS: tuple[Law, ...] = get_args(Law)


@dataclass(frozen=True, slots=True)
class PhaseLoad:
    """One phase as the packs of a batch meet it.

    ``value`` has the batch's length N. By law: amps [A]; power [W]; throttle1, amps per volt [A/V];
    throttle2, amps per volt squared [A/V²].
    """

    duration_s: float
    law: Law
    value: NDArray[np.float64]


def throttle_current_a(
    current_a: ArrayLike, *, voltage_v: ArrayLike, reference_voltage_v: float, motion: Motion
) -> NDArray[np.float64]:
    """Full-stick amps at another voltage with the same propeller or gearing: ``I·(V ÷ V_ref)^k``. [A]

    From three cells to four a propeller takes (4/3)² = 1.78 times the amps.
    """
    ratio = np.asarray(voltage_v, float) / reference_voltage_v
    return np.asarray(np.asarray(current_a, float) * ratio**motion.throttle_exponent)


def full_stick_voltage(
    open_v: ArrayLike, resistance_ohm: ArrayLike, *, current_a: float, at_voltage_v: float, exponent: int
) -> NDArray[np.float64]:
    """Volts at the terminals at full stick, where amps follow volts: the root of ``V = E − R·I·(V ÷
    V_ref)^k``. [V]"""
    e, r = np.asarray(open_v, float), np.asarray(resistance_ohm, float)
    if exponent == 1:
        return np.asarray(e / (1.0 + r * current_a / at_voltage_v))
    a = r * current_a / at_voltage_v**2
    # the root of a·V² + V = E in the form that stays exact for no resistance at all
    return np.asarray(2.0 * e / (1.0 + np.sqrt(1.0 + 4.0 * a * e)))


def refitted_current_a(
    current_a: ArrayLike, *, voltage_v: ArrayLike, reference_voltage_v: float
) -> NDArray[np.float64]:
    """Amps at another voltage after re-propping or re-gearing for the same watts: ``I·V_ref ÷ V``. [A]"""
    return np.asarray(np.asarray(current_a, float) * reference_voltage_v / np.asarray(voltage_v, float))


def mass_factor(all_up_mass_g: ArrayLike, *, reference_mass_g: float, motion: Motion) -> NDArray[np.float64]:
    """Watts of a power phase at this all-up mass over those at the reference: ``(m ÷ m_ref)^n``."""
    mass = np.asarray(all_up_mass_g, float)
    if not np.all(mass > 0):
        raise DomainError("mass_g", "Mass must be above zero.")
    return np.asarray((mass / reference_mass_g) ** motion.mass_exponent)


def phase_loads(
    duty: Duty, *, all_up_mass_g: NDArray[np.float64], motion: Motion, drive: Drive
) -> list[PhaseLoad]:
    """The duty's phases for a batch of packs, each with its all-up mass [g], shape (N,).

    Power phases scale with the mass and keep their watts at any voltage. Full-stick phases follow the volts
    with the same propeller or gearing; refitted, they keep their watts. Phases that hold amps keep them, or
    their watts when refitted.
    """
    factor = mass_factor(all_up_mass_g, reference_mass_g=duty.reference_mass_g, motion=motion)
    ones = np.ones_like(factor)
    volts, stick_v = duty.reference_voltage_v, duty.stick_voltage_v
    loads = []
    for phase in duty.phases:
        amps, seconds = phase.current_a, phase.duration_s
        if phase.hold == "power":
            loads.append(PhaseLoad(seconds, "power", amps * volts * factor))
        elif drive == "refitted":
            at_v = stick_v if phase.hold == "throttle" else volts
            loads.append(PhaseLoad(seconds, "power", amps * at_v * ones))
        elif phase.hold == "amps":
            loads.append(PhaseLoad(seconds, "amps", amps * ones))
        elif motion.throttle_exponent == 1:
            loads.append(PhaseLoad(seconds, "throttle1", amps / stick_v * ones))
        else:
            loads.append(PhaseLoad(seconds, "throttle2", amps / stick_v**2 * ones))
    return loads
