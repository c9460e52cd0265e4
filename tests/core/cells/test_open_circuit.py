from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.cells.chemistry import CHEMISTRIES, CHEMISTRY_IDS, chemistry
from coldstack.core.cells.open_circuit import (
    ocv_curve,
    resting_voltage,
    soc_at_rest,
    soc_when_charged,
)
from coldstack.core.errors import DomainError


class OpenCircuit(SimpleTestCase):
    def test_published_points_of_each_curve(self):
        """Rows of the published tables, and of the trade's NiMH table, are met to half a millivolt."""
        for name, soc, volts in (
            ("lipo", 0.50, 3.8202),
            ("lipo", 0.20, 3.7267),
            ("lipo", 1.0, 4.2),
            ("lihv", 1.0, 4.35),
            ("lihv", 0.70, 3.9632),
            ("liion", 0.30, 3.5814),
            ("lifepo4", 0.60, 3.2688),
            ("nimh", 0.20, 1.20),
            ("nimh", 0.50, 1.25),
        ):
            self.assertAlmostEqual(resting_voltage(name, soc), volts, delta=0.0005, msg=f"{name} at {soc}")

    def test_full_is_the_chemistry_s_full_voltage(self):
        """A full cell rests at the volts it is charged to; NiMH is charged above its rest."""
        for cell in CHEMISTRIES.values():
            if cell.charge_method == "cc_cv":
                self.assertAlmostEqual(resting_voltage(cell.id, 1.0), cell.full_v, places=3)

    def test_semi_solid_is_empty_at_its_damage_voltage(self):
        """Its curve is the NMC one above 2.80 V."""
        self.assertAlmostEqual(resting_voltage("semisolid", 0.0), 2.80, places=3)

    def test_curves_rise_everywhere(self):
        """More charge never rests lower, so that the inverse is a function."""
        for name in CHEMISTRY_IDS:
            curve = ocv_curve(name)
            self.assertTrue((curve[1:] >= curve[:-1]).all(), name)

    @given(st.sampled_from(CHEMISTRY_IDS), st.floats(0.02, 0.98))
    def test_charge_from_rest_inverts_rest_from_charge(self, name, soc):
        """Reading a rest voltage back gives the charge it came from, to a thousandth."""
        self.assertAlmostEqual(soc_at_rest(name, resting_voltage(name, soc)), soc, delta=0.001)

    def test_beyond_the_ends_is_empty_or_full(self):
        """A voltage off the curve is the nearer end, not an extrapolation."""
        self.assertEqual(soc_at_rest("lipo", 2.0), 0.0)
        self.assertEqual(soc_at_rest("lipo", 4.5), 1.0)

    def test_bad_input_names_field_and_limits(self):
        """Charge over 1, NaN, volts of zero and unknown chemistries are refused in words."""
        for call, field in (
            (lambda: resting_voltage("lipo", 1.2), "soc"),
            (lambda: resting_voltage("lipo", float("nan")), "soc"),
            (lambda: soc_at_rest("lipo", 0.0), "cell_v"),
            (lambda: chemistry("lead"), "chemistry"),
        ):
            with self.assertRaises(DomainError) as caught:
                call()
            self.assertEqual(caught.exception.field, field)


class WhenCharged(SimpleTestCase):
    def test_by_the_end_volts(self):
        """Full at the chemistry's own volts, less below them; NiMH always to its peak."""
        self.assertEqual(soc_when_charged("lipo", 4.20), 1.0)
        self.assertTrue(0.9 < soc_when_charged("lipo", 4.15) < 1.0)
        self.assertEqual(soc_when_charged("nimh", 1.2), 1.0)
