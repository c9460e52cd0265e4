"""From an owner's answers to the first pack of the list: for every kind of model what an expert would say."""

from django.test import SimpleTestCase

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.describing.job_from_answers import described_job
from coldstack.core.packs.typical import typical_cells, typical_packs
from coldstack.core.rules.house_rules import STEADY, for_chemistry
from coldstack.core.sizing.detail import details
from coldstack.core.sizing.plan import Stock, pick, plan
from coldstack.core.trial.wording import lack
from tests.core.describing.models import RACER, TRAINER, TRUCK, TWENTY

STOCK = Stock(typical_packs(), typical_cells())


def listed(told, **changes):
    """The job of a model and its plan among typical packs."""
    job = described_job(told.answers, STEADY).job
    return job, plan(job, STOCK, **changes)


def closed_form_ah(job):
    """Average × minutes ÷ usable share, at the volts of the wanted cells: by hand, as people do it."""
    wanted = job.wants.chemistries[0]
    rules = for_chemistry(STEADY, wanted)
    volts = job.wants.cells[0] * chemistry(wanted).nominal_v
    average_a = job.duty.average_current_a * job.now.nominal_v / volts
    return average_a * job.wants.minutes / 60 / (rules.start_soc - rules.landing_soc)


class Twenty(SimpleTestCase):
    def test_the_first_pack_is_what_one_would_buy(self):
        """The cells of now, and −10 to +40 % of average × minutes ÷ usable share."""
        for told in TWENTY:
            with self.subTest(told.name):
                job, found = listed(told)
                c = found.evaluation.candidates
                self.assertTrue(found.short_rows, "an empty list")
                first = found.short_rows[0]
                self.assertEqual(c.series[first], told.answers.now.series, c.names[first])
                share = c.capacity_ah[first] / closed_form_ah(job)
                self.assertTrue(0.9 <= share <= 1.4, (c.names[first], share))

    def test_nothing_assumed_speaks_against_a_pack(self):
        """Neither in what rules packs out, nor in the words beside the near misses."""
        for told in TWENTY:
            with self.subTest(told.name):
                job, found = listed(told)
                e = found.evaluation
                links = {f.split(".")[1].split("_")[0] for f in job.assumed if f.startswith("electronics.")}
                for miss in found.misses:
                    words = "; ".join(lack(e, k, miss.row) for k in miss.failing)
                    if "lead" in links:
                        self.assertNotIn("leads", words)
                    for link in links & {"plug", "controller"}:
                        self.assertNotIn(link, words)

    def test_every_listed_pack_is_within_the_window_and_has_the_wanted_cells(self):
        """At the aim of the longest too, with every row that does the job."""
        for told in TWENTY:
            for aim in ("all_round", "longest"):
                with self.subTest(told.name, aim=aim):
                    job, found = listed(told, aim=aim, rows=400)
                    c = found.evaluation.candidates
                    for row in found.short_rows:
                        full_v = c.series[row] * chemistry(job.wants.chemistries[0]).full_v
                        self.assertLessEqual(full_v, job.electronics.max_v * 1.0001)
                        self.assertIn(int(c.series[row]), job.wants.cells)


class Experts(SimpleTestCase):
    def test_a_racer(self):
        """5S of about 1500 to 1900 mAh that takes 84 A for two seconds; nothing of another cell count."""
        _, found = listed(RACER)
        c = found.evaluation.candidates
        self.assertGreaterEqual(len(found.short_rows), 3)
        for row in found.short_rows:
            self.assertEqual(c.series[row], 5)
            self.assertTrue(1.5 <= c.capacity_ah[row] <= 1.9, c.names[row])
            self.assertGreaterEqual(c.burst_a[row], 80)
            self.assertLessEqual(c.mass_g[row], 270)

    def test_a_racer_on_fewer_cells_has_no_punch(self):
        """Asked for 3S with the same propellers, what is left is said; refitted, the watts are kept."""
        from dataclasses import replace

        answers = replace(RACER.answers, goals=replace(RACER.answers.goals, cells=3))
        job = described_job(answers, STEADY).job
        found = plan(job, STOCK)
        self.assertFalse([r for r in found.short_rows if found.evaluation.real[r]])
        self.assertRegex(found.conflict.sentence, "lively|propeller|punch")
        # 3S for 5S: (3/5)³ of the watts is 22 %, and less amps sag less
        lively = next(x for x in found.evaluation.checks if x.id == "want.lively")
        best = float(max(lively.value[found.evaluation.real]))
        self.assertTrue(20 < best < 30, best)

    def test_a_trainer(self):
        """3S of 2000 to 2500 mAh."""
        _, found = listed(TRAINER)
        c, first = found.evaluation.candidates, found.short_rows[0]
        self.assertEqual(c.series[first], 3)
        self.assertTrue(2.0 <= c.capacity_ah[first] <= 2.5, c.names[first])

    def test_a_truck_from_six_nimh_cells_to_two_lipo(self):
        """2S, with the caution that nothing cuts off, and an alarm."""
        job, found = listed(TRUCK)
        c, first = found.evaluation.candidates, found.short_rows[0]
        self.assertEqual((c.series[first], c.names[first].startswith("typical 2S")), (2, True))
        mine = details(job, pick(job, STOCK, [c.ids[first]]))[0]
        words = next(x.sentence for x in mine.checks if x.id == "window.cutoff")
        self.assertRegex(words, "alarm")
