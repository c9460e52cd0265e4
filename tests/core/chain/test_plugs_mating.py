from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.chain.plugs import (
    LOOK_ALIKES,
    PLUGS,
    PlugEnd,
    are_look_alikes,
    mating,
    polarity_caution,
)
from coldstack.core.errors import DomainError

FAMILIES = st.sampled_from(sorted(PLUGS))
HALVES = st.sampled_from(["pack", "device"])


class Mating(SimpleTestCase):
    def test_same_family_opposite_halves(self):
        """A pack's XT60 goes into a model's XT60."""
        self.assertTrue(mating(PlugEnd("xt60", "pack"), PlugEnd("xt60", "device")).fits)

    def test_two_equal_halves_do_not_mate(self):
        """Two packs' plugs cannot be put together."""
        found = mating(PlugEnd("ec5", "pack"), PlugEnd("ec5", "pack"))
        self.assertFalse(found.fits)
        self.assertIn("same half of EC5", found.sentence)

    def test_look_alikes_are_named(self):
        """The 30 and the 60 size of one family, neighbouring sizes of another, two thin ones."""
        for a, b in (("xt30", "xt60"), ("ec2", "ec3"), ("ec3", "ec5"), ("rcy", "sm")):
            found = mating(PlugEnd(a), PlugEnd(b, "device"))
            self.assertFalse(found.fits)
            self.assertTrue(found.look_alike, (a, b))
            self.assertIn("look alike", found.sentence)

    def test_different_families_are_just_different(self):
        """A T-plug is not taken for an XT60; the 60 and 90 size differ plainly."""
        for a, b in (("t_plug", "xt60"), ("xt60", "xt90"), ("ec2", "ec5")):
            found = mating(PlugEnd(a), PlugEnd(b, "device"))
            self.assertFalse(found.fits)
            self.assertFalse(found.look_alike)

    def test_an_unknown_family_is_refused(self):
        """Naming the field."""
        with self.assertRaisesRegex(DomainError, "not “xt61”"):
            mating(PlugEnd("xt61"), PlugEnd("xt60"))

    @given(FAMILIES, HALVES, FAMILIES, HALVES)
    def test_mating_knows_no_order(self, a, half_a, b, half_b):
        """Whoever is plugged into whom; and an end always takes its mate."""
        one, other = PlugEnd(a, half_a), PlugEnd(b, half_b)
        self.assertEqual(mating(one, other).fits, mating(other, one).fits)
        self.assertEqual(mating(one, other).look_alike, mating(other, one).look_alike)
        self.assertTrue(mating(one, one.mate).fits)


class Polarity(SimpleTestCase):
    def test_bullets_go_in_either_way(self):
        """So each time one must look."""
        self.assertIn("either way", polarity_caution("bullet_4"))
        self.assertIn("either way", mating(PlugEnd("bullet_4"), PlugEnd("bullet_4", "device")).polarity)

    def test_thin_plugs_are_wired_both_ways(self):
        """Plus is on either pin, by maker."""
        self.assertIn("plus on either pin", polarity_caution("ph_2"))

    def test_a_keyed_plug_needs_no_word(self):
        """Its shape settles it."""
        self.assertEqual(polarity_caution("xt60"), "")


class LookAlikePairs(SimpleTestCase):
    def test_look_alike_pairs_are_known_families(self):
        """Of main and balance plugs; and a family is not its own look-alike."""
        self.assertTrue(are_look_alikes("xh", "eh"))
        for pair in LOOK_ALIKES:
            self.assertEqual(len(pair), 2)
            self.assertTrue(pair <= set(PLUGS) | {"xh", "eh"})
