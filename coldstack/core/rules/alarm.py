"""How the alarm follows from the house rules."""

from __future__ import annotations

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.rules.house_rules import CellRules, HouseRules
from coldstack.core.units import plain_number
from coldstack.core.working import Step, Working


def alarm_working(house: HouseRules, rules: CellRules, chemistry_id: str, series: int) -> Working:
    """Where the alarm is set, from the house rule for LiPo to this pack."""
    n = plain_number
    return Working(
        "Alarm",
        (
            Step(
                "House rule",
                "volts per LiPo cell under load",
                f"{n(house.alarm_loaded_v)} V",
                f"House rules “{house.name}”",
            ),
            Step(
                f"The same height in {chemistry(chemistry_id).name}",
                "between empty and full, never below what damages the cell",
                f"{n(rules.alarm_v)} V a cell",
            ),
            Step(
                "On the pack",
                "cells × volts",
                f"{series} × {n(rules.alarm_v)} V = {n(series * rules.alarm_v)} V",
            ),
        ),
    )
