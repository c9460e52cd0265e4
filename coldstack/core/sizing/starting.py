"""Where a new model starts: round figures of a typical model that moves so. House figures, marked as an estimate on the screen."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Start:
    """Mass without the pack [g], cells, volts under load [V], average and peak [A], minutes wanted."""

    mass_g: float
    cells: int
    voltage_v: float
    average_a: float
    peak_a: float
    minutes: float


STARTING: dict[str, Start] = {
    "level_flight": Start(900, 3, 11.1, 9, 28, 10),
    "hover": Start(900, 4, 14.8, 14, 35, 12),
    "wheels": Start(1600, 2, 7.4, 16, 60, 12),
    "tracks": Start(3000, 2, 7.4, 8, 25, 20),
    "hull": Start(2500, 3, 11.1, 8, 30, 15),
}
