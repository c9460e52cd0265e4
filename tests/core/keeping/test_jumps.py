"""A jump of a cell's resistance: two readings agree, and it came at once."""

from django.test import SimpleTestCase

from coldstack.core.keeping.resistance_signs import jump_in


class Jumps(SimpleTestCase):
    def test_what_grew_from_reading_to_reading_is_none(self):
        """To 1.3 times in one step of a fifth or more it is a jump; by a smaller step it grew."""
        self.assertTrue(jump_in([1, 1, 1, 1.08, 1.3, 1.3]).agreed)
        self.assertIsNone(jump_in([1, 1, 1, 1.09, 1.3, 1.3]))

    def test_just_under_and_at_what_two_agree_on(self):
        """1.3 times is one, 1.29 is none."""
        self.assertTrue(jump_in([1, 1, 1, 1, 1.3, 1.3]).agreed)
        self.assertIsNone(jump_in([1, 1, 1, 1, 1.29, 1.29]))

    def test_a_lone_reading(self):
        """From 1.4 times on it is to be read again; below it says nothing."""
        self.assertFalse(jump_in([1, 1, 1, 1, 1.4]).agreed)
        self.assertIsNone(jump_in([1, 1, 1, 1, 1.39]))

    def test_one_that_went_away_again(self):
        """A finger on the probe, twice."""
        self.assertIsNone(jump_in([1, 1, 1, 1, 1.4, 1.4, 1, 1, 1, 1, 1]))
