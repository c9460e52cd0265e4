from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.chain.plugs import PLUGS, plug_family
from coldstack.core.chain.wire import (
    lead_pair_resistance_mohm,
    limit_words,
    usual_table_a,
    wire_continuous_a,
    wire_diameter_mm,
    wire_outside_mm,
    wire_resistance_mohm_per_m,
)
from coldstack.core.errors import DomainError


class Wire(SimpleTestCase):
    def test_published_gauges(self):
        """Diameter and copper resistance of the American gauge table (ASTM B258): 10, 14 and 20 AWG."""
        for awg, diameter, ohm_per_km in ((10, 2.588, 3.277), (14, 1.628, 8.286), (20, 0.812, 33.31)):
            self.assertAlmostEqual(wire_diameter_mm(awg), diameter, places=3)
            self.assertAlmostEqual(wire_resistance_mohm_per_m(awg), ohm_per_km, delta=0.01 * ohm_per_km)

    def test_the_limit_is_where_heat_is_shed(self):
        """At the continuous current a metre of hot 14 AWG turns into heat just what 60 K shed through its
        insulation."""
        amps = wire_continuous_a(14)
        heat_w = amps**2 * wire_resistance_mohm_per_m(14, temperature_c=80) / 1000
        self.assertAlmostEqual(heat_w, 12 * 3.14159265 * 3.5 / 1000 * 60, delta=0.01)

    def test_beside_the_usual_table(self):
        """From 22 AWG on the heat of silicone wire and the table of handbooks agree within 15 %; thin wires
        bear more than the table says, which is shown beside it."""
        for awg in (22, 20, 18, 16, 14, 12, 10, 8, 6):
            self.assertAlmostEqual(wire_continuous_a(awg) / usual_table_a(awg), 1.0, delta=0.15, msg=awg)
        self.assertTrue(usual_table_a(26) < wire_continuous_a(26) < 4.7)
        self.assertIn("the usual table says 2.2 A", limit_words(26))
        self.assertNotIn("table", limit_words(13))

    def test_outsides_between_and_beyond_those_that_are_sold(self):
        """15 AWG halfway between 14 and 16; 2 and 32 AWG with as much insulation as the last."""
        self.assertAlmostEqual(wire_outside_mm(15), 3.25)
        for beyond, last in ((2, 4), (32, 30)):
            thick, known = (wire_outside_mm(g) - wire_diameter_mm(g) for g in (beyond, last))
            self.assertAlmostEqual(thick, known)

    @given(st.floats(4, 30))
    def test_thicker_carries_more_and_resists_less(self, awg):
        """A smaller gauge number is a thicker wire."""
        self.assertGreater(wire_continuous_a(awg - 1), wire_continuous_a(awg))
        self.assertLess(lead_pair_resistance_mohm(awg - 1, 100), lead_pair_resistance_mohm(awg, 100))

    def test_a_pair_is_there_and_back(self):
        """100 mm of 14 AWG: twice 0.83 mΩ."""
        self.assertAlmostEqual(lead_pair_resistance_mohm(14, 100), 2 * 0.8286, delta=0.01)

    def test_impossible_gauges_are_refused(self):
        """Beyond 0 to 40, and NaN."""
        for awg in (-1, 41, float("nan")):
            with self.assertRaises(DomainError):
                wire_diameter_mm(awg)


class Plugs(SimpleTestCase):
    def test_families_are_possible(self):
        """Burst is above continuous, and all have a resistance."""
        for plug in PLUGS.values():
            self.assertGreater(plug.burst_a, plug.continuous_a, plug.id)
            self.assertGreater(plug.resistance_mohm, 0, plug.id)

    def test_unknown_families_are_refused(self):
        """In words."""
        with self.assertRaisesRegex(DomainError, "Plug must be one of"):
            plug_family("xt45")
