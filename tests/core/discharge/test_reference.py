"""The circuit against an independent simulator: PyBaMM's equivalent-circuit model with the same
parameters."""

import numpy as np
import pybamm
from django.test import SimpleTestCase

from coldstack.core.cells.open_circuit import GRID_CELLS, ocv_curve
from coldstack.core.cells.resistance import slow_curve, slow_time_constant_s, soc_factor_curve
from coldstack.core.discharge.batch import Surroundings
from coldstack.core.discharge.kernel import HOLD_S
from coldstack.core.discharge.simulate import traced
from tests.core.discharge.packs import SLOW_TIMES, amps, packs

R0_OHM, CAPACITY_AH, START_SOC, AT_25_C = 0.006, 3.0, 0.999, Surroundings(25.0, 25.0, 12.0)
GRID = np.linspace(0.0, 1.0, GRID_CELLS + 1)


def pybamm_run(chemistry, current, until_s, stop_v):
    """Times, volts of PyBaMM's Thevenin model with one RC pair, at a constant temperature.

    ``current`` is [A] or steps.
    """
    model = pybamm.equivalent_circuit.Thevenin()
    values = pybamm.ParameterValues("ECM_Example")
    ocv, factor = ocv_curve(chemistry), soc_factor_curve()
    slow, tau_s = SLOW_TIMES * slow_curve(chemistry), slow_time_constant_s(chemistry)

    def r0(temperature, current, soc):
        return R0_OHM * pybamm.Interpolant(GRID, factor, soc)

    def r1(temperature, current, soc):
        return R0_OHM * pybamm.Interpolant(GRID, slow, soc)

    values.update(
        {
            "Open-circuit voltage [V]": lambda soc: pybamm.Interpolant(GRID, ocv, soc),
            "R0 [Ohm]": r0,
            "R1 [Ohm]": r1,
            "C1 [F]": lambda t, i, soc: tau_s / r1(t, i, soc),
            "Element-1 initial overpotential [V]": 0.0,
            "Initial SoC": START_SOC,
            "Cell capacity [A.h]": CAPACITY_AH,
            "Nominal cell capacity [A.h]": CAPACITY_AH,
            "Entropic change [V/K]": 0.0,
            "Cell thermal mass [J/K]": 1e12,
            "Upper voltage cut-off [V]": 5.0,
            "Lower voltage cut-off [V]": stop_v,
            "Current function [A]": current,
        },
        check_already_exists=False,
    )
    simulation = pybamm.Simulation(
        model, parameter_values=values, solver=pybamm.IDAKLUSolver(rtol=1e-7, atol=1e-7)
    )
    return simulation


def solved(simulation, times):
    solution = simulation.solve(times)
    return solution["Time [s]"].entries, solution["Voltage [V]"].entries, solution


def ours(chemistry, phases, landing_soc, stop_v):
    pack = packs(
        chemistry=chemistry,
        series=1.0,
        capacity_ah=CAPACITY_AH,
        cell_mohm=R0_OHM * 1000,
        mass_g=1e9,
        start_soc=START_SOC,
        landing_soc=landing_soc,
        cutoff_cell_v=stop_v,
        alarm_cell_v=stop_v,
    )
    out, (trace,) = traced(pack, phases, AT_25_C, longest_step_s=1.0)
    return out, trace.time_s, trace.voltage_v


class AgainstPyBaMM(SimpleTestCase):
    def compare(self, chemistry, c_rate, stop_v):
        current = c_rate * CAPACITY_AH
        out, times, volts = ours(chemistry, [amps(current)], 0.0, stop_v)
        sim = pybamm_run(chemistry, current, 0, stop_v)
        t, v, solution = solved(sim, np.arange(0.0, 3600 / c_rate, 1.0))
        end_s = float(solution.t_event[0]) if solution.t_event is not None else t[-1]
        both = (times > 1) & (times < min(end_s, out.duration_s[0]) - 2)
        error = volts[both] - np.interp(times[both], t, v)
        self.assertLess(np.sqrt(np.mean(error**2)), 0.005, f"{chemistry} {c_rate}C volts")
        # PyBaMM stops at the limit, our controller once it was held
        self.assertAlmostEqual(
            (out.duration_s[0] - HOLD_S) / end_s, 1.0, delta=0.005, msg=f"{chemistry} {c_rate}C run time"
        )

    def test_constant_current(self):
        """LiPo and Li-ion to a voltage limit: within 5 mV RMS and 0.5 % of run time."""
        for chemistry, c_rate, stop_v in (
            ("lipo", 5, 3.4),
            ("lipo", 10, 3.2),
            ("liion", 2, 3.0),
            ("liion", 5, 2.8),
        ):
            with self.subTest(chemistry=chemistry, c_rate=c_rate):
                self.compare(chemistry, c_rate, stop_v)

    def test_pulses(self):
        """40 s at 2C and 5 s at 12C, over and over: within 5 mV RMS, and the same charge at a given time."""
        low, high = 2 * CAPACITY_AH, 12 * CAPACITY_AH
        for chemistry in ("lipo", "liion"):
            out, times, volts = ours(chemistry, [amps(low, 40), amps(high, 5)], 0.25, 2.0)
            experiment = pybamm.Experiment(
                [
                    (
                        f"Discharge at {low} A for 40 seconds (0.5 second period)",
                        f"Discharge at {high} A for 5 seconds (0.5 second period)",
                    )
                ]
                * 18
            )
            sim = pybamm_run(chemistry, low, 0, 1.5)
            sim = pybamm.Simulation(
                sim.model,
                parameter_values=sim.parameter_values,
                experiment=experiment,
                solver=pybamm.IDAKLUSolver(rtol=1e-7, atol=1e-7),
            )
            solution = sim.solve()
            t, v = solution["Time [s]"].entries, solution["Voltage [V]"].entries
            both = (times < min(t[-1], out.duration_s[0]) - 1) & (times % 45 > 1) & (abs(times % 45 - 40) > 1)
            error = volts[both] - np.interp(times[both], t, v)
            self.assertGreater(np.count_nonzero(both), 200)
            self.assertLess(np.sqrt(np.mean(error**2)), 0.005, chemistry)
