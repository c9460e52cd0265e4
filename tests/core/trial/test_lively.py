"""As lively as now: full-stick watts against those where the draw is true."""

from dataclasses import replace

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.draw.scaling import full_stick_voltage
from coldstack.core.trial.candidates import job_candidates
from coldstack.core.trial.evaluate import evaluate, pack_columns
from coldstack.core.trial.lively import fresh_pack, liveliness
from coldstack.core.trial.wording import lack
from tests.core.trial.jobs import job, pack


class FullStick(SimpleTestCase):
    def test_by_hand(self):
        """16 V behind 20 mΩ, 40 A told at 15 V, a propeller: V + 0.02·40·(V/15)² = 16."""
        volts = float(full_stick_voltage(16.0, 0.02, current_a=40, at_voltage_v=15, exponent=2))
        self.assertAlmostEqual(volts + 0.02 * 40 * (volts / 15) ** 2, 16.0, places=9)
        self.assertAlmostEqual(volts, 15.18, places=2)

    def test_without_resistance_it_is_the_resting_volts(self):
        """For both laws."""
        for k in (1, 2):
            self.assertAlmostEqual(
                float(full_stick_voltage(12.0, 0.0, current_a=30, at_voltage_v=11, exponent=k)),
                12.0,
                places=6,
            )

    @given(
        st.floats(3, 60), st.floats(0.0005, 0.2), st.floats(1, 300), st.floats(3, 60), st.sampled_from((1, 2))
    )
    def test_against_bisection(self, open_v, ohm, amps, at_v, k):
        """An independent solution of V = E − R·I·(V ÷ V_ref)^k."""
        low, high = 0.0, open_v
        for _ in range(200):
            middle = (low + high) / 2
            if middle + ohm * amps * (middle / at_v) ** k > open_v:
                high = middle
            else:
                low = middle
        found = float(full_stick_voltage(open_v, ohm, current_a=amps, at_voltage_v=at_v, exponent=k))
        self.assertAlmostEqual(found, low, delta=1e-6 * open_v)


class Liveliness(SimpleTestCase):
    def lively(self, made, *packs):
        """Shares of today's full-stick watts."""
        return liveliness(made, pack_columns(made, job_candidates(made, packs)), 20.0)

    def true_for(self, one):
        """The job, told for this pack fresh off the charger under its peak."""
        made = job()
        open_v, ohm = fresh_pack(pack_columns(made, job_candidates(made, [one])), 20.0)
        at_v = float(open_v[0] - ohm[0] * made.duty.peak_current_a)
        return replace(made, duty=replace(made.duty, peak_voltage_v=at_v))

    def test_the_pack_it_is_told_for_is_as_lively_as_now(self):
        """100 %, to the last digit; twice the resistance less, half of it more."""
        made = self.true_for(pack(cell_mohm=2.0))
        same, worse, better = self.lively(made, *(pack(cell_mohm=r) for r in (2.0, 4.0, 1.0)))
        self.assertAlmostEqual(float(same), 1.0, places=6)
        self.assertLess(worse, 1.0)
        self.assertGreater(better, 1.0)

    def test_three_cells_for_four_have_less_than_half_the_punch(self):
        """(3/4)³ = 0.42 with the same propeller, a little more as they sag less; (3/4)² for wheels."""
        four, three = pack(), pack(name="3S", series=3)
        propeller = self.true_for(four)
        self.assertTrue(0.42 < float(self.lively(propeller, three)[0]) < 0.48)
        wheels = replace(propeller, motion=job(motion="wheels").motion)
        self.assertTrue(0.56 < float(self.lively(wheels, three)[0]) < 0.61)

    def test_it_fails_by_it_and_says_what_is_left(self):
        """At 90 %; refitted, or not asked for, it does not."""
        made = replace(self.true_for(pack()), wants=replace(job().wants, lively=0.9))
        three = job_candidates(made, [pack(name="3S", series=3)])
        e = evaluate(made, three)
        words = [lack(e, k, 0) for k in e.failing(0)]
        self.assertTrue(any("of today’s punch" in w for w in words), words)
        for other in (replace(made, drive="refitted"), replace(made, wants=replace(made.wants, lively=None))):
            self.assertNotIn("want.lively", [c.id for c in evaluate(other, three).checks])

    def test_just_under_at_and_just_over(self):
        """A limit at exactly what the pack gives is met."""
        one = pack(name="3S", series=3)
        made = self.true_for(pack())
        share = float(self.lively(made, one)[0])
        for lively, met in ((share * 0.999, True), (share, True), (share * 1.001, False)):
            wanted = replace(made, wants=replace(made.wants, lively=lively))
            check = next(
                c for c in evaluate(wanted, job_candidates(wanted, [one])).checks if c.id == "want.lively"
            )
            self.assertEqual(bool(check.loading[0] <= 1 + 1e-12), met)
