"""Motors by the first-order model of a direct-current motor, and one with a propeller at full stick.

``n = kV·(V − I·R_m) ÷ 60`` and torque ``P ÷ (2πn) = (I − I_0)·60 ÷ (2π·kV)``. Iron losses that grow with
speed, timing, and a controller's own resistance are left out; a controller is one share (`CONTROLLER_SHARE`).
"""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.propulsion.propeller import Propeller, shaft_w, thrust_n

CONTROLLER_SHARE = 0.96
"""Of the pack's watts, what a controller passes on. Typical."""
HELD_SPEED = {"hover": 0.75, "level_flight": 0.84}
"""Of kV × volts, the speed that a motor holds at full stick where its resistance is not known: the small hard
driven ones of multirotors less. Typical; σ of its logarithm as below."""
HELD_SPEED_SIGMA = 0.06
NO_LOAD_SHARE = 0.03
"""Of its amps, what turns the motor itself where nobody gave the no-load current. Typical."""
IN_THE_AIR = 0.82
"""Of the standing amps, those at full stick in the air, where a propeller meets less. Typical, 75 to 90 %."""
ROUNDS = 60


@dataclass(frozen=True, slots=True)
class Motor:
    """kV [rpm/V]; winding resistance [mΩ] and no-load current [A] where they are known."""

    kv: float
    resistance_mohm: float | None = None
    no_load_a: float | None = None


@dataclass(frozen=True, slots=True)
class Standing:
    """One motor with its propeller at full stick, standing still. ``current_a`` from the pack."""

    rpm: float
    current_a: float
    thrust_n: float
    shaft_w: float


def standing(
    motor: Motor, propeller: Propeller, volts: float, *, density: float, held: float = 0.84
) -> Standing:
    """A motor and its propeller at full stick, standing still, at these volts under load.

    Speed and amps are found together: more speed asks for more amps, which leave fewer volts for it, so that
    one crossing exists. ``held``: of kV × volts, the speed where the resistance is not known.
    """
    if motor.resistance_mohm is None:
        rpm = held * motor.kv * volts
    else:
        rpm = _crossing(motor, motor.resistance_mohm / 1000, propeller, volts, density)
    watts = shaft_w(propeller, rpm / 60, density)
    amps = _motor_a(motor, watts, rpm)
    return Standing(rpm, amps / CONTROLLER_SHARE, thrust_n(propeller, rpm / 60, density), watts)


def _motor_a(motor: Motor, watts: float, rpm: float) -> float:
    """Amps of the motor that turn the propeller, and itself. [A]"""
    turning = watts * motor.kv / max(rpm, 1e-9)
    if motor.no_load_a is None:
        return turning / (1 - NO_LOAD_SHARE)
    return turning + motor.no_load_a


def _crossing(motor: Motor, ohm: float, propeller: Propeller, volts: float, density: float) -> float:
    low, high = 0.0, motor.kv * volts
    for _ in range(ROUNDS):
        rpm = (low + high) / 2
        amps = _motor_a(motor, shaft_w(propeller, rpm / 60, density), rpm)
        if motor.kv * (volts - amps * ohm) > rpm:
            low = rpm
        else:
            high = rpm
    return (low + high) / 2
