import numpy as np
import pybamm
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from coldstack.core.cells.chemistry import CHEMISTRY_IDS
from coldstack.core.cells.open_circuit import GRID_CELLS, ocv_curve
from coldstack.core.cells.resistance import soc_factor_curve
from coldstack.core.charging.charge_time import ChargeColumns, charge_minutes, charge_time
from coldstack.core.errors import DomainError

GRID = np.linspace(0, 1, GRID_CELLS + 1)


def columns(**changes) -> ChargeColumns:
    """A 5 Ah LiPo of 3 mΩ a cell at 1C from 20 %; lists make several."""
    figures = {"chemistry": "lipo", "capacity_ah": 5.0, "resistance_mohm": 3.0, "current_a": 5.0, "full_cell_v": 4.2, "start_soc": 0.2, "balance_ah": 0.0, "balance_a": 0.0, **changes}  # fmt: skip
    kinds = figures.pop("chemistry")
    kinds = kinds if isinstance(kinds, list) else [kinds]
    n = max([len(kinds)] + [len(v) for v in figures.values() if isinstance(v, list)])
    full = {k: np.broadcast_to(np.asarray(v, float), (n,)).copy() for k, v in figures.items()}
    index = np.broadcast_to([CHEMISTRY_IDS.index(k) for k in kinds], (n,)).astype(np.int64)
    return ChargeColumns(chemistry_index=index, **full)


def stepped_min(chemistry, *, capacity_ah, resistance_mohm, current_a, full_v, start_soc):
    """The same circuit second by second with its slow part alive: an independent way to the time. [min]"""
    ocv, factor = ocv_curve(chemistry), soc_factor_curve()
    soc, slow_v, seconds = start_soc, 0.0, 0
    while seconds < 40 * 3600:
        f = np.interp(soc, GRID, factor)
        r0 = resistance_mohm / 1000 * f
        let_in = (full_v - np.interp(soc, GRID, ocv) - slow_v) / r0
        current = min(current_a, let_in)
        if current <= capacity_ah / 20:
            break
        slow_v += (1.3 * r0 * current - slow_v) * (1 - np.exp(-1 / 30))
        soc += current / capacity_ah / 3600
        seconds += 1
    return seconds / 60


class ClosedForms(SimpleTestCase):
    def test_without_resistance_time_is_charge_over_amps(self):
        """80 % of 5 Ah at 5 A: 48 min, and what real packs take more, at least 5 min."""
        found = charge_time(columns(resistance_mohm=1e-4))
        self.assertAlmostEqual(found.circuit_min[0], 48.0, delta=0.05)
        self.assertAlmostEqual(found.minutes[0], 53.0, delta=0.05)
        self.assertAlmostEqual(found.put_in_ah[0], 4.0, delta=0.005)

    def test_the_usual_hour(self):
        """1C from landing: 48 min and the taper and 5 min: "about an hour" of the trade."""
        found = charge_time(columns())
        self.assertTrue(50 < found.minutes[0] < 66, found.minutes[0])
        self.assertTrue(found.low[0] < found.minutes[0] < found.high[0])

    def test_balancing_by_hand(self):
        """0.05 Ah at 0.3 A: 10 min more."""
        with_it = charge_time(columns(balance_ah=0.05, balance_a=0.3))
        self.assertAlmostEqual(with_it.balance_min[0], 10.0)
        self.assertAlmostEqual(with_it.minutes[0] - charge_time(columns()).minutes[0], 10.0)

    def test_nimh_takes_a_tenth_more_and_does_not_taper(self):
        """80 % of 4 Ah × 1.1 at 4 A: 52.8 min."""
        found = charge_time(columns(chemistry="nimh", capacity_ah=4.0, current_a=4.0, full_cell_v=1.45))
        self.assertAlmostEqual(found.circuit_min[0], 52.8, delta=0.01)
        self.assertEqual(found.taper_min[0], 0)
        self.assertAlmostEqual(found.put_in_ah[0], 3.52, delta=0.001)

    def test_a_full_pack_takes_only_the_start_and_the_stop(self):
        """Nothing goes in."""
        found = charge_time(columns(start_soc=1.0))
        self.assertEqual(found.put_in_ah[0], 0)
        self.assertEqual(found.minutes[0], 5)


class AgainstOthers(SimpleTestCase):
    def test_second_by_second(self):
        """The quadrature against stepping the circuit with its slow part: within 1 % and a minute of it."""
        for chemistry, r, amps, full, start in (("lipo", 3.0, 5.0, 4.2, 0.2), ("lipo", 12.0, 10.0, 4.2, 0.4), ("liion", 8.0, 2.5, 4.2, 0.1), ("lihv", 4.0, 5.0, 4.35, 0.5), ("lifepo4", 5.0, 5.0, 3.6, 0.1)):  # fmt: skip
            with self.subTest(chemistry=chemistry, r=r):
                figures = {"capacity_ah": 5.0, "resistance_mohm": r, "current_a": amps, "start_soc": start}
                ours = charge_time(columns(chemistry=chemistry, full_cell_v=full, **figures)).circuit_min[0]
                theirs = stepped_min(chemistry, full_v=full, **figures)
                self.assertAlmostEqual(ours, theirs, delta=0.01 * theirs + 1.0)

    def test_pybamm_charges_as_long(self):
        """PyBaMM's Thevenin circuit, 1C to 4.2 V and held to C/20: within 2 % of our bare circuit."""
        capacity, r0_ohm = 3.0, 0.006
        factor = soc_factor_curve()

        def r0(temperature, current, soc):
            return r0_ohm * pybamm.Interpolant(GRID, factor, soc)

        values = pybamm.ParameterValues("ECM_Example")
        values.update(
            {
                "Open-circuit voltage [V]": lambda soc: pybamm.Interpolant(GRID, ocv_curve("lipo"), soc),
                "R0 [Ohm]": r0,
                "R1 [Ohm]": lambda t, i, soc: 1.3 * r0(t, i, soc),
                "C1 [F]": lambda t, i, soc: 30.0 / (1.3 * r0(t, i, soc)),
                "Element-1 initial overpotential [V]": 0.0,
                "Initial SoC": 0.2,
                "Cell capacity [A.h]": capacity,
                "Nominal cell capacity [A.h]": capacity,
                "Entropic change [V/K]": 0.0,
                "Cell thermal mass [J/K]": 1e12,
                "Upper voltage cut-off [V]": 4.5,
                "Lower voltage cut-off [V]": 2.0,
            },
            check_already_exists=False,
        )
        experiment = pybamm.Experiment([("Charge at 3 A until 4.2 V", "Hold at 4.2 V until 0.15 A")])
        solution = pybamm.Simulation(pybamm.equivalent_circuit.Thevenin(), parameter_values=values, experiment=experiment).solve()  # fmt: skip
        theirs = solution["Time [s]"].entries[-1] / 60
        ours = charge_time(columns(capacity_ah=capacity, current_a=3.0, resistance_mohm=6.0)).circuit_min[0]
        self.assertAlmostEqual(ours, theirs, delta=0.02 * theirs)


class Invariants(SimpleTestCase):
    @settings(max_examples=40)
    @given(st.sampled_from(["lipo", "lihv", "liion", "lifepo4", "nimh"]), st.floats(0.1, 20), st.floats(0.2, 3), st.floats(0, 0.95), st.floats(0.5, 60))  # fmt: skip
    def test_more_amps_or_a_fuller_pack_never_takes_longer(self, chemistry, ah, c, start, rohm_ah):
        """And never puts in more than there is room for; the range holds the figure."""
        full = {"lipo": 4.2, "lihv": 4.35, "liion": 4.2, "lifepo4": 3.6, "nimh": 1.45}[chemistry]
        found = charge_time(columns(chemistry=chemistry, capacity_ah=ah, resistance_mohm=rohm_ah / ah, full_cell_v=full, current_a=[c * ah, 1.3 * c * ah, c * ah], start_soc=[start, start, min(1.0, start + 0.05)]))  # fmt: skip
        usual, faster, fuller = found.circuit_min
        self.assertLessEqual(faster, usual * (1 + 1e-9))
        self.assertLessEqual(fuller, usual + 1e-9)
        self.assertLessEqual(found.put_in_ah[0], 1.1 * ah * (1 - start) + 1e-9)
        self.assertTrue(found.low[0] <= found.minutes[0] <= found.high[0])

    def test_several_give_what_single_ones_give(self):
        """Three packs at once, the minutes alone too."""
        many = columns(
            chemistry=["lipo", "nimh", "liion"], full_cell_v=[4.2, 1.45, 4.2], capacity_ah=[5.0, 4.0, 9.0]
        )
        whole = charge_time(many)
        for i, (kind, full, ah) in enumerate((("lipo", 4.2, 5.0), ("nimh", 1.45, 4.0), ("liion", 4.2, 9.0))):
            alone = charge_time(columns(chemistry=kind, full_cell_v=full, capacity_ah=ah))
            self.assertAlmostEqual(whole.minutes[i], alone.minutes[0])
        np.testing.assert_allclose(charge_minutes(many), whole.minutes)

    def test_a_lower_end_is_sooner(self):
        """To 4.15 V by Long life: less charge, less time."""
        full, gentle = charge_time(columns(full_cell_v=[4.2, 4.15])).put_in_ah
        self.assertLess(gentle, full)

    def test_bad_figures_are_refused(self):
        """No current, no capacity, NaN."""
        for changes in ({"current_a": 0.0}, {"capacity_ah": -1.0}, {"resistance_mohm": float("nan")}):
            with self.assertRaises(DomainError):
                charge_time(columns(**changes))
            with self.assertRaises(DomainError):
                charge_minutes(columns(**changes))
