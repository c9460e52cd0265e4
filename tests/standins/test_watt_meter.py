import numpy as np
from django.test import SimpleTestCase

from coldstack.core.draw.duty import Phase
from coldstack.core.draw.found import found_draw
from coldstack.core.draw.motion import motion_of
from coldstack.core.logs.reader import read_log
from coldstack.standins.watt_meter import SAMPLE_S, SimulatedWattMeter, WattMeter, csv_text
from tests.core.discharge.packs import packs


def meter(**changes) -> SimulatedWattMeter:
    """On a 4S 4 Ah pack, six minutes of cruise and bursts."""
    given = {
        "pack": packs(cutoff_cell_v=3.0),
        "phases": (Phase(30, "power", 9.0), Phase(5, "throttle", 40.0)),
        "reference_voltage_v": 14.8,
        "reference_mass_g": 1900.0,
        "all_up_mass_g": 1900.0,
        "motion": motion_of("level_flight"),
        "minutes": 6.0,
        "seed": 4,
    }
    return SimulatedWattMeter(**{**given, **changes})


class Meter(SimpleTestCase):
    def test_it_is_a_watt_meter(self):
        """Whatever takes a real meter's driver takes it."""
        driver: WattMeter = meter()
        self.assertTrue(callable(driver.samples))

    def test_it_samples_twice_a_second_for_as_long_as_asked(self):
        """Equal steps, three columns of one length."""
        s = meter().samples()
        self.assertEqual(len(s.time_s), int(6 * 60 / SAMPLE_S))
        self.assertTrue(np.allclose(np.diff(s.time_s), SAMPLE_S))
        self.assertEqual(len(s.voltage_v), len(s.time_s))
        self.assertEqual(len(s.current_a), len(s.time_s))

    def test_the_same_seed_flies_the_same_flight(self):
        """And another seed another."""
        self.assertEqual(meter().samples(), meter().samples())
        self.assertNotEqual(meter().samples(), meter(seed=5).samples())

    def test_volts_dip_where_amps_peak(self):
        """As on a real pack: under 35 A and more the volts are lower than the median."""
        s = meter().samples()
        amps, volts = np.array(s.current_a), np.array(s.voltage_v)
        self.assertLess(volts[amps > 35].mean(), np.median(volts))

    def test_a_heavier_model_draws_more_in_cruise(self):
        """A third more mass: (4/3)^1.5 times the watts of the gentle part."""

        def cruise(mass):
            s = meter(all_up_mass_g=mass).samples()
            watts = np.array(s.current_a) * np.array(s.voltage_v)
            return np.median(watts)

        self.assertAlmostEqual(cruise(1900 * 4 / 3) / cruise(1900), (4 / 3) ** 1.5, delta=0.1)

    def test_its_csv_is_read_back(self):
        """Written, read and understood: the phases are those that were flown, within the pilot's
        unevenness."""
        found = found_draw(read_log(csv_text(meter().samples()).encode()), motion_of("level_flight"))
        base, peak = found.phases
        self.assertAlmostEqual(base.current_a, 9.0, delta=1.5)
        self.assertAlmostEqual(peak.current_a, 40.0, delta=5.0)
        self.assertAlmostEqual(peak.duration_s, 5.0, delta=1.5)
