"""A pack of one's own in the day: as it lies there, full or with a first charge before it can be run."""

from __future__ import annotations

from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.cells.resistance import LabelTrust
from coldstack.core.charging.cell_readings import State, storage_soc
from coldstack.core.day.charging import day_charge
from coldstack.core.day.rotation import DayPack
from coldstack.core.keeping.storage import reading_of_state
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HouseRules

PART_SOC = 0.5
"""Where a part-full pack is taken to be until its cells are read. House figure."""


def own_pack(pack: Pack, state: State | None, *, run_min: float, port_w: float, rules: HouseRules, trust: LabelTrust) -> DayPack:  # fmt: skip
    """Minutes of its run and charges; one whose state nobody knows, or that is far too low, is taken as spent.

    Raises
    ------
    DomainError
        For watts that no port has.
    """
    charge = day_charge(pack, port_w=port_w, rules=rules, trust=trust)
    if state == "full":
        return DayPack(run_min, charge.minutes, charge.wh)
    first = day_charge(pack, port_w=port_w, rules=rules, trust=trust, rest_cell_v=_rest_v(pack, state, rules))
    return DayPack(run_min, charge.minutes, charge.wh, False, first.minutes, first.wh)


def _rest_v(pack: Pack, state: State | None, rules: HouseRules) -> float | None:
    if state in ("part", "stored"):
        soc = PART_SOC if state == "part" else sum(storage_soc(pack.chemistry)) / 2
        return float(resting_voltage(pack.chemistry, soc))
    reading = reading_of_state(pack, state, rules=rules)
    return reading.mean_v if reading else None
