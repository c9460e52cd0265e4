"""What one charge takes on a day's ports: minutes and watt-hours, from the landing point to full."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.cells.resistance import LabelTrust
from coldstack.core.charging.amps import Feed, charge_amps, charging_cell_v
from coldstack.core.charging.charger import SUPPLY_EFFICIENCY, Charger
from coldstack.core.errors import require_between
from coldstack.core.matching.charge import ChargeFit, fit_times
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HouseRules


@dataclass(frozen=True, slots=True)
class DayCharge:
    """One charge: amps, what limits them, minutes, and the Wh it draws from a supply."""

    current_a: float
    binding: str
    minutes: float
    wh: float


def day_charge(
    pack: Pack, *, port_w: float, rules: HouseRules, trust: LabelTrust, rest_cell_v: float | None = None
) -> DayCharge:
    """A charge on a port of so many watts, by label and house rules; from resting volts, else from the
    landing point.

    Raises
    ------
    DomainError
        For watts that no port has, or too few to charge at all.
    """
    require_between("port_w", "Watts of a port", port_w, low=1, high=5000, unit="W")
    port = Charger(
        "day",
        "a port",
        (pack.chemistry,),
        pack.series,
        200.0,
        port_w,
        nimh_cells_max=pack.series,
        mains_w=port_w,
    )
    feed = Feed("mains")
    amps = charge_amps(pack, port, rules=rules, feed=feed)
    require_between("port_w", "Amps that these watts give", amps.current_a, low=0.01, high=1000, unit="A")
    time = fit_times(
        [ChargeFit(pack, port, feed, (), None, None, amps)], rules=rules, trust=trust, rest_cell_v=rest_cell_v
    )
    put_in = float(time.put_in_ah[0])
    return DayCharge(
        amps.current_a,
        amps.binding.name,
        float(time.minutes[0]),
        put_in * pack.series * charging_cell_v(pack) / SUPPLY_EFFICIENCY,
    )
