"""The safety page: what it must say, and in which order."""

from django.test import SimpleTestCase

from coldstack.core.safety import cautions
from coldstack.core.safety.cautions import Caution
from coldstack.core.safety.page import SAFETY


class Page(SimpleTestCase):
    def test_fire_comes_first_and_people_before_all(self):
        """Out, the fire service, let it burn; water is no sure help."""
        burning = SAFETY[0]
        self.assertEqual(burning.id, "burning")
        self.assertEqual([c.id for c in burning.cautions[:3]], ["people_first", "call", "let_burn"])
        self.assertIn("does not reliably stop", " ".join(c.sentence for c in burning.cautions))

    def test_the_usual_cautions_are_all_there(self):
        """Unattended, surface, detector, chemistry and count, damage, heat, polarity, parallel, frost,
        transport, disposal, loose cells."""
        words = " ".join(c.sentence for s in SAFETY for c in s.cautions).lower()
        for needed in (
            "asleep",
            "does not burn",
            "smoke detector",
            "way out",
            "chemistry and number of cells",
            "swollen",
            "hot",
            "plus must stay plus",
            "join only packs",
            "0 °c",
            "carrier",
            "local rules",
            "welding",
            "never punctured",
            "38 °c",
        ):
            with self.subTest(needed):
                self.assertIn(needed, words)

    def test_each_moment_says_each_thing_once(self):
        """No caution twice in a section, none without a sentence."""
        for section in SAFETY:
            with self.subTest(section.id):
                ids = [c.id for c in section.cautions]
                self.assertEqual(len(ids), len(set(ids)))
                self.assertTrue(all(c.sentence.endswith(".") for c in section.cautions))

    def test_cautions_where_the_hazard_is_are_the_same_ones(self):
        """The page repeats those of the bench; none says another thing than at its place."""
        own = {c.id: c.sentence for c in vars(cautions).values() if isinstance(c, Caution)}
        for section in SAFETY:
            for c in section.cautions:
                if c.id in own:
                    self.assertEqual(c.sentence, own[c.id])
