"""What a wire carries for ten seconds."""

from django.test import SimpleTestCase

from coldstack.core.chain.wire import wire_burst_a, wire_continuous_a


class Burst(SimpleTestCase):
    def test_a_thick_wire_is_capped(self):
        """However slowly it warms: two and a half times, and never more."""
        for awg in (0, 2, 4):
            self.assertAlmostEqual(wire_burst_a(awg) / wire_continuous_a(awg), 2.5)
        ratios = [wire_burst_a(awg) / wire_continuous_a(awg) for awg in range(31)]
        self.assertLessEqual(max(ratios), 2.5 + 1e-9)

    def test_a_thin_one_is_not(self):
        """It is warm in twenty seconds: ten are worth little more than for ever."""
        self.assertLess(wire_burst_a(22) / wire_continuous_a(22), 1.7)
        self.assertLessEqual(
            wire_burst_a(26) / wire_continuous_a(26), wire_burst_a(20) / wire_continuous_a(20)
        )
