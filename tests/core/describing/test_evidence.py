"""Evidence of a draw: medians and spreads by hand, what speaks for the peak, how a class is guessed."""

import math
from dataclasses import replace

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.describing.answers import Answers, GoalAnswers, LimitAnswers, UsageAnswers
from coldstack.core.describing.evidence import (
    LABEL_SHARE,
    LABEL_SIGMA,
    RATING_SHARE,
    Estimate,
    EvidencePiece,
    drawn_by,
)
from coldstack.core.describing.model_classes import MODEL_CLASSES, Clues, guessed_class
from coldstack.core.trial.job import RunsOn

BAIT = Answers(
    "", "boat", 3800, RunsOn("lipo", 3, 10.0, 700), model_class="bait", usage=UsageAnswers(minutes=60)
)
SOARER = Answers(
    "", "sailplane", 1400, RunsOn("lipo", 3, 1.3, 115), model_class="thermal", usage=UsageAnswers(minutes=20)
)


def peak_of(answers):
    """The estimate of its peak."""
    return drawn_by(answers, usable_ah=0.8 * answers.now.capacity_ah).peak


def ids(estimate):
    """Which pieces count."""
    return [p.id for p in estimate.pieces]


class Product(SimpleTestCase):
    def test_two_by_hand(self):
        """10 A (σ 0.3) and 20 A (σ 0.6): the first counts four times; σ is 0.3 × 0.6 ÷ √(0.3² + 0.6²)."""
        both = Estimate((EvidencePiece("a", "", 10, 0.3), EvidencePiece("b", "", 20, 0.6)))
        self.assertAlmostEqual(both.median_a, 10 ** (4 / 5) * 20 ** (1 / 5))
        self.assertAlmostEqual(both.sigma, 0.18 / math.sqrt(0.45))
        self.assertAlmostEqual(both.high_a / both.median_a, math.exp(1.645 * both.sigma))
        self.assertAlmostEqual(both.low_a * both.high_a, both.median_a**2)
        self.assertAlmostEqual(math.log1p(both.spread), 2 * both.sigma)

    @given(st.lists(st.tuples(st.floats(0.1, 1000), st.floats(0.02, 2)), min_size=2, max_size=6))
    def test_one_more_piece_never_widens_it(self, pieces):
        """And the median stays between the least and the most of all."""
        made = [EvidencePiece(str(k), "", m, s) for k, (m, s) in enumerate(pieces)]
        fewer, all_of_them = Estimate(tuple(made[:-1])), Estimate(tuple(made))
        self.assertLess(all_of_them.sigma, fewer.sigma)
        medians = [m for m, _ in pieces]
        self.assertTrue(min(medians) * 0.999 <= all_of_them.median_a <= max(medians) * 1.001)


class ChosenForThePeak(SimpleTestCase):
    def test_the_lowest_label_that_is_sold_speaks_only_where_it_caps(self):
        """20C on a bait boat's 10 Ah says nothing of its 20 A; on a soarer's 1.3 Ah it caps the climb."""
        self.assertNotIn("label", ids(peak_of(replace(BAIT, now=replace(BAIT.now, label_c=20)))))
        bare, capped = (peak_of(replace(SOARER, now=replace(SOARER.now, label_c=c))) for c in (None, 20))
        self.assertIn("label", ids(capped))
        self.assertLess(capped.median_a, bare.median_a)
        self.assertAlmostEqual(capped.pieces[-1].median_a, LABEL_SHARE * 20 * 1.3)
        self.assertEqual(capped.pieces[-1].sigma, LABEL_SIGMA)

    def test_controllers_by_number_burst_and_how_they_are_rated(self):
        """Four of 50 A each, told without a burst: 4 × 1.3 × 50; together: 1.3 × 50; with a burst: that."""
        quad = Answers("", "multirotor", 400, RunsOn("lipo", 6, 1.3, 220), usage=UsageAnswers(minutes=4))
        for limits, burst_a in (
            (LimitAnswers(controller_a=50), 260),
            (LimitAnswers(controller_a=50, ratings="together"), 65),
            (LimitAnswers(controller_a=50, controller_burst_a=60, controllers=2), 120),
        ):
            piece = next(p for p in peak_of(replace(quad, limits=limits)).pieces if p.id == "controller")
            self.assertAlmostEqual(piece.median_a, RATING_SHARE * burst_a)

    def test_a_plug_says_more_of_a_short_peak(self):
        """The same plug lets more through for two seconds than for twenty."""
        short, long = (
            peak_of(replace(SOARER, usage=replace(SOARER.usage, peak_s=s), limits=LimitAnswers(plug="xt60")))
            for s in (2.0, 20.0)
        )
        self.assertGreater(short.pieces[-1].median_a, long.pieces[-1].median_a)


class Average(SimpleTestCase):
    def test_all_that_was_told_is_joined(self):
        """Minutes and a meter: between the two, nearer to the surer one, and surer than either."""
        told = replace(BAIT, usage=UsageAnswers(minutes=60, average_a=10.0))
        found = drawn_by(told, usable_ah=8.0).average
        self.assertEqual(ids(found), ["minutes", "amps"])
        self.assertTrue(9.0 < found.median_a < 10.0)
        self.assertLess(found.spread, 0.08)

    def test_what_went_back_wins_over_the_minutes_to_landing(self):
        """5 Ah in 60 minutes are 5 A, whatever was left in the pack."""
        found = drawn_by(
            replace(BAIT, usage=UsageAnswers(minutes=60, put_back_mah=5000)), usable_ah=8.0
        ).average
        self.assertEqual(ids(found), ["put_back"])
        self.assertAlmostEqual(found.median_a, 5.0)

    def test_the_minutes_wanted_count_a_little_where_nothing_is_told(self):
        """Who wants an hour mostly has about an hour."""
        bare = replace(BAIT, usage=UsageAnswers())
        usual, longer = (
            drawn_by(replace(bare, goals=GoalAnswers(minutes=m)), usable_ah=8.0).average
            for m in (60.0, 120.0)
        )
        self.assertGreater(usual.median_a, longer.median_a)
        self.assertNotIn("goals", ids(drawn_by(bare, usable_ah=8.0).average))


class Guessing(SimpleTestCase):
    def guessed(self, kind, **clues):
        """The classes by these clues."""
        return guessed_class(kind, Clues(**{"name": "", "cells": 3, "wh_per_kg": 18, **clues}))

    def test_mass_and_cells(self):
        """20 g on one cell is a whoop, 6 kg on six carries things."""
        self.assertEqual(self.guessed("multirotor", mass_g=20, cells=1, wh_per_kg=25).best.id, "micro")
        self.assertEqual(self.guessed("multirotor", mass_g=6000, cells=6, wh_per_kg=45).best.id, "lifter")

    def test_shares_add_up_and_a_word_in_the_name_decides(self):
        """A trainer or a sport flyer by its figures; "Tern trainer" is a trainer."""
        open_ = self.guessed("plane", mass_g=1500)
        self.assertAlmostEqual(sum(share for _, share in open_.classes), 1.0)
        self.assertTrue(open_.decides)
        named = self.guessed("plane", mass_g=1500, name="Tern trainer")
        self.assertEqual(named.best.id, "trainer")
        self.assertFalse(named.decides)

    def test_figures_lie_between_those_of_its_likely_classes(self):
        """By ratio, weighed."""
        found = self.guessed("plane", mass_g=1500)
        ratios = [c.peak_ratio for c, _ in found.classes]
        self.assertTrue(min(ratios) <= found.usual(lambda c: c.peak_ratio) <= max(ratios))

    def test_every_class_is_in_order(self):
        """Ranges the right way round, a peak above the average, a name of its own."""
        self.assertEqual(len({c.name for c in MODEL_CLASSES.values()}), len(MODEL_CLASSES))
        for c in MODEL_CLASSES.values():
            self.assertLess(c.minutes[0], c.minutes[1], c.id)
            self.assertLess(c.mass_g[0], c.mass_g[1], c.id)
            self.assertLessEqual(c.cells[0], c.cells[1], c.id)
            self.assertGreater(c.peak_ratio, 1.2, c.id)
            self.assertLess(c.peak_s, c.peak_every_s, c.id)
