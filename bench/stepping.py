"""Nanoseconds per pack-second of the stepping, and PyBaMM's equivalent circuit on the same duty."""

from __future__ import annotations

import time

import numpy as np

from coldstack.core.discharge import simulate as simulator
from coldstack.core.discharge.batch import PackColumns, Surroundings, box_area_m2
from coldstack.core.draw.scaling import PhaseLoad


def fleet(n: int) -> PackColumns:
    """N LiPo packs of 3S and 4S, 2 to 6 Ah, 15 to 50C."""
    rng = np.random.default_rng(1)
    ah, series = rng.uniform(2, 6, n), rng.integers(3, 5, n).astype(float)
    mass, c, nan = ah * series * 3.7 / 160 * 1000, rng.uniform(15, 50, n), np.full(n, np.nan)
    ones = np.ones(n)
    return PackColumns(
        np.zeros(n, np.int64),
        series,
        ah,
        6250 / (c * c * ah),
        3 * ones,
        mass,
        box_area_m2(nan, nan, nan, mass),
        ones,
        0.2 * ones,
        3.4 * ones,
        3.2 * ones,
        slow_mohm=1.3 * 6250 / (c * c * ah),
    )


def duty(n: int) -> list[PhaseLoad]:
    """39 s of 130 W and 6 s of full stick, 46 A at 14.8 V."""
    return [PhaseLoad(39, "power", np.full(n, 130.0)), PhaseLoad(6, "throttle2", np.full(n, 46 / 14.8**2))]


def stepping_lines() -> list[str]:
    """The measurements as lines of text: on one thread and on as many as there are cores, in turns."""
    lines, every = [], simulator._threads
    for n in (1000, 10000):
        packs, loads = fleet(n), duty(n)
        best = {"one thread": np.inf, f"{every()} threads": np.inf}
        for _ in range(12):
            for name in best:
                simulator._threads = (lambda: 1) if name == "one thread" else every
                start = time.perf_counter()
                out = simulator.simulate(packs, loads, Surroundings())
                best[name] = min(best[name], time.perf_counter() - start)
        simulator._threads = every
        ran_s = out.duration_s.sum()
        each = ", ".join(f"{1e9 * s / ran_s:.1f} on {name}" for name, s in best.items())
        lines.append(f"stepping, {n} packs: ns per pack-second {each} (best of 12)")
    return [*lines, _against_pybamm(best["one thread"] / n)]


def _against_pybamm(ours_s: float) -> str:
    import pybamm

    model = pybamm.equivalent_circuit.Thevenin()
    values = pybamm.ParameterValues("ECM_Example")
    values.update(
        {
            "Initial SoC": 0.999,
            "Cell capacity [A.h]": 4.0,
            "Lower voltage cut-off [V]": 2.5,
            "Upper voltage cut-off [V]": 5.0,
        }
    )
    pulses = pybamm.Experiment([("Discharge at 9 A for 39 seconds", "Discharge at 40 A for 6 seconds")] * 14)
    simulation = pybamm.Simulation(
        model, parameter_values=values, experiment=pulses, solver=pybamm.IDAKLUSolver()
    )
    simulation.solve()
    start = time.perf_counter()
    simulation.solve()
    theirs_s = time.perf_counter() - start
    return (
        f"the same duty in PyBaMM’s equivalent circuit, one pack: {theirs_s * 1e3:.0f} ms, "
        f"{theirs_s / ours_s:,.0f} times one of ours"
    )
