"""Ranges over random households, and what boards do with resistances drawn from theirs."""

import numpy as np
from django.test import SimpleTestCase

from bench.boards import over_share
from bench.households import KNOWN, household
from tests.thorough import many


class Households(SimpleTestCase):
    def test_the_range_holds_nine_in_ten(self):
        """By the label alone, by a reading, by a reading and charges: 88 to 96 % of the truths (a little more
        room for so few), half of all no wider than 45 and 22 %."""
        rng, count = np.random.default_rng(29), many(400, 200)
        for known, widest in zip(KNOWN, (0.45, 0.22, 0.22), strict=True):
            found = [x for _ in range(count) if (x := household(rng, known)) is not None]
            held = sum(low <= 1 <= high for low, high, _ in found) / len(found)
            self.assertTrue(0.84 <= held <= 0.985, (known, held))
            self.assertLessEqual(float(np.median([w for *_, w in found])), widest, known)


class Boards(SimpleTestCase):
    def test_nobody_is_far_over_its_own(self):
        """Resistances and capacities drawn from what is known of them: somebody over 120 % after the first
        minute in 2 % of the draws at most."""
        for measured in (True, False):
            over, given = over_share(many(100, 30), measured=measured)
            self.assertLessEqual(over, 0.02)
            self.assertGreater(given, 0.4)
