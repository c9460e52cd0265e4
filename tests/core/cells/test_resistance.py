import math

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.cells.resistance import (
    _monotone_cubic,
    held_for_a,
    honest_current_a,
    label_for_c,
    resistance_from_c_mohm,
    soc_factor,
    soc_factor_curve,
    temperature_factor,
    trusted_c,
)
from coldstack.core.errors import DomainError


class Curve(SimpleTestCase):
    def test_a_straight_line_stays_one(self):
        """Through points that lie unevenly on it."""
        x, at = np.array([0.0, 0.5, 2.0, 6.0]), np.linspace(0, 6, 25)
        np.testing.assert_allclose(_monotone_cubic(x, 3 * x + 1, at), 3 * at + 1)

    def test_it_rises_where_its_points_rise(self):
        """And is level between two that are: no overshoot by a steep neighbour."""
        x, y = np.array([0.0, 1.0, 1.5, 5.0]), np.array([0.0, 4.0, 4.0, 9.0])
        found = _monotone_cubic(x, y, np.linspace(0, 5, 101))
        self.assertGreaterEqual(float(np.diff(found).min()), -1e-12)
        np.testing.assert_allclose(_monotone_cubic(x, y, np.array([1.0, 1.2, 1.5])), 4.0)


class HonestCurrent(SimpleTestCase):
    def test_worked_by_hand(self):
        """3 mΩ and 4 Ah: 2.5·√(4 ÷ 0.003) = 91.3 A; the cell then turns 25 W into heat, 6.25 W per Ah."""
        amps = float(honest_current_a(3.0, 4.0))
        self.assertAlmostEqual(amps, 91.287, places=3)
        self.assertAlmostEqual(amps**2 * 0.003 / 4.0, 6.25, places=9)

    @given(st.floats(1, 150), st.floats(0.05, 30))
    def test_resistance_of_a_c_rating_gives_that_rating_back(self, c, ah):
        """The inverse of the heat rule is its inverse."""
        r = resistance_from_c_mohm(c, ah)
        self.assertAlmostEqual(float(honest_current_a(r, ah)) / ah, c, delta=1e-6 * c)

    def test_an_array_gives_what_single_values_give(self):
        """Elementwise, whatever the shape."""
        many = honest_current_a(np.array([2.0, 5.0]), np.array([3.0, 1.0]))
        self.assertEqual(
            [float(x) for x in many], [float(honest_current_a(2.0, 3.0)), float(honest_current_a(5.0, 1.0))]
        )

    def test_zero_negative_and_nan_are_refused(self):
        """No resistance is no resistance that a cell has."""
        for bad in (0.0, -1.0, math.nan):
            with self.assertRaises(DomainError):
                honest_current_a(bad, 3.0)
            with self.assertRaises(DomainError):
                resistance_from_c_mohm(20.0, bad)


class LabelTrustRule(SimpleTestCase):
    def test_worked_by_hand(self):
        """100C is taken for 100C, or for 40C, the best that cells are met with; 52C for 52, 36 (20 + 32 ÷ 2)
        or 28 (20 + 32 ÷ 4)."""
        for trust, expected in (
            ("as_printed", (100, 52, 15)),
            ("cautious", (40, 36, 15)),
            ("sceptical", (40, 28, 15)),
        ):
            self.assertEqual(trusted_c(np.array([100.0, 52.0, 15.0]), trust).tolist(), list(expected))

    @given(st.floats(0.5, 40), st.sampled_from(("as_printed", "cautious", "sceptical")))
    def test_the_label_to_ask_for_is_taken_for_what_is_needed(self, needed, trust):
        """There and back; no label is believed beyond 40C, but by those who take it as printed."""
        self.assertAlmostEqual(float(trusted_c(label_for_c(needed, trust), trust)), needed, places=9)
        self.assertEqual(np.isinf(label_for_c(41.0, trust)), trust != "as_printed")

    @given(st.floats(1, 200), st.floats(1, 3), st.floats(10, 5000))
    def test_a_burst_beyond_its_ten_seconds(self, held, ratio, seconds):
        """No more heat over that of the continuous amps than the burst brings; never below those amps."""
        amps = float(held_for_a(held, ratio * held, seconds))
        budget = ((ratio * held) ** 2 - held**2) * 10
        self.assertAlmostEqual(
            (amps**2 - held**2) * seconds / max(budget, 1e-9), 1 if ratio > 1 else 0, places=3
        )
        self.assertGreaterEqual(amps, held - 1e-9)
        self.assertAlmostEqual(float(held_for_a(held, ratio * held, 0.5)), ratio * held)
        self.assertAlmostEqual(float(held_for_a(held, ratio * held, np.inf)), held)

    @given(st.floats(0.5, 500))
    def test_less_trust_never_takes_more(self, c):
        """As printed ≥ cautious ≥ sceptical, and never above 40C but as printed."""
        printed, cautious, sceptical = (
            float(trusted_c(c, t)) for t in ("as_printed", "cautious", "sceptical")
        )
        self.assertGreaterEqual(printed, cautious)
        self.assertGreaterEqual(cautious, sceptical)
        self.assertLessEqual(cautious, 40.0)


class Factors(SimpleTestCase):
    def test_temperature_by_arrhenius(self):
        """1 at 25 °C; at 0 °C exp(2600·(1/273.15 − 1/298.15)) = 2.221; at 60 °C 0.400."""
        self.assertAlmostEqual(float(temperature_factor(25.0)), 1.0, places=12)
        self.assertAlmostEqual(float(temperature_factor(0.0)), 2.2214, places=3)
        self.assertAlmostEqual(float(temperature_factor(60.0)), 0.4001, places=3)

    def test_charge_factor_meets_its_points_and_does_not_overshoot(self):
        """The published points are on the curve, and between them it stays between its neighbours."""
        for soc, factor in (
            (0.0, 3.3),
            (0.03, 2.6),
            (0.07, 1.6),
            (0.12, 1.4),
            (0.2, 1.2),
            (0.6, 1.0),
            (0.9, 1.02),
            (1.0, 1.12),
        ):
            self.assertAlmostEqual(soc_factor(soc), factor, delta=0.01)
        curve = soc_factor_curve()
        self.assertAlmostEqual(float(curve.min()), 1.0, places=6)
        self.assertAlmostEqual(float(curve.max()), 3.3, places=6)
        falling = curve[: int(0.6 * len(curve))]
        self.assertTrue((np.diff(falling) <= 1e-12).all())
