import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.draw.duty import duty_from_phases
from coldstack.core.draw.found import found_draw
from coldstack.core.draw.motion import MOTIONS, motion_of
from coldstack.core.errors import DomainError
from coldstack.core.logs.reader import WattLog, read_log


def watt_log(amps, step_s=0.5, volts=15.0) -> WattLog:
    """A log of these amps at even steps."""
    amps = np.asarray(amps, float)
    return WattLog(np.arange(len(amps)) * step_s, np.full(len(amps), volts), amps, (), "comma", False, 0)


class Found(SimpleTestCase):
    @given(st.floats(2, 30), st.floats(1.6, 6), st.integers(2, 12), st.integers(6, 40), st.integers(3, 20))
    def test_the_cycle_keeps_average_and_charge(self, base, ratio, peak_n, base_n, cycles):
        """Square waves of any shape: the found phases average what was flown, and use the same mAh in the
        same time."""
        amps = np.tile(np.r_[np.full(base_n, base), np.full(peak_n, base * ratio)], cycles)
        found = found_draw(watt_log(amps), motion_of("level_flight"))
        duty = duty_from_phases(
            found.phases, reference_voltage_v=15, reference_mass_g=1000, spread=found.spread
        )
        self.assertAlmostEqual(duty.average_current_a, amps.mean(), delta=1e-6 * amps.mean())
        self.assertAlmostEqual(
            found.used_mah, amps.mean() * len(amps) * 0.5 / 3.6, delta=1e-6 * found.used_mah
        )
        self.assertLessEqual(found.average_a, found.rms_a * (1 + 1e-12))
        self.assertLessEqual(found.rms_a, amps.max() * (1 + 1e-12))

    @given(st.lists(st.floats(0, 80), min_size=12, max_size=120))
    def test_any_current_is_understood_or_refused_in_words(self, amps):
        """Phases are valid as a duty, whatever the trace."""
        try:
            found = found_draw(watt_log(amps), motion_of("wheels"))
        except DomainError as error:
            self.assertEqual(error.field, "log")
            return
        duty_from_phases(found.phases, reference_voltage_v=15, reference_mass_g=1000, spread=found.spread)
        self.assertTrue(0.03 <= found.spread <= 0.30)

    def test_switch_on_spikes_are_no_peaks(self):
        """Half a second now and then is not what a burst rating is for."""
        amps = np.full(600, 10.0)
        amps[::100] = 60.0
        self.assertEqual(len(found_draw(watt_log(amps, 0.25), motion_of("hover")).phases), 1)

    def test_a_flight_that_gets_hungrier_has_a_wider_spread(self):
        """Thirds of 8, 10 and 12 A: ±20 %; an even one has the least."""
        uneven = found_draw(watt_log(np.repeat([8.0, 10.0, 12.0], 200)), motion_of("hover"))
        self.assertAlmostEqual(uneven.spread, 0.20, delta=0.01)
        self.assertEqual(found_draw(watt_log(np.full(600, 10.0)), motion_of("hover")).spread, 0.03)

    def test_the_motion_says_what_the_pilot_held(self):
        """Watts in the gentle part everywhere, the stick in the peaks."""
        amps = np.tile(np.r_[np.full(40, 8.0), np.full(10, 30.0)], 10)
        for motion in MOTIONS.values():
            holds = [p.hold for p in found_draw(watt_log(amps), motion).phases]
            self.assertEqual(holds, [motion.base_hold, "throttle"])

    def test_uneven_sampling_is_weighed_by_time(self):
        """A meter that samples faster in the peaks does not make them longer."""
        t = np.r_[np.arange(0, 60, 2.0), np.arange(60, 70, 0.1), np.arange(70, 130, 2.0)]
        amps = np.where((t >= 60) & (t < 70), 40.0, 10.0)
        log = WattLog(t, np.full(len(t), 15.0), amps, (), "comma", False, 0)
        self.assertAlmostEqual(
            found_draw(log, motion_of("hover")).average_a, (120 * 10 + 10 * 40) / 130, delta=0.5
        )

    def test_the_preview_is_thin_and_spans_the_run(self):
        """At most 400 points, from the first to the last minute."""
        found = found_draw(watt_log(np.full(5000, 10.0)), motion_of("hover"))
        self.assertEqual(len(found.preview_a), 400)
        self.assertAlmostEqual(found.preview_min[-1], 4999 * 0.5 / 60, places=6)


class Details(SimpleTestCase):
    def log(self, body, header="time s,voltage V,current A"):
        return read_log(f"{header}\n{body}".encode())

    def test_rows_out_of_order_are_sorted(self):
        """Some meters write the newest first."""
        rows = "\n".join(f"{i},15,{10 + i}" for i in reversed(range(30)))
        self.assertEqual(self.log(rows).current_a.tolist(), [10.0 + i for i in range(30)])

    def test_discharge_counted_negative_is_turned_round(self):
        """Meters count either way."""
        self.assertEqual(self.log("\n".join(f"{i},15,-12" for i in range(30))).current_a[0], 12.0)

    def test_a_few_broken_rows_are_left_out_and_counted(self):
        """One in thirty; more than a tenth is an error."""
        rows = [f"{i},15,10" for i in range(60)]
        rows[7] = "7,,"
        rows[40] = "what,is,this"
        self.assertEqual(self.log("\n".join(rows)).skipped, 2)
        with self.assertRaisesRegex(DomainError, "do not hold a number"):
            self.log("\n".join("x,y,z" if i % 3 == 0 else f"{i},15,10" for i in range(60)))

    def test_thousands_separators_with_decimal_commas(self):
        """1.234,5 is one thousand two hundred and thirty-four and a half."""
        rows = "\n".join(f"{i},0;15,2;{'1.000,5' if i in (5, 6) else '10,5'}" for i in range(30))
        log = self.log(rows, "Zeit;Spannung V;Strom A")
        self.assertEqual(log.current_a[5], 1000.5)
        self.assertTrue(log.decimal_comma)

    def test_a_day_long_log_asks_for_its_unit(self):
        """Milliseconds without saying so."""
        with self.assertRaisesRegex(DomainError, "milliseconds"):
            self.log("\n".join(f"{i * 10000},15,10" for i in range(60)))

    def test_millivolts_without_saying_so(self):
        """15,000 V is no pack: they are read as mV, and that is told."""
        log = self.log("\n".join(f"{i},15000,10" for i in range(60)))
        self.assertEqual(log.voltage_v[0], 15.0)
        self.assertIn("read as mV", log.notes[0])

    def test_utf16_from_a_spreadsheet(self):
        """With its byte-order mark."""
        text = "time s,voltage V,current A\n" + "\n".join(f"{i},15,10" for i in range(30))
        self.assertEqual(len(read_log(text.encode("utf-16")).time_s), 30)
