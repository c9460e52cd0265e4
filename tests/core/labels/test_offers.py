"""What is made of a line of a shop: a pack with a name, or why not; and labels at their tolerances."""

from django.test import SimpleTestCase

from coldstack.core.labels.guesses import pack_name
from coldstack.core.labels.offers import read_offers
from coldstack.core.labels.reader import read_label


class Offers(SimpleTestCase):
    def test_a_line_makes_a_pack_and_says_what_is_assumed(self):
        """No chemistry, mass or plug is told: each is assumed and named; where all is told, nothing is."""
        plain, full = read_offers(
            "- Wren 4S 1500mAh 75C\n- Wren 4S 1500mAh 75C LiPo 187g XT60 14AWG 75x35x30mm EUR 24.00"
        )
        self.assertEqual((plain.pack["series"], plain.pack["capacity_ah"], plain.lacking), (4, 1.5, ""))
        self.assertTrue(plain.assumed)
        self.assertLess(len(full.assumed), len(plain.assumed))

    def test_a_line_that_is_no_pack_assumes_nothing(self):
        """It says what was not found."""
        (offer,) = read_offers("Wren case, blue")
        self.assertEqual((offer.pack, offer.assumed), ({}, []))
        self.assertEqual(offer.lacking, "No cells in series and no capacity found in it.")

    def test_names_tell_strings_only_where_there_are_several(self):
        """4S1P is 4S; 4S2P is told."""
        one, two = (pack_name(read_label(f"Wren 4S{p}P 1500mAh 75C")) for p in (1, 2))
        self.assertEqual((one, two), ("Wren 4S 1500 75C", "Wren 4S2P 1500 75C"))


class Tolerances(SimpleTestCase):
    def test_amps_and_watt_hours(self):
        """5 Ah at 30C are 150 A: 166 A are within a tenth of it, 168 A not. 14.8 V × 5 Ah are 74 Wh: within
        5 % of 77.8, not of 78."""
        for label, agrees in (
            ("4S 5000mAh 30C 166A", True),
            ("4S 5000mAh 30C 168A", False),
            ("4S 14.8V 5000mAh 77.8Wh 30C", True),
            ("4S 14.8V 5000mAh 78Wh 30C", False),
        ):
            with self.subTest(label):
                self.assertEqual(not read_label(label).contradictions, agrees)


class TwoRates(SimpleTestCase):
    def test_the_first_is_continuous_the_second_burst(self):
        """As a pair behind a word, loose, or with a third that is left alone."""
        for label, steady, burst, left in (
            ("4S 1500mAh discharge 25C/50C", 25, 50, ""),
            ("4S 1500mAh 35C 70C", 35, 70, ""),
            ("4S 1500mAh 35C 60C 90C", 35, 60, "90C"),
            ("4S 1500mAh burst 90C 35C", 35, 90, ""),
        ):
            with self.subTest(label):
                found = read_label(label)
                self.assertEqual((found.values["label_c"], found.values["label_burst_c"]), (steady, burst))
                self.assertEqual(found.unread, left)
