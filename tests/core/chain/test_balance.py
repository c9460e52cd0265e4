from django.test import SimpleTestCase

from coldstack.core.chain.balance import (
    balance_fit,
    balance_pins,
    balance_plug_name,
    needs_balancing,
    series_of_wires,
    usual_balance_plug,
)
from coldstack.core.errors import DomainError


class Pins(SimpleTestCase):
    def test_one_wire_more_than_cells(self):
        """4S has five, and five wires tell 4S."""
        for series in range(1, 15):
            self.assertEqual(series_of_wires(balance_pins(series)), series)
        self.assertEqual(balance_pins(4), 5)

    def test_one_wire_is_no_balance_plug(self):
        """Naming the field."""
        with self.assertRaisesRegex(DomainError, "at least 2 wires, not 1") as caught:
            series_of_wires(1)
        self.assertEqual(caught.exception.field, "balance_wires")

    def test_who_needs_balancing(self):
        """Lithium of two cells and more."""
        self.assertTrue(needs_balancing("lipo", 2))
        self.assertFalse(needs_balancing("lipo", 1))
        self.assertFalse(needs_balancing("nimh", 6))

    def test_what_is_usual(self):
        """XH on most, nothing on single cells and NiMH, in the main plug of an integrated one."""
        self.assertEqual(usual_balance_plug("lipo", 4, "xt60"), "xh")
        self.assertEqual(usual_balance_plug("lihv", 1, "ph_2"), "none")
        self.assertEqual(usual_balance_plug("nimh", 6, "t_plug"), "none")
        self.assertEqual(usual_balance_plug("lipo", 3, "integrated"), "integrated")


class Fit(SimpleTestCase):
    def test_family_and_cells(self):
        """Right, wrong family, look-alike family, too many cells, none, integrated."""
        cases = (
            (("xh", 6, ("xh",), 6), True, "XH, 7 pins for 6 cells"),
            (("tp", 3, ("xh",), 6), False, "TP/PQ with 4 pins finds no port"),
            (("eh", 3, ("xh",), 6), False, "look alike and do not mate"),
            (("xh", 8, ("xh",), 6), False, "the port ends at 6 cells"),
            (("none", 3, ("xh",), 6), False, "no balance plug"),
            (("integrated", 3, ("xh",), 6), False, "splitter"),
            (("xh", 2, (), 6), False, "no balance port"),
        )
        for (plug, series, families, cells), fits, words in cases:
            found = balance_fit(plug, series, families, cells)
            self.assertEqual(found.fits, fits, words)
            self.assertIn(words, found.sentence)

    def test_an_unknown_family_is_refused(self):
        """Naming the field."""
        with self.assertRaisesRegex(DomainError, "balance_plug"):
            balance_plug_name("zz")
