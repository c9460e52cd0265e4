"""A friend's pack told in one line."""

from django.test import SimpleTestCase

from coldstack.core.errors import DomainError
from coldstack.core.labels.lent import read_lent


class OneLine(SimpleTestCase):
    def test_as_people_say_it(self):
        """With a tag and without; the figures are those of the label."""
        cases = (
            ("K3 3S 2200 40C XT60", "K3", 3, 2.2),
            ("3S 2200 40C", "", 3, 2.2),
            ("7 4S 1550mAh 95C", "7", 4, 1.55),
            ("Ada-1 6S 5000", "Ada-1", 6, 5.0),
        )
        for line, tag, series, ah in cases:
            with self.subTest(line):
                found, offer = read_lent(line)
                self.assertEqual((found, offer.pack["series"], offer.pack["capacity_ah"]), (tag, series, ah))

    def test_what_is_none(self):
        """Said with an example."""
        for line in ("", "K3", "K3 red one", "3S"):
            with self.subTest(line), self.assertRaisesRegex(DomainError, "like “K3 3S 2200 40C XT60”"):
                read_lent(line)
