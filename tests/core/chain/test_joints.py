import math
from dataclasses import replace

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.chain.adapters import Path
from coldstack.core.chain.joints import Link, joints, pair_link, path_links, wire_link
from coldstack.core.chain.warmth import Warming
from tests.core.chain.test_adapters import adapter


def under(rms_a, peak_a=None, *, seconds=2.0, every=30.0):
    """A chain's load: the RMS all the time, and a peak so long, so often."""
    peak_a = rms_a if peak_a is None else peak_a
    return {
        "rms_a": rms_a,
        "peak_a": peak_a,
        "warming": Warming((float(peak_a), float(rms_a)), (seconds, every - seconds), math.inf),
    }


def block():
    """The old white two-pin block: 10 A, 18 A burst, 10 mΩ."""
    return pair_link("block_large", "plug")


class HeatOfAJoint(SimpleTestCase):
    def test_a_block_at_35_a_by_hand(self):
        """35² × 10 mΩ = 12.25 W, drop 350 mV; 350 % of its 10 A for ever: 28 K × 3.5² = 343 K."""
        (joint,) = joints([block()], **under(35))
        self.assertAlmostEqual(joint.heat_w, 12.25)
        self.assertAlmostEqual(joint.drop_v, 0.35)
        self.assertAlmostEqual(joint.leading.value, 28 * 3.5**2)
        self.assertAlmostEqual(joint.loading, 28 * 3.5**2 / 60)
        self.assertEqual((joint.leading.verdict, joint.continuous.verdict), ("over", "over"))
        self.assertIn("12 W into heat", joint.sentence)
        self.assertIn("melt", joint.sentence)
        self.assertRegex(joint.sentence, r"(EC3|XT90|EC5).* would bring it to \d+ °C")
        self.assertEqual(joint.ratings, "35 of 10 A printed, peak 35 of 18 A")

    def test_a_little_heat_does_not_melt(self):
        """16 A in the block for ever: 72 K, over, and below what softens it."""
        (joint,) = joints([block()], **under(16))
        self.assertIn("over its limit", joint.sentence)
        self.assertNotIn("melt", joint.sentence)

    def test_over_its_rating_for_a_moment_is_only_warm(self):
        """32 A for a second every half minute, 6 A else: three times its printed amps, and 25 K."""
        (joint,) = joints([block()], **under(6, 32, seconds=1.0))
        self.assertEqual(joint.burst.verdict, "over")
        self.assertEqual(joint.leading.verdict, "ok")
        self.assertLess(joint.leading.value, 40)

    def test_what_the_model_bears_today_warns(self):
        """Over, with what to look at, and no refusal."""
        (joint,) = joints([replace(block(), borne=True)], **under(35))
        self.assertEqual(joint.leading.verdict, "caution")
        self.assertIn("It runs so today", joint.sentence)

    def test_no_resistance_known_no_heat_told(self):
        """A controller has a limit only."""
        (joint,) = joints(
            [Link("controller", "Controller", "device", 60, 80, None, "maker")], **under(30, 70)
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
        made = joints(links, **under(14, 24))
        self.assertEqual([j.weakest for j in made].count(True), 1)
        weak = next(j for j in made if j.weakest)
        self.assertEqual(weak.link, "plug")
        self.assertEqual(max(j.loading for j in made), weak.loading)
        self.assertEqual([bool(j.sentence) for j in made], [j.weakest for j in made])

    def test_from_seven_tenths_on_a_cure_is_named(self):
        """Which brings it down to seven tenths: a port of 10 A that carries 6.9 and 7.1 A."""
        port = Link("port", "Port", "device", 10.0, 10.0, None, "its sheet")
        for amps, words in (
            (6.9, "not strained: 69 %"),
            (7.1, "One good for 10 A would bring it to 70 %"),
        ):
            (found,) = joints([port], **under(amps))
            self.assertIn(words, found.sentence)

    def test_an_adapter_that_is_the_weak_part_is_called_so(self):
        """Thin wire in a short adapter."""
        thin = adapter("ec3", "xt60", awg=20)
        made = joints(path_links(Path((thin,), ("ec3", "xt60"))), **under(18, 30))
        weak = next(j for j in made if j.weakest)
        self.assertTrue(weak.adapter)
        self.assertTrue(weak.sentence.startswith("The adapter is the weakest link, over its limit"))
        self.assertIn("thicker wire", weak.sentence)

    def test_a_long_peak_is_allowed_the_heat_of_a_burst(self):
        """28 A for fifteen seconds in an XT30, of 30 A for ten: in sight, and told by its heat as well."""
        (brief,) = joints([pair_link("xt30", "plug")], **under(10, 28))
        (lasting,) = joints([pair_link("xt30", "plug")], **under(10, 28, seconds=15), peak_s=15)
        self.assertAlmostEqual(brief.burst.loading, 28 / 30)
        self.assertAlmostEqual(lasting.burst.loading, 28 / (15 * math.sqrt(1 + 3 * 10 / 15)))
        self.assertGreater(lasting.loading, brief.loading)
        self.assertIn("less for a peak of 15 s", lasting.burst.limit_source)

    def test_nothing_rated_nothing_weakest(self):
        """Not known is not fine."""
        (joint,) = joints([Link("motor", "Motor", "device", None, None, None, "maker")], **under(10, 20))
        self.assertFalse(joint.weakest)
        self.assertEqual(joint.continuous.verdict, "unknown")

    @given(st.floats(0, 500), st.floats(1, 3))
    def test_more_current_is_never_cooler(self, rms, times):
        """Loading, drop and heat rise with the current."""
        links = path_links(Path((adapter("xt60", "ec5"),), ("xt60", "ec5")))
        less, more = (
            joints(links, **under(rms, rms)),
            joints(links, **under(rms * times, rms * times)),
        )
        for a, b in zip(less, more, strict=True):
            self.assertLessEqual(a.loading, b.loading)
            self.assertLessEqual(a.heat_w, b.heat_w)
            self.assertLessEqual(a.drop_v, b.drop_v)
