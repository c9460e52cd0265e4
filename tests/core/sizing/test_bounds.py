"""The work of a plan is bounded by how coarse its grid may become, and it says so."""

from dataclasses import replace

from django.test import SimpleTestCase

from coldstack.core.draw.duty import Phase
from coldstack.core.sizing.bounds import MOST_STEPS, bearable, steps_of_a_run
from coldstack.core.sizing.plan import Fineness, coarser
from tests.core.trial.jobs import job


class Bounds(SimpleTestCase):
    def many(self):
        """Two hundred phases of a tenth of a second."""
        phases = tuple(Phase(0.1, "power", 10 + k / 10) for k in range(200))
        return replace(job(), duty=replace(job().duty, phases=phases))

    def faint(self):
        """Two milliamps: every pack lasts as long as it is looked at."""
        phases = tuple(replace(p, current_a=0.002) for p in job().duty.phases)
        return replace(job(), duty=replace(job().duty, phases=phases))

    def test_the_usual_is_left_alone(self):
        """The usual grid under any draw but the worst, and twenty thousand packs under a usual one."""
        self.assertEqual(bearable(job(), 24, 8, 3), (24, 8))
        self.assertEqual(bearable(job(), 120, 60, 3), (120, 60))
        self.assertEqual(bearable(self.faint(), 24, 8, 3), (24, 8))

    def test_the_dear_is_made_coarser(self):
        """To what can be run in a few seconds, never to nothing."""
        for dear in (self.many(), self.faint()):
            sizes, rates = bearable(dear, 120, 60, 14)
            self.assertTrue(2 <= sizes < 120 and 2 <= rates < 60)
            self.assertLessEqual(14 * sizes * rates * steps_of_a_run(dear), MOST_STEPS * 1.01)
        self.assertEqual(bearable(self.many(), 2, 2, 10_000_000), (2, 2))

    def test_it_says_so(self):
        """In words with both figures; nothing where nothing was left out."""
        self.assertEqual(coarser(job(), Fineness()), "")
        self.assertRegex(
            coarser(self.many(), Fineness(120, 60)), r"\d+ sizes by \d+ C ratings .* in place of 120 by 60"
        )
