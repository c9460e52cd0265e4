import math
import re

import numpy as np
from django.test import SimpleTestCase

from coldstack.core.draw.duty import Phase, duty_from_phases, duty_working
from coldstack.core.sizing.derivations import _range_steps
from coldstack.core.sizing.detail import details, thinned
from coldstack.core.sizing.plan import Fineness, cell_chips, pick
from coldstack.core.trial.candidates import from_packs
from coldstack.core.trial.evaluate import evaluate
from coldstack.core.trial.spread import MinutesRange
from coldstack.core.trial.unknowns import UNKNOWNS
from coldstack.core.units import plain_number
from tests.core.trial.jobs import job, pack, stock


def last_number(text):
    """The last number of a step, as it stands on the right of its equals sign."""
    return float(re.findall(r"-?\d+(?:\.\d+)?", text.replace("−", "-"))[-1])


class Workings(SimpleTestCase):
    """What a working ends with is the figure that the screen shows."""

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        wanted = job(bay={"balance_at_mm": 310.0, "empty_balance_mm": 352.0, "centre_mm": 150.0})
        cls.d = details(wanted, pick(wanted, stock(pack()), ["pack:4S 4000"], Fineness(4, 3)))[0]

    def step(self, working, label):
        return next(s for s in self.d.workings[working].steps if s.label == label)

    def test_every_step_says_what_it_finds_with_numbers(self):
        """No empty lines in any derivation."""
        for name, working in self.d.workings.items():
            self.assertTrue(working.title, name)
            for step in working.steps:
                self.assertTrue(step.label and step.numbers, name)

    def test_minutes(self):
        """Charge ÷ amps × 60 is the running time, and the range is the one shown."""
        self.assertAlmostEqual(
            last_number(self.step("minutes", "Running time").numbers.replace(" min", "")),
            self.d.minutes,
            delta=0.06,
        )
        low, high = re.findall(r"[\d.]+", self.step("minutes", "Together").numbers)
        self.assertAlmostEqual(float(low), self.d.minutes_low, delta=0.06)
        self.assertAlmostEqual(float(high), self.d.minutes_high, delta=0.06)

    def test_the_run_that_is_drawn_lasts_as_long(self):
        """In minutes, like the figure, to its landing and on to where the controller would stop it."""
        run = self.d.trace
        self.assertTrue(self.d.minutes < run.minutes[-1] < 2 * self.d.minutes)
        self.assertAlmostEqual(run.stop_min, run.minutes[-1], places=9)
        self.assertAlmostEqual(run.landing_min, self.d.minutes, places=9)

    def test_what_widens_a_range_by_next_to_nothing_is_not_told(self):
        """From a twentieth of a minute on, the most first."""
        wanted = job()
        e = evaluate(wanted, from_packs([pack()], "cautious"))
        by = np.zeros((1, len(UNKNOWNS)))
        by[0, :4] = 0.051, 0.8, 0.049, 0.2
        ten = np.full(1, 10.0)
        *steps, together = _range_steps(e, 0, MinutesRange(ten, ten - 1, ten + 1, by, np.zeros(1)))
        self.assertEqual([s.label for s in steps], [f"Range: {UNKNOWNS[k]}" for k in (1, 3, 0)])
        self.assertEqual(together.numbers, "9 to 11 min")

    def test_a_curve_is_thinned_only_where_it_is_long(self):
        """Of many points each stretch keeps its lowest and highest, its first and last."""
        few, many = np.arange(240.0), np.sin(np.arange(5000.0))
        self.assertEqual(len(thinned(few)), 240)
        kept = thinned(many)
        self.assertLessEqual(len(kept), 240)
        self.assertEqual((kept[0], kept[-1]), (0, 4999))
        self.assertLessEqual({int(many.argmin()), int(many.argmax())}, set(kept.tolist()))

    def test_minutes_can_be_checked_by_hand(self):
        """The numbers of the step multiply to its result."""
        ah, amps, _, minutes = map(float, re.findall(r"[\d.]+", self.step("minutes", "Running time").numbers))
        self.assertAlmostEqual(ah / amps * 60, minutes, delta=0.02 * minutes)

    def test_volts(self):
        """4 × 4.2 = 16.8."""
        self.assertEqual(
            last_number(self.step("full_v", "Fresh off the charger").numbers.replace(" V", "")), 16.8
        )

    def test_honest_c(self):
        """2.5·√(Ah ÷ R) by the numbers shown, and the C from it."""
        ah, ohm = map(float, re.findall(r"[\d.]+", self.step("honest_c", "Honest current").numbers)[1:3])
        amps = last_number(self.step("honest_c", "Honest current").numbers.replace(" A", ""))
        self.assertAlmostEqual(2.5 * (ah / ohm) ** 0.5, amps, delta=0.02 * amps)
        self.assertAlmostEqual(amps / 4.0, self.d.honest_c, delta=0.02 * self.d.honest_c)

    def test_ten_degrees_colder(self):
        """exp(2600·(1/283 K − 1/293 K)) = 1.37 times the resistance, in air of 20 °C."""
        ratio = float(re.match(r"[\d.]+", self.step("colder", "Resistance").numbers).group())
        self.assertAlmostEqual(ratio, math.exp(2600 * (1 / 283.15 - 1 / 293.15)), delta=0.006)

    def test_mass_and_its_closed_form(self):
        """All up by addition, and the turning point by m ÷ (n − 1)."""
        self.assertEqual(last_number(self.step("mass", "All up").numbers.replace(" g", "")), 1880)
        self.assertEqual(
            last_number(self.step("mass", "The same in closed form").numbers.replace(" g", "")), 3000
        )

    def test_peak_with_the_same_propeller(self):
        """On the reference volts the first steps agree; the last is what was simulated."""
        self.assertEqual(
            last_number(self.step("peak", "Measured").numbers.split(" at ")[0].replace(" A", "")), 40
        )
        simulated = last_number(
            self.step("peak", "With the pack’s own volts under load").numbers.replace(" A", "")
        )
        self.assertAlmostEqual(simulated, self.d.peak_a, delta=0.06)

    def test_position(self):
        """The moments by hand."""
        at = last_number(self.step("position", "Moments").numbers.replace(" mm", ""))
        self.assertAlmostEqual(at, (310 * 1880 - 352 * 1500) / 380, delta=0.5)
        self.assertAlmostEqual(self.d.position_mm, at, delta=0.5)

    def test_the_rule_and_its_school_are_named(self):
        """Why the landing point lies where it does, and who does it otherwise."""
        budget = self.d.workings["budget"]
        self.assertIn("Steady", "".join(s.rule for s in budget.steps))
        self.assertIn("racers", budget.note)

    def test_refitted_watts(self):
        """The peak's working tells the other law."""
        wanted = job(drive="refitted")
        d = details(wanted, pick(wanted, stock(pack(series=3)), ["pack:4S 4000"], Fineness(4, 3)))[0]
        self.assertIn("Same watts", "".join(s.label for s in d.workings["peak"].steps))

    def test_a_peak_that_holds_its_amps(self):
        """Measured, carried and simulated are one figure: such a draw does not follow the volts."""
        held = duty_from_phases(
            (Phase(30, "amps", 10.0), Phase(5, "amps", 40.0)),
            reference_voltage_v=14.8,
            reference_mass_g=1900.0,
            spread=0.1,
        )
        wanted = job(duty=held)
        d = details(wanted, pick(wanted, stock(pack(series=3)), ["pack:4S 4000"], Fineness(4, 3)))[0]
        numbers = [s.numbers for s in d.workings["peak"].steps]
        self.assertEqual(numbers, ["40 A at 14.8 V", "40 A", "40 A"])
        self.assertEqual(cell_chips(wanted)[2].peak_a, 40.0)

    def test_duty(self):
        """Average and RMS from the phases shown."""
        steps = duty_working(job().duty).steps
        self.assertTrue(steps[0].numbers.endswith("= 12 A"))
        self.assertTrue(steps[1].numbers.endswith(f"= {plain_number(job().duty.rms_current_a)} A"))
