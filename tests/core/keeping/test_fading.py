"""Fading by charges and runs together, against closed forms, and leaks between readings of any kind."""

import math
from dataclasses import replace

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.keeping.fading import CHARGE_SCATTER, CLEAR, HeldShare, decline, fading, told_by
from coldstack.core.keeping.health import health
from coldstack.core.keeping.records import Record
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import STEADY

PACK = Pack("owned:01", "4S", "lipo", 4, 4.0, 350.0)


def charged(cycle, share, **more):
    """A charge that found so much of four ampere-hours."""
    return Record(float(cycle), cycle, capacity_ah=4.0 * share, **more)


def flown(cycle, minutes, share=0.7):
    """A run that took so much of the charge."""
    return Record(float(cycle), cycle, run_minutes=minutes, run_share=share)


def level(records):
    found = fading(records, STEADY)
    return found if isinstance(found, str) else found.level


class Decline(SimpleTestCase):
    @given(st.integers(4, 12), st.floats(0.01, 0.06), st.integers(4, 14))
    def test_a_straight_decline_is_found_as_it_is(self, since, a_cycle, after):
        """Level, then so much less each cycle: the cycle at which it began, and what is lost, to a hair."""
        known = [HeldShare(n, -a_cycle * max(n - since, 0), CHARGE_SCATTER) for n in range(since + after + 1)]
        found = decline(known)
        self.assertEqual(found.since, since)
        self.assertAlmostEqual(found.lost, 1 - math.exp(-a_cycle * after), places=9)

    def test_what_stays_or_rises_is_none(self):
        """Nor what has but two figures after it."""
        for slope in (0.0, 0.01):
            self.assertIsNone(decline([HeldShare(n, slope * n, 0.04) for n in range(12)]))
        late = [HeldShare(n, 0.0 if n < 10 else -0.3, 0.04) for n in range(11)]
        self.assertLess(decline(late).since, 9)

    def test_by_hand(self):
        """Ten at nothing, then −0.1, −0.2, −0.3: the misfit without a decline less that with it, over σ²."""
        known = [HeldShare(n, 0.0, 0.1) for n in range(10)]
        known += [HeldShare(10 + k, -0.1 * (k + 1), 0.1) for k in range(3)]
        mean = -0.6 / 13
        without = (10 * mean**2 + sum((-0.1 * (k + 1) - mean) ** 2 for k in range(3))) / 0.1**2
        self.assertAlmostEqual(decline(known).clear, without, places=6)


class Fading(SimpleTestCase):
    def test_just_under_and_over_what_is_no_chance(self):
        """A quick decline is watched from the charge on at which it is clear: at 24."""
        records = [charged(n, 1.0 - 0.05 * max(n - 8, 0)) for n in range(20)]
        levels = [level(records[: n + 1]) for n in range(6, 20)]
        first = levels.index("watch") + 6
        clear = [decline(told_by(records[: n + 1])).clear for n in (first - 1, first)]
        self.assertTrue(clear[0] < CLEAR <= clear[1], clear)
        self.assertEqual(CLEAR, 24.0)
        self.assertEqual(levels, sorted(levels, key=["fine", "watch", "light"].index))
        self.assertEqual(levels[-1], "light")

    def test_a_loss_must_stand_out_of_its_error(self):
        """A slow decline is clear before a tenth is gone: watched once 0.3 of its error is over that, light
        duty once all of its error is over a fifth."""
        records = [charged(n, 1.0 - 0.006 * max(n - 20, 0)) for n in range(62)]
        for limit, errors, what in ((0.9, 0.3, "watch"), (0.8, 1.0, "light")):
            before = next(n for n in range(21, 62) if level(records[: n + 1]) == what)
            for n, over in ((before - 1, False), (before, True)):
                found = decline(told_by(records[: n + 1]))
                self.assertGreater(found.clear, CLEAR)
                self.assertEqual(1 - found.lost + errors * found.error < limit, over, (what, n))

    def test_runs_alone_tell_it_too(self):
        """Minutes over the share of charge taken: a timer's eight minutes that take ever more of it."""
        records = [flown(n, 8.0, 0.7 / (1 - 0.02 * max(n - 8, 0))) for n in range(24)]
        self.assertEqual(level(records[:9]), "fine")
        self.assertIn(level(records), ("watch", "light"))
        by_timer = [flown(n, 8.0) for n in range(24)]
        self.assertEqual(level(by_timer), "fine")

    def test_too_few_and_too_short(self):
        """Six charges or runs at least, and no runs that took less than three tenths."""
        early = fading([charged(n, 1.0) for n in range(5)], STEADY)
        self.assertEqual(early, "fading (5 of 6 charges or runs)")
        self.assertEqual(level([charged(n, 1.0) for n in range(6)]), "fine")
        self.assertIn("0 of 6", fading([flown(n, 3.0, 0.29) for n in range(9)], STEADY))


class Leaks(SimpleTestCase):
    """A pack that loses 1 % a day, seen by what a household reads."""

    def volts(self, *socs):
        return tuple(float(resting_voltage("lipo", z)) for z in socs)

    def found(self, records):
        return next((e for e in health(PACK, records).evidence if e.id == "leak"), None)

    def test_as_it_landed_and_before_the_next_charge(self):
        """Landed at 40 %, ten days later 30 %: all cells, 30 % a month; sound ones say nothing."""
        for lost, expected in ((0.1, "light"), (0.006, "fine")):
            records = []
            for n in range(5):
                day = 20.0 * n
                records += [
                    Record(day, n, run_minutes=8.0, landing_soc=0.4, run_share=0.6, since=day - 1),
                    Record(day + 10, n + 1, rest_cell_v=self.volts(*[0.4 - lost] * 4), since=day),
                ]
            self.assertEqual(self.found(records).level, expected)

    def test_as_the_charger_ended_and_after_the_run(self):
        """Full and even; after run and ten days one cell is a tenth lower than its neighbours."""
        records = []
        for n in range(5):
            day = 20.0 * n
            records += [
                Record(day, n + 1, end_cell_v=self.volts(1, 1, 1, 1), since=day - 5),
                Record(day + 1, n + 1, run_minutes=8.0, landing_soc=0.4, run_share=0.6, since=day),
                Record(day + 11, n + 1, rest_cell_v=self.volts(0.39, 0.39, 0.29, 0.39), since=day + 1),
            ]
        found = self.found(records)
        self.assertEqual(found.level, "light")
        self.assertIn("Cell 3 discharges itself", found.sentence)

    def test_what_meters_may_be_off_by(self):
        """All cells 3 % lower after ten days, three times: 9 % a month, but no more than a checker may be off
        by there; 4 % is."""
        for lost, expected in ((0.025, "fine"), (0.05, "watch")):
            records = []
            for n in range(3):
                day = 20.0 * n
                records += [
                    Record(day + 1, n, rest_cell_v=self.volts(*[0.5] * 4), since=day),
                    Record(day + 13, n, rest_cell_v=self.volts(*[0.5 - lost] * 4), since=day),
                ]
            self.assertEqual(self.found(records).level, expected, lost)

    def test_what_was_not_told_in_between(self):
        """Used without a word since: nothing is said of what it lost."""
        records = []
        for n in range(5):
            day = 20.0 * n
            records += [
                Record(day, n, run_minutes=8.0, landing_soc=0.4, run_share=0.6, since=day - 1),
                Record(day + 10, n, rest_cell_v=self.volts(*[0.2] * 4), since=day + 5),
            ]
        self.assertIsNone(self.found(records))

    def test_just_off_the_charger_all_together_settle(self):
        """Full, then 2 % lower three days on: no leak of all, whose volts settle for hours."""
        records = []
        for n in range(5):
            day = 20.0 * n
            records += [
                Record(day, n + 1, end_cell_v=self.volts(1, 1, 1, 1), since=day - 5),
                Record(day + 4, n + 1, rest_cell_v=self.volts(*[0.96] * 4), since=day),
            ]
        found = self.found(records)
        self.assertEqual(found.level, "fine")


class OfALife(SimpleTestCase):
    def test_a_reading_is_as_sure_as_who_made_it(self):
        """A checker's ± 20 %, a charger's 30; both together surer than either, and between them."""
        good = Record(0.0, 1, 25.0, 0.6, cell_mohm=(3.0,) * 4, read_by="checker")
        other = replace(good, day=1.0, cell_mohm=(4.0,) * 4, read_by="charger")
        by = [health(PACK, records).now_mohm for records in ([good], [other], [good, other])]
        self.assertEqual(by[:2], [3.0, 4.0])
        self.assertTrue(3.0 < by[2] < 3.5)
