"""Volts of electronics that are rated in LiPo cells."""

from django.test import SimpleTestCase

from coldstack.core.trial.job import rated_window


class RatedWindow(SimpleTestCase):
    def test_most_cells_full_and_fewest_under_load(self):
        """3S to 4S: 4 × 4.20 V at most, and no less than 3.0 V a cell of three under load."""
        self.assertEqual(rated_window(3, 4), (9.0, 16.8))

    def test_an_end_that_is_not_rated(self):
        """It stays open."""
        self.assertEqual(rated_window(None, 6), (None, 25.2))
        self.assertEqual(rated_window(2, None), (6.0, None))
