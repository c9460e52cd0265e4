"""Writes the demo's watt-meter log: a simulated flight of Ptarmigan, recorded by the simulated meter."""

from pathlib import Path

import numpy as np

from coldstack.core.cells.chemistry import CHEMISTRY_IDS
from coldstack.core.discharge.batch import PackColumns
from coldstack.core.draw.duty import Phase
from coldstack.core.draw.motion import motion_of
from coldstack.standins.watt_meter import SimulatedWattMeter, csv_text

one = np.ones(1)
pack = PackColumns(
    chemistry_index=np.array([CHEMISTRY_IDS.index("lipo")]),
    series=4 * one,
    capacity_ah=3.7 * one,
    cell_mohm=3.4 * one,
    slow_mohm=4.4 * one,
    outside_mohm=4.0 * one,
    mass_g=307 * one,
    area_m2=0.022 * one,
    start_soc=one,
    landing_soc=0.15 * one,
    alarm_cell_v=3.4 * one,
    cutoff_cell_v=3.2 * one,
)
meter = SimulatedWattMeter(
    pack=pack,
    phases=(Phase(39, "power", 8.2), Phase(6, "throttle", 46)),
    reference_voltage_v=14.8,
    reference_mass_g=1860,
    all_up_mass_g=1787,
    motion=motion_of("level_flight"),
    minutes=12,
    seed=14,
)
path = Path(__file__).resolve().parents[1] / "web" / "public" / "demo" / "ptarmigan-watt-meter.csv"
path.write_text(csv_text(meter.samples()))
print(f"{path}: {len(path.read_text().splitlines())} lines")
