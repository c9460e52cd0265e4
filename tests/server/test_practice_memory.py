"""What is remembered: it comes back when it is about to be forgotten; by the formula of FSRS, written
again."""

from datetime import UTC, datetime, timedelta, timezone
from unittest import TestCase

from coldstack.core.errors import DomainError
from coldstack.core.practice.practice import KINDS
from coldstack.core.practice.task import LEVELS
from coldstack.server.practice.memory import (
    WHOLE_COURSE,
    CourseStep,
    check_course,
    next_up,
    remembered,
    sure_of,
    sureness,
)

START = datetime(2026, 11, 25, 18, tzinfo=UTC)
LABEL = CourseStep("label", "first_day")
DECAY = 0.1542
"""Of FSRS-6, as published."""


def after(*said, step=LABEL):
    """A skill after answers, each with the minutes since the one before it."""
    skill, at = None, START
    for minutes, outcome in said:
        at += timedelta(minutes=minutes)
        skill = remembered(skill, step, outcome, at)
    return skill


RIGHT_TWICE = ((0, "right"), (10, "right"))
DAY = 24 * 60


class Remembered(TestCase):
    def test_wrong_comes_back_at_once(self):
        """In a minute, whether it was wasteful or dangerous; nothing is sure of it."""
        for outcome in ("wasteful", "dangerous"):
            skill = after((0, outcome))
            self.assertEqual(skill.due - skill.at, timedelta(minutes=1))
            self.assertFalse(skill.learnt)
            self.assertEqual(sure_of(skill, START), 0.0)

    def test_right_once_is_half_luck(self):
        """It comes back the same day, and counts half."""
        skill = after((0, "right"))
        self.assertEqual(skill.due - skill.at, timedelta(minutes=10))
        self.assertAlmostEqual(sure_of(skill, START), 0.5)

    def test_right_again_and_again_comes_later_and_later(self):
        """Learnt after two; then each right answer on its day makes the next stay longer, to a season."""
        said, stays = list(RIGHT_TWICE), []
        for _ in range(9):
            skill = after(*said)
            self.assertTrue(skill.learnt)
            stays.append((skill.due - skill.at).days)
            said.append((stays[-1] * DAY, "right"))
        self.assertEqual(stays, sorted(stays))
        self.assertGreaterEqual(stays[0], 1)
        self.assertEqual(stays[-1], 120)

    def test_it_is_forgotten_by_the_published_curve(self):
        """R = (1 + F·t/S)^−D with F from nine in ten at t = S; on the day it is due about nine in ten."""
        skill = after(*RIGHT_TWICE)
        factor = 0.9 ** (-1 / DECAY) - 1
        for days in (0, 1, 3, 10, 100, 2000):
            by_hand = (1 + factor * days / skill.stability_d) ** -DECAY
            self.assertAlmostEqual(sure_of(skill, skill.at + timedelta(days=days)), by_hand, places=9)
        self.assertAlmostEqual(sure_of(skill, skill.due), 0.9, delta=0.03)

    def test_a_slip_costs_what_was_known(self):
        """After a wrong answer it is not sure, and comes sooner than it would have."""
        known = after(*RIGHT_TWICE, (3 * DAY, "right"))
        slipped = after(*RIGHT_TWICE, (3 * DAY, "dangerous"))
        self.assertEqual(sure_of(slipped, slipped.at), 0.0)
        self.assertTrue(slipped.again)
        self.assertLess(slipped.stability_d, known.stability_d)
        mended = after(*RIGHT_TWICE, (3 * DAY, "dangerous"), (10, "right"))
        self.assertTrue(mended.learnt)
        self.assertLess(mended.due - mended.at, known.due - known.at)

    def test_clocks(self):
        """Another zone is the same moment; a clock that was set back makes nothing newer."""
        east = timezone(timedelta(hours=9))
        self.assertEqual(remembered(None, LABEL, "right", START.astimezone(east)), after((0, "right")))
        back = remembered(after((0, "right")), LABEL, "right", START - timedelta(days=400))
        self.assertEqual(back.at, START)
        self.assertAlmostEqual(sure_of(back, START - timedelta(days=400)), 1.0)


class NextUp(TestCase):
    def known(self, *skills):
        return {CourseStep(s.kind, s.level): s for s in skills}

    def test_a_beginner_meets_the_first_kinds_in_order(self):
        """One after the other, all of the first day."""
        skills, met, last = {}, [], None
        for k in range(len(KINDS)):
            at = START + timedelta(seconds=30 * k)
            found = next_up(skills, WHOLE_COURSE, at, last=last)
            self.assertEqual(found.why, "new")
            last = CourseStep(found.kind, found.level)
            met.append(found.kind)
            skills[last] = remembered(None, last, "right", at)
        self.assertEqual(met, list(KINDS))

    def test_what_was_wrong_comes_before_what_is_new(self):
        """A minute later; but not the same twice in a row."""
        skills = self.known(after((0, "wasteful")))
        later = START + timedelta(minutes=1)
        self.assertEqual(next_up(skills, WHOLE_COURSE, later).why, "due")
        self.assertEqual(next_up(skills, WHOLE_COURSE, later, last=LABEL).kind, "settings")
        self.assertEqual(next_up(skills, (LABEL,), later, last=LABEL).why, "due")

    def test_what_is_due_the_longest_comes_first(self):
        """Then the rest."""
        plugs = CourseStep("plugs", "first_day")
        skills = self.known(after(*RIGHT_TWICE), after((60, "wasteful"), step=plugs))
        self.assertEqual(next_up(skills, WHOLE_COURSE, START + timedelta(days=9)).kind, "plugs")

    def test_the_next_level_waits_for_the_one_below(self):
        """Until that was right twice."""
        season = CourseStep("label", "season")
        course = (LABEL, season)
        once, learnt = self.known(after((0, "right"))), self.known(after(*RIGHT_TWICE))
        soon = START + timedelta(minutes=11)
        self.assertEqual(next_up(once, course, START).why, "ahead")
        found = next_up(learnt, course, soon)
        self.assertEqual((found.level, found.why), ("season", "new"))
        # a course that begins there need not wait
        self.assertEqual(next_up({}, (season,), START).level, "season")

    def test_nothing_due(self):
        """What will be due the soonest, and when that is."""
        skill = after(*RIGHT_TWICE)
        found = next_up(self.known(skill), (LABEL,), START + timedelta(minutes=20))
        self.assertEqual((found.why, found.due), ("ahead", skill.due))

    def test_a_level_above_whose_level_below_comes_later(self):
        """A course in an odd order still begins."""
        found = next_up({}, (CourseStep("label", "season"), LABEL), START)
        self.assertEqual((found.kind, found.level), ("label", "first_day"))


class Pictures(TestCase):
    def test_one_plate_a_kind(self):
        """None for what was never tried; a share of all levels."""
        found = sureness({LABEL: after(*RIGHT_TWICE)}, START + timedelta(minutes=10))
        self.assertEqual([s.kind for s in found], list(KINDS))
        self.assertEqual(found[0].levels, (1.0, None, None))
        self.assertAlmostEqual(found[0].share, 1 / len(LEVELS))
        self.assertEqual(found[1].levels, (None, None, None))


class Courses(TestCase):
    def test_what_is_no_course(self):
        """None, unknown kinds, the same twice."""
        for steps in ((), (CourseStep("juggling", "expert"),), (LABEL, LABEL)):
            with self.assertRaises(DomainError):
                check_course(steps)
        self.assertEqual(check_course([LABEL]), (LABEL,))
