import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.draw.duty import Duty, Phase
from coldstack.core.draw.motion import MOTIONS, motion_of
from coldstack.core.draw.scaling import mass_factor, phase_loads, refitted_current_a, throttle_current_a
from coldstack.core.errors import DomainError

MOVING = [m.id for m in MOTIONS.values() if m.moves]


class OtherVoltage(SimpleTestCase):
    def test_propeller_from_three_cells_to_four(self):
        """The same propeller takes (4/3)² = 16/9 times the amps; for the same watts it is 3/4."""
        volts = {"voltage_v": 14.8, "reference_voltage_v": 11.1}
        self.assertAlmostEqual(
            float(throttle_current_a(36.0, motion=motion_of("level_flight"), **volts)), 64.0, places=9
        )
        self.assertAlmostEqual(float(refitted_current_a(36.0, **volts)), 27.0, places=9)

    def test_wheels_go_with_the_volts(self):
        """The same gearing takes 4/3 of the amps."""
        amps = throttle_current_a(30.0, voltage_v=14.8, reference_voltage_v=11.1, motion=motion_of("wheels"))
        self.assertAlmostEqual(float(amps), 40.0, places=9)


class OtherMass(SimpleTestCase):
    def test_exponents_of_the_motions(self):
        """A fifth more mass: 1.2^1.5 hovering and flying, 1.2 on wheels, 1.2^0.7 for a hull."""
        for motion, n in (
            ("hover", 1.5),
            ("level_flight", 1.5),
            ("wheels", 1.0),
            ("tracks", 1.0),
            ("hull", 0.7),
        ):
            factor = mass_factor(1200.0, reference_mass_g=1000.0, motion=motion_of(motion))
            self.assertAlmostEqual(float(factor), 1.2**n, places=12, msg=motion)

    @given(
        st.sampled_from([m for m in MOTIONS if MOTIONS[m].moves]), st.floats(100, 5000), st.floats(1.001, 3)
    )
    def test_heavier_never_draws_less_in_a_power_phase(self, motion, mass, times):
        """More mass, more watts, in every way of moving; what does not move takes the same."""
        both = mass_factor(np.array([mass, mass * times]), reference_mass_g=1000.0, motion=motion_of(motion))
        self.assertGreater(both[1], both[0])
        still = mass_factor(mass * times, reference_mass_g=1000.0, motion=motion_of("steady_load"))
        self.assertEqual(float(still), 1.0)

    def test_mass_must_be_positive(self):
        """A model without mass is refused."""
        with self.assertRaises(DomainError):
            mass_factor(0.0, reference_mass_g=1000.0, motion=motion_of("hover"))


class Loads(SimpleTestCase):
    duty = Duty((Phase(30, "power", 10), Phase(5, "throttle", 40), Phase(2, "amps", 3)), 14.8, 1000)

    def laws(self, motion, drive):
        return [
            p.law
            for p in phase_loads(
                self.duty, all_up_mass_g=np.array([1000.0]), motion=motion_of(motion), drive=drive
            )
        ]

    def test_each_hold_becomes_its_law(self):
        """Watts stay watts, the stick follows the volts by the propeller's or the gearing's law, amps stay
        amps."""
        self.assertEqual(self.laws("level_flight", "same"), ["power", "throttle2", "amps"])
        self.assertEqual(self.laws("wheels", "same"), ["power", "throttle1", "amps"])

    def test_refitted_all_phases_keep_their_watts(self):
        """Re-propped or re-geared, every phase is a power."""
        self.assertEqual(self.laws("level_flight", "refitted"), ["power"] * 3)

    def test_only_power_phases_feel_the_mass(self):
        """At 1.44 times the mass watts are 1.728-fold, the stick's factor is the same."""
        light, heavy = (
            phase_loads(self.duty, all_up_mass_g=np.array([m]), motion=motion_of("hover"), drive="same")
            for m in (1000.0, 1440.0)
        )
        self.assertAlmostEqual(heavy[0].value[0] / light[0].value[0], 1.44**1.5, places=12)
        self.assertEqual(heavy[1].value[0], light[1].value[0])
