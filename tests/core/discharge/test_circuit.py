import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.discharge.circuit import (
    current_for_power_a,
    current_for_throttle_a,
    pack_voltage_under_load,
)
from coldstack.core.discharge.stepping import solve
from coldstack.core.errors import DomainError


class VoltageUnderLoad(SimpleTestCase):
    def test_worked_by_hand(self):
        """Four cells at 3.8 V giving 30 A through 12 mΩ: 15.2 − 0.36 = 14.84 V; without current the rest."""
        self.assertAlmostEqual(
            float(pack_voltage_under_load(3.8, 30, cells_in_series=4, pack_resistance_mohm=12)), 14.84
        )
        self.assertAlmostEqual(
            float(pack_voltage_under_load(3.8, 0, cells_in_series=4, pack_resistance_mohm=12)), 15.2
        )

    def test_no_cells_or_negative_resistance_are_refused(self):
        """And so is a missing resistance."""
        for cells, r in ((0, 10), (4, -0.01), (4, float("nan"))):
            with self.assertRaises(DomainError):
                pack_voltage_under_load(3.8, 10, cells_in_series=cells, pack_resistance_mohm=r)


class CurrentOfALoad(SimpleTestCase):
    def test_power_worked_by_hand(self):
        """16 V behind 0.04 Ω delivering 400 W: 20 V·… the smaller root of 0.04·I² − 16·I + 400 = 0 is 26.79 A."""
        amps = float(current_for_power_a(16.0, 0.04, 400.0))
        self.assertAlmostEqual(amps, 200 - np.sqrt(30000), places=9)
        self.assertAlmostEqual(amps * (16 - amps * 0.04), 400.0, places=9)

    def test_more_than_the_source_can_give_is_no_number(self):
        """At most E² ÷ 4R = 1600 W can be had; beyond that there is collapse, not a current."""
        self.assertAlmostEqual(float(current_for_power_a(16.0, 0.04, 1600.0)), 200.0)
        self.assertTrue(np.isnan(current_for_power_a(16.0, 0.04, 1600.1)))

    @given(st.floats(3, 60), st.floats(0, 0.2), st.floats(0.001, 5), st.sampled_from([1, 2]))
    def test_throttle_solves_its_own_equation(self, emf, r, a, k):
        """I = a·V^k and V = E − I·R hold at once."""
        amps = float(current_for_throttle_a(emf, r, a, k))
        volts = emf - amps * r
        self.assertGreater(volts, 0)
        self.assertAlmostEqual(amps, a * volts**k, delta=1e-6 * max(amps, 1))

    def test_other_laws_are_refused(self):
        """Only the propeller's and the gearing's are known."""
        with self.assertRaises(DomainError):
            current_for_throttle_a(16.0, 0.04, 0.1, 3)


class SteppingUsesTheseForms(SimpleTestCase):
    @given(st.floats(1, 4.3), st.floats(0.0005, 0.02), st.floats(0.1, 60))
    def test_in_place_solutions_are_the_closed_forms(self, emf, r, value):
        """The inner loop's sums in place give what the relations here give, for every law."""
        emf_v, r_ohm = np.array([emf]), np.array([r])
        expected = {
            "amps": np.array([value]),
            "power": current_for_power_a(emf, r, np.array([value])),
            "throttle1": current_for_throttle_a(emf, r, np.array([value]), 1),
            "throttle2": current_for_throttle_a(emf, r, np.array([value]), 2),
        }
        for law, current in expected.items():
            found = np.empty(1)
            solve(law, np.array([value]), emf_v, r_ohm, np.empty(1), found)
            if np.isnan(current[0]):
                # without a root the volts fall below half, where every cut-off ends the run
                self.assertLess(emf - found[0] * r, emf / 2)
            else:
                self.assertAlmostEqual(found[0], current[0], delta=1e-6 * current[0], msg=law)
