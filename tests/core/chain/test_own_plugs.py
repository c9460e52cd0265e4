from dataclasses import replace

from django.test import SimpleTestCase

from coldstack.core.chain.adapters import Adapter, paths
from coldstack.core.chain.cooling import cool_family
from coldstack.core.chain.own_plugs import (
    check_plug,
    index_of_plug,
    plug_at,
    plug_column,
    resistance_of_such,
    set_own_plugs,
    with_plugs,
)
from coldstack.core.chain.plugs import (
    PlugEnd,
    PlugFamily,
    are_look_alikes,
    mating,
    pair_family,
    plug_families,
    plug_family,
)
from coldstack.core.chain.warmth import Warming
from coldstack.core.errors import DomainError

DOCK = PlugFamily(
    "own_dock",
    "Dock",
    40,
    70,
    0.9,
    mates_with=frozenset({"xt60"}),
    mistaken_for=frozenset({"ec3"}),
    recommended=False,
)
TWIN = PlugFamily("own_twin", "Twin", 20, 20, 2.0, alike=True, recommended=False)


class OwnPlugs(SimpleTestCase):
    def setUp(self):
        set_own_plugs([DOCK, TWIN])
        self.addCleanup(set_own_plugs, ())

    def test_what_it_mates_with(self):
        """Its own kind, and the one it is made for, in opposite halves; the weaker of the two sets what
        the pair carries."""
        pack, device = PlugEnd("own_dock"), PlugEnd("xt60", "device")
        self.assertTrue(pack.mates(device) and device.mates(pack))
        self.assertTrue(mating(pack, PlugEnd("own_dock", "device")).fits)
        self.assertFalse(pack.mates(PlugEnd("xt60")))
        self.assertIn("same half", mating(pack, PlugEnd("xt60")).sentence)
        self.assertEqual(pair_family(pack, device), "xt60")
        self.assertIn("Dock goes into XT60", mating(pack, device).sentence)
        self.assertFalse(mating(pack, PlugEnd("xt90", "device")).fits)

    def test_two_ends_alike(self):
        """Any end goes into any other."""
        self.assertTrue(mating(PlugEnd("own_twin"), PlugEnd("own_twin")).fits)
        self.assertFalse(PlugEnd("own_twin").mates(PlugEnd("own_dock", "device")))

    def test_what_it_is_mistaken_for(self):
        """Either way round."""
        self.assertTrue(are_look_alikes("own_dock", "ec3") and are_look_alikes("ec3", "own_dock"))
        self.assertTrue(mating(PlugEnd("own_dock"), PlugEnd("ec3", "device")).look_alike)

    def test_ways_go_through_it(self):
        """Straight into what it mates with, and by an adapter that does."""
        self.assertEqual(paths(PlugEnd("own_dock"), PlugEnd("xt60", "device"), ())[0].pairs, ("xt60",))
        lead = Adapter("1", "lead", (PlugEnd("xt60", "device"), PlugEnd("banana_4", "pack")))
        way = paths(PlugEnd("own_dock"), PlugEnd("banana_4", "device"), (lead,))[0]
        self.assertEqual(way.pairs, ("xt60", "banana_4"))

    def test_ways_found_before_are_forgotten_when_families_change(self):
        """No answer of yesterday's table."""
        ends = PlugEnd("own_dock"), PlugEnd("xt60", "device")
        self.assertEqual(len(paths(*ends, ())), 1)
        set_own_plugs([PlugFamily("own_dock", "Dock", 40, 70, 0.9), TWIN])
        self.assertEqual(paths(*ends, ()), ())

    def test_columns_follow_and_indices_stay(self):
        """A batch that holds an index reads the same family, even one that has gone."""
        index = index_of_plug("own_twin")
        self.assertEqual(plug_column("continuous_a")[index], 20)
        set_own_plugs([TWIN])
        self.assertEqual((plug_at(index), index_of_plug("own_twin")), (TWIN, index))
        self.assertRaises(DomainError, plug_family, "own_dock")
        set_own_plugs([PlugFamily("own_twin", "Twin", 25, 30, 2.0)])
        self.assertEqual(plug_column("continuous_a")[index], 25)

    def test_it_is_never_named_as_a_cure(self):
        """What one can buy is."""
        self.assertNotEqual(cool_family(Warming((36.0,), (10.0,), 600.0)).id, "own_dock")

    def test_announced_families_are_this_threads_only(self):
        """While a file is looked at, and not after it."""
        with with_plugs([PlugFamily("own_new", "New", 10, 10, 3)]):
            self.assertEqual(plug_family("own_new").name, "New")
        self.assertNotIn("own_new", plug_families())


class SparkGuard(SimpleTestCase):
    def test_large_plugs_with_a_guard_say_so(self):
        """AS150 and QS8; XT90 has none."""
        for plug, words in (("as150", "spark guard"), ("qs8", "spark guard"), ("xt90", "opposite halves.")):
            self.assertIn(words, mating(PlugEnd(plug), PlugEnd(plug, "device")).sentence)


class Checked(SimpleTestCase):
    def test_figures_at_their_bounds(self):
        """A burst may equal the continuous current and not be less; each refusal names its field."""
        sound = replace(DOCK, burst_a=40)
        self.assertIs(check_plug(sound), sound)
        for wrong, field in (
            ({"burst_a": 39.9}, "burst_a"),
            ({"continuous_a": 0.05}, "continuous_a"),
            ({"continuous_a": 1001.0, "burst_a": 1500.0}, "continuous_a"),
            ({"resistance_mohm": 501.0}, "resistance_mohm"),
            ({"mates_with": frozenset({"nowhere"})}, "mates_with"),
            ({"mistaken_for": frozenset({"xt60"})}, "mistaken_for"),
        ):
            with self.subTest(wrong), self.assertRaises(DomainError) as refused:
                check_plug(replace(DOCK, **wrong))
            self.assertIn(field, str(vars(refused.exception)))

    def test_a_resistance_that_nobody_gave(self):
        """30 mV at its continuous amps, as the table's plugs drop."""
        self.assertAlmostEqual(resistance_of_such(40), 0.75)
        self.assertAlmostEqual(resistance_of_such(15), 2.0)
