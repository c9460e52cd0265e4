import math

from django.test import SimpleTestCase
from hypothesis import assume, given
from hypothesis import strategies as st

from coldstack.core.draw.duty import Duty, Phase, duty_from_figures, duty_from_phases
from coldstack.core.draw.motion import motion_of
from coldstack.core.errors import DomainError

GLIDER = motion_of("level_flight")


def figures(**changes):
    given_figures = {
        "average_a": 14.0,
        "peak_a": 46.0,
        "peak_s": 6.0,
        "peak_every_s": 45.0,
        "motion": GLIDER,
        "reference_voltage_v": 14.8,
        "reference_mass_g": 1850.0,
        "spread": 0.1,
    }
    return duty_from_figures(**{**given_figures, **changes})


class FromFigures(SimpleTestCase):
    def test_worked_by_hand(self):
        """14 A on average with 6 s of 46 A every 45 s leave (14·45 − 46·6) ÷ 39 = 9.077 A; RMS √((39·9.077²
        + 6·46²) ÷ 45)."""
        duty = figures()
        self.assertAlmostEqual(duty.phases[0].current_a, 354 / 39, places=9)
        self.assertAlmostEqual(
            duty.rms_current_a, math.sqrt((39 * (354 / 39) ** 2 + 6 * 46**2) / 45), places=9
        )
        self.assertAlmostEqual(duty.energy_wh_per_min, 14 * 14.8 / 60, places=9)

    @given(st.floats(0.1, 100), st.floats(1, 300), st.floats(0, 60), st.floats(1, 600))
    def test_the_average_is_kept(self, average, peak, peak_s, every):
        """Whatever the peaks, the phases average what was typed, and RMS lies between average and peak."""
        assume(peak >= average and peak_s < every and peak * peak_s <= average * every)
        duty = figures(average_a=average, peak_a=peak, peak_s=peak_s, peak_every_s=every)
        self.assertAlmostEqual(duty.average_current_a, average, delta=1e-9 * average + 1e-9)
        self.assertGreaterEqual(duty.rms_current_a, average * (1 - 1e-9))
        self.assertLessEqual(duty.rms_current_a, duty.peak_current_a * (1 + 1e-9))

    def test_impossible_figures_name_their_field(self):
        """Each slip of the finger is told at the field it belongs to."""
        for changes, field in (
            ({"average_a": 0.0}, "draw.average_a"),
            ({"average_a": -3.0}, "draw.average_a"),
            ({"average_a": math.nan}, "draw.average_a"),
            ({"peak_a": 10_000.0}, "draw.peak_a"),
            ({"peak_a": 10.0}, "draw.peak_a"),
            ({"peak_s": 45.0}, "draw.peak_s"),
            ({"average_a": 5.0}, "draw.average_a"),
            ({"reference_voltage_v": 0.0}, "draw.reference_voltage_v"),
            ({"reference_mass_g": math.inf}, "draw.reference_mass_g"),
            ({"spread": 3.1}, "draw.spread"),
        ):
            with self.subTest(changes), self.assertRaises(DomainError) as caught:
                figures(**changes)
            self.assertEqual(caught.exception.field, field)

    def test_peaks_that_use_more_than_the_average_are_explained(self):
        """The sentence says what the peaks alone average."""
        with self.assertRaisesRegex(DomainError, "peaks alone average 6.13 A"):
            figures(average_a=5.0)


class PeakTime(SimpleTestCase):
    def duty(self, *phases):
        return Duty(tuple(Phase(s, "amps", a) for s, a in phases), 14.8, 1850)

    def test_longest_peak_joins_across_the_seam_of_the_cycle(self):
        """Six seconds at the end and four at the beginning are ten."""
        self.assertEqual(self.duty((4, 50), (30, 8), (6, 49)).longest_peak_s, 10)

    def test_a_draw_that_never_drops_peaks_for_ever(self):
        """Then no burst rating can count."""
        self.assertEqual(self.duty((30, 20), (10, 19.5)).longest_peak_s, math.inf)

    def test_phases_out_of_range_are_refused(self):
        """No phases, no current, a phase without length."""
        for phases in ((), (Phase(10, "amps", 0.0),), (Phase(0.0, "amps", 5.0),), (Phase(10, "amps", -1.0),)):
            with self.assertRaises(DomainError) as caught:
                duty_from_phases(phases, reference_voltage_v=14.8, reference_mass_g=1850, spread=0.1)
            self.assertEqual(caught.exception.field, "draw.phases")
