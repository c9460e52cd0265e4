"""What a pack holds and resists today: its records and its log as one, each by its own error."""

import math
from dataclasses import replace

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.packs.health import StateOfHealth
from coldstack.core.packs.measured import CHARGED_SPREAD, METER_SPREAD, Measured, joined
from coldstack.core.packs.pack import LogFindings
from tests.core.trial.jobs import pack

FOUND = st.builds(Measured, st.floats(0.5, 10.0), st.floats(0.01, 0.5))


class Joined(SimpleTestCase):
    def test_of_none_and_of_one(self):
        """Nothing, and itself."""
        self.assertIsNone(joined([]))
        self.assertEqual(joined([Measured(4.0, 0.1)]), Measured(4.0, 0.1))

    def test_two_as_sure(self):
        """Their middle, surer by √2."""
        found = joined([Measured(2.0, 0.2), Measured(8.0, 0.2)])
        self.assertAlmostEqual(found.value, 4.0)
        self.assertAlmostEqual(math.log1p(found.spread), math.log1p(0.2) / math.sqrt(2))

    @given(st.lists(FOUND, min_size=1, max_size=5), FOUND)
    def test_one_more_never_makes_it_less_sure(self, many, more):
        """Nor takes it beyond what was measured."""
        found = joined([*many, more])
        self.assertLessEqual(found.spread, joined(many).spread + 1e-12)
        values = [m.value for m in (*many, more)]
        self.assertTrue(min(values) - 1e-9 <= found.value <= max(values) + 1e-9)


class OfAPack(SimpleTestCase):
    def test_which_goes_before_which(self):
        """Label; typed; records; records and log between the two, nearer to the surer."""
        label = pack(cell_mohm=None)
        self.assertEqual((label.held_ah, label.measured_mohm), (4.0, None))
        self.assertEqual(pack(cell_mohm=3.0).measured_mohm, 3.0)
        today = StateOfHealth(capacity_ah=3.4, cell_mohm=4.0)
        told = pack(cell_mohm=3.0, today=today)
        self.assertEqual((told.held_ah, told.measured_mohm), (3.4, 4.0))
        self.assertEqual(told.measured_resistance.spread, METER_SPREAD[""])
        self.assertEqual(told.measured_capacity.spread, CHARGED_SPREAD)
        log = LogFindings("log", 5.0, 0.05, capacity_ah=3.6, capacity_spread=0.12)
        both = replace(told, learnt=log)
        self.assertTrue(3.4 < both.held_ah < 3.42)
        # the log's own ± 30 % weighs less than the reading's 25
        self.assertTrue(4.3 < both.measured_mohm < 4.5)

    def test_how_far_off_each_may_be(self):
        """A reading of a charger is 25 % off at most, a capacity by its charges 3 %: what the ranges of
        minutes are made of."""
        self.assertEqual((METER_SPREAD[""], CHARGED_SPREAD), (0.25, 0.03))
