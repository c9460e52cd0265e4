"""Charge minutes against cells by porous-electrode physics: PyBaMM's DFN model with its published parameter
sets.

``python -m bench.charge_minutes --write`` computes the reference anew (two minutes); without it the kept one
is compared.
"""

from __future__ import annotations

import json
import sys
from dataclasses import asdict, dataclass
from pathlib import Path
from statistics import median

import numpy as np

from coldstack.core.cells.chemistry import CHEMISTRY_IDS
from coldstack.core.charging.charge_time import ChargeColumns, ChargeTime, charge_time
from coldstack.core.packs.pack import Pack
from coldstack.core.packs.resistance import cell_resistances

KEPT = Path(__file__).resolve().parents[1] / "tests" / "data" / "charges-by-physics.json"
SETS = {
    "Marquis2019": "lipo",
    "Ai2020": "lipo",
    "Ramadass2004": "lipo",
    "Ecker2015": "lipo",
    "Mohtat2020": "lipo",
    "NCA_Kim2011": "lipo",
    "Chen2020": "liion",
    "OKane2022": "liion",
    "ORegan2022": "liion",
    "Prada2013": "lifepo4",
}
"""Pouches and small cells count as LiPo, the 21700 as Li-ion."""
FULL_V = {"ORegan2022": 4.2}
"""Where the set itself goes on to volts at which nobody charges such a cell."""
STARTS, RATES_C = (0.2, 0.6), (0.5, 1.0, 2.0)


@dataclass(frozen=True)
class Charge:
    """One charge of a published cell: from ``start_soc`` at ``charge_c`` to full volts, then down to C/20.

    ``quick_mohm`` as a meter reads it: 1C for a second at 60 % charge.
    """

    parameters: str
    chemistry: str
    capacity_ah: float
    quick_mohm: float
    start_soc: float
    charge_c: float
    minutes: float


def kept() -> list[Charge]:
    """The reference, as it was computed last."""
    return [Charge(**row) for row in json.loads(KEPT.read_text())]


def ours(charges: list[Charge], *, read: bool = True) -> ChargeTime:
    """What the program says of the same cells, read by a meter or by nobody."""
    ah = np.array([c.capacity_ah for c in charges])
    packs = [
        Pack("x", "x", c.chemistry, 1, c.capacity_ah, 50.0, cell_mohm=c.quick_mohm if read else None)
        for c in charges
    ]
    full = {"lipo": 4.2, "liion": 4.2, "lifepo4": 3.6}
    none = np.zeros(len(charges))
    return charge_time(
        ChargeColumns(
            np.array([CHEMISTRY_IDS.index(c.chemistry) for c in charges]),
            ah,
            cell_resistances(packs, "cautious")[0],
            ah * np.array([c.charge_c for c in charges]),
            np.array([full[c.chemistry] for c in charges]),
            np.array([c.start_soc for c in charges]),
            none,
            none,
        )
    )


def physics(
    parameters: str, starts: tuple[float, ...] = STARTS, rates_c: tuple[float, ...] = RATES_C
) -> list[Charge]:
    """The charges of one parameter set; one in which the model itself breaks off is left out."""
    import pybamm

    values, cell = pybamm.ParameterValues(parameters), pybamm.LithiumIonParameters()
    if parameters in FULL_V:
        values["Upper voltage cut-off [V]"] = values["Open-circuit voltage at 100% SOC [V]"] = FULL_V[
            parameters
        ]
    electrodes = {
        "Q_n": values.evaluate(cell.n.Q_init),
        "Q_p": values.evaluate(cell.p.Q_init),
        "Q_Li": values.evaluate(cell.Q_Li_particles_init),
    }
    ah = float(pybamm.lithium_ion.ElectrodeSOHSolver(values, cell).solve(electrodes)["Q"])

    def run(steps, soc):
        experiment = pybamm.Experiment([steps])
        simulation = pybamm.Simulation(
            pybamm.lithium_ion.DFN(), parameter_values=values, experiment=experiment
        )
        return simulation.solve(initial_soc=soc)

    pulse = run(pybamm.step.current(ah, duration="1 second", period="0.1 seconds"), 0.6)
    rest_v = float(pulse["Battery open-circuit voltage [V]"].entries[0])
    quick = 1000 * (rest_v - float(pulse["Voltage [V]"].entries[-1])) / ah
    full = values["Upper voltage cut-off [V]"]
    out = []
    for soc in starts:
        for c in rates_c:
            steady = pybamm.step.current(-c * ah, termination=f"{full} V", duration="10 hours")
            hold = pybamm.step.voltage(full, termination=f"{ah / 20} A", duration="10 hours")
            charge = run((steady, hold), soc)
            if float(-charge["Discharge capacity [A.h]"].entries[-1]) < 0.95 * (1 - soc) * ah:
                continue
            minutes = float(charge["Time [s]"].entries[-1]) / 60
            out.append(Charge(parameters, SETS[parameters], ah, quick, soc, c, minutes))
    return out


def charge_minutes_lines() -> list[str]:
    """How far off the minutes are, and how often they lie in the range."""
    charges, out = kept(), []
    for read, who in ((True, "read by a meter"), (False, "read by nobody")):
        found = ours(charges, read=read)
        for chemistry in dict.fromkeys(SETS.values()):
            rows = [k for k, c in enumerate(charges) if c.chemistry == chemistry]
            off = [found.minutes[k] / charges[k].minutes - 1 for k in rows]
            held = sum(found.low[k] <= charges[k].minutes <= found.high[k] for k in rows)
            out.append(
                f"charge minutes, {chemistry}, {who}, {len(rows)} charges of published cells: median error "
                f"{median(off):+.1%} ({median(map(abs, off)):.1%} either way), worst "
                f"{max(off, key=abs):+.1%}, {held} in the range"
            )
    return out


if __name__ == "__main__":
    if "--write" in sys.argv:
        rows = [asdict(c) for name in SETS for c in physics(name)]
        KEPT.write_text(json.dumps(rows, indent=0) + "\n")
    print("\n".join(charge_minutes_lines()))
