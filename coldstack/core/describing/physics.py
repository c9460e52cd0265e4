"""The draw by physics, where nobody has a meter: evidence from propeller, motor, rotor, gearing and hull.

Each with its own spread: that of the typical coefficients it goes by, and of how a class is mostly flown or
driven over what hovering, level flight or a steady speed takes.
"""

from __future__ import annotations

import math

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.describing.answers import Answers, motors
from coldstack.core.describing.model_classes import Likely
from coldstack.core.describing.model_kinds import model_kind
from coldstack.core.describing.pieces import EvidencePiece
from coldstack.core.propulsion.motor import (
    HELD_SPEED,
    HELD_SPEED_SIGMA,
    IN_THE_AIR,
    Motor,
    Standing,
    standing,
)
from coldstack.core.propulsion.propeller import air_density
from coldstack.core.propulsion.steady import (
    DRIVEN_SHARE,
    ROLLING,
    TRACKS,
    floating_w,
    flown_speed,
    geared_speed,
    hover_w,
    level_flight_w,
    planing_w,
    rolling_w,
)
from coldstack.core.propulsion.told import steady_speed

SUPPOSED_MASS_SIGMA = 0.40
"""Of a mass that follows from class and propeller. House figure."""
ROOM_C = 20.0
LOADED_SHARE = 0.92
"""Of its volts when full, what a pack holds at full stick early in a run. House figure, as all below."""
PROPELLER_SIGMA = 0.25
"""Of the watts of a propeller by its typical coefficients; figures with a source lie between 0.65 and 1.6 of
them (docs/model.md)."""
HOVER_SIGMA = 0.15
AS_FLOWN_SIGMA, LIVELY_SIGMA = 0.22, 0.40
"""Of how a class is flown over what keeps it up: calm classes, and those flown at twice that and more."""
LIVELY_FROM = 1.5
LEVEL_SIGMA, WING_SIGMA = 0.40, 0.45
"""Of level flight at a told speed, and at one that follows from the wing."""
ROLLING_SIGMA, GEARED_SIGMA = 0.50, 0.60
"""Of a told speed, and of one by gearing."""
FLOATING_SIGMA = 0.50
PLANING_CLASS = "race_boat"
HELI_ROTORS = 1
LEAST_ROLLING = {"tracked": TRACKS, "truck": 0.15}
"""Rolling resistance by kind at the least, whatever the ground: tracks, and gears of many steps."""
STARTS_S = {"race": 2.5, "drag": 5.0, "speed": 30.0, "basher": 4.0, "monster": 4.0}
USUAL_STARTS_S = 15.0
"""Seconds between two starts or corners, by class, and of all others."""
USED_SIGMA, ALL_USED = 0.35, 0.95
"""Of how much of full stick is used at a peak, where that is not all."""
USUAL_SURFACE = {"car": "tarmac", "truck": "grass"}


def full_stick(a: Answers) -> Standing | None:
    """One of its motors with its propeller at full stick, standing still, on what it runs on now; None where
    kV or propeller is not told, or it is a ducted fan."""
    kind, kv = model_kind(a.kind), a.limits.motor_kv
    propeller = a.propulsion.turns
    if propeller is None or kv is None or kind.motion not in HELD_SPEED or kind.id in ("jet", "helicopter"):
        return None
    motor = Motor(kv, a.propulsion.motor_mohm, a.propulsion.no_load_a)
    volts = LOADED_SHARE * a.now.series * chemistry(a.now.chemistry).full_v
    return standing(motor, propeller, volts, density=air_density(ROOM_C), held=HELD_SPEED[kind.motion])


def peak_by_physics(a: Answers, likely: Likely) -> tuple[EvidencePiece, ...]:
    """What its propellers take at full stick in the air, where motor and propeller were told."""
    one = full_stick(a)
    if one is None:
        return ()
    held = 0.0 if a.propulsion.motor_mohm is not None else 3 * HELD_SPEED_SIGMA
    words = f"{a.propulsion.turns.words if a.propulsion.turns else ''} at {a.limits.motor_kv:g} kV"
    used = likely.usual(lambda c: c.stick_used) or 1.0
    amps = used * IN_THE_AIR * motors(a) * one.current_a
    sigma = math.hypot(PROPELLER_SIGMA, held, 0.0 if used > ALL_USED else USED_SIGMA)
    return (EvidencePiece("propeller", words, amps, sigma),)


def average_by_physics(a: Answers, likely: Likely) -> tuple[EvidencePiece, ...]:
    """What its usual run takes: hovering, level flight, rolling or floating, where its figures were told."""
    found = _steady_w(a, likely)
    if found is None:
        return ()
    words, watts, sigma = found
    unsure = 0.0 if a.mass_told else 1.5 * SUPPOSED_MASS_SIGMA
    return (EvidencePiece("physics", words, watts / a.now.nominal_v, math.hypot(sigma, unsure)),)


def _steady_w(a: Answers, likely: Likely) -> tuple[str, float, float] | None:
    """Its average watts by physics, with what they go by and their σ."""
    motion = model_kind(a.kind).motion
    if motion == "hover":
        return _hovering(a, likely)
    if motion == "level_flight":
        return _flying(a, likely) if a.kind == "plane" else None
    return _floating(a, likely) if motion == "hull" else _rolling(a, likely)


def _kg(a: Answers) -> float:
    return (a.mass_g + a.now.mass_g) / 1000


def _as_flown(likely: Likely, sigma: float) -> tuple[float, float]:
    over = likely.usual(lambda c: c.over_steady) or 1.0
    return over, math.hypot(sigma, LIVELY_SIGMA if over >= LIVELY_FROM else AS_FLOWN_SIGMA)


def _hovering(a: Answers, likely: Likely) -> tuple[str, float, float] | None:
    rotors = HELI_ROTORS if a.kind == "helicopter" else a.rotors or model_kind(a.kind).motors
    propeller = a.propulsion.turns
    if a.propulsion.rotor_mm is not None:
        across_m = a.propulsion.rotor_mm / 1000
    elif propeller is not None and a.kind != "helicopter":
        across_m = propeller.diameter_m
    else:
        return None
    over, sigma = _as_flown(likely, HOVER_SIGMA)
    watts = hover_w(_kg(a), rotors, across_m, air_density(ROOM_C), coaxial=a.propulsion.coaxial)
    return "what hovering takes", over * watts, sigma


def _flying(a: Answers, likely: Likely) -> tuple[str, float, float] | None:
    speed, sigma = steady_speed(a.propulsion), LEVEL_SIGMA
    if speed is None:
        if a.propulsion.wing_dm2 is None:
            return None
        speed, sigma = flown_speed(_kg(a), a.propulsion.wing_dm2 / 100, air_density(ROOM_C)), WING_SIGMA
    over, sigma = _as_flown(likely, sigma)
    watts = level_flight_w(_kg(a), speed, likely.usual(lambda c: c.lift_to_drag))
    return "what level flight takes", over * watts, sigma


def _rolling(a: Answers, likely: Likely) -> tuple[str, float, float] | None:
    told, sigma = a.propulsion, ROLLING_SIGMA
    speed = steady_speed(told)
    if speed is None:
        if told.gear_ratio is None or told.wheel_mm is None or a.limits.motor_kv is None:
            return None
        top = geared_speed(
            a.limits.motor_kv,
            a.now.nominal_v,
            told.gear_ratio,
            told.wheel_mm / 1000,
            HELD_SPEED["level_flight"],
        )
        speed, sigma = DRIVEN_SHARE * top, GEARED_SIGMA
    ground = told.surface or USUAL_SURFACE.get(a.kind, "grass")
    watts = rolling_w(
        _kg(a),
        speed,
        rolling=max(ROLLING[ground], LEAST_ROLLING.get(a.kind, 0.0)),
        density=air_density(ROOM_C),
        starts_every_s=likely.usual(lambda c: STARTS_S.get(c.id, USUAL_STARTS_S)),
    )
    return f"rolling at {3.6 * speed:.0f} km/h with its starts", watts, sigma


def _floating(a: Answers, likely: Likely) -> tuple[str, float, float] | None:
    speed = steady_speed(a.propulsion)
    if speed is None:
        return None
    if likely.best.id == PLANING_CLASS:
        watts = planing_w(_kg(a), speed)
    elif a.propulsion.waterline_mm is not None:
        watts = floating_w(_kg(a), a.propulsion.waterline_mm / 1000, speed)
    else:
        return None
    over = likely.usual(lambda c: c.over_steady) or 1.0
    return f"its hull at {3.6 * speed:.3g} km/h", over * watts, FLOATING_SIGMA
