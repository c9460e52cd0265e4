"""How a model moves, and what that means for its draw."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from coldstack.core.errors import DomainError

MotionId = Literal["level_flight", "hover", "wheels", "tracks", "hull", "steady_load"]


@dataclass(frozen=True, slots=True)
class Motion:
    """The laws by which a draw carries over to another mass and another voltage.

    ``mass_exponent``: watts of a power phase go with (m ÷ m_ref)^n. ``throttle_exponent``: amps at full
    stick go with (V ÷ V_ref)^k, 2 for a propeller and 1 for wheels and tracks.
    """

    id: MotionId
    name: str
    mass_exponent: float
    throttle_exponent: Literal[1, 2]
    base_hold: Literal["amps", "power"]
    verbs: tuple[str, str]
    """What one such model does, and several do: ("flies", "fly")."""
    geared: bool
    flies: bool = False
    """A pack that gives too little, or is too heavy, brings it down."""
    moves: bool = True
    """A model; else equipment, whose load asks for no propeller, gearing or mass."""


MOTIONS: dict[str, Motion] = {
    m.id: m
    for m in (
        Motion("level_flight", "level flight", 1.5, 2, "power", ("flies", "fly"), False, flies=True),
        Motion("hover", "hover", 1.5, 2, "power", ("hovers", "hover"), False, flies=True),
        Motion("wheels", "wheels", 1.0, 1, "power", ("drives", "drive"), True),
        Motion("tracks", "tracks", 1.0, 1, "power", ("drives", "drive"), True),
        Motion("hull", "displacement hull", 0.7, 2, "power", ("runs", "run"), False),
        Motion("steady_load", "nothing: equipment", 0.0, 1, "amps", ("lasts", "last"), False, moves=False),
    )
}


def motion_of(motion_id: str) -> Motion:
    """The motion with this id; raises DomainError for an unknown one."""
    if motion_id not in MOTIONS:
        raise DomainError("motion", f"Motion must be one of {', '.join(MOTIONS)}, not “{motion_id}”.")
    return MOTIONS[motion_id]
