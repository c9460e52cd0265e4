"""R0, R1 and τ of published cells other than those of our open-circuit curves, fitted to pulses of
PyBaMM's full model.

Run as `python -m bench.slow_part`; the figures stand in docs/model.md. A cell's overpotential is its bulk
open-circuit voltage less its terminal voltage; a pulse of two minutes from rest is fitted by R0 + R1·(1 −
e^(−t/τ)).
"""

from __future__ import annotations

import numpy as np
import pybamm
from scipy.optimize import least_squares

CELLS = {
    "Marquis2019": ("LCO pouch", 3.0),
    "Ecker2015": ("NMC pouch, high power", 3.0),
    "Ramadass2004": ("LCO cylindrical", 1.0),
    "NCA_Kim2011": ("NCA pouch, high energy", 1.0),
    "Mohtat2020": ("NMC532 pouch, high energy", 1.0),
}
SOCS = (0.9, 0.6, 0.4, 0.2, 0.12, 0.07)
PULSE_S, QUICK_S = 180.0, 1.0


def overpotential(name: str, c_rate: float, soc: float) -> tuple[np.ndarray, np.ndarray, float]:
    """Seconds, volts lost, and the amps of a pulse from rest."""
    values = pybamm.ParameterValues(name)
    model = pybamm.lithium_ion.DFN({"calculate discharge energy": "false"})
    amps = c_rate * values["Nominal cell capacity [A.h]"]
    values["Current function [A]"] = amps
    values["Lower voltage cut-off [V]"] = 1.5
    simulation = pybamm.Simulation(
        model, parameter_values=values, solver=pybamm.IDAKLUSolver(rtol=1e-6, atol=1e-6)
    )
    times = np.r_[0, np.geomspace(0.2, PULSE_S, 60)]
    solution = simulation.solve(times, initial_soc=soc)
    lost = solution["Bulk open-circuit voltage [V]"].entries - solution["Voltage [V]"].entries
    return solution["Time [s]"].entries, lost, amps


def fit(times: np.ndarray, ohm: np.ndarray) -> tuple[float, float, float]:
    """R0, R1, τ by least squares on the growth of the resistance after the first second."""
    keep = times >= QUICK_S

    def miss(p: np.ndarray) -> np.ndarray:
        r0, r1, tau = np.exp(p)
        return (r0 + r1 * (1 - np.exp(-times[keep] / tau)) - ohm[keep]) / ohm[keep].mean()

    start = np.log([ohm[keep][0], max(ohm[-1] - ohm[keep][0], 1e-5), 30.0])
    r0, r1, tau = np.exp(least_squares(miss, start, bounds=(start - 6, start + 6)).x)
    return float(r0), float(r1), float(tau)


def main() -> None:
    """A table: for each cell and charge R0 over that at 60 %, R1 over R0 at 60 %, R1 over R0 there, τ."""
    for name, (what, c_rate) in CELLS.items():
        found = {}
        for soc in SOCS:
            try:
                times, lost, amps = overpotential(name, c_rate, soc)
                found[soc] = fit(times, lost / amps)
            except Exception as problem:  # a parameter set that cannot be run so low is left out
                print(f"  {name} at {soc:.2f}: {type(problem).__name__}")
        mid = found[0.6]
        print(f"{name} ({what}), {c_rate:g}C: R0 {1000 * mid[0]:.2f} mΩ at 60 %")
        for soc, (r0, r1, tau) in found.items():
            ratios = f"R1 {r1 / mid[0]:.2f} R0(60 %), {r1 / r0:.2f} R0"
            print(f"  {soc:4.2f}: R0 × {r0 / mid[0]:.2f}, {ratios}, τ {tau:.0f} s")


if __name__ == "__main__":
    main()
