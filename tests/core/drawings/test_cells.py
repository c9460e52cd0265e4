"""A pack as it is: which cell stands out, and what a multimeter reads at each pin."""

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.drawings.cells import pack_drawing
from coldstack.core.rules.house_rules import house_rules
from tests.core.trial.jobs import pack

STEADY = house_rules("steady")


def drawn(**told):
    return pack_drawing(pack(), rules=STEADY, **told)


class Cells(TestCase):
    def test_the_low_one_is_marked_and_said(self):
        """110 mV under the others: the house has something done."""
        d = drawn(cell_v=(4.19, 4.19, 4.08, 4.19))
        self.assertEqual([c.mark for c in d.cells], ["", "", "act", ""])
        self.assertEqual(d.sentence, "Cell 3 is 110 mV under the others.")

    def test_at_the_house_s_limits(self):
        """Just under the spread from which cells are watched nothing is marked; just over it, one is."""
        for over, mark in ((-0.001, ""), (0.001, "watch")):
            d = drawn(cell_v=(4.1, 4.1, 4.1, 4.1 - STEADY.spread_watch_v - over))
            self.assertEqual(d.cells[3].mark, mark)
        d = drawn(cell_v=(4.1, 4.1, 4.1, 4.1 + STEADY.spread_act_v + 0.001))
        self.assertEqual((d.cells[3].mark, d.cells[0].mark), ("act", ""))
        self.assertIn("over the others", d.sentence)

    def test_one_that_resists_more(self):
        """By the house's figures for a cell against the others."""
        for times, mark in (
            (STEADY.cell_watch - 0.01, ""),
            (STEADY.cell_watch, "watch"),
            (STEADY.cell_bad, "act"),
        ):
            d = drawn(mohm=(2.0, 2.0 * times, 2.0, 2.0), first_mohm=(2.0, 2.0, 2.0, 2.0))
            self.assertEqual(d.cells[1].mark, mark)
            self.assertAlmostEqual(d.cells[1].times_first, times)

    def test_nothing_read(self):
        """Is said, and is no praise."""
        self.assertEqual(drawn().sentence, "Nobody read its cells yet.")
        self.assertIn("Nobody read its cells’ volts", drawn(mohm=(2, 2, 2, 2)).sentence)
        # of a pack of another cell count: no reading of this one
        self.assertIsNone(drawn(cell_v=(4.1, 4.1)).cells[0].volts)


class Pins(TestCase):
    @given(st.lists(st.floats(3.0, 4.3), min_size=4, max_size=4))
    def test_each_is_the_sum_of_the_cells_below(self, volts):
        """From 0 at the first pin to the whole pack at the last."""
        d = drawn(cell_v=volts)
        self.assertEqual(len(d.pins), 5)
        self.assertEqual(d.pins[0].volts, 0)
        for k in range(4):
            self.assertAlmostEqual(d.pins[k + 1].volts - d.pins[k].volts, volts[k])
        self.assertEqual(d.pins[4].name, "plus of cell 4")

    def test_none_without_a_plug_of_its_own(self):
        """One cell, or wires that run in the main plug."""
        one = pack_drawing(pack(series=1), rules=STEADY, cell_v=(4.1,))
        self.assertEqual((one.pins, one.balance, one.sentence), ((), "", "One cell."))
        inside = pack_drawing(pack(plug="integrated"), rules=STEADY)
        self.assertEqual(inside.pins, ())
