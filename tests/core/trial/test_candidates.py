from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase

from coldstack.core.cells.resistance import resistance_from_c_mohm
from coldstack.core.packs.masses import typical_mass_g
from coldstack.core.sizing.builds import cell_builds, generic_grid
from coldstack.core.sizing.pairs import pairs
from coldstack.core.trial.candidates import from_packs
from tests.core.trial.jobs import cell, job, pack


class FromPacks(SimpleTestCase):
    def test_a_label_is_taken_with_caution(self):
        """30C cautious is 25C: 100 A of a 4 Ah pack, and the resistance that makes 25C honest."""
        c = from_packs([pack()], "cautious")
        self.assertAlmostEqual(c.continuous_a[0], 100.0)
        self.assertAlmostEqual(c.cell_mohm[0], float(resistance_from_c_mohm(25.0, 4.0)))
        self.assertAlmostEqual(c.burst_a[0], 150.0)

    def test_a_measured_resistance_wins_over_the_label(self):
        """3 mΩ and 4 Ah are honest for 91.3 A; what is printed shifts that by a hundredth."""
        c = from_packs([pack(cell_mohm=3.0, label_c=100.0)], "as_printed")
        self.assertAlmostEqual(c.continuous_a[0] / 91.287, 1.0, delta=0.012)

    def test_never_above_the_label_as_printed(self):
        """A resistance good for 45C does not lift a 20C label."""
        c = from_packs([pack(cell_mohm=0.77, label_c=20.0)], "sceptical")
        self.assertAlmostEqual(c.continuous_a[0], 80.0)

    def test_a_pack_known_by_its_label_only_is_less_certain(self):
        """Its resistance has the wider spread; what it holds a meter of resistance does not tell."""
        c = from_packs([pack(), pack("m", cell_mohm=3.0)], "cautious")
        self.assertGreater(c.resistance_spread[0], c.resistance_spread[1])
        self.assertEqual(c.capacity_spread[0], c.capacity_spread[1])

    def test_unknown_sizes_stay_unknown(self):
        """No length is NaN, not a guess."""
        self.assertTrue(np.isnan(from_packs([pack(length_mm=None)], "cautious").length_mm[0]))

    def test_an_empty_stock_gives_no_candidates(self):
        """And no error."""
        self.assertEqual(len(from_packs([], "cautious")), 0)


class Pairs(SimpleTestCase):
    def setUp(self):
        single = from_packs([pack("2S", series=2)], "cautious")
        self.single, joined = single, pairs(single)
        self.series, self.parallel = joined.take([0]), joined.take([1])

    def test_in_series_cells_add_and_capacity_stays(self):
        """Two 2S are 4S of the same 4 Ah, with the amps of one."""
        self.assertEqual((self.series.series[0], self.series.capacity_ah[0]), (4.0, 4.0))
        self.assertEqual(self.series.continuous_a[0], self.single.continuous_a[0])

    def test_in_parallel_capacity_and_amps_double(self):
        """Two 2S are 2S of 8 Ah, half the resistance, twice the amps."""
        self.assertEqual((self.parallel.series[0], self.parallel.capacity_ah[0]), (2.0, 8.0))
        self.assertEqual(self.parallel.continuous_a[0], 2 * self.single.continuous_a[0])
        self.assertEqual(self.parallel.cell_mohm[0], self.single.cell_mohm[0] / 2)

    def test_both_weigh_twice_and_a_harness(self):
        """5 % more than two packs."""
        self.assertAlmostEqual(self.series.mass_g[0], 2.1 * 380)
        self.assertAlmostEqual(self.parallel.mass_g[0], 2.1 * 380)


class Builds(SimpleTestCase):
    def build(self, name, **changes):
        wanted = job(wants={"chemistries": ("liion",), "mass_g": 900.0}, **changes)
        c = cell_builds([cell()], wanted, series=[4])
        return c.take([c.names.index(name)])

    def test_s_times_p_worked_by_hand(self):
        """4S2P: 9 Ah, 44 A, 8·69·1.06 + 18 = 603 g, (14 + 0.3) ÷ 2 mΩ a position, 48 € of cells."""
        b = self.build("4S2P of 21700 4.5 Ah")
        self.assertEqual((b.capacity_ah[0], b.continuous_a[0], b.price[0]), (9.0, 44.0, 48.0))
        self.assertAlmostEqual(b.mass_g[0], 603.1, places=1)
        self.assertAlmostEqual(b.cell_mohm[0], 7.15)

    def test_the_box_holds_all_cells(self):
        """Whatever the stacking, its volume is at least that of the cells' own boxes."""
        b = self.build("4S2P of 21700 4.5 Ah")
        volume = b.length_mm[0] * b.width_mm[0] * b.height_mm[0]
        self.assertGreaterEqual(volume, 8 * 21.4 * 21.4 * 70.1 * 0.999)

    def test_more_cells_than_the_controller_takes_are_not_built(self):
        """6S of 4.2 V on 16.8 V."""
        self.assertEqual(len(cell_builds([cell()], job(wants={"chemistries": ("liion",)}), series=[6])), 0)


class Grid(SimpleTestCase):
    def test_more_c_weighs_more_for_the_same_charge(self):
        """By the table of what packs weigh: 4 % up to 60C, which the best cells have printed."""
        g = generic_grid(job(), series=[4], capacity_ah=4.0, capacity_steps=12, c_steps=8)
        self.assertEqual(len(g), 96)
        for ah in np.unique(g.capacity_ah):
            of_size = g.mass_g[g.capacity_ah == ah]
            self.assertAlmostEqual(float(of_size.max() / of_size.min()), 1.04, places=6)
            self.assertAlmostEqual(float(of_size.min()), typical_mass_g("lipo", 4, float(ah)), places=6)

    def test_nothing_better_than_the_best_cells_is_made_up(self):
        """Up to an honest 40C; for those who take labels as printed up to what labels print."""
        for trust, most_c in (("cautious", 40.0), ("sceptical", 40.0), ("as_printed", 90.0)):
            g = generic_grid(
                replace(job(), label_trust=trust), series=[4], capacity_ah=4.0, capacity_steps=3, c_steps=8
            )
            self.assertAlmostEqual(float((g.continuous_a / g.capacity_ah).max()), most_c)
            self.assertAlmostEqual(float((g.cell_mohm * g.capacity_ah).min()), 6250 / most_c**2)

    def test_no_made_up_cell_resists_more_than_is_usual(self):
        """Of LiFePO4 60 mΩ at one Ah; more C resists less, by the heat rule."""
        wanted = job(wants={"chemistries": ("lifepo4",)})
        g = generic_grid(wanted, series=[4], capacity_ah=4.0, capacity_steps=6, c_steps=8)
        self.assertAlmostEqual(float((g.cell_mohm * g.capacity_ah).max()), 60.0)
        self.assertLess(float((g.cell_mohm * g.capacity_ah).min()), 55.0)

    def test_the_box_has_two_grams_per_cubic_centimetre(self):
        """In the bay's proportions."""
        g = generic_grid(job(), series=[4], capacity_ah=4.0, capacity_steps=4, c_steps=3)
        volume = g.length_mm * g.width_mm * g.height_mm / 1000
        np.testing.assert_allclose(g.mass_g / volume, 2.0, rtol=1e-9)
