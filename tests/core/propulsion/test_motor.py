"""A motor with its propeller at full stick."""

import math

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.propulsion.motor import CONTROLLER_SHARE, Motor, standing
from coldstack.core.propulsion.propeller import Propeller, air_density, shaft_w

AIR = air_density(20.0)
motors = st.builds(Motor, st.floats(150, 4000), st.floats(5, 300), st.floats(0.1, 3))
propellers = st.builds(lambda d, share: Propeller(d, d * share), st.floats(3, 20), st.floats(0.35, 0.95))


class Standing(SimpleTestCase):
    @given(motors, propellers, st.floats(3, 50))
    def test_speed_and_amps_satisfy_both_relations(self, motor, propeller, volts):
        """n = kV·(V − I·R), and torque by the propeller is torque by the amps: checked apart."""
        found = standing(motor, propeller, volts, density=AIR)
        amps = found.current_a * CONTROLLER_SHARE
        rpm = motor.kv * (volts - amps * motor.resistance_mohm / 1000)
        self.assertAlmostEqual(rpm / found.rpm, 1.0, places=5)
        omega = found.rpm * math.tau / 60
        by_amps = (amps - motor.no_load_a) * 60 / (math.tau * motor.kv)
        self.assertAlmostEqual(by_amps * omega / shaft_w(propeller, found.rpm / 60, AIR), 1.0, places=5)

    @given(motors, propellers, st.floats(3, 50))
    def test_no_motor_gives_more_than_it_takes(self, motor, propeller, volts):
        """The shaft's watts are below the pack's, with resistance told or not."""
        for m in (motor, Motor(motor.kv)):
            found = standing(m, propeller, volts, density=AIR)
            self.assertLess(found.shaft_w, found.current_a * volts)

    @given(motors, propellers, st.floats(4, 40))
    def test_more_volts_more_propeller_more_amps(self, motor, propeller, volts):
        """And a motor that resists more turns slower."""
        here = standing(motor, propeller, volts, density=AIR)
        self.assertGreater(standing(motor, propeller, 1.2 * volts, density=AIR).current_a, here.current_a)
        larger = Propeller(1.1 * propeller.diameter_in, 1.1 * propeller.pitch_in)
        self.assertGreater(standing(motor, larger, volts, density=AIR).current_a, here.current_a)
        worse = Motor(motor.kv, 1.5 * motor.resistance_mohm, motor.no_load_a)
        self.assertLess(standing(worse, propeller, volts, density=AIR).rpm, here.rpm)

    def test_by_hand_without_resistance(self):
        """1000 kV on 11 V holds 84 %: 9240 rpm; a 10 × 5 there takes 211 W, 22.9 A out of the pack."""
        found = standing(Motor(1000), Propeller(10, 5), 11.0, density=AIR)
        self.assertAlmostEqual(found.rpm, 9240)
        self.assertAlmostEqual(found.shaft_w, 211.4, delta=0.5)
        self.assertAlmostEqual(found.current_a, 211.4 / 9.24 / 0.97 / 0.96, delta=0.1)
