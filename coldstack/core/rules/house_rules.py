"""House rules: the schools of practice, as values. No set allows what a label, a chemistry or a caution
forbids.

Volts are stated for LiPo, as people quote them; `for_chemistry` carries them to other chemistries: volts at
rest by the charge that they mean, volts under load by their height within the span from empty to full.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from coldstack.core.cells.chemistry import Chemistry, chemistry
from coldstack.core.cells.open_circuit import resting_voltage, soc_at_rest, soc_when_charged
from coldstack.core.errors import DomainError


@dataclass(frozen=True, slots=True)
class HouseRules:
    """One school. Volts per LiPo cell, shares from 0 to 1, times as named; `rule_table` says of each why it
    is and who differs."""

    id: str
    name: str
    why: str
    who_differs: str
    charge_c_limit: float
    full_cell_v: float
    usable_share: float
    landing_rest_v: float
    alarm_loaded_v: float
    cutoff_loaded_v: float
    storage_within_h: float
    parallel_spread_v: float
    liion_storage_times: float = 2.0
    read_again_days: float = 90.0
    cool_min: float = 30.0
    cold_run_c: float = 10.0
    hot_run_c: float = 45.0
    punch_least: float = 0.60
    heavier_most: float = 0.15
    kit_h: float = 12.0
    cell_watch: float = 1.3
    cell_bad: float = 1.6
    growth_watch: float = 1.5
    growth_bad: float = 2.0
    spread_watch_v: float = 0.03
    spread_act_v: float = 0.05
    capacity_watch: float = 0.9
    capacity_end: float = 0.8
    minutes_watch: float = 0.9
    minutes_act: float = 0.8
    balance_watch_min: float = 10.0
    balance_act_min: float = 15.0

    @property
    def cited(self) -> str:
        """How a working names these rules."""
        return f"house rules “{self.name}”"


HOUSE_RULES: dict[str, HouseRules] = {
    r.id: r
    for r in (
        HouseRules(
            "long_life",
            "Long life",
            "Gentle charging, a little less than full and an early landing: cells age slowest in the "
            "middle of their range.",
            "Most pilots charge to 4.20 V and use 80 %; they trade some cycles for minutes.",
            charge_c_limit=1.0,
            full_cell_v=4.15,
            usable_share=0.70,
            landing_rest_v=3.75,
            alarm_loaded_v=3.50,
            cutoff_loaded_v=3.30,
            storage_within_h=24,
            parallel_spread_v=0.02,
        ),
        HouseRules(
            "steady",
            "Steady",
            "1C, full at 4.20 V, 80 % used: what most people teach, since the last fifth hurts the cells "
            "and the volts fall away.",
            "Some go by volts alone (3.8 V a cell and down); racers use more and replace packs sooner.",
            charge_c_limit=1.0,
            full_cell_v=4.20,
            usable_share=0.80,
            landing_rest_v=3.60,
            alarm_loaded_v=3.40,
            cutoff_loaded_v=3.20,
            storage_within_h=48,
            parallel_spread_v=0.05,
        ),
        HouseRules(
            "field_day",
            "Field day",
            "The label’s charge rate up to 3C and 85 % used: short turnarounds, at the price of cycles.",
            "Careful owners never charge above 1C and land earlier.",
            charge_c_limit=3.0,
            full_cell_v=4.20,
            usable_share=0.85,
            landing_rest_v=3.50,
            alarm_loaded_v=3.30,
            cutoff_loaded_v=3.20,
            storage_within_h=168,
            parallel_spread_v=0.10,
        ),
    )
}
STEADY = HOUSE_RULES["steady"]


LEAST_USABLE = 0.05


@dataclass(frozen=True, slots=True)
class CellRules:
    """The rules' volts and charges for one chemistry; volts per cell, charges from 0 to 1."""

    full_v: float
    start_soc: float
    landing_soc: float
    landing_rest_v: float
    landing_by: str
    alarm_v: float
    cutoff_v: float

    @property
    def usable(self) -> float:
        """What of its charge a run uses, from fresh to landing; a little where the rules leave nothing."""
        return max(self.start_soc - self.landing_soc, LEAST_USABLE)


def house_rules(rules_id: str) -> HouseRules:
    """The starting set with this id; raises DomainError for an unknown one."""
    if rules_id not in HOUSE_RULES:
        raise DomainError(
            "house_rules",
            f"House rules must be one of {', '.join(HOUSE_RULES)}, not “{rules_id}”.",
        )
    return HOUSE_RULES[rules_id]


@lru_cache(maxsize=256)
def for_chemistry(rules: HouseRules, chemistry_id: str) -> CellRules:
    """The rules for one chemistry.

    Volts at rest (the landing point, the end of charge) mean a charge: the other chemistry gets its own volts
    at the same charge, never below what counts as empty nor above its full ones. Volts under load (alarm,
    controller) stand at a height ``(v − 3.50) ÷ (4.20 − 3.50)`` between empty and full; the same height is
    taken, never below what damages it; so does the end of charge where volts do not tell the charge. The
    alarm of what sags flat until it is empty (NiMH) is where the controller stops. The landing point is the
    earlier of the usable share and the resting volts.
    """
    cell, lipo = chemistry(chemistry_id), chemistry("lipo")
    cutoff_v = max(_same_height(rules.cutoff_loaded_v, lipo, cell), cell.damage_v)
    # what sags flat until it is empty is not to be alarmed at before its controller stops
    alarm_lipo_v = rules.alarm_loaded_v if cell.balanced else rules.cutoff_loaded_v
    alarm_v = max(_same_height(alarm_lipo_v, lipo, cell), cell.damage_v)
    same_full = _same_charge if cell.volts_tell else _same_height
    full_v = min(same_full(rules.full_cell_v, lipo, cell), cell.full_v)
    rest_v = max(_same_charge(rules.landing_rest_v, lipo, cell), cell.empty_rest_v)
    start_soc = soc_when_charged(chemistry_id, full_v)
    by_share, by_volts = 1.0 - rules.usable_share, soc_at_rest(chemistry_id, rest_v)
    return CellRules(
        full_v=full_v,
        start_soc=start_soc,
        landing_soc=max(by_share, by_volts),
        landing_rest_v=rest_v,
        landing_by="usable share" if by_share >= by_volts else "resting volts",
        alarm_v=alarm_v,
        cutoff_v=cutoff_v,
    )


def _same_charge(lipo_v: float, lipo: Chemistry, cell: Chemistry) -> float:
    return lipo_v if cell is lipo else resting_voltage(cell.id, soc_at_rest(lipo.id, lipo_v))


def _same_height(lipo_v: float, lipo: Chemistry, cell: Chemistry) -> float:
    height = (lipo_v - lipo.empty_rest_v) / (lipo.full_v - lipo.empty_rest_v)
    return cell.empty_rest_v + height * (cell.full_v - cell.empty_rest_v)
