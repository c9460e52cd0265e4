"""Loaded volts and run time against cells by porous-electrode physics: PyBaMM's DFN model with its published
parameter sets, under duties of cruise and bursts.

``python -m bench.discharges --write`` computes the reference anew (ten minutes); without it the kept one is
compared. The cell's own resting volts are taken, so that what is compared is what a load takes off them.
"""

from __future__ import annotations

import json
import sys
from dataclasses import asdict, dataclass
from pathlib import Path
from statistics import median

import numpy as np

from bench.charge_minutes import FULL_V, SETS
from coldstack.core.cells.open_circuit import GRID_CELLS, ocv_curve
from coldstack.core.discharge.batch import PackColumns, Surroundings
from coldstack.core.discharge.simulate import traced
from coldstack.core.draw.scaling import PhaseLoad
from coldstack.core.packs.pack import Pack
from coldstack.core.trial.candidates import from_packs

KEPT = Path(__file__).resolve().parents[1] / "tests" / "data" / "discharges-by-physics.json"
DUTIES_C = {
    "lipo": ((1.5, 1.5, 60.0, 60.0), (1.0, 4.0, 39.0, 6.0), (0.7, 3.0, 20.0, 10.0)),
    "liion": ((0.7, 0.7, 60.0, 60.0), (0.5, 2.0, 39.0, 6.0), (0.4, 1.5, 60.0, 30.0)),
}
"""Cruise and burst, in C, and the seconds of each."""
STOPS_V = {"lipo": 3.3, "liion": 3.0}
"""Loaded volts to which the run time is compared."""
LEAST_SOC = 0.15
"""Below it curves are steep, and a small error of charge is a large one of volts."""
MEANT = ("Ai2020", "Chen2020")
"""Sets from which our open-circuit curves come; the others are told apart from them."""


@dataclass(frozen=True)
class Run:
    """One discharge of a published cell: at the ends of its phases the seconds, the cell's resting and its
    loaded volts; ``quick_mohm`` as a meter reads it, 1C for a second at 60 % charge."""

    parameters: str
    chemistry: str
    capacity_ah: float
    quick_mohm: float
    duty_c: tuple[float, float, float, float]
    time_s: list[float]
    rest_v: list[float]
    loaded_v: list[float]


def kept() -> list[Run]:
    """The reference, as it was computed last."""
    return [Run(**{**row, "duty_c": tuple(row["duty_c"])}) for row in json.loads(KEPT.read_text())]


def lost_v(run: Run, *, read: bool) -> np.ndarray:
    """What the program says that the load takes off the resting volts at those moments, of a cell that a
    meter read or that nobody did. [V]"""
    mohm = run.quick_mohm if read else None
    c = from_packs([Pack("x", "x", run.chemistry, 1, run.capacity_ah, 50.0, cell_mohm=mohm)], "cautious")
    one = np.ones(1)
    columns = PackColumns(
        chemistry_index=c.chemistry_index,
        series=one,
        capacity_ah=c.capacity_ah,
        cell_mohm=c.cell_mohm,
        outside_mohm=0 * one,
        mass_g=1e9 * one,
        area_m2=one,
        start_soc=one,
        landing_soc=0 * one,
        alarm_cell_v=0.1 * one,
        cutoff_cell_v=0.1 * one,
        slow_mohm=c.slow_mohm,
        slow_s=c.slow_s,
    )
    base, burst, cruise_s, burst_s = run.duty_c
    loads = [
        PhaseLoad(s, "amps", c_rate * c.capacity_ah) for c_rate, s in ((base, cruise_s), (burst, burst_s))
    ]
    _, (trace,) = traced(
        columns, loads, Surroundings(25.0, 25.0, 1e-6), longest_run_s=run.time_s[-1] + 1, longest_step_s=5.0
    )
    grid = np.linspace(0, 1, GRID_CELLS + 1)
    lost = np.interp(trace.soc, grid, ocv_curve(run.chemistry)) - trace.voltage_v
    # at the end of a phase: the last moment at which its own current flows
    return np.interp(np.array(run.time_s) - 1e-6, trace.time_s, lost)


def compared(run: Run, *, read: bool) -> tuple[float, float]:
    """RMS of the loaded volts while there is charge left, and the run time to STOPS_V over the cell's own.
    [mV], share"""
    cell, rest = np.array(run.loaded_v), np.array(run.rest_v)
    ours = rest - lost_v(run, read=read)
    base, burst, cruise_s, burst_s = run.duty_c
    mean_c = (base * cruise_s + burst * burst_s) / (cruise_s + burst_s)
    keep = 1 - np.array(run.time_s) * mean_c / 3600 > LEAST_SOC
    rms = 1000 * float(np.sqrt(np.mean((ours - cell)[keep] ** 2)))
    stops = [_below(run.time_s, v, STOPS_V[run.chemistry]) for v in (ours, cell)]
    return rms, stops[0] / stops[1] - 1


def _below(time_s: list[float], volts: np.ndarray, limit_v: float) -> float:
    found = np.flatnonzero(volts < limit_v)
    return time_s[int(found[0])] if len(found) else time_s[-1]


def physics(parameters: str) -> list[Run]:
    """The discharges of one parameter set."""
    import pybamm

    values, cell = pybamm.ParameterValues(parameters), pybamm.LithiumIonParameters()
    if parameters in FULL_V:
        full = FULL_V[parameters]
        values["Upper voltage cut-off [V]"] = values["Open-circuit voltage at 100% SOC [V]"] = full
    values["Lower voltage cut-off [V]"] = 2.3
    electrodes = {
        "Q_n": values.evaluate(cell.n.Q_init),
        "Q_p": values.evaluate(cell.p.Q_init),
        "Q_Li": values.evaluate(cell.Q_Li_particles_init),
    }
    ah = float(pybamm.lithium_ion.ElectrodeSOHSolver(values, cell).solve(electrodes)["Q"])

    def run(steps, soc):
        solver = pybamm.IDAKLUSolver(rtol=1e-5, atol=1e-6)
        simulation = pybamm.Simulation(
            pybamm.lithium_ion.DFN(),
            parameter_values=values,
            experiment=pybamm.Experiment([steps]),
            solver=solver,
        )
        return simulation.solve(initial_soc=soc)

    def step(c, seconds):
        ends = {"period": "1 second", "termination": "2.4 V"}
        return pybamm.step.current(c * ah, duration=f"{seconds:g} seconds", **ends)

    pulse = run((pybamm.step.current(ah, duration="1 second", period="0.1 seconds"),), 0.6)
    rest_v = float(pulse["Battery open-circuit voltage [V]"].entries[0])
    quick = 1000 * (rest_v - float(pulse["Voltage [V]"].entries[-1])) / ah
    out = []
    for duty in DUTIES_C[SETS[parameters]]:
        base, burst, cruise_s, burst_s = duty
        cycles = int(3600 / (base * cruise_s + burst * burst_s)) + 1
        cycle = step(base, cruise_s), step(burst, burst_s)
        solved = run(cycle * cycles, 1.0)
        names = ("Time [s]", "Bulk open-circuit voltage [V]", "Voltage [V]")
        out.append(_run(parameters, ah, quick, duty, *(solved[n].entries for n in names)))
    return out


def _run(parameters, ah, quick, duty, time, rest, loaded) -> Run:
    """What is kept of a discharge: the ends of its phases."""
    _, _, cruise_s, burst_s = duty
    ends = np.cumsum(np.tile([cruise_s, burst_s], int(time[-1] / (cruise_s + burst_s)) + 1))
    ends = ends[ends <= time[-1]]
    # just before the current changes
    at = [np.round(np.interp(ends - 0.5, time, x), 4).tolist() for x in (rest, loaded)]
    return Run(parameters, SETS[parameters], ah, quick, duty, ends.tolist(), *at)


def discharge_lines() -> list[str]:
    """RMS and run time of each cell, read by a meter and by nobody."""
    out = []
    for name in dict.fromkeys(r.parameters for r in kept()):
        runs = [r for r in kept() if r.parameters == name]
        words = []
        for read, who in ((True, "read"), (False, "not read")):
            found = [compared(r, read=read) for r in runs]
            rms, time = median(x for x, _ in found), median(abs(t) for _, t in found)
            words.append(f"{who} {rms:.0f} mV, run time {time:.1%}")
        out.append(f"discharge, {name} ({runs[0].chemistry}): " + "; ".join(words))
    return out


if __name__ == "__main__":
    if "--write" in sys.argv:
        rows = [asdict(r) for name in SETS if SETS[name] in DUTIES_C for r in physics(name)]
        KEPT.write_text(json.dumps(rows) + "\n")
    print("\n".join(discharge_lines()))
