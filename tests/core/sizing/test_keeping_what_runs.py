"""What runs today is evidence: it is kept where it does the job, and no weaker pack comes first."""

from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase

from coldstack.core.describing.answers import Answers, GoalAnswers, LimitAnswers, UsageAnswers
from coldstack.core.describing.job_from_answers import described_job
from coldstack.core.fit.fit import fit_of
from coldstack.core.rules.house_rules import STEADY
from coldstack.core.sizing.headline import headline, subline
from coldstack.core.sizing.plan import plan
from coldstack.core.trial.checks.unmeasured import stay_at_c
from coldstack.core.trial.job import RunsOn, two_of
from coldstack.core.trial.wording import lacks
from tests.core.describing.all_classes import STOCK

RACER = Answers(
    "",
    "multirotor",
    380,
    RunsOn("lipo", 6, 1.3, 222, 130),
    rotors=4,
    model_class="racer",
    usage=UsageAnswers(minutes=3.5),
    goals=GoalAnswers(minutes=3.5),
)


def sized(answers):
    """Its plan among typical packs."""
    return plan(described_job(answers, STEADY).job, STOCK)


class ByAGuess(SimpleTestCase):
    def test_a_weaker_pack_goes_with_care_and_behind(self):
        """75C for 130C: nobody measured the peak; said in people's words, and never first."""
        found = plan(described_job(RACER, STEADY).job, STOCK, rows=400)
        e = found.evaluation
        weak = next(k for k, n in enumerate(e.candidates.names) if n == "typical 6S 1300 75C")
        self.assertTrue(e.by_a_guess[weak])
        reason = next(r for r in fit_of(e, weak).reasons if r.id == "cells.unmeasured")
        self.assertEqual(reason.verdict, "care")
        self.assertRegex(reason.words, "nobody measured the peak: you run 130C, stay at 110C or more")
        guessed = [bool(e.by_a_guess[r]) for r in found.short_rows]
        self.assertEqual(guessed, sorted(guessed))
        self.assertFalse(guessed[0])

    def test_what_is_printed_counts_beside_what_is_trusted(self):
        """45C for 60C: by the cautious trust 81 %, by the labels 75 %."""
        found = sized(replace(RACER, now=replace(RACER.now, label_c=60)))
        e = found.evaluation
        weak = e.candidates.names.index("typical 6S 1300 45C")
        self.assertGreater(e.candidates.burst_a[weak], 0.8 * e.now.burst_a)
        self.assertTrue(e.by_a_guess[weak])

    def test_weak_packs_do_not_fill_the_list(self):
        """Lighter ones of less C stand behind, however good they are for their weight."""
        strong = Answers(
            "",
            "plane",
            1150,
            RunsOn("lipo", 3, 2.2, 190, 60),
            usage=UsageAnswers(minutes=11),
            goals=GoalAnswers(8),
        )
        found = sized(strong)
        self.assertTrue(found.evaluation.by_a_guess.any())
        self.assertFalse(found.evaluation.by_a_guess[found.short_rows].any())

    def test_the_label_to_stay_at_is_enough(self):
        """Whatever is run: packs of that label are not warned about; what is well below it is."""
        for label_c in (20, 30, 45, 60, 75, 100, 120, 150):
            stay = stay_at_c(label_c, 1.3, 1.3)
            self.assertGreaterEqual(stay, 0.8 * label_c)
            self.assertLess(stay, 0.8 * label_c + 10)
        self.assertEqual(stay_at_c(120, 1.3, 1.3), 100)
        self.assertEqual(stay_at_c(30, 2.2, 4.4), 12 + 3)

    def test_a_measured_peak_needs_no_such_care(self):
        """Then the amps decide."""
        told = replace(RACER, usage=replace(RACER.usage, peak_a=80.0))
        self.assertFalse(sized(told).evaluation.by_a_guess.any())


class Kept(SimpleTestCase):
    def test_it_says_what_would_be_better_at_what(self):
        """A trainer with time to spare: a bigger pack flies longer, at more grams."""
        trainer = Answers(
            "",
            "plane",
            1150,
            RunsOn("lipo", 3, 2.2, 180, 30),
            usage=UsageAnswers(minutes=11),
            goals=GoalAnswers(minutes=9),
        )
        found = sized(trainer)
        self.assertEqual(headline(found), "Keep what you have: 3S 2200 mAh LiPo flies 11 minutes.")
        self.assertRegex(subline(found), r"typical 3S \d+ \d+C is \d+ g\u2060 lighter")
        self.assertRegex(subline(found), r"flies [\d.]+ min longer at \d+ g\u2060 more")

    def test_where_other_cells_are_asked_for_it_lacks_those(self):
        """Its pack stands in the list, does it, and yet is not what is wanted: the words say why."""
        usage, goals = UsageAnswers(minutes=11), GoalAnswers(cells=4, minutes=9)
        e = sized(
            Answers("", "plane", 1150, RunsOn("lipo", 3, 2.2, 180, 30), usage=usage, goals=goals)
        ).evaluation
        self.assertEqual(e.failing(e.now_row), [])
        self.assertEqual(lacks(e, e.now_row), ["other cells, or another chemistry, are asked for"])

    def test_where_it_does_not_the_list_says_what_it_lacks(self):
        """Twenty minutes wanted of eleven."""
        found = sized(
            Answers(
                "",
                "plane",
                1150,
                RunsOn("lipo", 3, 2.2, 180, 30),
                usage=UsageAnswers(minutes=11),
                goals=GoalAnswers(20),
            )
        )
        e = found.evaluation
        self.assertNotIn("Keep", headline(found))
        self.assertIn(e.now_row, [m.row for m in found.misses])

    def test_by_a_draw_that_nobody_gave_it_is_not_known_to_be_too_short(self):
        """With care, and the question; far beyond its range it is too short all the same."""
        trainer = Answers("", "plane", 1150, RunsOn("lipo", 3, 2.2, 180, 30), model_class="trainer")
        for wanted, kept in ((13.0, True), (40.0, False)):
            found = sized(replace(trainer, goals=GoalAnswers(wanted)))
            e = found.evaluation
            self.assertEqual(bool(e.feasible[e.now_row]), kept, wanted)
            if kept:
                self.assertRegex(headline(found), "Keep what you have if it flies 13 minutes: nobody told")
                self.assertIn("how long does it run?", fit_of(e, e.now_row).sentence)

    def test_without_wanted_minutes_those_of_now_count(self):
        """Nothing wanted: the first pick runs as long as now, not half as long on half the grams."""
        found = sized(
            Answers("", "plane", 1150, RunsOn("lipo", 3, 2.2, 180, 30), usage=UsageAnswers(minutes=11))
        )
        self.assertGreater(found.evaluation.minutes[found.short_rows[0]], 10.4)

    def test_the_fewest_grams_first(self):
        """Of two that do the job the lighter one, not the one of more C: amps told."""
        told = replace(
            RACER, usage=UsageAnswers(average_a=17.8, peak_a=70.0, peak_s=2), goals=GoalAnswers(3.0)
        )
        c = (found := sized(told)).evaluation.candidates
        typical = np.array([p is not None and p.typical for p in c.packs])
        first = next(r for r in found.short_rows if typical[r])
        longer = c.capacity_ah >= c.capacity_ah[first] - 1e-9
        alike = longer & (c.mass_g < c.mass_g[first] - 1) & typical
        self.assertFalse((alike & found.evaluation.feasible & (found.evaluation.heat <= 0.8)).any())


class Asked(SimpleTestCase):
    def test_assumed_volts_ask(self):
        """Refitted from 3S to 4S, and nobody told what the controller takes: packs, with a question."""
        plane = Answers(
            "",
            "plane",
            1150,
            RunsOn("lipo", 3, 2.2, 180, 30),
            usage=UsageAnswers(minutes=11),
            goals=GoalAnswers(cells=4, refitted=True),
        )
        found = sized(plane)
        e, first = found.evaluation, found.short_rows[0]
        self.assertEqual(e.candidates.series[first], 4)
        self.assertRegex(fit_of(e, first).sentence, "what is the controller rated for")
        told = replace(plane, limits=LimitAnswers(cells_max=3))
        self.assertFalse([r for r in sized(told).short_rows if e.real[r]])

    def test_another_chemistry_is_told_its_punch_and_not_refused(self):
        """A car from six NiMH cells to two of LiFePO4: 84 % of its punch, or whatever it is."""
        car = Answers(
            "",
            "car",
            1450,
            RunsOn("nimh", 6, 3.3, 390),
            usage=UsageAnswers(minutes=12),
            goals=GoalAnswers(chemistry="lifepo4"),
        )
        found = sized(car)
        self.assertTrue(found.short_rows)
        e, first = found.evaluation, found.short_rows[0]
        lively = next(x for x in e.checks if x.id == "want.lively")
        self.assertFalse(lively.counts.any())
        if lively.loading[first] > 1:
            self.assertIn("today’s punch", fit_of(e, first).sentence)


class Two(SimpleTestCase):
    def test_two_in_series_or_side_by_side(self):
        """The figures of both together, and back; a pair stands in the list and in the shopping line."""
        one = RunsOn("lipo", 6, 5.0, 815, 50, cell_mohm=2.0)
        in_series, beside = two_of(one, "series"), two_of(one, "parallel")
        self.assertEqual((in_series.series, in_series.capacity_ah, in_series.mass_g), (12, 5.0, 1630))
        self.assertEqual((beside.series, beside.capacity_ah, beside.cell_mohm), (6, 10.0, 1.0))
        self.assertEqual((in_series.each.series, beside.each.capacity_ah), (6, 5.0))
        heli = Answers(
            "",
            "helicopter",
            4000,
            replace(in_series, cell_mohm=None),
            usage=UsageAnswers(minutes=5.5),
        )
        found = sized(heli)
        e = found.evaluation
        self.assertEqual(e.candidates.names[e.now_row], "2 × 6S 5000 mAh LiPo in series")
        self.assertTrue(any(e.candidates.names[r].startswith("2 × typical 6S") for r in found.short_rows))
        self.assertRegex(
            found.shopping.line, r"^two 6S LiPo \(22.2 V\) in series, each \d+ to \d+ mAh, labelled"
        )
        self.assertIn(" g\u2060 together", found.shopping.line)
        self.assertEqual(found.shopping.packs, 2)
