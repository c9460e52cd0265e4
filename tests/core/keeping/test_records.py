"""Like with like, robust lines, and cycles left."""

import math

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.errors import DomainError
from coldstack.core.keeping.records import (
    FEWEST_FOR_TREND,
    Record,
    Trend,
    capacity_by_charge,
    cell_ratios,
    cycles_until,
    resistance_at_25_c,
    trend,
    typed_resistances,
)


def read(mohm=(3.0, 3.0), temperature_c=25.0, soc=0.6, **more):
    return Record(day=0, cycle=1, cell_mohm=mohm, temperature_c=temperature_c, soc=soc, **more)


class LikeWithLike(SimpleTestCase):
    def test_25_degrees_is_as_read(self):
        """And by hand at 8 °C: ÷ exp(2600·(1/281.15 − 1/298.15)) = ÷ 1.694."""
        self.assertEqual(resistance_at_25_c(read()), (3.0, 3.0))
        self.assertAlmostEqual(
            resistance_at_25_c(read(temperature_c=8.0))[0], 3.0 / math.exp(2600 * (1 / 281.15 - 1 / 298.15))
        )

    def test_8_and_24_degrees_of_the_same_pack_agree(self):
        """What the cold adds is taken off again."""
        true = 3.0
        seen = [true * math.exp(2600 * (1 / (t + 273.15) - 1 / 298.15)) for t in (8.0, 24.0)]
        back = [resistance_at_25_c(read((r, r), t))[0] for r, t in zip(seen, (8.0, 24.0), strict=True)]
        self.assertAlmostEqual(back[0], back[1])

    def test_what_is_not_compared(self):
        """Unknown temperature, hard frost, nearly empty or quite full; nothing read."""
        for r in (
            read(temperature_c=None),
            read(temperature_c=-5.1),
            read(soc=0.2),
            read(soc=0.95),
            read(mohm=None),
        ):
            with self.subTest(r):
                self.assertIsNone(resistance_at_25_c(r))

    def test_ratios(self):
        """Each cell over the median of the others."""
        self.assertEqual(cell_ratios((3.0, 3.0, 6.0)), (3.0 / 4.5, 3.0 / 4.5, 2.0))
        self.assertEqual(cell_ratios((3.0,)), (1.0,))


class Lines(SimpleTestCase):
    def test_a_line_is_found_and_wild_points_do_not_bend_it(self):
        """y = 2 + 0.1 x with two points far out of twenty."""
        x = list(range(20))
        y = [2 + 0.1 * v for v in x]
        y[4], y[15] = 30.0, -20.0
        found = trend(x, y)
        self.assertAlmostEqual(found.slope, 0.1)
        self.assertAlmostEqual(found.now, 3.9)

    def test_against_least_squares_where_there_are_none(self):
        """Within the noise of an ordinary fit; the true slope lies in the range."""
        rng = np.random.default_rng(4)
        x = np.arange(60.0)
        y = 1 - 0.004 * x + 0.02 * rng.standard_normal(60)
        found = trend(x, y)
        self.assertAlmostEqual(found.slope, float(np.polyfit(x, y, 1)[0]), delta=4e-4)
        self.assertTrue(found.slope_low <= -0.004 <= found.slope_high)

    def test_too_early(self):
        """Seven points, or all at one cycle."""
        self.assertIsNone(trend(range(FEWEST_FOR_TREND - 1), range(FEWEST_FOR_TREND - 1)))
        self.assertIsNone(trend([3] * 9, range(9)))
        with self.assertRaises(DomainError):
            trend([1, 2], [1])

    @given(st.lists(st.floats(-100, 100), min_size=8, max_size=25))
    def test_the_slope_lies_in_its_range(self, values):
        """Whatever the values."""
        found = trend(range(len(values)), values)
        self.assertTrue(found.slope_low <= found.slope <= found.slope_high)

    def test_cycles_left(self):
        """From 90 % at −0.5 % a cycle: 20 to 80 %, 10 to 40 by the slope's range; away from it: none."""
        t = Trend(-0.005, -0.01, -0.0025, 0.9, 20)
        self.assertEqual(cycles_until(t, 0.8), (20, 10, 40))
        self.assertEqual(cycles_until(Trend(-0.005, -0.01, 0.001, 0.9, 20), 0.8), (20, 10, None))
        self.assertIsNone(cycles_until(Trend(0.005, 0.001, 0.01, 0.9, 20), 0.8))


class Typed(SimpleTestCase):
    def test_resistances(self):
        """As people type them."""
        for text in ("2.4 2.5 2.4", "2,4  2,5 2,4", " 2.4;2.5;2.4 ", "2.4/2.5/2.4"):
            self.assertEqual(typed_resistances(text, 3), (2.4, 2.5, 2.4))
        self.assertEqual(typed_resistances("85", 1), (85.0,))

    def test_what_is_no_resistance(self):
        """A word, nothing above zero, Ohms by mistake, too few cells."""
        for text, words in (
            ("2.4 high 2.4", "“high”"),
            ("0 2 2", "“0”"),
            ("2.4 -2 2", "“-2”"),
            ("9999 2 2", "“9999”"),
            ("2.4 2.5", "3 cells in series; 2 resistances were"),
            ("2.4", "1 resistance was"),
            ("", "0 resistances were"),
        ):
            with self.subTest(text), self.assertRaises(DomainError) as caught:
                typed_resistances(text, 3)
            self.assertEqual(caught.exception.field, "mohm")
            self.assertIn(words, caught.exception.sentence)

    def test_capacity_by_a_charge(self):
        """2800 mAh from 20 to 90 % are 4 Ah; from 60 % on it says too little; none put in is refused."""
        self.assertAlmostEqual(capacity_by_charge(2800, 0.2, 0.9), 4.0)
        self.assertIsNone(capacity_by_charge(1600, 0.6, 1.0))
        self.assertIsNotNone(capacity_by_charge(2000, 0.5, 1.0))
        for mah in (0, -5, float("nan")):
            with self.assertRaises(DomainError):
                capacity_by_charge(mah, 0.2, 1.0)
