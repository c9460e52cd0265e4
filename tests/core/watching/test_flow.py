"""What was set held against what is read: amps, direction, mAh, clock, cells that cannot be, readings that
stand still."""

from dataclasses import replace

from django.test import SimpleTestCase

from coldstack.core.watching.heard import LOOK_BACK_S, Heard, Mark, windowed
from coldstack.core.watching.judging import judge
from coldstack.core.watching.samples import Glimpse, Sample
from tests.core.watching.test_watch import E, run

GOOD = (0.01, 0.01, 0.01, 0.01)


def kinds(samples, expected=E, fresh=None, **more):
    last = samples[-1]
    h = Heard(
        expected,
        samples[0],
        tuple(samples),
        tuple(fresh if fresh is not None else samples[-1:]),
        looked_s=last.time_s,
        now_s=last.time_s,
        **more,
    )
    return {a.id: a.level for a in judge(h).alarms}


def late(rows, **changes):
    """The last two samples otherwise."""
    return [*rows[:-2], *(replace(s, **changes) for s in rows[-2:])]


class Amps(SimpleTestCase):
    def test_over_what_was_set(self):
        """4 A were set: 4.45 A are an ammeter's error, more in two readings are not; 6.05 A are told by two,
        more by one."""
        for amps, wanted in ((4.45, set()), (4.46, {"over_current"})):
            self.assertEqual(set(kinds(late(run(*GOOD), current_a=amps))), wanted)
        for amps, wanted in ((6.05, set()), (6.06, {"over_current"})):
            self.assertEqual(set(kinds(run(*GOOD, current_a=amps))), wanted)

    def test_out_of_the_pack(self):
        """0.18 A out may be an ammeter's zero; more in two readings, or half of what was set in one, not."""
        for amps, wanted in ((-0.18, {}), (-0.19, {"wrong_way": "stop"})):
            self.assertEqual(kinds(late(run(*GOOD), current_a=amps)), wanted)
        for amps, wanted in ((-2.0, {}), (-2.01, {"wrong_way": "stop"})):
            self.assertEqual(kinds(run(*GOOD, current_a=amps)), wanted)

    def test_a_hair_out_of_an_empty_pack(self):
        """It ended every round once."""
        empty = [replace(s, cell_v=(3.2,) * 4, current_a=-0.001, mah=0.0) for s in run(*GOOD)]
        self.assertEqual(kinds(empty), {})

    def test_a_burning_pack_is_seen_all_the_same(self):
        """92 °C and 4.80 V beside it."""
        empty = [replace(s, cell_v=(3.2,) * 4, current_a=-0.001, mah=0.0) for s in run(*GOOD)]
        glimpse = Glimpse(300.0, (4.8, 3.2), None, 92.0, None)
        self.assertEqual(kinds(empty, fresh=[glimpse]), {"over_full": "stop", "hot": "stop"})


class Counting(SimpleTestCase):
    def counts(self, factor, amps=4.0, minutes=3, extra=0.0):
        some = run(*GOOD, minutes=minutes)
        rows = [replace(s, current_a=amps, mah=101.3 + factor * amps * s.time_s / 3.6) for s in some]
        rows[-1] = replace(rows[-1], mah=rows[-1].mah + extra)
        return "miscount" in kinds(rows)

    def test_against_the_integral_of_the_amps(self):
        """0.6 to 1.67 times is a meter; stand still, half or double is none."""
        found = {factor: self.counts(factor) for factor in (0.0, 0.5, 0.63, 1.0, 1.6, 2.0, 3.0)}
        self.assertEqual([f for f, wrong in found.items() if wrong], [0.0, 0.5, 2.0, 3.0])

    def test_within_a_minute_or_two(self):
        """4 A for a minute are enough; 0.15 A need two; a tenth of an amp says little in a quarter of an hour
        but for a counter that stands still."""
        self.assertTrue(self.counts(0.0, minutes=1))
        self.assertFalse(self.counts(0.0, amps=0.15, minutes=1))
        self.assertTrue(self.counts(0.0, amps=0.15, minutes=2))

    def test_a_counter_that_shows_tens(self):
        """At a third of an amp it stands for two minutes and leaps by ten: no fault. Ten minutes without one
        are."""
        slow = [replace(s, current_a=0.3) for s in run(*GOOD, minutes=12)]
        tens = [replace(s, mah=float(int(0.3 * s.time_s / 36) * 10)) for s in slow]
        for k in range(13, len(tens), 7):
            self.assertNotIn("miscount", kinds(tens[:k]))
        self.assertIn("miscount", kinds([replace(s, mah=0.0) for s in slow]))

    def test_a_leap(self):
        """400 mAh at once."""
        self.assertTrue(self.counts(1.0, extra=400.0))
        self.assertFalse(self.counts(1.0, extra=2.0))


class Standing(SimpleTestCase):
    def still(self, minutes, cell_v=(3.9,) * 4, amps=4.0, kind="lipo", **more):
        some = run(*GOOD, minutes=minutes)
        rows = [replace(s, cell_v=cell_v, current_a=amps, mah=amps * s.time_s / 3.6) for s in some]
        return "stuck" in kinds(rows, replace(E, chemistry=kind, **more))

    def test_longer_than_the_charge_allows(self):
        """At 1C two minutes are a thirtieth of the charge: on the slope of a LiPo some millivolts at least,
        on the plateau of an iron phosphate nothing that a meter shows. A meter of two digits needs longer."""
        self.assertTrue(self.still(2, cell_v=(3.901, 3.9, 3.9, 3.9)))
        self.assertFalse(self.still(2))
        self.assertTrue(self.still(12))
        self.assertFalse(self.still(4, cell_v=(3.331,) * 4, kind="lifepo4", full_cell_v=3.6))

    def test_at_constant_volts_they_stand(self):
        """The current falls then, and nothing is wrong; where it does not, it is."""
        rows = [replace(s, cell_v=(4.181,) * 4) for s in run(*GOOD, minutes=4)]
        falling = [replace(s, current_a=4.0 - s.time_s / 200, mah=4 * s.time_s / 3.6) for s in rows]
        self.assertNotIn("stuck", kinds(falling))
        # by three parts in a hundred: near full that is the taper, lower down it is an ammeter
        hardly = [replace(s, current_a=4.0 - s.time_s / 2000, mah=4 * s.time_s / 3.6) for s in rows]
        self.assertNotIn("stuck", kinds(hardly))
        self.assertIn("stuck", kinds([replace(s, cell_v=(3.901,) * 4) for s in hardly]))
        self.assertIn("stuck", kinds([replace(s, mah=4 * s.time_s / 3.6) for s in rows]))

    def test_one_cell_twice_alike_is_chance(self):
        """Seven readings alike of one cell are none."""
        one = replace(E, series=1)
        fast = [replace(s, cell_v=(3.55 + 0.001 * s.seq,), current_a=16.0) for s in run(*GOOD, minutes=4)]
        for alike, wanted in ((6, False), (7, True)):
            rows = [*fast[:-alike], *(replace(s, cell_v=(3.551,)) for s in fast[-alike:])]
            self.assertEqual("stuck" in kinds(rows, replace(one, current_a=16.0)), wanted)
        rows = [replace(s, cell_v=(3.6 + 0.001 * s.seq,)) for s in run(*GOOD, minutes=4)]
        same = (3.701,)
        self.assertNotIn("stuck", kinds([*rows[:-3], *(replace(s, cell_v=same) for s in rows[-3:])], one))
        self.assertIn("stuck", kinds([*rows[:-12], *(replace(s, cell_v=same) for s in rows[-12:])], one))

    def test_two_readings_alike_are_chance_however_many_cells(self):
        """Six cells that read the same twice in ten minutes; three times are none."""
        six = replace(E, series=6)
        rows = [
            replace(s, cell_v=(3.901,) * 6, current_a=4.0, mah=4 * s.time_s / 3.6)
            for s in run(*GOOD, minutes=10)
        ]
        self.assertNotIn("stuck", kinds([rows[0], rows[-1]], six))
        self.assertIn("stuck", kinds([rows[0], rows[60], rows[-1]], six))


class Cells(SimpleTestCase):
    def test_below_what_any_cell_has(self):
        """2.0 V may be, 1.99 V in two readings cannot; in one a contact wobbled. NiMH stays over 0.7 V."""
        for volts, wanted in ((2.0, set()), (1.99, {"dead_cell"})):
            low = [replace(s, cell_v=(volts, 3.8, 3.8, 3.8)) for s in run(*GOOD)]
            self.assertEqual(set(kinds(low)) & {"dead_cell"}, wanted)
        self.assertNotIn("dead_cell", kinds(run(*GOOD, cell_v=(0.0, 3.8, 3.8, 3.8))))
        nimh = replace(E, chemistry="nimh", full_cell_v=1.45)
        for volts, wanted in ((0.7, set()), (0.69, {"dead_cell"})):
            rows = [replace(s, cell_v=(volts, 1.3, 1.3, 1.3)) for s in run(*GOOD)]
            self.assertEqual(set(kinds(rows, nimh)) & {"dead_cell"}, wanted)


class Clock(SimpleTestCase):
    def goes(self, rate, ours_s=70.0, speed=1.0):
        marks = tuple(Mark(t, rate * speed * t) for t in range(0, int(ours_s) + 1, 2))
        return "clock" in kinds(run(*GOOD), clock=marks, speed=speed)

    def test_half_to_twice_as_fast(self):
        """As it says that it goes."""
        found = {rate: self.goes(rate) for rate in (0.02, 0.1, 0.49, 0.51, 1.0, 1.99, 2.01, 3.0)}
        self.assertEqual([r for r, wrong in found.items() if wrong], [0.02, 0.1, 0.49, 2.01, 3.0])
        self.assertFalse(self.goes(1.0, speed=60.0))
        self.assertTrue(self.goes(0.1, speed=60.0))

    def test_not_too_soon(self):
        """A minute of its time, and ten seconds of ours."""
        self.assertFalse(self.goes(0.1, ours_s=58.0))
        self.assertFalse(self.goes(0.1, ours_s=8.0, speed=60.0))
        self.assertTrue(self.goes(0.1, ours_s=10.0, speed=60.0))


class LookingBack(SimpleTestCase):
    def test_in_seconds_and_not_in_samples(self):
        """Ten a second or one in twenty seconds: the last ten minutes, about one a second, the latest two
        whole; a cell that stands still is found at any rate."""
        for every_s in (0.1, 1.0, 5.0, 20.0):
            with self.subTest(every_s):
                rows = []
                for k in range(int(900 / every_s)):
                    rising, at_s = 3.8 + 1.7e-4 * k * every_s, k * every_s
                    volts = (rising, 3.79, rising)
                    rows.append(Sample(k + 1, at_s, volts, 4.0, 20.0, 4.0 * at_s / 3.6))
                window: list[Sample] = []
                for k in range(0, len(rows), 7):
                    window = windowed(window, rows[k : k + 7])
                self.assertEqual(window[-2:], rows[-2:])
                self.assertLess(len(window), 620)
                reach = window[-1].time_s - window[0].time_s
                self.assertTrue(LOOK_BACK_S - 2 * max(every_s, 1) <= reach <= LOOK_BACK_S, reach)
                self.assertIn("not_following", kinds(window, replace(E, series=3)))
