"""What a field battery holds: as it is told, and by its volts."""

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.cells.open_circuit import soc_at_rest
from coldstack.core.charging.charger import Supply
from coldstack.core.charging.level import drawn_wh, left_wh, told_level
from coldstack.core.errors import DomainError

BOX = Supply("1", "Box", "battery", 12.8, 240, 500)


class Told(SimpleTestCase):
    def test_as_people_say_it(self):
        """Per cent, watt-hours, a number alone; a comma too."""
        for text, wanted in (("80 %", 400), ("80", 400), ("300Wh", 300), ("12,5 %", 62.5), ("0", 0)):
            with self.subTest(text):
                self.assertAlmostEqual(told_level(BOX, text).left_wh, wanted)

    def test_what_is_none(self):
        """Said in words, at its field."""
        cases = (
            ("half", "is no level"),
            ("120 %", "100 % at most"),
            ("600 Wh", "holds 500 Wh"),
            ("3.7 V", "not of"),
        )
        for text, words in cases:
            with self.subTest(text), self.assertRaisesRegex(DomainError, words):
                told_level(BOX, text, "lead")
        mains = Supply("2", "Wall", "mains", 13.8, 120)
        with self.assertRaisesRegex(DomainError, "no level"):
            told_level(mains, "50")
        with self.assertRaises(DomainError) as caught:
            told_level(BOX, "12.6 V")
        self.assertEqual(caught.exception.field, "kind")

    @given(st.floats(11.0, 13.4), st.floats(0.0, 0.3), st.sampled_from(["lead", "lifepo4"]))
    def test_more_volts_never_mean_less(self, volts, more, kind):
        """And never more than it holds."""
        one, other = (told_level(BOX, f"{v:.3f} V", kind).left_wh for v in (volts, volts + more))
        self.assertLessEqual(one, other + 1e-9)
        self.assertTrue(0 <= one <= 500)

    def test_the_least_that_volts_may_mean(self):
        """A LiFePO4 battery rests at 13.2 V over half of its charge: the lower end of that is believed. A
        lead-acid one at 12.2 V is about half full; two in series are read as two."""
        by_the_curve = soc_at_rest("lifepo4", 13.2 / 4) * 500
        self.assertLess(told_level(BOX, "13.2 V", "lifepo4").left_wh, by_the_curve - 5)
        self.assertAlmostEqual(told_level(BOX, "12.25 V", "lead").left_wh / 500, 0.5, delta=0.03)
        both = Supply("3", "Two", "battery", 24, 240, 500)
        self.assertAlmostEqual(told_level(both, "24.5 V", "lead").left_wh / 500, 0.5, delta=0.03)

    def test_counted_down(self):
        """A charge takes its watt-hours at full volts and the charger's loss; nothing is left below none."""
        self.assertAlmostEqual(drawn_wh(2000, 16.8), 2 * 16.8 / 0.85)
        self.assertEqual((left_wh(50, 20), left_wh(50, 60)), (30, 0))
