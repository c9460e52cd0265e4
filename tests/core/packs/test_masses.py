"""What packs weigh: the table of what is met, what high C and hard cases add, and what a scale tells."""

import math
import re

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.packs.masses import Weighed, pulled, typical_mass_g, typical_masses_g, weighed
from coldstack.core.packs.typical import as_weighed, sold_labels_c, typical_packs

MET = """
1S 300: 8; 2S 300: 21; 2S 450: 29; 2S 800: 52; 2S 2200: 118; 3S 450: 41; 3S 850: 78; 3S 1300: 115;
3S 2200: 180; 3S 5000: 390; 4S 850: 105; 4S 1300: 155; 4S 1500: 178; 4S 2200: 235; 4S 3300: 340;
4S 5000: 510; 6S 1300: 218; 6S 2200: 350; 6S 3300: 525; 6S 5000: 770; 6S 10000: 1400; 6S 16000: 1950;
6S 22000: 2550
"""
MET_G = {(int(s), int(mah) / 1000): float(g) for s, mah, g in re.findall(r"(\d+)S (\d+): (\d+)", MET)}
"""General knowledge of the hobby: cells and Ah, grams with leads and plug, each within 8 %."""


class Masses(SimpleTestCase):
    def test_of_the_packs_that_are_met(self):
        """Every typical pack of a size that is known weighs what is known within 12 %, whatever its C."""
        seen = set()
        for pack in typical_packs():
            key = (pack.series, pack.capacity_ah)
            if pack.chemistry == "lipo" and key in MET_G and "hard" not in pack.name:
                self.assertAlmostEqual(pack.mass_g / MET_G[key], 1, delta=0.12, msg=pack.name)
                seen.add(key)
        self.assertGreaterEqual(len(seen), 20)

    def test_how_far_a_weighed_pack_speaks(self):
        """A twentieth light at 4S 2200: for its own size it counts two thirds, against the table's third; at
        1.8 times the energy as if it were six tenths of one, for other cell counts as half."""
        light = Weighed("lipo", 4, 2.2, 0.95)
        own, far, other = (
            float(np.log(pulled([light], "lipo", s, ah)[0]) / np.log(0.95))
            for s, ah in ((4, [2.2]), (4, [2.2 * math.exp(0.6)]), (2, [4.4]))
        )
        self.assertAlmostEqual(own, 1 / 1.5)
        self.assertAlmostEqual(far, math.exp(-0.5) / (0.5 + math.exp(-0.5)))
        self.assertAlmostEqual(other, 0.5 / 1.0)

    def test_boxes_are_in_whole_millimetres_from_ten_on(self):
        """Smaller sides to the tenth."""
        sides = [x for p in typical_packs() for x in (p.length_mm, p.width_mm, p.height_mm) if x]
        self.assertTrue(all(x == round(x) for x in sides if x >= 10))
        self.assertTrue(any(x != round(x) for x in sides if x < 10))

    def test_a_hard_case_of_two_cells(self):
        """5000 mAh: about 275 g."""
        self.assertAlmostEqual(typical_mass_g("lipo", 2, 5.0, 45, hard=True), 275, delta=1)

    @given(st.integers(1, 14), st.floats(0.15, 25), st.floats(1.02, 1.5), st.floats(10, 140))
    def test_more_charge_more_c_and_more_cells_are_heavier(self, series, ah, more, c):
        """And Wh per kg never fall as a pack grows."""
        one = typical_mass_g("lipo", series, ah, c)
        self.assertGreater(typical_mass_g("lipo", series, more * ah, c), one)
        self.assertGreaterEqual(typical_mass_g("lipo", series, ah, 1.1 * c), one)
        self.assertGreater(typical_mass_g("lipo", series + 1, ah, c), one)

    def test_many_at_once_are_as_one_by_one(self):
        """Columns and single figures, of every chemistry."""
        ah, c = np.array([0.5, 2.2, 9.0]), np.array([20.0, 60.0, 120.0])
        for chemistry_id in ("lipo", "lihv", "semisolid", "liion", "lifepo4", "nimh"):
            many = typical_masses_g(chemistry_id, 4, ah, c)
            for grams, a, x in zip(many.tolist(), ah.tolist(), c.tolist(), strict=True):
                self.assertAlmostEqual(grams, typical_mass_g(chemistry_id, 4, a, x))


class OnAScale(SimpleTestCase):
    def test_who_weighs_heavy_packs_is_told_heavy_ones(self):
        """Nearly as much for the same size, less for other sizes, nothing for another chemistry."""
        grams = typical_mass_g("lipo", 3, 2.2, 30)
        known = (weighed("lipo", 3, 2.2, 1.15 * grams, 30),)
        same, other, far = (float(pulled(known, "lipo", 3, ah)) for ah in (2.2, 4.0, 20.0))
        self.assertTrue(1.08 < same < 1.15, same)
        self.assertTrue(1.0 < far < 1.01 < other < same, (other, far))
        self.assertEqual(float(pulled(known, "nimh", 3, 2.2)), 1.0)
        self.assertGreater(
            as_weighed(known)["typical:lipo:3:2200:35"].mass_g,
            as_weighed(())["typical:lipo:3:2200:35"].mass_g,
        )

    def test_a_slip_of_the_scale_is_not_believed(self):
        """Ten times as much; a hard case explains what is heavier by as much."""
        self.assertIsNone(weighed("lipo", 3, 2.2, 1800, 30))
        hard = typical_mass_g("lipo", 2, 5.0, 50, hard=True)
        self.assertAlmostEqual(weighed("lipo", 2, 5.0, hard, 50).ratio, 1.0)


class OnlyWhatExists(SimpleTestCase):
    def test_no_large_pack_of_racing_c(self):
        """What people buy: 130C and more up to 2 Ah, 25C at most at 16 Ah; large LiFePO4 and NiMH."""
        for p in typical_packs():
            if p.chemistry == "lipo" and p.capacity_ah >= 12:
                self.assertLessEqual(p.label_c, 35, p.name)
            if p.chemistry == "lipo" and p.label_c > 100:
                self.assertLessEqual(p.capacity_ah, 2.0, p.name)
        self.assertEqual(sold_labels_c("lipo", 1.3)[-1], 150)
        self.assertLessEqual(sold_labels_c("lipo", 22.0)[-1], 25)
        ids = {p.id for p in typical_packs()}
        self.assertIn("typical:lifepo4:4:20000:10", ids)
        self.assertTrue(any(i.startswith("typical:nimh:6:10000") for i in ids))
