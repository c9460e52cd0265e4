"""Judging cannot fail silently: a rule that raises is an alarm, and twice in a row a stop."""

from dataclasses import replace
from unittest import mock

from django.test import SimpleTestCase

from coldstack.core.watching import judging
from coldstack.core.watching.heard import Heard
from coldstack.core.watching.judging import RULES, judge
from coldstack.core.watching.stopping import ended, no_current, not_known_to_have_stopped, outcome
from tests.core.watching.test_watch import E, run

ERRORS = (
    ValueError("bad"),
    ZeroDivisionError(),
    KeyError("x"),
    RecursionError(),
    MemoryError(),
    AssertionError(),
)


def heard(samples, **more):
    last = samples[-1]
    return Heard(E, samples[0], tuple(samples), (last,), looked_s=last.time_s, now_s=last.time_s, **more)


class EachOnItsOwn(SimpleTestCase):
    def broken(self, rule, error):
        """All rules, and one that raises."""

        def fails(_):
            raise error

        other = tuple(replace(r, judge=fails) if r is rule else r for r in RULES)
        return mock.patch.object(judging, "RULES", other)

    def test_every_exception_out_of_every_rule(self):
        """It is an alarm that says what cannot be judged; the next time a stop; healed, it is over."""
        good = heard(run(0.01, 0.01, 0.01, 0.01))
        for rule in RULES:
            for error in ERRORS:
                with self.subTest(f"{rule.id} {error!r}"):
                    with self.broken(rule, error):
                        once = judge(good)
                        twice = judge(good, failed_before=once.failed)
                    self.assertEqual([(a.id, a.level) for a in once.alarms], [("cannot_judge", "warn")])
                    self.assertIn(rule.what, once.alarms[0].sentence)
                    self.assertEqual([(a.id, a.level) for a in twice.alarms], [("cannot_judge", "stop")])
                    self.assertEqual(judge(good, failed_before=twice.failed).alarms, ())

    def test_one_after_the_other_is_not_twice(self):
        """Another rule that failed before does not make this one's first failure a stop; of two, the one that
        failed again is told."""
        good = heard(run(0.01, 0.01, 0.01, 0.01))
        first, second = RULES[0], RULES[1]

        def fails(_):
            raise ValueError("bad")

        for before, wanted in (({"supply"}, "warn"), ({second.id}, "stop"), ({first.id}, "stop")):
            rules = tuple(replace(r, judge=fails) if r in (first, second) else r for r in RULES)
            with mock.patch.object(judging, "RULES", rules):
                (alarm,) = judge(good, failed_before=frozenset(before)).alarms
            self.assertEqual((alarm.id, alarm.level), ("cannot_judge", wanted))

    def test_the_others_go_on(self):
        """A hot pack is seen though every other rule fails."""
        hot = heard(run(0.01, 0.01, 0.01, 0.01, temperature_c=60.0))
        for rule in RULES:
            if rule.id != "hot":
                with self.subTest(rule.id), self.broken(rule, ValueError("bad")):
                    self.assertIn(("hot", "stop"), [(a.id, a.level) for a in judge(hot).alarms])

    def test_a_generator_that_fails_late(self):
        """What it said before it failed stands."""

        def half(h):
            yield from judging.warmth.hot(h)
            raise ValueError("late")

        rules = tuple(replace(r, judge=half) if r.id == "hot" else r for r in RULES)
        with mock.patch.object(judging, "RULES", rules):
            found = judge(heard(run(0.01, 0.01, 0.01, 0.01, temperature_c=60.0)))
        self.assertEqual({a.id for a in found.alarms}, {"hot", "cannot_judge"})


class Stops(SimpleTestCase):
    def last(self, amps):
        return run(0.01, 0.01, 0.01, 0.01, current_a=amps)[-1]

    def test_no_current(self):
        """0.08 A of 4 A set is an ammeter's zero, 0.09 A flows; full, it ends below a tenth of C."""
        for amps, state, wanted in (
            (0.08, "stopped", True),
            (-0.08, "stopped", True),
            (-3.7, "stopped", False),
            (0.09, "stopped", False),
            (0.4, "done", True),
            (0.41, "done", False),
            (3.7, "done", False),
        ):
            with self.subTest(f"{amps} {state}"):
                self.assertEqual(no_current(E, self.last(amps), state), wanted)
        self.assertFalse(no_current(E, None, "stopped"))

    def test_only_readings_end_it(self):
        """Its word and its amps; neither alone."""
        self.assertTrue(ended(E, "stopped", self.last(0.0)))
        self.assertFalse(ended(E, "charging", self.last(0.0)))
        self.assertFalse(ended(E, "stopped", self.last(3.7)))

    def test_what_is_known_of_a_stop(self):
        """Over is confirmed, whatever was said; no and silence are told at once, a yes has ten seconds."""
        for answer, state, over, asked_s, wanted in (
            ("refused", "stopped", True, 0, "confirmed"),
            ("refused", "charging", False, 0, "refused"),
            ("unheard", "charging", False, 0, "unheard"),
            ("accepted", "charging", False, 9.9, "asked"),
            ("accepted", "charging", False, 10.0, "gone_on"),
            ("accepted", "stopped", False, 10.0, "unproved"),
        ):
            with self.subTest(f"{answer} {state} {asked_s}"):
                found = outcome(answer, state=state, over=over, asked_s=asked_s)
                self.assertEqual(found, wanted)
                alarm = not_known_to_have_stopped(found, charger="Bench", refusal="no.", now_s=1.0)
                self.assertEqual(alarm is None, found in ("confirmed", "asked"))
                if alarm is not None:
                    self.assertIn("Not known to have stopped: Bench", alarm.sentence)
