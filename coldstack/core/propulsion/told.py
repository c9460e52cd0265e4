"""What drives a model, as its owner knows it: propeller, motor, rotor, gearing, hull, speed. All of it can be
left out."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from coldstack.core.errors import faults, refuse
from coldstack.core.fields.quantity import Choice, Quantity, Words, YesNo
from coldstack.core.fields.table import bounds
from coldstack.core.propulsion.propeller import Propeller, read_propeller
from coldstack.core.propulsion.steady import Surface


@dataclass(frozen=True, slots=True)
class Propulsion:
    """Figures that a draw can be estimated from. ``kind`` and ``model_class`` say what it is; the motor's kV
    stands with the electronics."""

    kind: Annotated[str, Words("What it is", most=30)] = ""
    model_class: Annotated[str, Words("Class", most=30)] = ""
    propeller: Annotated[
        str,
        Words("Propeller", most=40, hint="in inches, as on the blade; a third figure is its blades"),
    ] = ""
    motor_mohm: Annotated[
        float | None, Quantity("Motor’s resistance", unit="mΩ", low=0.5, high=50_000, step=5)
    ] = None
    no_load_a: Annotated[float | None, Quantity("No-load current", unit="A", low=0.01, high=60, step=0.1)] = (
        None
    )
    rotor_mm: Annotated[float | None, Quantity("Rotor diameter", unit="mm", low=20, high=3000, step=10)] = (
        None
    )
    coaxial: Annotated[bool, YesNo("Rotors in pairs, one above the other")] = False
    wing_dm2: Annotated[float | None, Quantity("Wing area", unit="dm²", low=0.1, high=500)] = None
    speed_kmh: Annotated[
        float | None, Quantity("Usual speed", unit="km/h", low=0.5, high=400, hint="as it is mostly driven")
    ] = None
    gear_ratio: Annotated[
        float | None,
        Quantity("Motor turns per wheel turn", low=0.2, high=300, step=0.1),
    ] = None
    wheel_mm: Annotated[float | None, Quantity("Wheel diameter", unit="mm", low=5, high=1000)] = None
    surface: Annotated[
        Surface, Choice("Drives on", ids=("", "tarmac", "carpet", "grass", "sand"), empty="not said")
    ] = ""
    waterline_mm: Annotated[
        float | None, Quantity("Length at the waterline", unit="mm", low=50, high=5000, step=10)
    ] = None
    off_by: Annotated[float | None, Quantity("Its runs over its estimate", low=0.05, high=20)] = None
    """What its logged runs drew over what was estimated with these figures: later estimates start from it."""

    @property
    def turns(self) -> Propeller | None:
        """The propeller, read; None where none was told."""
        return read_propeller(self.propeller) if self.propeller.strip() else None


NOT_TOLD = Propulsion()
"""Of a model of which nobody said what drives it."""


def check_propulsion(told: Propulsion) -> Propulsion:
    """The figures themselves, if each is possible.

    Raises
    ------
    DomainError
        Naming the field ("propulsion.propeller").
    """

    def propeller() -> None:
        _ = told.turns

    refuse(faults(*bounds(told, "propulsion."), propeller))
    return told


def steady_speed(told: Propulsion) -> float | None:
    """The told usual speed. [m/s]"""
    return None if told.speed_kmh is None else told.speed_kmh / 3.6
