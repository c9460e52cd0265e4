"""Answers to a job: what was told comes back from the simulation, what was not is assumed and named."""

from dataclasses import replace

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from coldstack.core.cells.chemistry import CHEMISTRY_IDS, chemistry
from coldstack.core.describing.answers import Answers, GoalAnswers, LimitAnswers, UsageAnswers
from coldstack.core.describing.job_from_answers import CONTROLLERS_A, described_job
from coldstack.core.describing.model_kinds import MODEL_KINDS
from coldstack.core.errors import DomainError
from coldstack.core.fit.fit import fit_of
from coldstack.core.packs.typical import typical_cells, typical_mass_g, typical_packs
from coldstack.core.rules.house_rules import STEADY, for_chemistry, house_rules
from coldstack.core.sizing.plan import Stock, plan
from coldstack.core.trial.candidates import job_candidates
from coldstack.core.trial.evaluate import evaluate
from coldstack.core.trial.job import RunsOn
from coldstack.core.trial.now import NOW_ID, now_pack, pointed_out, true_for
from tests.core.describing.models import RACER, TRAINER, TWENTY, amps, minutes, runs_on, told

MOST_CELLS_OF = {"lipo": 12, "lihv": 6, "liion": 8, "semisolid": 6, "lifepo4": 4, "nimh": 8}


def simulated(job):
    """The pack it runs on now, run in the job."""
    return evaluate(job, job_candidates(job, [now_pack(job.now)]))


@st.composite
def models(draw):
    """Any model by any answers: kinds, cells, capacities, minutes from a quick burn to hours."""
    kind = draw(st.sampled_from(sorted(MODEL_KINDS)))
    chemistry_id = draw(st.sampled_from(CHEMISTRY_IDS))
    series = draw(st.integers(1, MOST_CELLS_OF[chemistry_id]))
    ah = draw(st.floats(0.15, 20.0))
    now = RunsOn(chemistry_id, series, ah, typical_mass_g(chemistry_id, series, ah))
    # a draw from C/3 to as fast as the chemistry is used
    quickest = {"lipo": 2.5, "lihv": 2.5, "liion": 12.0, "semisolid": 15.0, "lifepo4": 8.0, "nimh": 6.0}
    minutes_told = draw(st.floats(quickest[chemistry_id], 120.0))
    how = draw(st.sampled_from(("minutes", "put_back", "amps")))
    usable_ah = ah * 0.8
    # at most 60 A for each cell in series: beyond that leads and plug eat the volts of so few cells
    minutes_told = max(minutes_told, usable_ah / series)
    average_a = usable_ah / (minutes_told / 60)
    usage = {
        "minutes": UsageAnswers(minutes=minutes_told),
        "put_back": UsageAnswers(minutes=minutes_told, put_back_mah=1000 * usable_ah),
        "amps": UsageAnswers(average_a=average_a),
    }[how]
    peak = draw(st.one_of(st.none(), st.floats(1.2, 3.0)))
    if peak is not None:
        usage = replace(usage, peak_a=peak * average_a * 1.3)
    mass_g = max(5.0, now.mass_g * draw(st.floats(1.0, 8.0)))
    return Answers("any", kind, mass_g, now, usage=usage, goals=GoalAnswers(minutes=draw(st.floats(1, 60))))


class PackHistory(SimpleTestCase):
    @settings(max_examples=120)
    @given(models())
    def test_the_pack_of_now_gives_back_the_minutes_told(self, answers):
        """Within 3 %, for any model; minutes by the closed form where mAh or amps were told."""
        job = described_job(answers, STEADY).job
        rules = for_chemistry(STEADY, answers.now.chemistry)
        usable_ah = answers.now.capacity_ah * (rules.start_soc - rules.landing_soc)
        usage = answers.usage
        expected = usage.minutes
        if usage.average_a:
            expected = 60 * usable_ah / usage.average_a
        elif usage.put_back_mah:
            expected = usable_ah / usage.put_back_mah * 1000 * usage.minutes
        found = float(simulated(job).minutes[0])
        self.assertAlmostEqual(found / expected, 1, delta=0.03)

    @settings(max_examples=40)
    @given(models(), st.integers(1, 14))
    def test_no_list_leaves_the_window(self, answers, cells_max):
        """Whatever the electronics are rated for, no cell count above it is recommended; what it runs on now
        may stand there, with care."""
        rated = replace(answers, limits=LimitAnswers(cells_max=cells_max))
        try:
            job = described_job(rated, STEADY).job
        except DomainError as refused:
            # what was told may be beyond any pack, whatever the electronics are rated for
            self.assertIn(refused.field, {"limits.cells_max", "usage.minutes", "usage.peak_a"})
            return
        found = plan(job, Stock(typical_packs(), typical_cells()))
        c = found.evaluation.candidates
        for row in found.short_rows:
            full_v = c.series[row] * chemistry(CHEMISTRY_IDS[c.chemistry_index[row]]).full_v
            if c.ids[row] == NOW_ID and full_v > cells_max * 4.2 + 1e-6:
                self.assertEqual(fit_of(found.evaluation, row).verdict, "care")
                continue
            self.assertLessEqual(full_v, cells_max * 4.2 + 1e-6)

    def test_more_than_leads_let_through_is_refused_in_the_owners_words(self):
        """One cell of 10 Ah in two and a half minutes: at the question, and not about a resistance nobody
        typed."""
        now = RunsOn("lipo", 1, 10.0, 235.0)
        impossible = Answers("any", "boat", 235.0, now, now_mass_told=True, usage=UsageAnswers(minutes=2.5))
        with self.assertRaisesRegex(DomainError, "What was told cannot be") as refused:
            described_job(replace(impossible, limits=LimitAnswers(cells_max=1)), STEADY)
        self.assertEqual(refused.exception.field, "usage.minutes")

    def test_the_peak_told_is_the_peak_simulated(self):
        """At full stick fresh off the charger, but for what the stretch before it took."""
        for model in (RACER, TRAINER):
            job = described_job(model.answers, STEADY).job
            peak = float(simulated(job).discharge.peak_current_a[0])
            self.assertAlmostEqual(peak / model.answers.usage.peak_a, 1, delta=0.06)

    def test_what_the_draw_is_true_for(self):
        """In the words that stand beside the average."""
        self.assertEqual(true_for(described_job(RACER.answers, STEADY).job), "on 5S LiPo, 740 g\u2060 all up")

    def test_other_rules_other_draw(self):
        """Who lands at 70 % used and flew ten minutes drew less."""
        answers = replace(TRAINER.answers, usage=minutes(10))
        gentle, usual = (
            described_job(answers, house_rules(r)).job.duty.average_current_a for r in ("long_life", "steady")
        )
        self.assertLess(gentle, usual)
        self.assertAlmostEqual(usual, 2.2 * 0.8 / (10 / 60), delta=0.05)

    def test_a_told_draw_is_surer_than_an_estimate(self):
        """The spread that widens the range of minutes."""
        spreads = [
            described_job(replace(TRAINER.answers, usage=g), STEADY).job.duty.spread
            for g in (amps(8.5), UsageAnswers(minutes=10, put_back_mah=1500), minutes(10), UsageAnswers())
        ]
        self.assertEqual(spreads, sorted(spreads))
        self.assertGreaterEqual(spreads[-1], 0.3)

    def test_a_draw_that_lasts_for_hours(self):
        """A small boat on a huge pack: no run is simulated to its end, and the volts are the resting ones."""
        boat = told("x", "boat", 900, runs_on(3, 30000), amps(2.0)).answers
        duty = described_job(boat, STEADY).job.duty
        self.assertTrue(3 * 3.7 < duty.reference_voltage_v < 3 * 4.0, duty.reference_voltage_v)


class Assumed(SimpleTestCase):
    def test_what_nobody_told_is_named(self):
        """And nothing that somebody told."""
        found = described_job(RACER.answers, STEADY)
        self.assertEqual(
            set(found.assumed),
            {
                "draw.peak_every_s",
                "now.label_c",
                "electronics.plug",
                "electronics.lead_awg",
                "electronics.cutoff",
            },
        )
        bare = described_job(told("x", "plane", 1000, runs_on(3, 2200)).answers, STEADY)
        for field in (
            "draw.average_a",
            "draw.peak_a",
            "electronics.max_v",
            "electronics.controller_continuous_a",
        ):
            self.assertIn(field, bare.assumed)

    def test_the_name_of_a_kind_says_nothing_of_the_class(self):
        """ "Truck or crawler" stands where nobody named it: that makes no heavy truck a crawler."""
        heavy = told("", "truck", 4300, runs_on(4, 5000)).answers
        nameless, named = (described_job(replace(heavy, name=n), STEADY) for n in ("", "the old red one"))
        self.assertEqual(nameless.drawn, named.drawn)
        self.assertNotEqual(nameless.drawn.likely.best.id, "crawler")
        self.assertEqual(nameless.job.name, "truck or crawler")

    def test_what_is_assumed_suits_what_it_runs_on(self):
        """No assumed link is over its limit on the pack of now, for any of the twenty."""
        for model in TWENTY:
            with self.subTest(model.name):
                job = described_job(model.answers, STEADY).job
                e = simulated(job)
                for check in e.checks:
                    if check.assumed is not None and check.assumed[0] and not check.spec.in_sight:
                        self.assertLessEqual(check.loading[0], 1.0, check.id)

    def test_controllers_are_of_a_rating_that_is_sold(self):
        """For each of four, a quarter of the amps."""
        answers = replace(RACER.answers, limits=LimitAnswers())
        e = described_job(answers, STEADY).job.electronics
        self.assertIn(int(e.controller_continuous_a), CONTROLLERS_A)
        self.assertEqual((e.controllers, e.sharing("controller")), (4, 4))
        self.assertLess(e.controller_continuous_a, 84 / 2)

    def test_without_a_rating_the_cells_of_now_are_the_most(self):
        """A question, not a figure: sizing offers nothing above it."""
        job = described_job(replace(RACER.answers, limits=LimitAnswers()), STEADY).job
        self.assertEqual(job.electronics.max_v, 21.0)
        self.assertTrue(job.is_assumed("electronics.max_v"))


class Refused(SimpleTestCase):
    def refused(self, field, words, **changes):
        """These answers are refused at this question, in these words."""
        with self.assertRaisesRegex(DomainError, words) as caught:
            described_job(replace(RACER.answers, **changes), STEADY)
        self.assertEqual(caught.exception.field, field)

    def test_figures_that_cannot_be(self):
        """Each at its question, in the owner's words."""
        now, usage = RACER.answers.now, RACER.answers.usage
        self.refused("kind", "Choose what it is", kind="submarine")
        self.refused("mass_g", "Mass without the pack", mass_g=float("nan"))
        self.refused("now.series", "Cells in series", now=replace(now, series=0))
        self.refused("usage.minutes", "After how many minutes", usage=UsageAnswers(put_back_mah=900))
        self.refused("usage.peak_a", "below the average", usage=replace(usage, peak_a=15.0))
        self.refused("usage.average_a", "Average", usage=replace(usage, average_a=900.0))
        self.refused("limits.cells_max", "runs on 5S", limits=LimitAnswers(cells_max=4))
        self.refused("limits.cells_min", "cannot be more", limits=LimitAnswers(cells_min=6, cells_max=5))

    def test_what_follows_is_refused_at_the_question_behind_it(self):
        """A peak so long that it hardly comes; a chemistry of which too many cells would be needed."""
        self.refused(
            "usage.peak_s", "once in hours", usage=UsageAnswers(average_a=1.0, peak_a=30.0, peak_s=600)
        )
        many = runs_on(28, 5000, 4000)
        goals = GoalAnswers(chemistry="nimh")
        self.refused(
            "goals.chemistry", "Cells in series", now=many, goals=goals, limits=LimitAnswers(cells_max=28)
        )

    def test_just_within_and_just_over_the_rating(self):
        """5S on electronics for 5; not for 4."""
        described_job(replace(RACER.answers, limits=LimitAnswers(cells_max=5)), STEADY)
        described_job(replace(RACER.answers, limits=LimitAnswers(max_v=21.0)), STEADY)
        self.refused("limits.max_v", "21.0 V when full", limits=LimitAnswers(max_v=20.0))


class PointedOut(SimpleTestCase):
    def test_a_draw_told_on_more_volts_than_the_controller_takes(self):
        """At the field of the reference."""
        job = described_job(RACER.answers, STEADY).job
        self.assertEqual(pointed_out(job), [])
        low = replace(job, electronics=replace(job.electronics, max_v=16.8))
        self.assertEqual(pointed_out(low)[0].field, "draw.reference_voltage_v")

    def test_other_cells_than_those_it_was_told_for(self):
        """At the cells, with how its amps are carried over."""
        job = described_job(RACER.answers, STEADY).job
        other = replace(job, wants=replace(job.wants, cells=(4,)))
        self.assertRegex(pointed_out(other)[0].sentence, "you want 4S")
        both = replace(job, wants=replace(job.wants, cells=(4, 5)))
        self.assertEqual(pointed_out(both), [])
