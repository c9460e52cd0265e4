"""Several charges at a glance."""

import unittest

from coldstack.core.watching.alarm import LOOK
from coldstack.core.watching.glance import expected_now, rank, urgency, worst_first


class Glance(unittest.TestCase):
    def test_an_alarm_before_a_look_before_nothing(self):
        """A stop outweighs a warning, a warning a look that is due."""
        cases = (
            ([("warm", "warn"), ("hot", "stop")], 300, "stop"),
            ([("warm", "warn"), (LOOK, "warn")], -5, "warn"),
            ([(LOOK, "warn")], -5, "look"),
            ([(LOOK, "stop")], -200, "stop"),
            ([], 0, "look"),
            ([], 1, "well"),
        )
        for alarms, look_in_s, expected in cases:
            with self.subTest(alarms=alarms, look_in_s=look_in_s):
                self.assertEqual(urgency(alarms, look_in_s), expected)

    def test_what_is_wrong_is_told_before_a_look(self):
        """Whichever was said first."""
        alarms = [(LOOK, "warn"), ("warm", "warn"), (LOOK, "stop")]
        self.assertEqual(sorted(alarms, key=lambda a: rank(*a)), [alarms[2], alarms[1], alarms[0]])

    def test_the_worst_first(self):
        """Among equals the one that must be looked at soonest."""
        charges = [("well", 900.0), ("look", -30.0), ("stop", 1200.0), ("well", 60.0), ("warn", 400.0)]
        self.assertEqual(
            sorted(charges, key=lambda c: worst_first(*c)),
            [("stop", 1200.0), ("warn", 400.0), ("look", -30.0), ("well", 60.0), ("well", 900.0)],
        )

    def test_expected_by_now(self):
        """Between the points of the curve; its last beyond its end; nothing where none was made."""
        self.assertAlmostEqual(expected_now([0, 10, 20], [3.7, 3.9, 4.2], 15), 4.05)
        self.assertEqual(expected_now([0, 10, 20], [3.7, 3.9, 4.2], 33), 4.2)
        self.assertIsNone(expected_now([], [], 5))
