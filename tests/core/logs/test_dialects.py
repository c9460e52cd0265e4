"""Logs in many dresses against the runs that made them; what is not recognised is asked, and said once it
is enough."""

from itertools import pairwise

import numpy as np
from django.test import SimpleTestCase

from coldstack.core.draw.found import found_draw
from coldstack.core.draw.motion import motion_of
from coldstack.core.errors import DomainError
from coldstack.core.logs.columns import ColumnUse
from coldstack.core.logs.reader import Chosen, look_at, read_log
from tests.core.logs.dialects import DIALECTS, RUNS, table

FLIGHT = motion_of("level_flight")
TIME, VOLTS, AMPS = ColumnUse(0, "time", "s"), ColumnUse(1, "volts", "V"), ColumnUse(2, "amps", "A")
STRANGE = table("Foo,Bar,Baz", lambda t, v, a: f"{t:.1f},{v:.2f},{a:.2f}")
TIMELESS = table("Volt,Amp", lambda t, v, a: f"{v:.2f},{a:.2f}")


def few(header, row, count=40):
    """A short log of rows."""
    return (header + "\n" + "\n".join(row(i) for i in range(count))).encode()


class Dialects(SimpleTestCase):
    def test_every_dialect_of_every_run(self):
        """Average, RMS, peak, phases, volts, length: within 3 % of the samples themselves."""
        self.assertGreaterEqual(len(DIALECTS), 30)
        for run in RUNS:
            true = found_draw(run.log, FLIGHT)
            for name, write in DIALECTS.items():
                with self.subTest(run=run.name, dialect=name):
                    self.assert_same(found_draw(read_log(write(run)), FLIGHT), true)

    def assert_same(self, found, true, share=0.03):
        for field in ("average_a", "rms_a", "peak_a", "mean_voltage_v", "duration_s", "used_mah"):
            self.assertAlmostEqual(getattr(found, field) / getattr(true, field), 1, delta=share, msg=field)
        self.assertEqual(len(found.phases), len(true.phases))
        for one, other in zip(found.phases, true.phases, strict=True):
            self.assertAlmostEqual(one.current_a / other.current_a, 1, delta=share)
            self.assertAlmostEqual(one.duration_s / other.duration_s, 1, delta=share)

    def test_what_was_done_to_the_samples_is_told(self):
        """A spike, watts turned into amps, a scale without a unit, cells summed."""
        for dialect, words in (
            ("one spike of 900 A", "1 lone sample of 900 A left out"),
            ("watts instead of amps", "Amps are watts ÷ volts"),
            ("watts and amps", "Volts are watts ÷ amps"),
            ("no units, but thousandths", "read as mV"),
            ("volts by cell", "sum of 5 cells"),
        ):
            self.assertIn(words, " ".join(read_log(DIALECTS[dialect](RUNS[0])).notes))
        self.assertEqual(read_log(DIALECTS["milli by prefix"](RUNS[0])).notes, ())

    def test_what_is_measured_is_not_made_from_watts(self):
        """A log with volts, amps and watts of its own: each is read as it stands."""
        log = read_log(few("time s,volts V,current A,power W", lambda i: f"{i},15.0,10.0,140"))
        self.assertNotIn("Volts are", " ".join(log.notes))
        self.assertAlmostEqual(float(log.voltage_v.mean()), 15.0, places=6)

    def test_columns_without_a_header_are_marked_as_told_by_their_figures(self):
        """So that the preview asks to check them."""
        uses = [c.use for c in look_at(DIALECTS["no header"](RUNS[0])).columns]
        self.assertEqual([u.quantity for u in uses], ["time", "volts", "amps"])
        self.assertFalse(any(u.given for u in uses))


class NotRecognised(SimpleTestCase):
    def test_unknown_names_are_asked_and_then_read(self):
        """Three choices."""
        raw = STRANGE(RUNS[0])
        look = look_at(raw)
        self.assertEqual(look.missing, ("time", "volts", "amps"))
        self.assertEqual(look.columns[1].samples[0], f"{RUNS[0].volts[0]:.2f}")
        log = read_log(raw, Chosen((TIME, VOLTS, AMPS)))
        self.assertAlmostEqual(float(log.current_a.mean()), float(RUNS[0].amps.mean()), delta=0.05)

    def test_files_of_one_meter_have_one_shape(self):
        """Another run looks alike; another header does not."""
        self.assertEqual(look_at(STRANGE(RUNS[0])).shape, look_at(STRANGE(RUNS[1])).shape)
        self.assertNotEqual(look_at(STRANGE(RUNS[0])).shape, look_at(TIMELESS(RUNS[0])).shape)

    def test_without_a_time_column_the_rate_is_asked(self):
        """Five rows a second."""
        raw = TIMELESS(RUNS[1])
        look = look_at(raw)
        self.assertEqual(look.missing, ("time",))
        uses = tuple(c.use for c in look.columns)
        log = read_log(raw, Chosen(uses, step_s=0.2))
        self.assertAlmostEqual(log.time_s[-1], RUNS[1].time_s[-1], places=6)
        with self.assertRaisesRegex(DomainError, "No column for time"):
            read_log(raw)

    def test_volts_of_one_cell_ask_how_many_there_are(self):
        """Nobody knows of how many cells an average is."""
        raw = few("time s,average cell V,current A", lambda i: f"{i},3.8,10")
        self.assertEqual(look_at(raw).missing, ("volts",))
        one = ColumnUse(1, "cell_volts", "V")
        with self.assertRaises(DomainError):
            read_log(raw, Chosen((TIME, one, AMPS)))
        self.assertAlmostEqual(
            float(read_log(raw, Chosen((TIME, one, AMPS), cells=4)).voltage_v[0]), 15.2, places=6
        )

    def test_two_columns_with_equal_claims_are_asked(self):
        """Two motors' amps; the pack's volts before the receiver's are not in doubt."""
        raw = few("time s,Pack V,BEC V,Current 1 [A],Current 2 [A]", lambda i: f"{i},15,5,10,11")
        look = look_at(raw)
        self.assertEqual(look.missing, ("amps",))
        self.assertEqual(look.columns[1].use.quantity, "volts")
        self.assertIsNone(look.columns[2].use)

    def test_mah_wh_and_the_like_are_nothing_of_the_kind(self):
        """A word of current in their name does not make them one."""
        raw = few("time,volt,current (mAh),energy Wh,temp A", lambda i: f"{i},15,10,1,30")
        self.assertEqual(look_at(raw).missing, ("amps",))

    def test_choices_that_cannot_be_meant(self):
        """Each is refused in words."""
        raw = few("a,b,c", lambda i: f"{i},15,10")
        for chosen, words in (
            (Chosen((TIME, VOLTS, ColumnUse(7, "amps", "A"))), "no column 8"),
            (Chosen((TIME, VOLTS, ColumnUse(1, "amps", "A"))), "chosen for two things"),
            (Chosen((TIME, VOLTS, ColumnUse(2, "volts", "V"))), "Two columns"),
            (Chosen((TIME, VOLTS, ColumnUse(2, "amps", "V"))), "no unit of amps"),
            (Chosen((VOLTS, AMPS), step_s=0), "between 0.001 and 600"),
            (Chosen((TIME, VOLTS)), "No column for amps"),
            (Chosen((TIME, AMPS, ColumnUse(1, "cell_volts", "V")), cells=99), "between 1 and 28"),
        ):
            with self.subTest(words), self.assertRaisesRegex(DomainError, words):
                read_log(raw, chosen)


class Cleaning(SimpleTestCase):
    def amps(self, values, volts=15.0):
        return read_log(few("time s,voltage V,current A", lambda i: f"{i},{volts},{values[i]}", len(values)))

    def test_a_lone_spike_is_left_out_and_a_burst_is_not(self):
        """Nothing near it comes close; a burst has company, a regular peak has its like."""
        calm = [10.0 + i % 3 for i in range(200)]
        spiked = [*calm[:90], 900.0, *calm[90:]]
        self.assertEqual(float(self.amps(spiked).current_a.max()), 12.0)
        burst = [*calm[:90], 60.0, 80.0, 60.0, *calm[90:]]
        self.assertEqual(float(self.amps(burst).current_a.max()), 80.0)
        peaks = [50.0 if i % 20 == 0 else 10.0 for i in range(200)]
        self.assertEqual(float(self.amps(peaks).current_a.max()), 50.0)

    def test_a_pause_is_left_out(self):
        """Ten minutes between two halves are no ten minutes of current."""
        log = read_log(few("time s,voltage V,current A", lambda i: f"{i if i < 50 else i + 600},15,10", 100))
        self.assertLess(log.time_s[-1], 101)
        self.assertIn("1 pause without samples, 600 s in all", " ".join(log.notes))

    def test_of_several_runs_the_longest_is_read(self):
        """The time starts again."""
        raw = few(
            "time s,voltage V,current A", lambda i: f"{i if i < 60 else i - 60},15,{20 if i < 60 else 5}", 90
        )
        log = read_log(raw)
        self.assertEqual((len(log.time_s), float(log.current_a[0])), (60, 20.0))
        self.assertIn("the longest of 2 runs is read", " ".join(log.notes))

    def test_rows_of_one_tick_are_spread_over_it(self):
        """Times rise strictly, and no second is lost."""
        log = read_log(few("time s,voltage V,current A", lambda i: f"{i // 5},15,10", 100))
        self.assertTrue(all(a < b for a, b in pairwise(log.time_s)))
        self.assertAlmostEqual(log.time_s[-1], 19.8, places=6)
        self.assertTrue(np.allclose(np.diff(log.time_s), 0.2))


class Small(SimpleTestCase):
    ROWS = staticmethod(lambda i: f"{i}.0;{16.0 - i / 10:.2f};{10 + i}.5")

    def test_ten_rows_are_a_log_and_nine_are_none(self):
        """And that is said."""
        self.assertEqual(len(read_log(few("s;V;A", self.ROWS, 10)).time_s), 10)
        with self.assertRaisesRegex(DomainError, "at least 10"):
            read_log(few("s;V;A", self.ROWS, 9))

    def test_two_columns_of_any_sign_are_a_table(self):
        """Volts and amps, apart by a semicolon, a bar or a tab: time is what is missing."""
        for sign in (";", "|", "\t"):
            with self.subTest(sign):
                look = look_at(few(f"V{sign}A", lambda i, s=sign: f"{16.0 - i / 10:.2f}{s}{10 + i}.5"))
                self.assertEqual(look.missing, ("time",))
