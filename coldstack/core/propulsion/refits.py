"""The other way round: which propeller or gearing suits one cell more or fewer, and what that does.

All goes by the present setup: its full-stick amps, as measured or estimated, are multiplied by what the
physics says of the other one over it, so that typical coefficients fall out where only diameter and volts
change.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from coldstack.core.propulsion.motor import Motor, Standing, standing
from coldstack.core.propulsion.propeller import Propeller

STEP_FROM_IN, STEP_IN, SMALL_STEP_IN = 6.0, 0.5, 0.1
"""Propellers are sold in steps of half an inch from here on, smaller ones in tenths."""
SPAN = 0.5
"""How much smaller or larger a propeller is looked at."""
SAME_THRUST = 0.97
"""Of the present thrust, what feels the same. House figure."""

Bound = Literal["", "controller", "motor"]


@dataclass(frozen=True, slots=True)
class FullStickLimits:
    """What all controllers and all motors carry at full stick for seconds; None where nobody said. [A]"""

    controller_a: float | None = None
    motor_a: float | None = None

    @property
    def least(self) -> tuple[float, Bound] | None:
        """The one that binds."""
        found: list[tuple[float, Bound]] = []
        if self.controller_a is not None:
            found.append((self.controller_a, "controller"))
        if self.motor_a is not None:
            found.append((self.motor_a, "motor"))
        return min(found) if found else None


@dataclass(frozen=True, slots=True)
class Setup:
    """The present setup at full stick: motor and propeller, volts under load, and the pack's amps for all
    motors."""

    motor: Motor
    propeller: Propeller
    volts: float
    full_stick_a: float
    held: float
    density: float

    @property
    def here(self) -> Standing:
        """One motor, standing still."""
        return standing(self.motor, self.propeller, self.volts, density=self.density, held=self.held)


@dataclass(frozen=True, slots=True)
class Refit:
    """A propeller for other volts: amps at full stick, thrust and the speed of its pitch over the present
    ones; how it loads what binds."""

    propeller: Propeller
    full_stick_a: float
    thrust: float
    pitch_speed: float
    loading: float | None
    bound: Bound


def refit(setup: Setup, propeller: Propeller, volts: float, limits: FullStickLimits) -> Refit:
    """What another propeller at other volts takes and gives."""
    here = setup.here
    there = standing(setup.motor, propeller, volts, density=setup.density, held=setup.held)
    amps = setup.full_stick_a * there.current_a / here.current_a
    least = limits.least
    return Refit(
        propeller,
        amps,
        there.thrust_n / here.thrust_n,
        there.rpm * propeller.pitch_in / (here.rpm * setup.propeller.pitch_in),
        None if least is None else amps / least[0],
        "" if least is None else least[1],
    )


def sold_sizes(around: Propeller) -> list[Propeller]:
    """Propellers from half to one and a half times the diameter, of the same pitch ÷ diameter, in the steps
    in which they are sold."""
    step = STEP_IN if around.diameter_in >= STEP_FROM_IN else SMALL_STEP_IN
    low, high = (1 - SPAN) * around.diameter_in, (1 + SPAN) * around.diameter_in
    count = int(high / step + 1e-9)
    sizes = [n * step for n in range(1, count + 1) if n * step >= low - 1e-9]
    return [
        replace(around, diameter_in=round(d, 2), pitch_in=round(2 * d * around.pitch_share, 0) / 2 or 0.5)
        if step == STEP_IN
        else replace(around, diameter_in=round(d, 2), pitch_in=round(d * around.pitch_share, 1))
        for d in sizes
    ]


def largest_within(setup: Setup, volts: float, limits: FullStickLimits) -> Refit | None:
    """The largest propeller that keeps controller and motor inside their limits; None where nobody told
    those, or the smallest passes them."""
    if limits.least is None:
        return None
    tried = [refit(setup, p, volts, limits) for p in sold_sizes(setup.propeller)]
    within = [x for x in tried if x.loading is not None and x.loading <= 1]
    return within[-1] if within else None


def as_strong(setup: Setup, volts: float, limits: FullStickLimits) -> Refit | None:
    """The smallest propeller that pulls as now; None where none of the sizes does."""
    tried = (refit(setup, p, volts, limits) for p in sold_sizes(setup.propeller))
    return next((x for x in tried if x.thrust >= SAME_THRUST), None)
