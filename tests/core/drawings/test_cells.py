"""A pack as it is: which cell stands out, and what a multimeter reads at each pin."""

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.drawings.cells import cells_charging, charger_port, pack_drawing
from coldstack.core.keeping.resistance_signs import Read, outlier
from coldstack.core.rules.house_rules import house_rules
from coldstack.core.watching.alarm import Alarm
from tests.core.charging.gear import charger
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
        """Marked as the sign of health has it, and said in its words: not by one reading, however odd."""
        for times, mark in ((1.0, ""), (STEADY.cell_watch + 0.1, "watch"), (STEADY.cell_bad + 0.1, "act")):
            first, now = (5.0,) * 4, (5.0, 5.0 * times, 5.0, 5.0)
            read = [Read(day, day, cells) for day, cells in enumerate([first] * 5 + [now] * 5)]
            sign = outlier(pack(), read, STEADY)
            d = drawn(cell_v=(4.1,) * 4, mohm=now, first_mohm=first, resists=sign)
            self.assertEqual([c.mark for c in d.cells], ["", mark, "", ""])
            self.assertAlmostEqual(d.cells[1].times_first, times)
            self.assertAlmostEqual(d.cells[1].times_others, times)
            self.assertEqual(d.sentence, sign.sentence if mark else "No cell stands out.")

    def test_one_odd_reading(self):
        """Twice the others once: no mark, and no praise either."""
        now = (5.0, 10.0, 5.0, 5.0)
        d = drawn(cell_v=(4.1,) * 4, mohm=now, resists=outlier(pack(), [Read(0, 0, now)], STEADY))
        self.assertEqual([c.mark for c in d.cells], [""] * 4)
        self.assertIn("Too few readings", d.sentence)

    def test_nothing_read(self):
        """Is said, and is no praise."""
        self.assertEqual(drawn().sentence, "Nobody read its cells yet.")
        self.assertIn("Nobody read its cells’ volts", drawn(mohm=(2, 2, 2, 2)).sentence)
        self.assertNotIn("stands out", drawn(mohm=(2, 2, 2, 2)).sentence)
        # of a pack of another cell count: no reading of this one
        self.assertIsNone(drawn(cell_v=(4.1, 4.1)).cells[0].volts)


class Charging(TestCase):
    """Under current: marked is what an alarm that stands is about."""

    def test_as_the_alarms_have_it(self):
        """Stop is heavier than warn, whichever came first; its words are the alarm’s."""
        warn = Alarm("weak_cell", "warn", 60, "Cell 2 is ahead.", 2)
        stop = Alarm("not_following", "stop", 90, "Cell 2 does not follow.", 2)
        room = Alarm("hot", "stop", 90, "The pack is warm.")
        for alarms, mark in (
            ([], ""),
            ([room], ""),
            ([warn], "watch"),
            ([warn, stop], "act"),
            ([stop], "act"),
        ):
            d = cells_charging((4.0, 3.9, 4.0), alarms)
            self.assertEqual([c.mark for c in d.cells], ["", mark, ""])
            self.assertEqual("Cell 2" in d.sentence, mark != "")
        self.assertAlmostEqual(cells_charging((4.0, 3.9, 4.0), []).cells[1].under_mv, 100)

    def test_nothing_heard_yet(self):
        """Is said."""
        self.assertEqual(cells_charging((), []).sentence, "No cell was read yet.")


class Ports(TestCase):
    """The charger's port beside the plug: as many pins, more, or none for it."""

    def test_pins_by_counting_wires(self):
        """A 4S plug in ports of four, six and three cells, and of another family."""
        p = pack()
        for cells, used in ((4, "all of them"), (6, "the first 5 from minus")):
            port = charger_port(p, charger(series_max=cells))
            self.assertEqual((port.pins, port.used), (cells + 1, 5))
            self.assertIn(used, port.sentence)
        self.assertIsNone(charger_port(p, charger(series_max=3)))
        self.assertIsNone(charger_port(p, charger(balance_families=("eh",))))
        self.assertIsNone(charger_port(pack(plug="integrated"), charger()))


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
