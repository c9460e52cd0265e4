"""A kept model's draw by estimate, against what was measured; and on other cells."""

from dataclasses import asdict, replace

from django.test import SimpleTestCase

from coldstack.core.describing.estimated import (
    against,
    answers_of,
    estimated_draw,
    estimated_figures,
    kind_of,
    off_by,
)
from coldstack.core.describing.job_from_answers import described_job
from coldstack.core.describing.other_cells import limits_of, other_cells
from coldstack.core.draw.duty import duty_from_figures
from coldstack.core.propulsion.told import Propulsion
from coldstack.core.rules.house_rules import STEADY
from tests.core.describing.models import RACER, TRAINER, TRUCK


def trainer(**electronics):
    """The trainer, 26 A at full stick, on a 10 × 6 at 1000 kV."""
    job = described_job(TRAINER.answers, STEADY).job
    e = replace(job.electronics, motor_kv=1000.0, **electronics)
    return replace(job, electronics=e, propulsion=Propulsion(kind="plane", propeller="10x6"))


class Estimates(SimpleTestCase):
    def test_a_job_is_estimated_without_its_draw(self):
        """Another told draw changes nothing of it; no pack of now, no estimate."""
        job = trainer()
        other = replace(
            job, duty=replace(job.duty, spread=0.5, phases=(replace(job.duty.phases[0], current_a=30),))
        )
        self.assertEqual(estimated_draw(job).average, estimated_draw(other).average)
        self.assertIsNone(estimated_draw(replace(job, now=None)))

    def test_nothing_assumed_is_taken_for_evidence(self):
        """An assumed controller, plug or label says nothing of the peak."""
        job = trainer()
        sure = replace(job, assumed=frozenset())
        self.assertIsNotNone(answers_of(sure).limits.controller_a)
        unsure = replace(
            job, assumed=frozenset(("electronics.controller_continuous_a", "electronics.plug", "now.label_c"))
        )
        a = answers_of(unsure)
        self.assertEqual((a.limits.controller_a, a.limits.plug, a.now.label_c), (None, None, None))

    def test_what_it_is_where_nobody_said(self):
        """By how it moves."""
        kinds = {RACER: "multirotor", TRAINER: "plane", TRUCK: "car"}
        for told, kind in kinds.items():
            job = replace(described_job(told.answers, STEADY).job, propulsion=Propulsion())
            self.assertEqual(kind_of(job), kind)

    def test_against_the_log(self):
        """Just as estimated, more, less, many times, and outside of the range: each said so."""
        drawn = estimated_draw(trainer())
        median_a = drawn.average.median_a
        for times, words, inside in (
            (1.04, "as estimated", True),
            (1.06, "6 % more than estimated", True),
            (0.9, "10 % less than estimated", True),
            (4.0, "4 times the estimate, outside of its range", False),
            (0.25, "0.25 times the estimate, outside of its range", False),
        ):
            found = against(drawn, times * median_a, "its 5 runs")
            with self.subTest(times):
                self.assertIn(words, found.sentence)
                self.assertIn("by its 5 runs", found.sentence)
                self.assertEqual(found.inside, inside)
                self.assertAlmostEqual(found.factor, times)

    def test_as_a_job_holds_it(self):
        """A duty that can be kept: no peak below the average, peaks no more than half of the charge."""
        for told in (RACER, TRAINER, TRUCK):
            job = described_job(told.answers, STEADY).job
            f, true_for = estimated_figures(job, estimated_draw(job))
            duty = duty_from_figures(**asdict(f), **asdict(true_for), motion=job.motion)
            self.assertAlmostEqual(duty.average_current_a, f.average_a, places=6)
            self.assertLessEqual(f.peak_a * f.peak_s / f.peak_every_s, 0.5 * f.average_a * 1.0001)


class StartsFromItsRuns(SimpleTestCase):
    def test_the_next_estimate_of_that_model(self):
        """Runs that drew 1.4 times the estimate: on another propeller it starts from there, and is surer."""
        job = trainer()
        raw = estimated_draw(job)
        factor = off_by(job, 1.4 * raw.average.median_a)
        self.assertAlmostEqual(factor, 1.4, places=2)
        learnt = replace(job, propulsion=replace(job.propulsion, off_by=factor))
        now = estimated_draw(learnt)
        self.assertAlmostEqual(now.average.median_a / raw.average.median_a, factor)
        self.assertLess(now.average.high_a / now.average.low_a, raw.average.high_a / raw.average.low_a)
        larger = replace(learnt, propulsion=replace(learnt.propulsion, propeller="11x6"))
        self.assertGreater(estimated_draw(larger).average.median_a, now.average.median_a)
        self.assertEqual(estimated_draw(learnt, corrected=False).average, raw.average)
        # what is held against the log is the estimate itself
        self.assertEqual(off_by(learnt, 1.4 * raw.average.median_a), factor)


class OnOtherCells(SimpleTestCase):
    def on_four(self, job):
        """What is said of the propeller of now on four cells."""
        return next(r.note for r in other_cells(job) if r.cells == 4)

    def test_a_propeller_on_four_cells(self):
        """The same takes (4/3)² of the amps: too much for a controller of 30; a smaller one pulls as now."""
        job = trainer(controller_continuous_a=30.0, controller_burst_a=35.0, max_v=16.8)
        job = replace(job, assumed=frozenset())
        now = next(r for r in other_cells(job) if r.as_now)
        rows = [r for r in other_cells(job) if r.cells == 4]
        same, strong = rows[0], next(r for r in rows if r.note == "pulls as now")
        self.assertAlmostEqual(same.full_stick_a / now.full_stick_a, 16 / 9, places=6)
        self.assertEqual(same.note, "too much for its controller")
        self.assertLess(strong.full_stick_a, same.full_stick_a)
        self.assertGreaterEqual(strong.pull, 0.97)
        self.assertGreater(strong.minutes, now.minutes)
        self.assertTrue(all(r.loading <= 1 for r in rows if r.note != same.note))

    def test_what_it_runs_for_now_by_hand(self):
        """2200 mAh, 80 % used, at 8.5 A: 12.4 min."""
        now = next(r for r in other_cells(trainer()) if r.as_now)
        self.assertAlmostEqual(now.minutes, 2.2 * 0.8 / 8.5 * 60, delta=0.9)

    def test_volts_beyond_its_electronics_are_said(self):
        """Whether told, or assumed by what it runs on now."""
        job = replace(trainer(max_v=12.6), assumed=frozenset())
        self.assertIn(
            "more than its electronics take (12.6 V)", next(r.note for r in other_cells(job) if r.cells == 4)
        )
        job = replace(job, assumed=frozenset(("electronics.max_v",)))
        self.assertIn("nobody said", self.on_four(job))

    def test_gearing(self):
        """One cell more: a third faster with a third more amps; geared to stay as quick, a quarter fewer."""
        on_three = replace(TRUCK.answers.now, chemistry="lipo", series=3)
        limits = replace(TRUCK.answers.limits, cells_max=None)
        job = described_job(replace(TRUCK.answers, now=on_three, limits=limits), STEADY).job
        job = replace(job, propulsion=Propulsion(kind="truck", gear_ratio=12.0))
        by = {(r.cells, r.fitted): r for r in other_cells(job)}
        now = by[3, "12 : 1"]
        self.assertAlmostEqual(by[4, "12 : 1"].speed, 4 / 3)
        self.assertAlmostEqual(by[4, "12 : 1"].full_stick_a / now.full_stick_a, 4 / 3)
        self.assertAlmostEqual(by[4, "16 : 1"].speed, 1)
        self.assertAlmostEqual(by[4, "16 : 1"].full_stick_a / now.full_stick_a, 3 / 4)
        self.assertIsNone(now.pull)

    def test_ratings_of_each_count_for_all(self):
        """Four controllers of 45 A, rated each, carry four times that; assumed ones say nothing."""
        e = described_job(RACER.answers, STEADY).job.electronics
        limits = limits_of(e, frozenset())
        self.assertAlmostEqual(limits.controller_a, 45 * 4 * 1.3)
        self.assertIsNone(limits_of(e, frozenset(("electronics.controller_continuous_a",))).controller_a)

    def test_nothing_told_nothing_said(self):
        """Without a propeller there are no other ones."""
        self.assertEqual(other_cells(replace(trainer(), propulsion=Propulsion(kind="plane"))), ())
