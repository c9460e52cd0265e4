"""A pack of the box as it is, cell by cell."""

from __future__ import annotations

from datetime import datetime

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.drawings.cells import charger_port, pack_drawing
from coldstack.core.keeping.records import resistance_at_25_c
from coldstack.core.keeping.resistance_signs import outlier, within_readings
from coldstack.core.readings.cells import typed_reading
from coldstack.core.rules.house_rules import HouseRules, for_chemistry
from coldstack.server.api.values import figures
from coldstack.server.drawings import replies as r
from coldstack.server.gear import assemble as gear
from coldstack.server.life.now import standing_of


def pack_out(tag: str, typed: str, rules: HouseRules, now: datetime) -> r.PackDrawnOut:
    """By what was read last, or by cells as ``typed`` just now.

    Raises
    ------
    OwnedPack.DoesNotExist
        For a tag that no pack bears.
    DomainError
        For cells that cannot be.
    """
    s = standing_of(tag, rules=rules, now=now)
    pack, reading = s.pack, s.now.reading
    if typed.strip():
        reading = typed_reading(pack.chemistry, pack.series, typed, rules)
    records = s.now.told.records
    resistances = [cells for x in records if (cells := resistance_at_25_c(x))]
    drawn = pack_drawing(
        pack,
        rules=rules,
        cell_v=() if reading is None or reading.whole else reading.cell_v,
        mohm=resistances[-1] if resistances else (),
        first_mohm=resistances[0] if resistances else (),
        resists=outlier(pack, within_readings(pack, records), rules),
    )
    ports = [port for c in gear.chargers() if (port := charger_port(pack, c)) is not None]
    cell, house = chemistry(pack.chemistry), for_chemistry(rules, pack.chemistry)
    return r.PackDrawnOut(
        **figures(drawn),
        tag=tag,
        ports=ports,
        chemistry_name=cell.name,
        highest_v=cell.full_v,
        lowest_v=resting_voltage(pack.chemistry, house.landing_soc),
    )
