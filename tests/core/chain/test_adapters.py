from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.chain.adapters import Adapter, Path, check_adapter, coolest, made_adapter, paths
from coldstack.core.chain.plugs import PLUGS, PlugEnd, plug_family
from coldstack.core.chain.wire import lead_pair_resistance_mohm, wire_burst_a
from coldstack.core.errors import DomainError


def adapter(pack_side, device_side, name="", **more):
    """A piece that turns a pack's plug of one family into another's."""
    name = name or f"{pack_side}-{device_side}"
    return Adapter(name, name, (PlugEnd(pack_side, "device"), PlugEnd(device_side, "pack")), **more)


def ways(start, goal, *pieces):
    """All shortest ways from a pack's plug to a device's, as names."""
    return [tuple(p.name for p in w.pieces) for w in paths(PlugEnd(start), PlugEnd(goal, "device"), pieces)]


class Chains(SimpleTestCase):
    def test_plugs_that_mate_need_nothing(self):
        """One mated pair, no piece, nothing added."""
        (way,) = paths(PlugEnd("xt60"), PlugEnd("xt60", "device"), (adapter("xt60", "ec5"),))
        self.assertEqual((way.pieces, way.pairs, way.extra_mohm), ((), ("xt60",), 0))

    def test_the_fewest_pieces_win(self):
        """One adapter rather than two, though two would go as well."""
        direct, first, second = adapter("xt30", "ec5"), adapter("xt30", "xt60"), adapter("xt60", "ec5")
        self.assertEqual(ways("xt30", "ec5", first, second, direct), [("xt30-ec5",)])
        self.assertEqual(ways("xt30", "ec5", first, second), [("xt30-xt60", "xt60-ec5")])

    def test_halves_must_be_opposite(self):
        """An adapter is no use the other way round: its halves are wrong."""
        self.assertEqual(ways("xt60", "xt30", adapter("xt30", "xt60")), [])
        odd = Adapter("odd", "odd", (PlugEnd("xt30", "pack"), PlugEnd("xt60", "device")))
        self.assertEqual(ways("xt60", "xt30", odd), [("odd",)], "read from its other end")

    def test_no_more_than_three(self):
        """Four in a row are no fix; three are found."""
        chain = [
            adapter(a, b) for a, b in (("xt30", "xt60"), ("xt60", "xt90"), ("xt90", "ec5"), ("ec5", "ec3"))
        ]
        self.assertEqual(len(ways("xt30", "ec5", *chain)[0]), 3)
        self.assertEqual(ways("xt30", "ec3", *chain), [])

    def test_of_equals_the_coolest(self):
        """The thick one; at equal limits the shorter."""
        thin, thick = adapter("ec3", "xt60", "thin", awg=22), adapter("ec3", "xt60", "thick", awg=12)
        found = paths(PlugEnd("ec3"), PlugEnd("xt60", "device"), (thin, thick))
        self.assertEqual(coolest(found, rms_a=20, peak_a=40).names, "thick")
        long, short = (
            adapter("ec3", "xt60", "long", length_mm=300),
            adapter("ec3", "xt60", "short", length_mm=30),
        )
        found = paths(PlugEnd("ec3"), PlugEnd("xt60", "device"), (long, short))
        self.assertEqual(coolest(found, rms_a=1, peak_a=1).names, "short")
        self.assertIsNone(coolest([], rms_a=1, peak_a=1))

    @given(
        st.lists(st.tuples(st.sampled_from(sorted(PLUGS)), st.sampled_from(sorted(PLUGS))), max_size=8),
        st.sampled_from(sorted(PLUGS)),
        st.sampled_from(sorted(PLUGS)),
    )
    def test_every_way_holds_together(self, pieces, start, goal):
        """Each joint of each way mates, no piece is used twice, and all ways are equally long."""
        made = tuple(adapter(a, b, f"{i}") for i, (a, b) in enumerate(pieces))
        found = paths(PlugEnd(start), PlugEnd(goal, "device"), made)
        self.assertLessEqual(len({len(w.pieces) for w in found}), 1)
        for way in found:
            self.assertEqual(len(set(way.pieces)), len(way.pieces))
            loose = PlugEnd(start)
            for piece in way.pieces:
                ends = [e for e in piece.ends if e == loose.mate]
                self.assertTrue(ends)
                loose = piece.ends[1] if piece.ends[0] == loose.mate else piece.ends[0]
            self.assertEqual(loose.mate, PlugEnd(goal, "device"))


class Figures(SimpleTestCase):
    def test_resistance_beyond_one_pair(self):
        """Wires and the further pair: 60 mm of 16 AWG twice, and an XT60's 1.0 mΩ."""
        way = Path((adapter("xt30", "xt60", awg=16, length_mm=60),), ("xt30", "xt60"))
        self.assertAlmostEqual(way.extra_mohm, lead_pair_resistance_mohm(16, 60) + 1.0)

    def test_loading_is_of_the_worst_part(self):
        """19 A in an XT30 of 15 A; a peak of 46 A in its 30 A; a long peak counts against 15 A."""
        way = Path((adapter("xt30", "xt60", awg=12),), ("xt30", "xt60"))
        self.assertAlmostEqual(way.loading(19, 20), 19 / 15)
        self.assertAlmostEqual(way.loading(10, 46), 46 / 30)

    def test_a_maker_s_rating_is_not_exceeded(self):
        """Neither continuous nor burst; without one the wire decides."""
        rated, bare = adapter("xt60", "ec5", continuous_a=10), adapter("xt60", "ec5")
        self.assertEqual((rated.wire_a, rated.wire_burst_a), (10, 10))
        self.assertAlmostEqual(bare.wire_burst_a, wire_burst_a(14))

    def test_the_adapter_to_make(self):
        """Right halves, and wire that carries the smaller plug."""
        made = made_adapter(PlugEnd("xt30"), PlugEnd("xt60", "device"))
        self.assertEqual(made.ends, (PlugEnd("xt30", "device"), PlugEnd("xt60", "pack")))
        self.assertFalse(made.owned)
        self.assertGreaterEqual(made.wire_a, plug_family("xt30").continuous_a)

    def test_bad_figures_are_named(self):
        """Plug, gauge, length, rating."""
        for bad, field in (
            (adapter("xt31", "xt60"), "plug"),
            (adapter("xt30", "xt60", awg=99), "awg"),
            (adapter("xt30", "xt60", length_mm=-1), "length_mm"),
            (adapter("xt30", "xt60", continuous_a=0), "continuous_a"),
        ):
            with self.assertRaises(DomainError) as caught:
                check_adapter(bad)
            self.assertEqual(caught.exception.field, field)
        self.assertEqual(check_adapter(adapter("xt30", "xt60")).awg, 14)
