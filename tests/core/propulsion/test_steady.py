"""Hovering, level flight, rolling and floating: bounds and dimensions."""

import math

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.propulsion.steady import (
    figure_of_merit,
    floating_w,
    flown_speed,
    geared_speed,
    hover_w,
    ideal_hover_w,
    level_flight_w,
    planing_w,
    rolling_w,
)

AIR = 1.2


class Hovering(SimpleTestCase):
    @given(st.floats(0.02, 30), st.integers(1, 12), st.floats(0.02, 2), st.floats(0.9, 1.3), st.booleans())
    def test_nothing_hovers_below_the_ideal(self, kg, rotors, across, density, coaxial):
        """Momentum theory's least watts are never reached."""
        taken = hover_w(kg, rotors, across, density, coaxial=coaxial)
        self.assertGreater(taken, ideal_hover_w(kg, rotors, across, density))

    @given(st.floats(0.05, 10), st.integers(1, 8), st.floats(0.05, 1), st.floats(1.1, 3))
    def test_watts_go_with_mass_to_the_one_and_a_half_over_the_root_of_the_area(
        self, kg, rotors, across, more
    ):
        """At the same discs, and at the same mass on more of the same discs."""
        here = hover_w(kg, rotors, across, AIR)
        self.assertAlmostEqual(hover_w(more * kg, rotors, across, AIR) / here, more**1.5, places=6)
        self.assertAlmostEqual(hover_w(kg, 4 * rotors, across, AIR) / here, 0.5, places=6)

    def test_by_hand(self):
        """1 kg on four 10-inch discs: 9.81^1.5 ÷ √(2·1.2·0.2027) = 44 W at best."""
        self.assertAlmostEqual(ideal_hover_w(1.0, 4, 0.254, AIR), 44.05, delta=0.1)
        merits = [figure_of_merit(x) for x in (0.01, 0.03, 0.1, 0.127, 0.3, 0.6, 2.0)]
        self.assertEqual(merits, sorted(merits))
        self.assertLess(max(merits), 1)


class Flying(SimpleTestCase):
    def test_level_flight_by_hand(self):
        """1.5 kg at 14 m/s with a glide of 8: 1.5·9.81·14 ÷ 8 ÷ 0.55 = 46.8 W."""
        self.assertAlmostEqual(level_flight_w(1.5, 14, 8), 46.8, delta=0.05)

    def test_a_heavier_wing_flies_faster(self):
        """By the root of its loading: 1.5·√(2·m·g ÷ (ρ·S·1.1))."""
        self.assertAlmostEqual(
            flown_speed(1.5, 0.35, AIR), 1.5 * math.sqrt(29.43 / (1.2 * 0.35 * 1.1)), places=9
        )
        self.assertAlmostEqual(flown_speed(6.0, 0.35, AIR) / flown_speed(1.5, 0.35, AIR), 2)


class OnTheGround(SimpleTestCase):
    def test_gearing(self):
        """3600 kV on 7.4 V holds 84 %, through 6 : 1 on 64 mm wheels: 12.5 m/s."""
        self.assertAlmostEqual(geared_speed(3600, 7.4, 6.0, 0.064, 0.84), 12.50, delta=0.01)

    @given(st.floats(0.2, 12), st.floats(0.3, 25), st.floats(0.02, 0.3), st.floats(1, 60))
    def test_faster_rougher_and_with_more_starts_takes_more(self, kg, speed, rolling, every):
        """And never less than the rolling itself."""
        here = rolling_w(kg, speed, rolling=rolling, density=AIR, starts_every_s=every)
        self.assertGreater(here, rolling * kg * 9.81 * speed)
        for more in (
            rolling_w(kg, 1.3 * speed, rolling=rolling, density=AIR, starts_every_s=every),
            rolling_w(kg, speed, rolling=1.5 * rolling, density=AIR, starts_every_s=every),
            rolling_w(kg, speed, rolling=rolling, density=AIR, starts_every_s=every / 2),
        ):
            self.assertGreater(more, here)


class OnWater(SimpleTestCase):
    def test_friction_by_hand(self):
        """4 kg, 0.7 m, 0.9 m/s: Re 5.7·10⁵, C_F 0.00531, 0.138 m² wetted; below hull speed nothing climbs."""
        friction = 0.075 / (math.log10(0.9 * 0.7 / 1.1e-6) - 2) ** 2
        drag = 2.2 * friction * 500 * 2.6 * math.sqrt(0.004 * 0.7) * 0.81
        self.assertAlmostEqual(floating_w(4.0, 0.7, 0.9), drag * 0.9 / 0.15, places=6)

    def test_steeper_beyond_hull_speed(self):
        """Below it watts grow with about the cube of the speed, above with far more."""
        hull = 1.25 * math.sqrt(0.7)
        below = floating_w(4, 0.7, 0.9 * hull) / floating_w(4, 0.7, 0.45 * hull)
        above = floating_w(4, 0.7, 2.0 * hull) / floating_w(4, 0.7, hull)
        self.assertTrue(6 < below < 8.2, below)
        self.assertGreater(above, 60)

    def test_planing_goes_with_weight_and_speed(self):
        """2 kg at 12 m/s: 2·9.81·12 ÷ 3 ÷ 0.3 = 262 W."""
        self.assertAlmostEqual(planing_w(2.0, 12.0), 261.6, delta=0.1)
