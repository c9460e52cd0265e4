"""What a charge that was begun elsewhere may come to."""

import unittest
from dataclasses import replace

from coldstack.core.errors import DomainError
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HOUSE_RULES, for_chemistry
from coldstack.core.watching.judging import alarms
from coldstack.core.watching.samples import Sample
from coldstack.core.watching.strangers import expected_of_stranger, minutes_at_most

PACK = Pack("owned:01", "4S", "lipo", 4, 4.0, 350.0)
STEADY = HOUSE_RULES["steady"]


def sample(current_a=4.0, **more):
    return Sample(1, 60.0, more.pop("cell_v", (3.8,) * 4), current_a, 20.0, more.pop("mah", 66.0))


class Expected(unittest.TestCase):
    def test_by_the_pack_alone(self):
        """The rules' end, no more mAh than an empty pack takes and no longer than that lasts, with the
        margins of any charge: 4 Ah at 4 A, the taper, 3 % more capacity; times 1.1."""
        e = expected_of_stranger(PACK, [sample()], STEADY, look_every_s=600)
        self.assertEqual(
            (e.series, e.current_a, e.full_cell_v), (4, 4.0, for_chemistry(STEADY, "lipo").full_v)
        )
        self.assertTrue(1.1 * 1.1 * 3600 < e.timer_s < 1.1 * 1.5 * 3600, e.timer_s)
        self.assertAlmostEqual(minutes_at_most(e), e.timer_s / 66)
        self.assertAlmostEqual(e.cutoff_mah, 1.1 * 1.03 * 4000, delta=60)

    def test_more_than_it_may_get(self):
        """By more than an ammeter's error it is not watched but stopped."""
        expected_of_stranger(PACK, [sample(4.1)], STEADY, look_every_s=600)
        with self.assertRaisesRegex(DomainError, "4.3 A flow; .* allows 4.0 A for this pack. Stop it"):
            expected_of_stranger(PACK, [sample(4.3)], STEADY, look_every_s=600)

    def test_nothing_measured_and_hardly_anything(self):
        """Nothing to judge by is said; a trickle is reckoned as a tenth of C, and ends by the timer."""
        with self.assertRaisesRegex(DomainError, "measured nothing yet"):
            expected_of_stranger(PACK, [], STEADY, look_every_s=600)
        slow = expected_of_stranger(PACK, [sample(0.01)], STEADY, look_every_s=600)
        # what it was set to nobody knows; what it may get is known
        self.assertEqual(slow.current_a, 4.0)
        self.assertTrue(10 * 3600 < slow.timer_s / 1.1 < 11 * 3600, slow.timer_s)

    def test_what_is_over_already_is_stopped_at_once(self):
        """A cell that is over full as it is taken over, or more mAh than the pack holds."""
        e = expected_of_stranger(PACK, [sample()], STEADY, look_every_s=600)
        for said, wanted in (
            (sample(cell_v=(4.3, 4.2, 4.2, 4.2)), "over_full"),
            (sample(mah=4700.0), "cutoff"),
        ):
            with self.subTest(wanted):
                found = alarms([replace(said, seq=1)], e, looked_s=60, now_s=60)
                self.assertIn((wanted, "stop"), [(a.id, a.level) for a in found])
