"""What it takes to stay up, to fly level, to roll and to float: watts out of the pack.

Physics where physics decides, shares from general knowledge where it does not: each typical, none read from a
source, with the spread that says so.
"""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Literal

GRAVITY = 9.81
"""[m/s²]"""
Surface = Literal["", "tarmac", "carpet", "grass", "sand"]

MERITS = ((0.03, 0.40), (0.08, 0.45), (0.13, 0.55), (0.25, 0.64), (0.50, 0.70), (0.80, 0.72))
"""A rotor's figure of merit by its diameter [m]: the ideal watts over its own. Typical."""
HOVER_SHARE = 0.80
"""Of the pack's watts, what motor and controller pass on to a rotor. Typical."""
COAXIAL = 1.20
"""Watts of coaxial pairs over those of rotors beside each other. Typical."""
LEVEL_SHARE = 0.55
"""Of the pack's watts, what pulls the model through the air. Typical, 0.5 to 0.6."""
MOST_LIFT = 1.1
"""Lift coefficient at which a model's wing stalls. Typical."""
FLOWN_OVER_STALL = 1.5
"""Speed that people mostly fly at over that of the stall. Typical."""
ROLLING = {"tarmac": 0.03, "carpet": 0.03, "grass": 0.10, "sand": 0.20}
"""Rolling resistance over weight by what it drives on. Typical."""
TRACKS = 0.20
"""The same of tracks. Typical, 0.15 to 0.3."""
ROLLING_SHARE, EASY_SPEED = 0.65, 1.5
"""Of the pack's watts, what reaches the ground at speed, and the speed at which it is half of that [m/s]:
small motors waste most of what they take at a crawl. Typical."""
FASTEST_OVER_USUAL = 1.5
"""Speed between two corners over the usual one. Typical."""
IDLE_W_PER_KG = 1.5
"""What receiver, servos and gears take while it creeps. Typical."""
DRAG_AREA_M2, DRAG_AREA_KG = 0.010, 1.5
"""Drag coefficient × area of a car of this mass [m², kg]; others by their mass to two thirds. Typical."""
DRIVEN_SHARE = 0.45
"""Of the speed that its gearing allows, what a car is mostly driven at. Typical."""
WATER = 1000.0
"""[kg/m³]"""
VISCOSITY = 1.1e-6
"""Of cool water. [m²/s]"""
HULL_FORM = 2.2
"""Resistance of a model's hull with its fittings and small waves over that of the plank. Typical."""
WETTED = 2.6
"""Wetted area ÷ √(volume × waterline). Typical."""
HULL_SPEED = 1.25
"""Speed ÷ √waterline at which a hull begins to climb its own wave. [√m/s]"""
CLIMBING = 4.0
"""By what power resistance grows beyond that, over the square below. Typical."""
PLANING_RATIO = 3.0
"""Weight over drag of a planing hull through starts and turns; straight on it is rather 4 to 5. Typical."""
PLANING_SHARE, FLOATING_SHARE = 0.30, 0.15
"""Of the pack's watts, what pushes a fast boat, and a working one with its small screws at part load.
Typical."""


def ideal_hover_w(mass_kg: float, rotors: int, diameter_m: float, density: float) -> float:
    """Least watts that keep a mass up on so many discs: (m·g)^1.5 ÷ √(2·ρ·A). [W]"""
    area = rotors * math.pi * diameter_m**2 / 4
    return float((mass_kg * GRAVITY) ** 1.5 / math.sqrt(2 * density * area))


def figure_of_merit(diameter_m: float) -> float:
    """Ideal watts over those that a rotor of this diameter takes; below one."""
    points = MERITS
    if diameter_m <= points[0][0]:
        return points[0][1]
    for (x0, y0), (x1, y1) in pairwise(points):
        if diameter_m <= x1:
            return y0 + (y1 - y0) * (diameter_m - x0) / (x1 - x0)
    return points[-1][1]


def hover_w(
    mass_kg: float, rotors: int, diameter_m: float, density: float, *, coaxial: bool = False
) -> float:
    """Watts out of the pack that keep a model hovering. [W]

    ``coaxial`` rotors work in pairs, one above the other: half the discs carry, at 20 % more.
    """
    ideal = ideal_hover_w(mass_kg, rotors, diameter_m, density)
    return ideal / figure_of_merit(diameter_m) / HOVER_SHARE * (COAXIAL if coaxial else 1.0)


def flown_speed(mass_kg: float, wing_m2: float, density: float) -> float:
    """Speed that people mostly fly a wing of this loading at: 1.5 times its stall. [m/s]"""
    return FLOWN_OVER_STALL * math.sqrt(2 * mass_kg * GRAVITY / (density * wing_m2 * MOST_LIFT))


def level_flight_w(mass_kg: float, speed: float, lift_to_drag: float) -> float:
    """Watts out of the pack for level flight: m·g·v ÷ (L/D) ÷ η. [W]"""
    return mass_kg * GRAVITY * speed / lift_to_drag / LEVEL_SHARE


def geared_speed(kv: float, volts: float, gear_ratio: float, wheel_m: float, held: float) -> float:
    """Speed of the wheels' rims that kV, volts and gearing give; ``held`` of the free speed. [m/s]"""
    return held * kv * volts / 60 / gear_ratio * math.pi * wheel_m


def rolling_w(
    mass_kg: float, speed: float, *, rolling: float, density: float, starts_every_s: float
) -> float:
    """Watts out of the pack at this usual speed, with a start every so often. [W]

    ``(c_rr·m·g·v + ½·ρ·c_dA·v³ + ½·m·(1.5·v)² ÷ t) ÷ η``, and what it takes to creep; ``η = 0.65·v ÷ (v +
    1.5)``.
    """
    drag_area = DRAG_AREA_M2 * (mass_kg / DRAG_AREA_KG) ** (2 / 3)
    steady = rolling * mass_kg * GRAVITY * speed + 0.5 * density * drag_area * speed**3
    started = 0.5 * mass_kg * (FASTEST_OVER_USUAL * speed) ** 2 / starts_every_s
    share = ROLLING_SHARE * speed / (speed + EASY_SPEED)
    return float((steady + started) / share + IDLE_W_PER_KG * mass_kg)


def floating_w(mass_kg: float, waterline_m: float, speed: float) -> float:
    """Watts out of the pack of a hull that displaces water. [W]

    Friction of a plank of that length (ITTC 1957: 0.075 ÷ (log₁₀Re − 2)²) on its wetted area, by a factor for
    form and fittings; beyond hull speed by the fourth power more.
    """
    reynolds = max(speed * waterline_m / VISCOSITY, 1e4)
    friction = 0.075 / (math.log10(reynolds) - 2) ** 2
    wetted = WETTED * math.sqrt(mass_kg / WATER * waterline_m)
    drag = HULL_FORM * friction * 0.5 * WATER * wetted * speed**2
    beyond = max(speed / (HULL_SPEED * math.sqrt(waterline_m)), 1.0)
    return float(drag * beyond**CLIMBING * speed / FLOATING_SHARE)


def planing_w(mass_kg: float, speed: float) -> float:
    """Watts out of the pack of a hull that planes: m·g·v ÷ 3 ÷ η. [W]"""
    return mass_kg * GRAVITY * speed / PLANING_RATIO / PLANING_SHARE
