"""Where packs lie: warmth, frost and boxes."""

from django.test import SimpleTestCase

from coldstack.core.errors import DomainError
from coldstack.core.keeping.place import Place, place_cautions, place_sentence


def ids(**place):
    return [c.id for c in place_cautions(Place(**place))]


class Cautions(SimpleTestCase):
    def test_a_good_place_is_quiet(self):
        """5 to 25 °C in a vented box or a bag."""
        for now_c in (5, 12, 25):
            self.assertEqual(ids(now_c=now_c, hottest_c=25, container="vented_box"), [])
        self.assertEqual(ids(now_c=12, container="bag"), [])

    def test_just_over_and_under(self):
        """25 and 38 above, 5 and 0 below."""
        for now_c, found in (
            (25.1, "place_warm"),
            (38, "place_warm"),
            (38.1, "place_hot"),
            (4.9, "place_cold"),
            (0, "place_cold"),
            (-0.1, "place_frost"),
        ):
            with self.subTest(now_c):
                self.assertEqual(ids(now_c=now_c), [found])

    def test_the_hottest_counts(self):
        """Cool today, a loft in July."""
        self.assertEqual(ids(now_c=15, hottest_c=45), ["place_hot"])
        self.assertIn("gets 45 °C", place_cautions(Place("", 15, 45))[0].sentence)

    def test_boxes(self):
        """A sealed one, or none."""
        self.assertEqual(
            (ids(container="sealed"), ids(container="loose")), (["place_sealed"], ["place_loose"])
        )

    def test_nothing_known_says_nothing(self):
        """No caution without a reason."""
        self.assertEqual((ids(), place_sentence(Place())), ([], ""))

    def test_sentence(self):
        """Good, or what is asked."""
        self.assertEqual(
            place_sentence(Place("Boathouse shelf", 12, 24, "vented_box")),
            "Boathouse shelf, 12 °C\u2060: good for packs.",
        )
        self.assertIn("how warm", place_sentence(Place("Loft")))
        # one of the two is known: nothing is asked
        self.assertEqual(place_sentence(Place("Loft", 12)), "Loft, 12 °C\u2060: good for packs.")
        self.assertEqual(place_sentence(Place("Loft", container="vented_box")), "Loft: good for packs.")

    def test_bad_input(self):
        """At its field: no such warmth, a hottest below now, not a number."""
        for place, field in (
            ({"now_c": 95}, "now_c"),
            ({"now_c": 20, "hottest_c": 10}, "hottest_c"),
            ({"hottest_c": float("nan")}, "hottest_c"),
        ):
            with self.subTest(place), self.assertRaises(DomainError) as caught:
                place_cautions(Place(**place))
            self.assertEqual(caught.exception.field, field)
