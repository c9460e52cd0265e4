"""What a charge was set to and may come to, by which it is watched; and when somebody must look."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from coldstack.core.cells.chemistry import CHEMISTRIES, chemistry
from coldstack.core.charging.margins import CUTOFF_FACTOR
from coldstack.core.charging.warming import ChargingBody
from coldstack.core.errors import DomainError, require_between
from coldstack.core.matching.charger_settings import ChargerSettings
from coldstack.core.packs.pack import Pack
from coldstack.core.packs.resistance import cell_resistance
from coldstack.core.readings.tolerance import passes_volts

LOOK_EVERY_S = (60.0, 1200.0)
"""The shortest and the longest time between looks that can be set: touch it every few minutes."""
LOOK_GRACE_S = 180.0
"""No look for so long after it was due: the charge is stopped. Unattended charging is not offered. House
figure."""


@dataclass(frozen=True, slots=True)
class Expected:
    """What the charge was set to, and what it may come to.

    ``cell_mohm`` is the quick resistance of one cell position at 25 °C; it, ``mass_g`` and ``area_m2`` tell
    how far the pack warms. None where nobody knows them: typical ones of the chemistry stand in.
    """

    chemistry: str
    series: int
    capacity_ah: float
    current_a: float
    full_cell_v: float
    timer_s: float
    cutoff_mah: float
    look_every_s: float
    supply_min_v: float | None = None
    cell_mohm: float | None = None
    mass_g: float | None = None
    area_m2: float | None = None
    balance_a: float | None = None
    """What its balancer may draw from a cell."""
    unread: tuple[str, ...] = ()
    """Figures that could not be read back: a charge that cannot be judged is stopped."""

    @property
    def body(self) -> ChargingBody:
        """What warms: the cells, by what is known of them."""
        return ChargingBody.of(
            self.chemistry,
            self.series,
            self.capacity_ah,
            cell_mohm=self.cell_mohm,
            mass_g=self.mass_g,
            area_m2=self.area_m2,
        )


OPTIONAL = {
    "look_every_s": LOOK_EVERY_S[0],
    **dict.fromkeys(("supply_min_v", "cell_mohm", "mass_g", "area_m2", "balance_a")),
}
"""Figures that a charge can be watched without. A look is due as soon as may be where nobody said when."""
_STAND_INS: dict[str, Any] = {"chemistry": "lipo", "series": 1, "capacity_ah": 1.0}


def expected_from(stored: Mapping[str, Any]) -> Expected:
    """What was stored of it by this or another version of the program.

    What is not known is left out. Any figure that is missing and is needed makes the charge one that cannot
    be judged.
    """
    found: dict[str, Any] = dict(OPTIONAL)
    unread = []
    for name in Expected.__dataclass_fields__:
        value = stored.get(name)
        if name == "chemistry":
            readable = value in CHEMISTRIES
        else:
            kind = int if name == "series" else (int, float)
            readable = isinstance(value, kind) and not isinstance(value, bool) and math.isfinite(value)
        if readable:
            found[name] = value
        elif name not in found and name != "unread":
            unread.append(name)
            found[name] = _STAND_INS.get(name, 0.0)
    return Expected(**found, unread=tuple(unread))


def expected_charge(
    pack: Pack,
    settings: ChargerSettings,
    *,
    look_every_s: float,
    area_m2: float,
    balance_a: float,
    supply_min_v: float | None = None,
) -> Expected:
    """What a charge of this pack by these settings is watched by; a batch on a board is one pack, whose
    outside is that of all of them.

    Raises
    ------
    DomainError
        As `check_expected`.
    """
    return check_expected(
        Expected(
            pack.chemistry,
            pack.series,
            pack.held_ah,
            settings.current_a,
            settings.end_cell_v or chemistry(pack.chemistry).full_v,
            60.0 * settings.timer_min,
            float(settings.cutoff_mah),
            look_every_s,
            supply_min_v,
            cell_mohm=cell_resistance(pack).value,
            mass_g=pack.mass_g,
            area_m2=area_m2,
            balance_a=balance_a,
        )
    )


def left_ah(expected: Expected, time_s: float) -> float:
    """What is still to go in after so long, at most: the cut-off without its margin, less what went in.
    [Ah]"""
    return max(expected.cutoff_mah / 1000 / CUTOFF_FACTOR - expected.current_a * time_s / 3600, 0.0)


def check_expected(e: Expected) -> Expected:
    """The expectation itself, if it is one that can be watched.

    Raises
    ------
    DomainError
        For volts above what the chemistry may be charged to, or looks too far apart.
    """
    cell = chemistry(e.chemistry)
    if passes_volts(e.full_cell_v, cell.full_v):
        raise DomainError(
            "end_cell_v",
            f"{cell.name} is full at {cell.full_v:.2f} V a cell; {e.full_cell_v:.2f} V would overcharge it.",
        )
    low, high = LOOK_EVERY_S
    if not low <= e.look_every_s <= high:
        raise DomainError(
            "look_every_min",
            f"Look every {low / 60:.0f} to {high / 60:.0f} min; nobody leaves a charge alone for longer.",
        )
    require_between("current_a", "Current", e.current_a, low=0.01, high=1000, unit="A")
    return e


def wrong_count(expected_cells: int, found_cells: int) -> str:
    """What to say when a charger finds another number of cells than the pack has; empty if they agree."""
    if found_cells == expected_cells:
        return ""
    if found_cells == 0:
        return "The charger finds no pack on this port: main plug and balance plug in?"
    return (
        f"The charger finds {found_cells} cell{'s' * (found_cells > 1)}; the pack has "
        f"{expected_cells}. Not started: wrong pack, a balance wire off, or a dead cell."
    )


@dataclass(frozen=True, slots=True)
class Looks:
    """When somebody last looked, and when the next look is due. [s of the charge]"""

    looked_s: float
    due_s: float
    stop_s: float


def looks(expected: Expected, looked_s: float) -> Looks:
    """The next look, and when the charge is stopped for want of one."""
    due = looked_s + expected.look_every_s
    return Looks(looked_s, due, due + LOOK_GRACE_S)
