"""Propellers as they are printed, and what they take and pull standing still."""

from dataclasses import replace

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.errors import DomainError
from coldstack.core.propulsion.propeller import (
    Propeller,
    air_density,
    power_coefficient,
    read_propeller,
    shaft_w,
    thrust_coefficient,
    thrust_n,
)

AIR = air_density(20.0)
HUMMINGBIRD_THRUST = 5.57e-6
"""Thrust of one identified rotor over its squared speed, radius 0.10 m: rotorpy 3.0.0,
vehicles/hummingbird_params.py, which names its sources. [N/(rad/s)²]"""
HUMMINGBIRD_MOMENT = 1.36e-7
"""Its yaw moment over its squared speed, there. [N·m/(rad/s)²]"""
CLARK_Y = {15.0: (0.0808, 0.0408), 19.0: (0.0949, 0.0704), 23.0: (0.1058, 0.0980)}
"""Thrust and power coefficients of two blades by their angle at three quarters of the radius [°], at the
lowest advance of the table: jsbsim 1.3.3, engine/propC6v.xml."""


class Reading(SimpleTestCase):
    def test_as_printed(self):
        """Inches, millimetres and centimetres, blades, commas, the trade's four digits."""
        cases = {
            "10x4.7": (10, 4.7, 2),
            "10 × 4,7": (10, 4.7, 2),
            '11x5.5"': (11, 5.5, 2),
            "5x4.3x3": (5, 4.3, 3),
            "5043": (5, 4.3, 2),
            "5040x3": (5, 4.0, 3),
            "1045": (10, 4.5, 2),
            "13 x 6.5, 3-blade": (13, 6.5, 3),
            "9x6 three blades": (9, 6, 3),
            "254 x 119 mm": (10, 4.685, 2),
            "25.4 x 11.9 cm": (10, 4.685, 2),
            "10x5E": (10, 5, 2),
            "12/6": (12, 6, 2),
        }
        for text, (diameter, pitch, blades) in cases.items():
            with self.subTest(text):
                p = read_propeller(text)
                self.assertAlmostEqual(p.diameter_in, diameter, places=2)
                self.assertAlmostEqual(p.pitch_in, pitch, places=2)
                self.assertEqual(p.blades, blades)

    def test_what_is_none(self):
        """Refused at its field, with how to write it."""
        for text in ("big one", "10", "x", "0x5", "10x", "100x50", "10x0.5", "5x30", "10x5x9"):
            with self.subTest(text):
                with self.assertRaises(DomainError) as refused:
                    read_propeller(text)
                self.assertEqual(refused.exception.field, "propulsion.propeller")

    @given(st.floats(1, 39), st.floats(0.2, 1.5), st.integers(2, 6))
    def test_its_words_read_as_itself(self, diameter, share, blades):
        """To the digits that are written."""
        p = Propeller(round(diameter, 1), round(diameter * share, 1), blades)
        self.assertEqual(read_propeller(p.words), p)


class Dimensions(SimpleTestCase):
    @given(st.floats(2, 20), st.floats(0.4, 0.9), st.floats(10, 400), st.floats(0.9, 1.3))
    def test_watts_go_with_n3_d5_and_thrust_with_n2_d4(self, diameter, share, n, density):
        """Twice the speed takes eight times the watts; twice the diameter 32 times."""
        p = Propeller(diameter, share * diameter)
        large = replace(p, diameter_in=2 * p.diameter_in, pitch_in=2 * p.pitch_in)
        self.assertAlmostEqual(shaft_w(p, 2 * n, density) / shaft_w(p, n, density), 8, places=6)
        self.assertAlmostEqual(shaft_w(large, n, density) / shaft_w(p, n, density), 32, places=6)
        self.assertAlmostEqual(thrust_n(p, 2 * n, density) / thrust_n(p, n, density), 4, places=6)
        self.assertAlmostEqual(thrust_n(large, n, density) / thrust_n(p, n, density), 16, places=6)

    def test_a_propeller_by_hand(self):
        """10 × 5 at 8000 rpm: 0.0455·1.204·133.3³·0.254⁵ = 137 W, 0.11·1.204·133.3²·0.254⁴ = 9.8 N."""
        p = Propeller(10, 5)
        self.assertAlmostEqual(AIR, 1.2041, places=3)
        self.assertAlmostEqual(shaft_w(p, 8000 / 60, AIR), 137.2, delta=0.3)
        self.assertAlmostEqual(thrust_n(p, 8000 / 60, AIR), 9.80, delta=0.02)

    def test_more_pitch_and_more_blades_take_more(self):
        """Never less pull either."""
        shares = [power_coefficient(Propeller(10, x)) for x in (2, 4, 5, 6, 8, 9, 12)]
        self.assertEqual(shares, sorted(shares))
        for few, many in ((2, 3), (3, 4), (4, 5), (5, 6)):
            a, b = Propeller(8, 4, few), Propeller(8, 4, many)
            self.assertGreater(power_coefficient(b), power_coefficient(a))
            self.assertGreater(thrust_coefficient(b), thrust_coefficient(a))


class AgainstFiguresWithASource(SimpleTestCase):
    """How far typical coefficients are from those that packages ship; the spread must cover that."""

    def test_an_identified_rotor(self):
        """Its thrust coefficient within 5 %; its power within the factor that the spread allows."""
        tau, across = 2 * 3.141592653589793, 0.20
        thrust = HUMMINGBIRD_THRUST * tau**2 / (1.225 * across**4)
        power = HUMMINGBIRD_MOMENT * tau**3 / (1.225 * across**5)
        p = Propeller(across / 0.0254, 0.56 * across / 0.0254)
        self.assertAlmostEqual(thrust / thrust_coefficient(p), 1.0, delta=0.05)
        self.assertTrue(1.4 < power / power_coefficient(p) < 1.7, power / power_coefficient(p))

    def test_a_tabulated_propeller(self):
        """Watts 0.65 to 0.95 of ours, thrust 0.73 to 0.97, for pitches of 0.6 to 1.0 of the diameter."""
        from math import pi, radians, tan

        for angle, (thrust, power) in CLARK_Y.items():
            p = Propeller(10, 10 * 0.75 * pi * tan(radians(angle)))
            with self.subTest(angle):
                self.assertTrue(0.65 < power / power_coefficient(p) < 0.95, power / power_coefficient(p))
                self.assertTrue(0.73 < thrust / thrust_coefficient(p) < 0.97)
