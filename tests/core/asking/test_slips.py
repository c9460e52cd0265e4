"""When a slip is asked: by how much it gains, how well all goes together then, and the simpler turn first."""

from django.test import SimpleTestCase

from coldstack.core.asking.slips import TENFOLD, likely_slip, off, outside


def asked(figures, fit, turns=TENFOLD, **more):
    return likely_slip(figures, dict.fromkeys(figures, turns), fit, **more)


class Asked(SimpleTestCase):
    def test_by_what_it_gains(self):
        """Four in logarithms; just under it nothing is asked."""
        for wrong, found in ((-4.01, True), (-3.99, False)):
            slip = asked({"x": 100.0}, lambda f, w=wrong: 0.0 if f["x"] == 10.0 else w)
            self.assertEqual(slip is not None, found)

    def test_only_where_all_goes_together_then(self):
        """Put right it must suit: what stays odder than eight is no slip of one finger."""
        for left, found in ((-7.9, True), (-8.1, False)):
            slip = asked({"x": 100.0}, lambda f, w=left: w if f["x"] == 10.0 else -30.0)
            self.assertEqual(slip is not None, found)

    def test_the_simpler_turn(self):
        """Of two that gain as much the one with fewer noughts; more only where much more speaks for it."""
        self.assertEqual(asked({"x": 1000.0}, lambda f: 0.0 if f["x"] < 200 else -20.0).meant, 100.0)
        better = asked({"x": 1000.0}, lambda f: {10.0: 0.0, 100.0: -2.0}.get(f["x"], -20.0))
        self.assertEqual(better.meant, 10.0)

    def test_one_at_a_time_and_none_that_is_sure(self):
        """The likeliest of several; of what its owner is sure of none, and of the others only with much."""
        alike = {"x": 10.0, "y": 1.0}
        self.assertIsNone(asked(alike, lambda f: off(f["x"] / f["y"], 1.0, 0.3), sure=("x", "y")))

        def slightly(f):
            return -6.0 if f["y"] == 1.0 else 0.0

        self.assertEqual(asked({"x": 1.0, "y": 1.0}, slightly).field, "y")
        self.assertIsNone(asked({"x": 1.0, "y": 1.0}, slightly, sure=("x",)))

    def test_no_ratio_tells_more_than_so_much(self):
        """However far off: twelve, either way; within a range nothing."""
        self.assertEqual([off(1e9, 1.0, 0.1), off(1e-9, 1.0, 0.1), outside(1e9, 1.0, 2.0, 0.1)], [-12.0] * 3)
        self.assertEqual([outside(v, 1.0, 2.0, 0.1) for v in (1.0, 1.5, 2.0)], [0.0] * 3)
        self.assertAlmostEqual(outside(0.9, 1.0, 2.0, 0.1), off(0.9, 1.0, 0.1))
