"""Sizing by all that is known: an expert's answers for models of every class, whatever their owners tell."""

import random
import re
from functools import cache

import numpy as np
from django.test import SimpleTestCase

from coldstack.core.chain.plugs import plug_family
from coldstack.core.describing.evidence import drawn_by
from coldstack.core.describing.job_from_answers import described_job
from coldstack.core.fit.fit import fit_of, verdicts
from coldstack.core.packs.masses import pulled, typical_mass_g, weighed
from coldstack.core.packs.pack import Pack
from coldstack.core.packs.typical import typical_packs
from coldstack.core.rules.house_rules import STEADY
from coldstack.core.sizing.detail import details
from coldstack.core.sizing.headline import headline
from coldstack.core.sizing.pairs import PAIR_MASS
from coldstack.core.sizing.plan import plan
from coldstack.core.trial.candidates import job_candidates
from coldstack.core.trial.evaluate import evaluate
from coldstack.core.trial.now import now_pack
from coldstack.core.trial.spread import minutes_range
from tests.core.describing.all_classes import FACTS, STOCK, all_classes
from tests.thorough import some

MODELS = all_classes()
WAYS = {
    "amps": ("label", "grams", "amps", "peak"),
    "minutes": ("label", "grams", "minutes"),
    "amps, plug, controller": ("label", "grams", "amps", "peak", "plug", "controller"),
    "minutes, plug, controller": ("label", "grams", "minutes", "plug", "controller"),
    "minutes alone": ("minutes",),
}


@cache
def sized(index, *facts, goals=True):
    """The plan of one model told so much."""
    known = MODELS[index]
    return plan(described_job(known.told(*facts, goals=goals), STEADY).job, STOCK)


def share(found):
    """How many of all."""
    return sum(found) / len(found)


class FirstPick(SimpleTestCase):
    def test_there_are_models_of_every_class(self):
        """Sixty at least, each class met."""
        from coldstack.core.describing.model_classes import MODEL_CLASSES

        self.assertGreaterEqual(len(MODELS), 60)
        self.assertEqual({m.model_class for m in MODELS}, set(MODEL_CLASSES))

    def test_cells_and_capacity_are_the_expert_s(self):
        """Cells in nineteen of twenty, capacity in nine of ten; never without a pack, since each runs today;
        and never of less than 80 % of today's printed amps while nobody told the peak."""
        for way, facts in WAYS.items():
            cells, mah = [], []
            for k, known in enumerate(MODELS):
                found = sized(k, *facts)
                with self.subTest(way, model=known.name):
                    self.assertTrue(found.short_rows, found.conflict and found.conflict.sentence)
                    c, first = found.evaluation.candidates, found.short_rows[0]
                    cells.append(int(c.series[first]) == known.cells)
                    mah.append(known.mah[0] <= 1000 * c.capacity_ah[first] <= known.mah[1])
                    pack = c.packs[first]
                    if "peak" not in facts and "label" in facts and pack.label_c and known.now.label_c:
                        now_a = known.now.label_c * known.now.capacity_ah
                        self.assertGreaterEqual(pack.label_c * c.capacity_ah[first], 0.8 * now_a - 1e-6)
            with self.subTest(way):
                self.assertGreaterEqual(share(cells), 0.95)
                self.assertGreaterEqual(share(mah), 0.90)

    def test_told_nothing(self):
        """The pack is of a usable size in seven of ten; what runs today is kept where nothing is wanted."""
        mah, kept = [], []
        for k, known in enumerate(MODELS):
            found = sized(k)
            first = found.short_rows[0] if found.short_rows else None
            ah = found.evaluation.candidates.capacity_ah
            mah.append(first is not None and known.mah[0] <= 1000 * ah[first] <= known.mah[1])
            kept.append(headline(sized(k, goals=False)).startswith("Keep what you have"))
        self.assertGreaterEqual(share(mah), 0.70)
        self.assertEqual(share(kept), 1.0)

    def test_the_pack_of_now_does_the_job(self):
        """Told amps or minutes it lands after its true minutes within 1 %, is listed, and kept."""
        for way, facts in WAYS.items():
            for k, known in enumerate(MODELS):
                with self.subTest(way, model=known.name):
                    found = sized(k, *facts)
                    e, now = found.evaluation, found.evaluation.now_row
                    self.assertIn(now, found.short_rows)
                    self.assertIn(fit_of(e, now).verdict, ("does", "care"))
                    self.assertRegex(headline(found), "^Keep what you have")
                    self.assertAlmostEqual(float(e.minutes[now]) / known.minutes, 1, delta=0.01)

    def test_what_an_expert_refuses_never_comes_first(self):
        """A cell fewer or more, much too small: it does not simply do the job, and what is a cell fewer does
        not come first."""
        refused = 0
        for known in MODELS:
            job = described_job(
                known.told("label", "grams", "amps", "peak", "controller", "cells"), STEADY
            ).job
            for words in known.refuse:
                series, mah, c = (float(x) for x in re.fullmatch(r"(\d+)S (\d+) (\d+)C", words).groups())
                pack = Pack(
                    words,
                    words,
                    known.now.chemistry,
                    int(series),
                    mah / 1000,
                    typical_mass_g(known.now.chemistry, int(series), mah / 1000, c),
                    label_c=c,
                    plug=job.electronics.plug,
                )
                said = verdicts(evaluate(job, job_candidates(job, [pack])))[0]
                with self.subTest(known.name, pack=words):
                    self.assertNotEqual(said, "does")
                refused += 1
        self.assertGreater(refused, 100)

    def test_assumed_plugs_are_such_as_people_use(self):
        """Nineteen in twenty, told minutes alone."""
        fits = []
        for known in MODELS:
            plug = described_job(known.told("minutes"), STEADY).job.electronics.plug
            self.assertTrue(plug_family(plug))
            fits.append(plug in known.plugs)
        self.assertGreaterEqual(share(fits), 0.95)


class Draw(SimpleTestCase):
    def usable_ah(self, known):
        return 0.8 * known.now.capacity_ah

    def test_told_nothing_nine_in_ten_hold_the_truth(self):
        """Of its average, for the models as they are, and with a truth off by a quarter either way."""
        rng = random.Random(4)
        for off in (0.0, 0.25):
            held = []
            for known in MODELS:
                found = drawn_by(known.told(), usable_ah=self.usable_ah(known)).average
                truth = known.average_a * np.exp(rng.gauss(0, 1) * off)
                held.append(found.low_a <= truth <= found.high_a)
            self.assertGreaterEqual(share(held), 0.85, off)

    def test_peaks_assumed_from_minutes(self):
        """Within a factor of 1.6 for four in five, and never by more than two under it."""
        for facts in (("minutes",), WAYS["minutes"], WAYS["minutes, plug, controller"]):
            near = []
            for known in MODELS:
                job = described_job(known.told(*facts), STEADY).job
                ratio = job.duty.peak_current_a / known.peak_a
                near.append(1 / 1.6 <= ratio <= 1.6)
                self.assertGreaterEqual(ratio, 0.5, (known.name, facts))
            self.assertGreaterEqual(share(near), 0.80, facts)

    def test_ratings_raise_a_peak_as_well_as_cap_it(self):
        """Four controllers of 50 A on a small racer; one of 20 A on a plane that would draw 40."""
        racer = next(m for m in MODELS if m.name == "five-inch racer")
        bare, with_them = (
            described_job(racer.told("minutes", *more), STEADY).job.duty.peak_current_a
            for more in ((), ("controller",))
        )
        self.assertGreater(with_them, bare)
        trainer = next(m for m in MODELS if m.name == "high-wing trainer")
        answers = trainer.told("minutes", "controller")
        from dataclasses import replace

        weak = replace(answers, limits=replace(answers.limits, controller_a=15.0))
        usual, less = (described_job(a, STEADY).job.duty.peak_current_a for a in (answers, weak))
        self.assertLess(less, usual)


class MoreFacts(SimpleTestCase):
    def test_no_true_fact_makes_the_answer_worse(self):
        """Told one after the other in any order: the range of its minutes, as a ratio, never widens, and its
        pack never falls below care."""
        rng = random.Random(7)
        for known in some(MODELS, 3):
            facts: list[str] = []
            last = np.inf
            for fact in ("", *rng.sample(FACTS, len(FACTS))):
                facts += [fact] if fact else []
                job = described_job(known.told(*facts), STEADY).job
                c = job_candidates(job, [now_pack(job.now)])
                e = evaluate(job, c)
                found = minutes_range(job, c, e.minutes, np.zeros(1, bool))
                width = float(found.high[0] / found.low[0])
                with self.subTest(known.name, facts=tuple(facts)):
                    self.assertLessEqual(width, last * (1 + 1e-9))
                    self.assertIn(verdicts(e)[0], ("does", "care"))
                last = width

    def test_a_model_named_by_its_class_is_guessed_as_such(self):
        """ "five-inch racer" is a racer."""
        for known in MODELS:
            found = drawn_by(known.told(chosen_name=known.name), usable_ah=0.8 * known.now.capacity_ah)
            self.assertEqual(found.likely.best.id, known.model_class, known.name)
            self.assertFalse(found.likely.chosen)


class Alarms(SimpleTestCase):
    def test_before_the_landing_and_not_in_the_first_half(self):
        """In nineteen of twenty first picks (of every second model), told amps or minutes."""
        good = []
        for way in ("amps", "minutes"):
            for k in some(range(len(MODELS)), 2):
                found = sized(k, *WAYS[way])
                e = found.evaluation
                d = details(e.job, e.candidates.take(found.short_rows[:1]))[0]
                at = d.trace.alarm_min
                good.append(at is not None and d.minutes / 2 <= at <= d.minutes)
        self.assertGreaterEqual(share(good), 0.95)


class ShoppingLines(SimpleTestCase):
    def test_both_ends_can_be_bought_within_its_grams(self):
        """The least and the most capacity, with the C that is asked for, by what such packs weigh."""
        lines = 0
        for k, known in enumerate(MODELS):
            found = sized(k, *WAYS["minutes"]).shopping
            if found is None or found.mass_g is None:
                continue
            lines += 1
            beside = 2 if "side by side" in found.line else 1
            for ah in found.capacity_ah:
                series = found.series // (found.packs if beside == 1 else 1)
                each = typical_mass_g(found.chemistry, series, ah / beside, found.label_c)
                told = known.now.each
                scale = weighed(told.chemistry, told.series, told.capacity_ah, told.mass_g, told.label_c)
                own = float(pulled((scale,), found.chemistry, series, ah / beside)) if scale else 1.0
                grams = each * max(own, 1.0) * (2 * PAIR_MASS if found.packs == 2 else 1)
                with self.subTest(known.name, ah=ah):
                    self.assertLessEqual(grams, found.mass_g + 1e-6)
        self.assertGreater(lines, 40)

    def test_in_a_shop_s_words(self):
        """Printed volts and cells, a C that is printed, no honest one; the plug is marked while assumed."""
        for k, known in enumerate(MODELS):
            found = sized(k, *WAYS["minutes"]).shopping
            with self.subTest(known.name):
                self.assertIsNotNone(found)
                self.assertNotIn("honest", found.line)
                self.assertIn(" V", found.line)
                self.assertIn("your plug: say which", found.line)
                sold = {p.capacity_ah for p in typical_packs() if p.chemistry == found.chemistry}
                told = [
                    float(x) / 1000 for x in re.search(r"(\d+)(?: to (\d+))? mAh", found.line).groups() if x
                ]
                self.assertLessEqual(set(told), {*sold, known.now.each.capacity_ah})
                if found.label_c is not None and known.now.label_c:
                    today_a = known.now.label_c * known.now.capacity_ah
                    self.assertGreaterEqual(found.label_c * found.capacity_ah[0], 0.8 * today_a - 1e-6)
                if known.now.chemistry == "nimh":
                    self.assertIn("of 6 cells", found.line)
                    self.assertNotIn("6S", found.line)
                if known.now.series > 8:
                    self.assertIn(f"two {known.now.series // 2}S", found.line)
