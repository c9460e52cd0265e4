from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.chain.adapters import Path
from coldstack.core.chain.joints import Link, joints, pair_link, path_links, wire_link
from tests.core.chain.test_adapters import adapter


def block():
    """The old white two-pin block: 10 A, 18 A burst, 10 mΩ."""
    return pair_link("block_large", "plug")


class HeatOfAJoint(SimpleTestCase):
    def test_a_block_at_35_a_by_hand(self):
        """35² × 10 mΩ = 12.25 W, drop 350 mV, 350 % of its 10 A."""
        (joint,) = joints([block()], rms_a=35, peak_a=35)
        self.assertAlmostEqual(joint.heat_w, 12.25)
        self.assertAlmostEqual(joint.drop_v, 0.35)
        self.assertAlmostEqual(joint.loading, 3.5)
        self.assertEqual(joint.continuous.verdict, "over")
        self.assertIn("12 W into heat", joint.sentence)
        self.assertIn("melt", joint.sentence)
        self.assertRegex(joint.sentence, r"(EC5|4 mm bullet).* would bring it to \d+ %")

    def test_a_little_heat_does_not_melt(self):
        """11 A in the block: over, 1.2 W."""
        (joint,) = joints([block()], rms_a=11, peak_a=11)
        self.assertIn("over its limit", joint.sentence)
        self.assertNotIn("melt", joint.sentence)

    def test_a_fierce_peak_alone_melts_it(self):
        """8 A make 0.64 W, their peak of 32 A 10.2 W: a third of that is over 3 W. A peak of 25 A, 6.25 W, is
        not."""
        for peak_a, peak_w, melts in ((32, 10.24, True), (25, 6.25, False)):
            (joint,) = joints([block()], rms_a=8, peak_a=peak_a)
            self.assertAlmostEqual(joint.peak_heat_w, peak_w)
            self.assertEqual("melt" in joint.sentence, melts, joint.sentence)

    def test_no_resistance_known_no_heat_told(self):
        """A controller has a limit only."""
        (joint,) = joints(
            [Link("controller", "Controller", "device", 60, 80, None, "maker")], rms_a=30, peak_a=70
        )
        self.assertIsNone(joint.heat_w)
        self.assertAlmostEqual(joint.loading, 70 / 80)


class TheWeakest(SimpleTestCase):
    def test_exactly_one_and_it_is_the_most_loaded(self):
        """Of a chain; its sentence stands nowhere else."""
        links = [
            wire_link("leads", "Leads", 14, 100),
            *path_links(Path((adapter("xt30", "xt60"),), ("xt30", "xt60"))),
        ]
        made = joints(links, rms_a=14, peak_a=24)
        self.assertEqual([j.weakest for j in made].count(True), 1)
        weak = next(j for j in made if j.weakest)
        self.assertEqual(weak.link, "plug")
        self.assertEqual(max(j.loading for j in made), weak.loading)
        self.assertEqual([bool(j.sentence) for j in made], [j.weakest for j in made])

    def test_an_adapter_that_is_the_weak_part_is_called_so(self):
        """Thin wire in a short adapter."""
        thin = adapter("ec3", "xt60", awg=20)
        made = joints(path_links(Path((thin,), ("ec3", "xt60"))), rms_a=18, peak_a=30)
        weak = next(j for j in made if j.weakest)
        self.assertTrue(weak.adapter)
        self.assertTrue(weak.sentence.startswith("The adapter is the weakest link, over its limit"))
        self.assertIn("thicker wire", weak.sentence)

    def test_a_long_peak_counts_as_continuous(self):
        """28 A for longer than ten seconds in an XT30 of 15 A."""
        (brief,) = joints([pair_link("xt30", "plug")], rms_a=10, peak_a=28)
        (lasting,) = joints([pair_link("xt30", "plug")], rms_a=10, peak_a=28, brief_peak=False)
        self.assertAlmostEqual(brief.loading, 28 / 30)
        self.assertAlmostEqual(lasting.loading, 28 / 15)
        self.assertIn("over 10 s", lasting.burst.limit_source)

    def test_nothing_rated_nothing_weakest(self):
        """Not known is not fine."""
        (joint,) = joints([Link("motor", "Motor", "device", None, None, None, "maker")], rms_a=10, peak_a=20)
        self.assertFalse(joint.weakest)
        self.assertEqual(joint.continuous.verdict, "unknown")

    @given(st.floats(0, 500), st.floats(1, 3))
    def test_more_current_is_never_cooler(self, rms, times):
        """Loading, drop and heat rise with the current."""
        links = path_links(Path((adapter("xt60", "ec5"),), ("xt60", "ec5")))
        less, more = (
            joints(links, rms_a=rms, peak_a=rms),
            joints(links, rms_a=rms * times, peak_a=rms * times),
        )
        for a, b in zip(less, more, strict=True):
            self.assertLessEqual(a.loading, b.loading)
            self.assertLessEqual(a.heat_w, b.heat_w)
            self.assertLessEqual(a.drop_v, b.drop_v)
