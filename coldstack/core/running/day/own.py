"""A pack of one's own in the day: as it lies there, full or with a first charge before it can be run."""

from __future__ import annotations

from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.cells.resistance import LabelTrust
from coldstack.core.keeping.storage import cells_expected
from coldstack.core.life.now import PackNow
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.running.day.charging import day_charge
from coldstack.core.running.day.rotation import DayPack

PART_SOC = 0.5
"""Where a part-full pack is taken to be until its cells are read. House figure."""


def own_pack(
    pack: Pack, now: PackNow, *, run_min: float, port_w: float, rules: HouseRules, trust: LabelTrust
) -> DayPack:
    """Minutes of its run and charges; one of which nobody knows how full it is, or that is far too low, is
    taken as spent.

    Raises
    ------
    DomainError
        For watts that no port has.
    """
    charge = day_charge(pack, port_w=port_w, rules=rules, trust=trust)
    if now.charge == "full":
        return DayPack(run_min, charge.minutes, charge.wh)
    rest_v = _rest_v(pack, now)
    first = day_charge(pack, port_w=port_w, rules=rules, trust=trust, rest_cell_v=rest_v)
    return DayPack(run_min, charge.minutes, charge.wh, False, first.minutes, first.wh)


def _rest_v(pack: Pack, now: PackNow) -> float | None:
    if now.charge == "too_low":
        return None
    cells = cells_expected(now)
    if cells is None and now.charge == "part":
        return float(resting_voltage(pack.chemistry, PART_SOC))
    return cells.mean_v if cells else None
