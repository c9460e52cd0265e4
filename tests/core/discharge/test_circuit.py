import math
from functools import cache

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.discharge import kernel
from coldstack.core.discharge.compiling import plain_copy


@cache
def plain():
    """The kernel's functions as ordinary Python."""
    return plain_copy(kernel)


def current(law, load, emf, ohm):
    return plain().current_a(law, load, emf, ohm)


class CurrentOfALoad(SimpleTestCase):
    def test_amps_are_the_load_while_volts_are_left(self):
        """16 V behind 0.04 Ω give 399 A, and not 400 A, at which nothing would be left at the terminals."""
        self.assertEqual(current(kernel.AMPS, 399.0, 16.0, 0.04), 399.0)
        self.assertLess(current(kernel.AMPS, 400.0, 16.0, 0.04), 0)

    def test_power_worked_by_hand(self):
        """16 V behind 0.04 Ω delivering 400 W: the smaller root of 0.04·I² − 16·I + 400 = 0 is 26.79 A."""
        amps = current(kernel.POWER, 400.0, 16.0, 0.04)
        self.assertAlmostEqual(amps, 200 - math.sqrt(30000), places=9)
        self.assertAlmostEqual(amps * (16 - amps * 0.04), 400.0, places=9)

    def test_more_than_the_source_can_give_is_no_current(self):
        """At most E² ÷ 4R = 1600 W can be had; beyond that there is collapse."""
        self.assertAlmostEqual(current(kernel.POWER, 1600.0, 16.0, 0.04), 200.0)
        self.assertLess(current(kernel.POWER, 1600.1, 16.0, 0.04), 0)

    def test_watts_from_no_resistance(self):
        """400 W from 16 V without any: 25 A."""
        self.assertEqual(current(kernel.POWER, 400.0, 16.0, 0.0), 25.0)

    @given(st.floats(3, 60), st.floats(0, 0.2), st.floats(0.001, 5), st.sampled_from([1, 2]))
    def test_throttle_solves_its_own_equation(self, emf, r, a, k):
        """I = a·V^k and V = E − I·R hold at once."""
        amps = current((kernel.THROTTLE1, kernel.THROTTLE2)[k - 1], a, emf, r)
        volts = emf - amps * r
        self.assertGreater(volts, 0)
        self.assertAlmostEqual(amps, a * volts**k, delta=1e-6 * max(amps, 1))


class Pieces(SimpleTestCase):
    def test_resistance_of_a_warm_cell_follows_the_exponential(self):
        """The series about a temperature not far off is the exponential to a millionth, from −20 to 100 °C
        and back."""
        import numpy as np

        k = plain()
        c = np.zeros((1, k.ROWS))
        c[0, k.R25], c[0, k.ANCHOR_OHM], c[0, k.ANCHOR_K] = 0.004, 0.004, 298.15
        c[0, k.ANCHOR_SLOPE] = 2600.0 / 298.15**2
        for warm_c in (25.0, 26.0, 31.0, 60.0, 100.0, 99.0, 40.0, 0.0, -20.0, -19.5):
            expected = 0.004 * math.exp(2600.0 * (1 / (warm_c + 273.15) - 1 / 298.15))
            self.assertAlmostEqual(k.warm_ohm(c, 0, warm_c) / expected, 1.0, delta=1e-5, msg=warm_c)

    def test_a_hold_is_counted_from_the_crossing(self):
        """Above a limit there is none; the first instant below begins it; it goes on while they stay."""
        k = plain()
        self.assertEqual(k.since_below(5.0, 9.0, 3.3, 3.2), k.NEVER)
        self.assertEqual(k.since_below(k.NEVER, 9.0, 3.2, 3.2), 9.0)
        self.assertEqual(k.since_below(5.0, 9.0, 3.1, 3.2), 5.0)

    def test_a_fall_meets_its_limit_in_proportion(self):
        """From 3.4 to 3.0 V, 3.3 is met after a quarter; a limit that is not passed is met at the end."""
        k = plain()
        self.assertAlmostEqual(k.passed_at(3.4, 3.3, 3.0, 1e-4), 0.25)
        self.assertEqual(k.passed_at(3.4, 2.9, 3.0, 1e-4), 1.0)
