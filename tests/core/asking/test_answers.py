"""Slips in what is told of a model: asked with the figure that was meant; honest models are left alone."""

import random
from dataclasses import replace

from django.test import SimpleTestCase

from coldstack.core.asking.answers import slips_in_answers
from coldstack.core.describing.answers import Answers, GoalAnswers, LimitAnswers, UsageAnswers
from coldstack.core.trial.job import RunsOn
from tests.core.asking.honest import honest
from tests.thorough import many

QUAD = Answers(
    name="Siskin",
    kind="multirotor",
    mass_g=410,
    now=RunsOn("lipo", 4, 1.3, 155, 75),
    usage=UsageAnswers(minutes=4.5, put_back_mah=1050, average_a=14, peak_a=80),
    limits=LimitAnswers(controller_a=35, motor_kv=2400),
    goals=GoalAnswers(minutes=5, mass_g=200),
)
TRAINER = Answers(
    name="Linnet trainer",
    kind="plane",
    mass_g=1100,
    now=RunsOn("lipo", 3, 2.2, 180, 30),
    usage=UsageAnswers(minutes=11, put_back_mah=1700, average_a=9.5, peak_a=28),
    limits=LimitAnswers(controller_a=40, motor_kv=920),
    goals=GoalAnswers(minutes=12, mass_g=250),
)
CAR = Answers(
    name="Dunlin buggy",
    kind="car",
    mass_g=1500,
    now=RunsOn("nimh", 6, 3.0, 380, None),
    usage=UsageAnswers(minutes=12, average_a=12),
)


def told(a: Answers, field: str) -> float:
    value = a
    for part in field.split("."):
        value = getattr(value, part)
    return value


def with_(a: Answers, field: str, value: float) -> Answers:
    first, _, rest = field.partition(".")
    if not rest:
        return replace(a, **{first: value})
    return replace(a, **{first: replace(getattr(a, first), **{rest: value})})


SLIPS = [
    *((QUAD, "mass_g", by) for by in (10, 100, 0.1, 28.35, 453.6)),
    *((QUAD, "now.capacity_ah", by) for by in (10, 0.1, 0.001, 1000)),
    *((QUAD, "now.mass_g", by) for by in (10, 0.1, 1 / 28.35)),
    *((QUAD, "now.label_c", by) for by in (10, 0.1)),
    *((QUAD, "usage.minutes", by) for by in (10, 0.1, 60)),
    *((QUAD, "usage.put_back_mah", by) for by in (10, 0.1)),
    *((QUAD, "usage.average_a", by) for by in (10, 0.1)),
    *((QUAD, "usage.peak_a", by) for by in (10, 0.1)),
    *((QUAD, "goals.minutes", by) for by in (10, 0.1, 60)),
    *((QUAD, "goals.mass_g", by) for by in (10, 0.1)),
    (QUAD, "limits.motor_kv", 10),
    *((TRAINER, "mass_g", by) for by in (10, 0.1, 1 / 28.35)),
    *((TRAINER, "now.capacity_ah", by) for by in (10, 0.1)),
    *((TRAINER, "now.mass_g", by) for by in (10, 0.1)),
    *((TRAINER, "usage.minutes", by) for by in (10, 0.1, 60)),
    *((TRAINER, "usage.put_back_mah", by) for by in (10, 0.1)),
    *((TRAINER, "usage.average_a", by) for by in (10, 0.1)),
    (TRAINER, "usage.peak_a", 10),
    *((TRAINER, "goals.minutes", by) for by in (10, 0.1)),
    *((TRAINER, "goals.mass_g", by) for by in (10, 0.1)),
    (CAR, "mass_g", 10),
    *((CAR, "now.capacity_ah", by) for by in (10, 0.1)),
    *((CAR, "usage.minutes", by) for by in (10, 0.1)),
    (CAR, "usage.average_a", 10),
]


class Slips(SimpleTestCase):
    def test_the_true_ones_are_not_asked(self):
        """Before anything slips."""
        for a in (QUAD, TRAINER, CAR):
            self.assertEqual(slips_in_answers(a), [], a.name)

    def test_each_is_asked(self):
        """Tenfold and unit slips: the right field, and the figure that was meant."""
        for a, field, by in SLIPS:
            with self.subTest(a.name, field=field, by=by):
                meant = told(a, field)
                (asked,) = slips_in_answers(with_(a, field, meant * by))
                self.assertEqual(asked.field, field)
                # ounces for grams are as well explained by a nought
                tenfold = by in (0.001, 0.1, 10, 100, 1000)
                self.assertAlmostEqual(asked.meant / meant, 1, delta=0.01 if tenfold else 2)
                self.assertIn("Did you mean", asked.sentence)

    def test_its_owner_is_sure(self):
        """Said to be so, it is not asked again; another slip is."""
        heavy = with_(QUAD, "mass_g", 25_000)
        self.assertEqual([q.field for q in slips_in_answers(heavy)], ["mass_g"])
        self.assertEqual(slips_in_answers(replace(heavy, sure=("mass_g",))), [])

    def test_a_quad_of_25_kg(self):
        """On 850 mAh: in words that one can act on."""
        light = Answers("Wren", "multirotor", 25_000, RunsOn("lipo", 4, 0.85, 100, 75))
        (asked,) = slips_in_answers(light)
        self.assertRegex(asked.sentence, r"25000 g.* hardly goes with a 4S 850 mAh pack. Did you mean 250 g")

    def test_more_than_it_can_hold(self):
        """By no turn of the finger: its capacity is asked about."""
        (asked,) = slips_in_answers(with_(QUAD, "usage.put_back_mah", 3000))
        self.assertEqual(asked.field, "usage.put_back_mah")
        self.assertIn("2.3 times what the pack holds: is its capacity right?", asked.sentence)


class Honest(SimpleTestCase):
    def test_hardly_any_is_asked(self):
        """Five hundred models of all classes, spread wider than believed: under one in a hundred."""
        draw, count = random.Random(2026), many(500, 250)
        asked = sum(bool(slips_in_answers(honest(draw))) for _ in range(count))
        self.assertLess(asked / count, 0.01)
