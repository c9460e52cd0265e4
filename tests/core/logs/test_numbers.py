import math

from django.test import SimpleTestCase

from coldstack.core.logs.numbers import day_counts, figures_of, number_of, seconds_of_clock


class Cells(SimpleTestCase):
    def test_numbers_in_any_dress(self):
        """Decimal commas, thousands by any sign, a unit behind; what is none is NaN."""
        for cell, value in (
            ("11,1", 11.1),
            ("1.234,5", 1234.5),
            ("1,234.5", 1234.5),
            ("1'234.5", 1234.5),
            ("23.4 A", 23.4),
            ("-0.5", -0.5),
            ("1e3", 1000.0),
            (".5", 0.5),
        ):
            with self.subTest(cell):
                self.assertAlmostEqual(number_of(cell), value)
        for cell in ("", "x", "1.2.3.4", "12:30", "nan", "inf", "--"):
            with self.subTest(cell):
                self.assertTrue(math.isnan(number_of(cell)))

    def test_a_column_is_read_as_its_cells_are(self):
        """At once where all are plain, one by one where they are not; infinity is no figure."""
        self.assertEqual(figures_of(["1", "2.5"]).tolist(), [1.0, 2.5])
        self.assertEqual(figures_of(["1,5", "2"]).tolist(), [1.5, 2.0])
        mixed = figures_of(["1.000,5", "x", "2 A"])
        self.assertEqual((mixed[0], mixed[2], math.isnan(mixed[1])), (1000.5, 2.0, True))
        self.assertTrue(math.isnan(figures_of(["inf", "1"])[0]))

    def test_clock_times(self):
        """A day of twelve hours twice: noon is 12 PM, midnight 12 AM."""
        for cell, seconds in (
            ("0:01:05.5", 65.5),
            ("14:02:11", 50531),
            ("1:05", 65),
            ("11:59:59 AM", 43199),
            ("12:00:00 PM", 43200),
            ("1:00:00 pm", 46800),
            ("12:00:01 AM", 1),
            ("2026-05-03T14:02:11.500Z", 50531.5),
        ):
            with self.subTest(cell):
                self.assertAlmostEqual(seconds_of_clock(cell), seconds)

    def test_dates_count_by_their_changes(self):
        """Whatever their order of day and month."""
        self.assertEqual(
            day_counts(["3/5/26", "3/5/26", "4/5/26 0:01", "4/5/26 0:02"]).tolist(), [0, 0, 1, 1]
        )
