import math

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.checks import check_at_least, check_at_most, check_statement, worst_first
from coldstack.core.units import about_number, clock, percent, plain_number


def at_most(value, limit):
    return check_at_most("a", "Plug", value=value, limit=limit, unit="A", limit_source="typical")


class AtMost(SimpleTestCase):
    def test_just_under_at_and_over(self):
        """59.9, 60 and 60.1 of 60 A; the sentence never rounds an overload to 100 %."""
        self.assertEqual(
            [at_most(v, 60).verdict for v in (30, 59.9, 60, 60.1)], ["ok", "caution", "caution", "over"]
        )
        self.assertIn("100.2 %", at_most(60.1, 60).sentence)

    def test_missing_and_nan_are_unknown_never_ok(self):
        """Whichever side is missing."""
        for value, limit in ((None, 60), (30, None), (math.nan, 60), (30, math.nan)):
            check = at_most(value, limit)
            self.assertEqual((check.verdict, check.loading), ("unknown", None))

    def test_a_limit_of_nothing_is_over_in_words_too(self):
        """Its sentence and its working do not call it unknown."""
        for check in (at_most(5, 0), check_at_least("a", "Ah", value=0, limit=5, unit="Ah", limit_source="")):
            said = check.sentence + check.working.steps[-1].numbers
            self.assertEqual((check.verdict, check.loading), ("over", math.inf))
            self.assertIn("far over", said)
            self.assertNotIn("unknown", said)

    def test_something_against_nothing_is_over(self):
        """One amp through a part that takes none."""
        self.assertEqual(at_most(1, 0).verdict, "over")


class AtLeast(SimpleTestCase):
    def test_just_over_at_and_under(self):
        """Minutes wanted: 10.1, 10 and 9.9 of 10."""
        verdicts = [
            check_at_least(
                "m", "Minutes", value=v, limit=10, unit="min", limit_source="wanted", caution_from=1.0001
            ).verdict
            for v in (10.1, 10, 9.9)
        ]
        self.assertEqual(verdicts, ["ok", "ok", "over"])

    def test_none_of_what_is_wanted_is_over(self):
        """No minutes at all."""
        self.assertEqual(
            check_at_least("m", "Minutes", value=0, limit=10, unit="min", limit_source="w").verdict, "over"
        )


class Order(SimpleTestCase):
    def test_worst_first(self):
        """Over, unknown, caution, ok; among equals the higher loading."""
        checks = [at_most(30, 60), at_most(90, 60), at_most(None, 60), at_most(55, 60), at_most(120, 60)]
        checks.append(check_statement("s", "Fact", verdict="caution", sentence="Mind it.", limit_source="x"))
        self.assertEqual([c.value for c in worst_first(checks)], [120, 90, None, 55, None, 30])


class Numbers(SimpleTestCase):
    @given(st.floats(0.0001, 50))
    def test_per_cent_never_rounds_across_the_limit(self, share):
        """Over 100 % reads over 100 %, under reads at most 100 %."""
        text = percent(share)
        if "just" not in text:
            self.assertEqual(float(text.split()[0]) > 100, share * 100 > 100)

    def test_plain_numbers(self):
        """Three digits, no exponent, no trailing zeros; rounded ones for estimates."""
        self.assertEqual(
            [plain_number(x) for x in (46.04, 3.4, 0.01234, 3700.4, 0)], ["46", "3.4", "0.0123", "3700", "0"]
        )
        self.assertEqual([about_number(x) for x in (2652, 0.0277, 561)], ["2700", "0.028", "560"])

    def test_the_clock_rounds_down(self):
        """A timer never rings late."""
        self.assertEqual([clock(x) for x in (1054.9, 59.99, 600)], ["17:34", "0:59", "10:00"])
