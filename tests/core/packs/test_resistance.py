"""What a cell resists by all that is known: against honest truths, and what a measurement does to it."""

from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.cells.chemistry import CHEMISTRIES, CHEMISTRY_IDS
from coldstack.core.packs.measured import EXPECTED_SPREAD, METER_SPREAD, about
from coldstack.core.packs.pack import LogFindings
from coldstack.core.packs.resistance import cell_resistance, expected_mohm, expected_slow_mohm
from coldstack.core.trial.candidates import from_packs
from tests.core.trial.jobs import pack

BEST_MOHM_AH = 3.90625
"""An honest 40C: 6250 ÷ 40²."""


class Labels(SimpleTestCase):
    def test_against_the_best_that_cells_are_met_with(self):
        """Truths of 1 to 1.4 times an honest 40C, under labels from 60C to 200C: resistance within 25 % in
        the median, amps never above 1.2 times."""
        rng, off, over = np.random.default_rng(40), [], []
        for _ in range(300):
            ah, label = float(rng.uniform(0.5, 10)), float(rng.uniform(60, 200))
            truth = BEST_MOHM_AH * float(rng.uniform(1.0, 1.4)) / ah
            c = from_packs([pack(capacity_ah=ah, label_c=label)], "cautious")
            off.append(abs(float(c.cell_mohm[0]) / truth - 1))
            over.append(float(c.continuous_a[0]) / (2.5 * np.sqrt(ah / (truth / 1000))))
        self.assertLess(np.median(off), 0.25)
        self.assertLess(max(over), 1.2)

    def test_as_printed_believes_it(self):
        """100C of 5 Ah: 0.125 mΩ and 500 A, for those who want it so."""
        c = from_packs([pack(capacity_ah=5.0, label_c=100.0)], "as_printed")
        self.assertAlmostEqual(float(c.cell_mohm[0]), 0.125)
        self.assertAlmostEqual(float(c.continuous_a[0]), 500.0)

    def test_no_reading_lifts_amps_beyond_what_is_usual(self):
        """An unlabelled 5 Ah Li-ion of 12 mΩ stays at its usual 3C, a semi-solid at 5C, a LiPo at 20C."""
        for chemistry, amps in (("liion", 15.0), ("semisolid", 25.0), ("lipo", 100.0)):
            one = pack(chemistry=chemistry, capacity_ah=5.0, label_c=None, cell_mohm=1.0)
            self.assertAlmostEqual(float(from_packs([one], "cautious").continuous_a[0]), amps)


class Measurements(SimpleTestCase):
    @given(st.floats(0.3, 40), st.sampled_from(CHEMISTRY_IDS), st.sampled_from([None, 20.0, 60.0, 150.0]))
    def test_none_makes_it_less_sure_or_moves_it_past_itself(self, mohm, chemistry, label_c):
        """Between what was to be expected and what was read, and nearer to that; surer than either."""
        one = pack(chemistry=chemistry, label_c=label_c)
        before, after = cell_resistance(one), cell_resistance(replace(one, cell_mohm=mohm))
        read = mohm * CHEMISTRIES[chemistry].eases
        self.assertLess(after.spread, before.spread)
        low, high = sorted((before.value, read))
        self.assertTrue(low * (1 - 1e-9) <= after.value <= high * (1 + 1e-9))
        self.assertLess(abs(np.log(after.value / read)), 0.06 if CHEMISTRIES[chemistry].eases == 1 else 0.16)

    def test_without_any_it_is_what_the_label_lets_one_expect(self):
        """A factor of two either way."""
        found = cell_resistance(pack(label_c=30.0))
        self.assertAlmostEqual(found.value, 6250 / 25**2 / 4.0)
        self.assertAlmostEqual(found.spread, EXPECTED_SPREAD[0])
        self.assertEqual((about(found.spread), about(0.25)), ("a factor of 2 either way", "± 25 %"))

    def test_a_log_alone_is_no_surer_than_logs_agree(self):
        """A fit of ± 5 % counts as ± 30 % at least: logs of one pack differ by as much."""
        found = cell_resistance(pack(learnt=LogFindings("log", 4.0, 0.05)))
        self.assertTrue(METER_SPREAD["charger"] * 0.95 < found.spread < 0.31)

    def test_what_a_meter_reads_leaves_the_slow_part_as_it_is(self):
        """Of LiPo whatever was read; of Li-ion what was read lower is in the slow part, never less."""
        index, ah = np.array([CHEMISTRY_IDS.index(c) for c in ("lipo", "liion")]), np.array([4.0, 4.0])
        expected = expected_mohm(index, ah, np.full(2, np.nan), "cautious")
        usual = expected_slow_mohm(index, ah, expected)
        for times in (0.5, 1.0, 2.0):
            slow = expected_slow_mohm(index, ah, expected, times * expected)
            self.assertAlmostEqual(slow[0], usual[0])
            self.assertAlmostEqual(slow[1], usual[1] + max(1 - times, 0) * expected[1])
        np.testing.assert_allclose(usual * ah, (20.0, 150.0))

    def test_cells_for_more_current_have_less_of_it(self):
        """In proportion: 40C honest against the usual 20C, a quarter of 20 mΩ·Ah."""
        index, ah = np.array([CHEMISTRY_IDS.index("lipo")]), np.ones(1)
        expected = expected_mohm(index, ah, np.array([100.0]), "cautious")
        self.assertAlmostEqual(float(expected_slow_mohm(index, ah, expected)[0]), 5.0)
        # nor more than usual for cells that are made for less
        self.assertAlmostEqual(float(expected_slow_mohm(index, ah, 3 * usual_mohm())[0]), 20.0)


def usual_mohm():
    """Of a LiPo cell of one Ah without a label."""
    return expected_mohm(np.array([CHEMISTRY_IDS.index("lipo")]), np.ones(1), np.full(1, np.nan), "cautious")
