"""Propellers for other volts."""

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.propulsion.motor import Motor
from coldstack.core.propulsion.propeller import Propeller
from coldstack.core.propulsion.refits import (
    SAME_THRUST,
    FullStickLimits,
    Setup,
    as_strong,
    largest_within,
    refit,
    sold_sizes,
)

setups = st.builds(
    lambda kv, d, share, v, a: Setup(Motor(kv), Propeller(d, d * share), v, a, 0.84, 1.2),
    st.floats(300, 3000),
    st.integers(3, 18).map(float),
    st.floats(0.4, 0.8),
    st.floats(7, 30),
    st.floats(5, 100),
)


class Refits(SimpleTestCase):
    @given(setups)
    def test_the_present_one_is_itself(self, setup):
        """The same propeller at the same volts takes what was measured, whatever the coefficients say."""
        here = refit(setup, setup.propeller, setup.volts, FullStickLimits())
        self.assertAlmostEqual(here.full_stick_a, setup.full_stick_a)
        self.assertAlmostEqual(here.thrust, 1)
        self.assertAlmostEqual(here.pitch_speed, 1)
        self.assertIsNone(here.loading)

    @given(setups)
    def test_one_cell_more_on_the_same_propeller(self, setup):
        """Amps go with the square of the volts, thrust too, pitch speed with the volts."""
        more = refit(setup, setup.propeller, 4 / 3 * setup.volts, FullStickLimits())
        self.assertAlmostEqual(more.full_stick_a / setup.full_stick_a, 16 / 9, places=6)
        self.assertAlmostEqual(more.thrust, 16 / 9, places=6)
        self.assertAlmostEqual(more.pitch_speed, 4 / 3, places=6)

    @given(setups, st.floats(0.7, 1.4), st.floats(0.6, 2))
    def test_the_largest_within_is_within_and_the_next_is_not(self, setup, volts, room):
        """By each size that is sold."""
        limits = FullStickLimits(
            controller_a=room * setup.full_stick_a, motor_a=1.5 * room * setup.full_stick_a
        )
        found = largest_within(setup, volts * setup.volts, limits)
        sizes = sold_sizes(setup.propeller)
        loads = [refit(setup, p, volts * setup.volts, limits).loading for p in sizes]
        if found is None:
            self.assertGreater(loads[0], 1)
            return
        at = sizes.index(found.propeller)
        self.assertLessEqual(found.loading, 1)
        self.assertEqual(found.bound, "controller")
        self.assertTrue(at == len(sizes) - 1 or loads[at + 1] > 1)

    @given(setups)
    def test_fewer_volts_want_a_larger_one(self, setup):
        """To pull as now; the next smaller one does not."""
        found = as_strong(setup, 0.75 * setup.volts, FullStickLimits())
        sizes = sold_sizes(setup.propeller)
        self.assertGreaterEqual(found.propeller.diameter_in, setup.propeller.diameter_in)
        self.assertGreaterEqual(found.thrust, SAME_THRUST)
        before = sizes[: sizes.index(found.propeller)]
        self.assertTrue(
            all(refit(setup, p, 0.75 * setup.volts, FullStickLimits()).thrust < SAME_THRUST for p in before)
        )

    def test_sizes_as_they_are_sold(self):
        """Half inches from six on, tenths below; the pitch goes along."""
        self.assertEqual([p.diameter_in for p in sold_sizes(Propeller(10, 5))][:3], [5.0, 5.5, 6.0])
        self.assertEqual(sold_sizes(Propeller(10, 5))[10].words, "10 × 5")
        self.assertEqual(sold_sizes(Propeller(3, 2))[0].diameter_in, 1.5)
        self.assertEqual(sold_sizes(Propeller(3, 2))[1].words, "1.6 × 1.1")
