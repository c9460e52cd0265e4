"""What a field battery still holds: as somebody told it, or by its volts at rest, less what charging took."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal

import numpy as np

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import soc_at_rest
from coldstack.core.charging.charger import SUPPLY_EFFICIENCY, Supply
from coldstack.core.errors import DomainError

BatteryKind = Literal["lead", "lifepo4", "liion"]
LEAD_V = (11.8, 12.0, 12.2, 12.45, 12.7)
LEAD_SOC = (0.0, 0.25, 0.5, 0.75, 1.0)
"""Of a 12 V lead-acid battery that rested for hours. Typical; it differs by make and warmth."""
METER_V = 0.05
"""A multimeter reads a battery so much wrong for each 12 V: the less is believed. Typical."""
NOMINAL_LEAD_V = 12.0
FURTHEST = 0.4
"""Volts further than this share from the battery's nominal ones are another battery's."""


@dataclass(frozen=True, slots=True)
class BatteryLevel:
    """What somebody told of a battery: watt-hours, and whether they follow from volts."""

    left_wh: float
    by_volts: bool = False


def told_level(supply: Supply, text: str, kind: BatteryKind | None = None) -> BatteryLevel:
    """A level as people say it: "80 %", "300 Wh", or its volts at rest "12.6 V"; a number alone is per cent.

    By volts it is the least that they may mean: a flat curve tells little.

    Raises
    ------
    DomainError
        For a supply that is no battery, what is no level, or volts of which nobody said what battery it is.
    """
    if supply.energy_wh is None:
        raise DomainError("told", f"{supply.name} runs on the mains: it has no level.")
    found = re.fullmatch(r"\s*(\d+(?:[.,]\d+)?)\s*(%|wh|v)?\s*", text.lower())
    if not found:
        raise DomainError("told", f"“{text}” is no level. Say it like 80 %, 300 Wh or 12.6 V.")
    number, unit = float(found[1].replace(",", ".")), found[2] or "%"
    if unit == "wh":
        if number > supply.energy_wh:
            words = f"It holds {supply.energy_wh:g} Wh when it is full, not {number:g}."
            raise DomainError("told", words)
        return BatteryLevel(number)
    if unit == "%":
        if number > 100:
            raise DomainError("told", "A battery holds 100 % at most.")
        return BatteryLevel(number / 100 * supply.energy_wh)
    return BatteryLevel(_by_volts(supply, number, kind) * supply.energy_wh, by_volts=True)


def _by_volts(supply: Supply, volts: float, kind: BatteryKind | None) -> float:
    """The least charge of a battery that rests at these volts. 0 to 1."""
    if kind is None:
        raise DomainError("kind", "What kind of battery is it? Its volts mean another level in each.")
    if abs(volts / supply.voltage_v - 1) > FURTHEST:
        raise DomainError("told", f"{volts:g} V is not of a {supply.voltage_v:g} V battery.")
    volts -= METER_V * supply.voltage_v / NOMINAL_LEAD_V
    if kind == "lead":
        blocks = max(1, round(supply.voltage_v / NOMINAL_LEAD_V))
        return float(np.interp(volts / blocks, LEAD_V, LEAD_SOC))
    cells = max(1, round(supply.voltage_v / chemistry(kind).nominal_v))
    return soc_at_rest(kind, volts / cells)


def drawn_wh(mah: float, full_v: float) -> float:
    """What a charge took from what feeds its charger, at its most: all of it at full volts. [Wh]"""
    return mah / 1000 * full_v / SUPPLY_EFFICIENCY


def left_wh(told: float, drawn: float) -> float:
    """Never below nothing. [Wh]"""
    return max(told - drawn, 0.0)
